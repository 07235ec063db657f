using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Clusters;

/// <summary>A keyword whose results changed.</summary>
/// <param name="Then">Results that it shared with the primary when it was grouped.</param>
/// <param name="Now">Those that it shares now.</param>
public sealed record DriftedKeyword(KeywordId Id, string Phrase, int Then, int Now);

/// <summary>A cluster whose results drifted apart, or that drifted together with another.</summary>
/// <param name="Other">The other cluster where two drifted together; else null.</param>
/// <param name="Keywords">Those that crossed the minimum overlap.</param>
/// <param name="Compared">How many were compared.</param>
/// <param name="P">Probability of this many by chance, adjusted for all clusters.</param>
/// <param name="Says">What regrouping would change, in a sentence.</param>
public sealed record DriftView(ClusterId ClusterId, string Cluster, ClusterId? OtherId, string? Other, IReadOnlyList<DriftedKeyword> Keywords, int Compared, double P, string Says);

/// <summary>What drifted since the grouping.</summary>
/// <param name="GroupedOn">The day of the grouping; null before the first.</param>
/// <param name="Recaptured">Keywords that were captured since; without any nothing can be told.</param>
public sealed record DriftsView(DateOnly? GroupedOn, long Recaptured, IReadOnlyList<DriftView> Apart, IReadOnlyList<DriftView> Together);

/// <summary>Tells which clusters have drifted, good until the next write.</summary>
public sealed class Drifts
{
    internal KeptAnswers<DriftsView> Kept { get; } = new(1);
}

/// <summary>Clusters whose results are others than when they were grouped.</summary>
public static class DriftEndpoints
{
    /// <summary>Pairs of clusters that are compared at most, those that share most results now.</summary>
    private const int MostPairs = 20_000;

    private const int KeywordsNamed = 3, MostHolding = 200;

    public static void MapDrift(this RouteGroupBuilder api) => api
        .MapGet("/clusters/drift", (Project project, Drifts drifts) => project.Read((session, snapshot) => drifts.Kept.Of(session.Writes, "", () => Of(session, snapshot)))).WithName("drift");

