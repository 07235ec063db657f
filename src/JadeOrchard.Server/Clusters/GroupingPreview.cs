using JadeOrchard.Core.Clusters;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;

namespace JadeOrchard.Server.Clusters;

/// <summary>What a grouping would make of the keywords, before it is applied.</summary>
/// <param name="Rows">For each minimum overlap, with the chosen rule and depth.</param>
/// <param name="Advice">In plain words, the gravest first.</param>
/// <param name="Tighter">Clusters of most demand that one more shared result would part.</param>
/// <param name="Looser">Clusters of most demand that one shared result less would bring together.</param>
/// <param name="Changes">Against the clusters as they are; null before the first grouping.</param>
/// <param name="Captured">Keywords with a result list.</param>
public sealed record GroupingPreviewView(
    IReadOnlyList<SensitivityRow> Rows, IReadOnlyList<string> Advice, IReadOnlyList<PartsView> Tighter, IReadOnlyList<PartsView> Looser, ChangesView? Changes, int Captured);

/// <summary>A cluster and what it would be parted into, or be brought together from.</summary>
/// <param name="Parts">Primary keywords with the number of keywords, most first; the first of them.</param>
/// <param name="More">Parts that are not among them.</param>
public sealed record PartsView(string Name, long Demand, IReadOnlyList<PartView> Parts, int More);

/// <summary>A part of a cluster.</summary>
public sealed record PartView(string Name, int Keywords);

/// <summary>The change report of a re-grouping.</summary>
/// <param name="Kept">Clusters whose keywords all stay.</param>
/// <param name="Changed">Clusters that go on with other keywords.</param>
/// <param name="New">Clusters that go on from none.</param>
/// <param name="Gone">Clusters that go on as none.</param>
/// <param name="GoneWithPage">Those of them that have a page.</param>
/// <param name="Moved">Keywords that change their cluster.</param>
/// <param name="Splits">Clusters whose keywords part, those of most demand first.</param>
/// <param name="Merges">Clusters whose keywords come together, likewise.</param>
public sealed record ChangesView(
    int Kept, int Changed, int New, int Gone, int GoneWithPage, int Moved, double AdjustedRandIndex,
    int SplitCount, IReadOnlyList<PartsView> Splits, int MergeCount, IReadOnlyList<PartsView> Merges);

/// <summary>Makes previews of groupings, and keeps what a few depths took until the data change.</summary>
/// <remarks>
/// While the planner reads one, what the other rules and the next depths would give is worked out beside it, so that moving a setting is answered at
/// once; depths only as long as there are not too many keywords.
/// </remarks>
public sealed class GroupingPreview
{
    private const int Samples = 3;
    private const int ChangesShown = 40;
    private const int PartsShown = 4;

    /// <summary>Pairs that are held, 12 bytes each.</summary>
    private const long MostPairs = 3_000_000;

    private const int DepthsKept = 3;

    /// <summary>With more keywords only the rules are worked out ahead.</summary>
    private const int MostKeywordsAhead = 40_000;

    private const int QuietMilliseconds = 1_000;

    private readonly Lock _lock = new();
    private (long Writes, long? ListId, IReadOnlyList<StoredCluster> Old, StandingClusters Standing, Dictionary<long, ClusterName> Names)? _standing;
    private readonly List<(string Key, bool[] LeftOut, Lazy<Sensitivity> Sensitivity)> _kept = [];
    private Task _ahead = Task.CompletedTask;
    private long _asked;
    private long _version;

