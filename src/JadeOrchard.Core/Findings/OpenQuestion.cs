using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Findings;

/// <summary>Questions searched for in a cluster are answered nowhere on the site.</summary>
/// <remarks>
/// Answered: see <see cref="PageMap.SiteText.AnsweredBy"/>. Silent where the main text of many pages was not read: then nobody
/// knows; and where a page is merely suggested, the page map comes first. At stake: the expected gain of the questions from the best position of the site. Cost: the pages with the rarest word of each question.
/// </remarks>
public static class OpenQuestion
{
    /// <summary>The share of the pages that must have been read.</summary>
    public const double ReadShare = 0.9;

    public static IEnumerable<Sign> Find(SiteFacts site, int cluster)
    {
        if (site.Text is not { } text || !site.IsMostlyRead || site.Map[cluster].IsDeclined || site.Map[cluster].IsSuggested)
            yield break;
        var facts = site.QueriesOf(site.Clusters[cluster])
            .Where(k => site.Questions.IsQuestion(KeywordWords.Padded(site.Keywords[k].NormalForm)) && text.AnsweredBy(k) < 0)
            .Select(k => new SignFact(k, 0, 0, ExpectedGain.Of(site.Weighed(k), site.StandingsOf(k).Select(s => s.Position).DefaultIfEmpty(0).Min(), site.Curve)))
            .InOrder();
        if (facts.Length > 0)
            yield return Sign.Of(SignKind.OpenQuestion, cluster, site.Map[cluster].Page, null, facts);
    }
}
