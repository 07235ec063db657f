using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace JadeOrchard.Core.Findings;

/// <summary>Makes one finding of the signs that are about the same decision.</summary>
public static class FindingMaker
{
    /// <param name="counts">For each kind of sign that is there: how many keywords, or pages where no keyword tells, show it; 1 or more.</param>
    /// <returns>1 − Π 1/(1 + n): each kind of sign leaves the doubt that a rule of succession leaves after n observations that agree (Laplace 1774; its use here is our own).</returns>
    public static double Confidence(IEnumerable<int> counts) => 1 - counts.Aggregate(1.0, (doubt, count) => doubt / (1 + count));

    /// <param name="site">The site.</param>
    /// <param name="signs">All that are about the same decision; at least one.</param>
    /// <param name="slotOf">For each keyword the index of its cluster, or -1.</param>
    internal static Finding Of(SiteFacts site, IReadOnlyCollection<Sign> signs, Func<int, int> slotOf)
    {
        int OrderOf(int? cluster) => cluster is { } c ? site.OrderOf(c) : -1;
        Sign[] ordered =
        [
            .. signs.OrderByDescending(s => Math.Round(s.AtStake, 6)).ThenBy(s => s.Kind).ThenBy(s => OrderOf(s.Cluster)).ThenBy(s => s.Page).ThenBy(s => s.Others.FirstOrDefault(-1))
                .ThenBy(s => OrderOf(s.OtherCluster)),
        ];
        var kind = ordered[0].Finding;
        var (byKeyword, apart) = Stakes(ordered);
        var clusters = Clusters(site, kind, ordered, byKeyword, slotOf);
        var keyword = byKeyword.Count == 0 ? (int?)null : byKeyword.OrderByDescending(k => Math.Round(k.Value, 6)).ThenBy(k => k.Key).First().Key;
        var counts = ordered.GroupBy(s => s.Kind).Select(g => g.Sum(s => Math.Max(1, s.Facts.Length)));
        return new Finding(
            kind, clusters, Pages(site, kind, ordered), keyword,
            ordered[0].Folder,
            // In the order of keywords, since sums of fractions depend on it.
            byKeyword.OrderBy(k => k.Key).Sum(k => k.Value) + apart, Confidence(counts),
            kind == FindingKind.Uncovered && site.Map[ordered[0].Cluster!.Value].IsPlanned, [.. ordered]);
    }

    /// <summary>What each keyword has at stake: the most that one kind of sign tells of it, since they are about the same clicks.</summary>
    private static (Dictionary<int, double> ByKeyword, double Apart) Stakes(Sign[] signs)
    {
        var (most, apart) = (new Dictionary<int, double>(), 0.0);
        foreach (var kind in signs.GroupBy(s => s.Kind))
        {
            var (sums, without) = (new Dictionary<int, double>(), 0.0);
            foreach (var fact in kind.SelectMany(s => s.Facts))
            {
                if (fact.Keyword is { } keyword)
                    CollectionsMarshal.GetValueRefOrAddDefault(sums, keyword, out _) += fact.AtStake;
                else
                    without += fact.AtStake;
            }

            apart = Math.Max(apart, without);
            foreach (var (keyword, stake) in sums)
                most[keyword] = Math.Max(stake, most.GetValueOrDefault(keyword));
        }

        return (most, apart);
    }

    private static ImmutableArray<ClusterStake> Clusters(SiteFacts site, FindingKind kind, Sign[] signs, Dictionary<int, double> byKeyword, Func<int, int> slotOf)
    {
        if (kind == FindingKind.Twins)
            return [];
        var stakes = new Dictionary<int, double>();
        foreach (var cluster in signs.SelectMany(s => new[] { s.Cluster, s.OtherCluster }).OfType<int>())
            stakes[cluster] = 0;
        foreach (var (keyword, stake) in byKeyword.OrderBy(k => k.Key))
        {
            if (slotOf(keyword) is var slot and >= 0)
                CollectionsMarshal.GetValueRefOrAddDefault(stakes, slot, out _) += stake;
        }

        var pillar = kind == FindingKind.MissingLinks ? signs[0].OtherCluster : null;
        return
        [
            .. stakes.OrderByDescending(s => s.Key == pillar).ThenByDescending(s => Math.Round(s.Value, 6)).ThenBy(s => site.OrderOf(s.Key)).Select(s => new ClusterStake(s.Key, s.Value)),
        ];
    }

    private static ImmutableArray<int> Pages(SiteFacts site, FindingKind kind, Sign[] signs) => kind switch
    {
        FindingKind.Uncovered => [],
        FindingKind.PageGap => [signs[0].Page!.Value],
        FindingKind.MissingLinks => [.. signs.SelectMany(s => s.Pages).Prepend(site.Map[signs[0].OtherCluster!.Value].Page!.Value).Distinct()],
        FindingKind.IdlePages => [.. signs.Select(s => s.Page!.Value).Distinct()],
        _ => [.. signs.Select(s => s.Page!.Value).Concat(signs.SelectMany(s => s.Others)).Distinct()],
    };
}