    /// <returns>What a grouping with some settings would make.</returns>
    public GroupingPreviewView Of(Session session, ProjectSnapshot snapshot, ClusterSettings settings, long? listId)
    {
        Interlocked.Exchange(ref _asked, Environment.TickCount64);
        Interlocked.Exchange(ref _version, snapshot.Version);
        var (old, standing, names) = Standing(session, snapshot, listId);
        var sensitivity = At(snapshot, standing, settings);
        WorkAhead(snapshot, standing, settings);
        var all = sensitivity.At(settings.MinOverlap, settings.Rule);
        var clustering = all.AtLeast(settings.Smallest);
        var clusterOf = ClusterOf(clustering, snapshot.Keywords.Count);
        // Each takes a core where it can.
        var changes = Task.Run(() => old.Count == 0 ? null : Changes(snapshot, old, standing, names, Regrouping.Of(clustering, snapshot.Keywords, standing, snapshot.Ranks)));
        return new GroupingPreviewView(
            sensitivity.Rows(settings.Rule, settings.Smallest),
            GroupingAdvice.For(clustering, snapshot.Keywords, settings.MinOverlap),
            settings.MinOverlap < settings.Depth && sensitivity.At(settings.MinOverlap + 1, settings.Rule) is var tighter
                ? Parts(ClusteringParts.Of(clusterOf, ClusterOf(tighter, clusterOf.Length)).Splits, Named(clustering, snapshot), Named(tighter, snapshot), Samples)
                : [],
            settings.MinOverlap > 1 && sensitivity.At(settings.MinOverlap - 1, settings.Rule) is var looser
                ? Parts(ClusteringParts.Of(clusterOf, ClusterOf(looser, clusterOf.Length)).Merges, Named(looser, snapshot), Named(clustering, snapshot), Samples)
                : [],
            changes.GetAwaiter().GetResult(),
            all.Clusters.Sum(c => c.Members.Length));
    }

    private Sensitivity At(ProjectSnapshot snapshot, StandingClusters standing, ClusterSettings settings)
    {
        bool[] isLeftOut = [.. Enumerable.Range(0, snapshot.Keywords.Count).Select(standing.IsLeftOut)];
        var key = $"{snapshot.Version} {settings.Depth} {string.Join('\n', settings.LeftOutHosts)}";
        Lazy<Sensitivity> wanted;
        lock (_lock)
        {
            var at = _kept.FindIndex(k => k.Key == key && isLeftOut.AsSpan().SequenceEqual(k.LeftOut));
            if (at < 0)
            {
                wanted = new Lazy<Sensitivity>(() => new Sensitivity(snapshot.Keywords, Regrouping.Free(settings.Compared(snapshot.Lists, snapshot.UrlIdentities), standing), settings.Depth, MostPairs));
                _kept.RemoveAll(k => !k.Key.StartsWith($"{snapshot.Version} ", StringComparison.Ordinal));
            }
            else
            {
                wanted = _kept[at].Sensitivity;
                _kept.RemoveAt(at);
            }

            // The one used last comes last, and the first goes.
            _kept.Add((key, isLeftOut, wanted));
            if (_kept.Count > DepthsKept)
                _kept.RemoveAt(0);
        }

        return wanted.Value;
    }

    private void WorkAhead(ProjectSnapshot snapshot, StandingClusters standing, ClusterSettings settings)
    {
        lock (_lock)
        {
            if (!_ahead.IsCompleted)
                return;
            _ahead = Task.Run(() =>
            {
                Work(settings, settings.Rule);
                Work(settings, settings.Rule == LinkingRule.Chain ? LinkingRule.Primary : LinkingRule.Chain);
                foreach (var depth in snapshot.Keywords.Count > MostKeywordsAhead ? [] : new[] { -1, 1 }.Select(step => settings.Depth + step).Where(d => d >= settings.MinOverlap && d <= 100))
                    Work(settings with { Depth = depth }, settings.Rule);

                // Every pair takes longest, so it comes last, while no setting moves.
                for (var minimum = Math.Min(Sensitivity.MostOverlap, settings.Depth); minimum >= 1 && IsCurrent(); minimum--)
                {
                    while (Environment.TickCount64 - Interlocked.Read(ref _asked) < QuietMilliseconds)
                        Thread.Sleep(QuietMilliseconds / 10);
                    At(snapshot, standing, settings).At(minimum, LinkingRule.EveryPair);
                }

                Work(settings, LinkingRule.EveryPair);
            });
        }

        void Work(ClusterSettings with, LinkingRule rule)
        {
            if (IsCurrent())
                At(snapshot, standing, with).Rows(rule, with.Smallest);
        }

        // Of data that changed meanwhile nobody asks any more.
        bool IsCurrent() => Interlocked.Read(ref _version) == snapshot.Version;
    }

