using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>The page that is assigned to a cluster does not mention some of its keywords.</summary>
/// <remarks>
/// Mentioned: all stems of the keyword stand somewhere on the page, in its title, headings, description, address or main text. Silent where the
/// main text was not read: then nobody knows. At stake: the expected gain of those keywords from where the page stands.
/// Cost: one look-up a word.
/// </remarks>
public static class MissingOnPage
{
    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (site.Map[cluster] is not { IsDecided: true, Page: { } page } || site.Text is not { } text || !text.IsRead(page))
            yield break;
        var facts = site.QueriesOf(site.Clusters[cluster])
            .Where(k => !text.Mentions(page, k))
            .Select(k => new SignFact(k, site.PositionOf(k, page), 0, ExpectedGain.Of(site.Weighed(k), site.PositionOf(k, page), site.Curve)))
            .InOrder();
        if (facts.Any(f => f.AtStake > 0))
            yield return Sign.Of(SignKind.MissingOnPage, cluster, page, null, facts);
    }
}