    private static DriftsView Of(Session session, ProjectSnapshot snapshot)
    {
        if (ProjectStore.GroupedAt(session) is not { } at)
            return new DriftsView(null, 0, [], []);
        var day = DateOnly.ParseExact(at[..10], "yyyy-MM-dd");
        var recaptured = RankStore.CapturedAfter(session, day);
        if (recaptured == 0)
            return new DriftsView(day, 0, [], []);
        var settings = ProjectStore.Grouping(session);
        var (then, now) = (RankStore.UrlsOn(session, day, settings.Depth), RankStore.UrlsNow(session, settings.Depth));
        var primaries = ClusterStore.Primaries(session).ToDictionary(c => c.Id, c => c.Primary);
        var members = ClusterStore.Memberships(session).Where(m => then.ContainsKey(m.Key)).GroupBy(m => m.Value, m => m.Key).ToDictionary(g => g.Key, g => g.Order().ToList());
        // Only what was captured again can have drifted: where neither list is a new one, nothing is to be told.
        SharedThenAndNow<TGroup, KeywordId>? Pair<TGroup>(TGroup group, KeywordId keyword, KeywordId primary) =>
            then.TryGetValue(keyword, out var a) && then.TryGetValue(primary, out var b) && now.TryGetValue(keyword, out var c) && now.TryGetValue(primary, out var d) && !(a.SetEquals(c) && b.SetEquals(d))
                ? new SharedThenAndNow<TGroup, KeywordId>(group, keyword, Shared(a, b), Shared(c, d)) : null;
        var within = members.SelectMany(c => c.Value.Where(k => k != primaries[c.Key]).Select(k => Pair(c.Key, k, primaries[c.Key])).OfType<SharedThenAndNow<ClusterId, KeywordId>>()).ToList();
        var between = Near(primaries, now).SelectMany(p => members.GetValueOrDefault(p.A, []).Select(k => Pair(p, k, primaries[p.B])).Concat(members.GetValueOrDefault(p.B, []).Select(k => Pair(p, k, primaries[p.A])))
            .OfType<SharedThenAndNow<(ClusterId A, ClusterId B), KeywordId>>()).ToList();
        var names = RefreshStore.ClusterNames(session);
        string PhraseOf(KeywordId id) => snapshot.IndexOfKeyword.TryGetValue(id, out var index) ? snapshot.Keywords[index].Phrase : "";
        List<DriftedKeyword> Named<TGroup>(Drifted<TGroup, KeywordId> drifted, IReadOnlyList<SharedThenAndNow<TGroup, KeywordId>> pairs) where TGroup : notnull =>
            [.. pairs.Where(p => p.Group.Equals(drifted.Group) && drifted.Keywords.Contains(p.Keyword)).DistinctBy(p => p.Keyword).Select(p => new DriftedKeyword(p.Keyword, PhraseOf(p.Keyword), p.Then, p.Now))];
        return new DriftsView(
            day, recaptured,
            [
                .. Drift.Apart(within, settings.MinOverlap).Select(d => (Drift: d, Keywords: Named(d, within))).Select(d => new DriftView(
                    d.Drift.Group, names.GetValueOrDefault(d.Drift.Group, ""), null, null, d.Keywords, d.Drift.Pairs, d.Drift.P,
                    $"{d.Keywords.Count} of {d.Drift.Pairs} keywords share fewer than {settings.MinOverlap} results with its primary now. Regrouping would take {Listed(d.Keywords)} out, unless other members hold them.")),
            ],
            [
                .. Drift.Together(between, settings.MinOverlap).Select(d => (Drift: d, Keywords: Named(d, between))).Select(d => new DriftView(
                    d.Drift.Group.A, names.GetValueOrDefault(d.Drift.Group.A, ""), d.Drift.Group.B, names.GetValueOrDefault(d.Drift.Group.B, ""), d.Keywords, d.Drift.Pairs, d.Drift.P,
                    $"{d.Keywords.Count} of {d.Drift.Pairs} keywords share {settings.MinOverlap} results or more with the other’s primary now. Regrouping would bring {Listed(d.Keywords)} together with it.")),
            ]);
    }

    private static string Listed(List<DriftedKeyword> keywords) =>
        string.Join(", ", keywords.Take(KeywordsNamed).Select(k => $"“{k.Phrase}”")) + (keywords.Count > KeywordsNamed ? $" and {keywords.Count - KeywordsNamed} more" : "");

    private static int Shared(IReadOnlySet<long> a, IReadOnlySet<long> b) => a.Count < b.Count ? a.Count(b.Contains) : b.Count(a.Contains);

    /// <summary>Pairs of clusters whose primaries share a result now.</summary>
    private static IEnumerable<(ClusterId A, ClusterId B)> Near(Dictionary<ClusterId, KeywordId> primaries, IReadOnlyDictionary<KeywordId, IReadOnlySet<long>> now)
    {
        var holding = new Dictionary<long, List<ClusterId>>();
        foreach (var (cluster, primary) in primaries.OrderBy(p => p.Key))
        {
            foreach (var url in now.TryGetValue(primary, out var urls) ? urls : new HashSet<long>())
            {
                if (!holding.TryGetValue(url, out var some))
                    holding[url] = some = [];
                some.Add(cluster);
            }
        }

        var shared = new Dictionary<(ClusterId, ClusterId), int>();
        // A page that ranks for everything says nothing about any two.
        foreach (var some in holding.Values.Where(h => h.Count <= MostHolding))
        {
            for (var i = 0; i < some.Count; i++)
            {
                for (var j = i + 1; j < some.Count; j++)
                    shared[(some[i], some[j])] = shared.GetValueOrDefault((some[i], some[j])) + 1;
            }
        }

        return shared.OrderByDescending(s => s.Value).ThenBy(s => s.Key.Item1).ThenBy(s => s.Key.Item2).Take(MostPairs).Select(s => s.Key);
    }
}