    /// <summary>The clusters as they stand, read once until something is written.</summary>
    private (IReadOnlyList<StoredCluster> Old, StandingClusters Standing, Dictionary<long, ClusterName> Names) Standing(
        Session session, ProjectSnapshot snapshot, long? listId)
    {
        lock (_lock)
        {
            if (_standing is not { } kept || kept.Writes != session.Writes || kept.ListId != listId)
            {
                var (old, standing) = StoredClusters.Standing(session, snapshot, listId);
                _standing = kept = (session.Writes, listId, old, standing, ClusterStore.Names(session));
            }

            return (kept.Old, kept.Standing, kept.Names);
        }
    }

    private static ChangesView Changes(
        ProjectSnapshot snapshot, IReadOnlyList<StoredCluster> old,
        StandingClusters standing, Dictionary<long, ClusterName> names, IReadOnlyList<RegroupedCluster> clusters)
    {
        var clustering = new Clustering([.. clusters.Select(c => c.Cluster)], []);
        var comparison = ClusteringParts.Of(standing.ClusterOf, ClusterOf(clustering, snapshot.Keywords.Count));
        var sizes = new int[old.Count];
        foreach (var cluster in standing.ClusterOf)
        {
            if (cluster >= 0)
                sizes[cluster]++;
        }

        var goesOn = new HashSet<int>(clusters.Select(c => c.GoesOnFrom).Where(c => c >= 0));
        var kept = clusters.Count(c => c.GoesOnFrom >= 0 && sizes[c.GoesOnFrom] == c.Cluster.Members.Length && c.Cluster.Members.All(m => standing.ClusterOf[m] == c.GoesOnFrom));
        var moved = clusters.Sum(c => c.Cluster.Members.Count(m => standing.ClusterOf[m] >= 0 && standing.ClusterOf[m] != c.GoesOnFrom));
        var gone = Enumerable.Range(0, old.Count).Where(o => !goesOn.Contains(o)).ToList();
        (string, long) Old(int cluster) => (names[old[cluster].Id].Name, names[old[cluster].Id].Demand);
        return new ChangesView(
            kept, goesOn.Count - kept, clusters.Count - goesOn.Count, gone.Count, gone.Count(g => old[g].PageId is not null), moved,
            comparison.AdjustedRandIndex,
            comparison.Splits.Length, Parts(comparison.Splits, Old, Named(clustering, snapshot), ChangesShown),
            comparison.Merges.Length, Parts(comparison.Merges, Named(clustering, snapshot), Old, ChangesShown));
    }

    private static List<PartsView> Parts(
        IReadOnlyList<ClusterParts> all, Func<int, (string Name, long Demand)> whole, Func<int, (string Name, long Demand)> part, int most) =>
    [
        .. all.Select(p => (Whole: whole(p.Cluster), p.Parts)).OrderByDescending(p => p.Whole.Demand).Take(most).Select(p => new PartsView(
            p.Whole.Name, p.Whole.Demand, [.. p.Parts.Take(PartsShown).Select(x => new PartView(part(x.Cluster).Name, x.Count))], Math.Max(0, p.Parts.Length - PartsShown))),
    ];

    private static Func<int, (string Name, long Demand)> Named(Clustering clustering, ProjectSnapshot snapshot) => cluster => (
        snapshot.Keywords[clustering.Clusters[cluster].Primary].Phrase, clustering.Clusters[cluster].Members.Sum(m => snapshot.Keywords[m].Volume ?? 0));

    private static int[] ClusterOf(Clustering clustering, int keywords)
    {
        var clusterOf = new int[keywords];
        Array.Fill(clusterOf, -1);
        for (var c = 0; c < clustering.Clusters.Length; c++)
        {
            foreach (var member in clustering.Clusters[c].Members)
                clusterOf[member] = c;
        }

        return clusterOf;
    }
}
