using System.Collections.Concurrent;
using System.Diagnostics;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Clusters;

/// <summary>What a grouping would make of the keywords, before it is applied.</summary>
/// <param name="Rows">For each minimum overlap, with the chosen rule and depth, as far as they have been computed.</param>
/// <param name="IsComplete">All of it has been computed; else asking again brings more.</param>
/// <param name="Advice">In plain words, the gravest first.</param>
/// <param name="Tighter">Clusters of most demand that one more shared result would part.</param>
/// <param name="Looser">Clusters of most demand that one shared result less would bring together.</param>
/// <param name="Changes">Against the clusters as they are; null before the first grouping, and until it has been computed.</param>
/// <param name="Captured">Keywords with a result list.</param>
public sealed record GroupingPreviewView(
    IReadOnlyList<SensitivityRow> Rows, bool IsComplete, IReadOnlyList<string> Advice, IReadOnlyList<PartsView> Tighter, IReadOnlyList<PartsView> Looser, ChangesView? Changes, int Captured);

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
/// <param name="HeldBack">Keywords that would change it if small changes of their results counted.</param>
/// <param name="Splits">Clusters whose keywords part, those of most demand first.</param>
/// <param name="Merges">Clusters whose keywords come together, likewise.</param>
public sealed record ChangesView(
    int Kept, int Changed, int New, int Gone, int GoneWithPage, int Moved, int HeldBack, double AdjustedRandIndex,
    int SplitCount, IReadOnlyList<PartsView> Splits, int MergeCount, IReadOnlyList<PartsView> Merges);

/// <summary>Makes previews of groupings, and keeps them until the data change.</summary>
/// <remarks>
/// While the planner reads one, those that may come next are computed in the background, the nearest first, so that moving a setting is answered at once.
/// </remarks>
public sealed class GroupingPreview
{
    private const int Samples = 3;
    private const int ChangesShown = 40;
    private const int PartsShown = 4;

    /// <summary>Pairs that are held for a depth, 12 bytes each.</summary>
    private const long MostPairs = 2_000_000;

    private const int DepthsKept = 3;

    /// <summary>Keywords whose last two captures are compared to tell how much results change on their own.</summary>
    private const int MostRepeated = 2_000;

    /// <summary>With so few keywords, all rows of the table are computed at once.</summary>
    private const int FewKeywords = 5_000;

    /// <summary>Settings this far from those that were asked are computed only while nobody asks.</summary>
    private const int Far = 20;

    private const int QuietMilliseconds = 2_000;

    /// <summary>After so long no further part of an answer is begun; the rest is there when it is asked again.</summary>
    private const int PatienceMilliseconds = 40;

    /// <summary>After so long without a question, what is not needed to open the preview again is let go of.</summary>
    private const int IdleMilliseconds = 20_000;

    private readonly Lock _lock = new();
    private readonly List<(string Key, bool[] LeftOut, Lazy<Sensitivity> Sensitivity)> _kept = [];
    private readonly Lock _widestLock = new();
    private (ResultLists Of, OverlapPairs Pairs)? _widest;
    private volatile Standing? _standing;
    private (long Version, int Depth, Noise Noise)? _noise;
    private int _asking;
    private Task _ahead = Task.CompletedTask;
    private readonly Project _project;
    private ClusterSettings _asked = new();
    private long _askedAt;
    private long _changes;

    public GroupingPreview(Project project)
    {
        _project = project;
        project.Changed += () =>
        {
            var change = Interlocked.Increment(ref _changes);
            _ = Task.Run(async () =>
            {
                await Task.Delay(QuietMilliseconds).ConfigureAwait(false);
                if (change == Interlocked.Read(ref _changes))
                    Refresh();
            });
        };
    }

    /// <returns>What a grouping with some settings would make.</returns>
    public GroupingPreviewView Of(Session session, ProjectSnapshot snapshot, ClusterSettings settings, ListId? listId)
    {
        Interlocked.Increment(ref _asking);
        try
        {
            return Asked(session, snapshot, settings, listId);
        }
        finally
        {
            Interlocked.Decrement(ref _asking);
        }
    }

    private GroupingPreviewView Asked(Session session, ProjectSnapshot snapshot, ClusterSettings settings, ListId? listId)
    {
        var standing = StandingOf(session, snapshot, listId);
        lock (_lock)
        {
            // To ask again for the rest of the table is no new question.
            if (KeyOf(settings) != KeyOf(_asked))
                (_asked, _askedAt) = (settings, Environment.TickCount64);
        }

        var since = Stopwatch.StartNew();
        var isSmall = snapshot.Keywords.Count <= FewKeywords;
        var preview = PreviewOf(standing, settings);
        var sensitivity = At(standing, settings);
        // What takes joins of its own comes later, where it would be waited for.
        if (isSmall || !IsSlow(sensitivity, settings.MinOverlap, settings.Rule))
            _ = (sensitivity.Row(settings.MinOverlap, settings.Rule, settings.Smallest), preview.Advice.Value);
        var rows = isSmall ? sensitivity.Rows(settings.Rule, settings.Smallest) : sensitivity.RowsSoFar(settings.Rule, settings.Smallest);
        while ((isSmall || (since.ElapsedMilliseconds < PatienceMilliseconds && !preview.IsNextSlow)) && preview.Step())
        {
        }

        WorkAhead();
        return new GroupingPreviewView(
            rows, preview.IsComplete && rows.Count == sensitivity.Minimums, [.. SoFar(preview.Advice) ?? [], .. SoFar(preview.Cautions) ?? []], SoFar(preview.Tighter) ?? [], SoFar(preview.Looser) ?? [], SoFar(preview.Changes), sensitivity.Captured);

        static T? SoFar<T>(Lazy<T> part) => part.IsValueCreated ? part.Value : default;
    }

    /// <summary>Computes the preview of the current settings, which is what opening it asks for.</summary>
    public void Prepare()
    {
        if (!_project.Read(ResultStore.HasAny))
            return;
        var (standing, settings) = _project.Read((session, snapshot) => (StandingOf(session, snapshot, ProjectStore.GroupedList(session)), ProjectStore.Grouping(session)));
        for (var preview = PreviewOf(standing, settings); preview.Step();)
        {
        }

        var sensitivity = At(standing, settings);
        for (var m = 1; m <= sensitivity.Minimums; m++)
            sensitivity.Row(m, settings.Rule, settings.Smallest);
        lock (_lock)
            _asked = settings;
        LetGo();
    }

    /// <summary>Prepares it again after manual changes; after an import it lets go of all, and waits until somebody asks.</summary>
    private void Refresh()
    {
        if (_standing is not { } standing)
            return;
        if (_project.Read(ProjectStore.ImageVersion) != standing.Snapshot.Version)
            Forget(standing);
        else if (!(Volatile.Read(ref _askedAt) is var at and > 0 && Environment.TickCount64 - at < IdleMilliseconds))
            Prepare();
    }

    private void Forget(Standing outdated)
    {
        lock (_lock)
        {
            // Somebody may have asked meanwhile.
            if (!ReferenceEquals(_standing, outdated))
                return;
            _kept.Clear();
            _standing = null;
        }

        lock (_widestLock)
            _widest = null;
    }

    private Preview PreviewOf(Standing standing, ClusterSettings settings) => standing.Previews.GetOrAdd(KeyOf(settings), _ => new Preview(standing, settings, () => At(standing, settings)));

    /// <summary>What is said of some settings, each part computed when it is first asked for.</summary>
    private sealed class Preview
    {
        public Preview(Standing standing, ClusterSettings settings, Func<Sensitivity> at)
        {
            var snapshot = standing.Snapshot;
            Clustering With(int minOverlap) => at().At(minOverlap, settings.Rule);
            Clustering Chosen() => With(settings.MinOverlap).AtLeast(settings.Smallest);
            int[] ClustersOf(Clustering clustering) => clustering.ClusterOf(snapshot.Keywords.Count);
            Advice = new(() => GroupingAdvice.For(Chosen(), snapshot.Keywords, settings.MinOverlap));
            Cautions = new(() =>
            {
                var (chosen, lists) = (Chosen(), settings.Compared(snapshot.Lists, snapshot.UrlIdentities).Without(k => standing.IsLeftOut[k]));
                var margins = Margins.All(chosen, lists);
                var says = new List<string>();
                if (margins.Count(m => m is { IsUnsettled: true }) is > 0 and var unsettled)
                {
                    says.Add(FormattableString.Invariant(
                        $"{unsettled:N0} {(unsettled == 1 ? "keyword is" : "keywords are")} unsettled: at most one result decides between {(unsettled == 1 ? "its" : "their")} cluster and the next best."));
                }

                if (standing.Noise.Keywords > 0)
                    says.Add(standing.Noise.On(chosen, margins, settings.MinOverlap).Says);
                return [.. says, .. ClusterCautions.OfGrouping(chosen, lists, snapshot.UrlIdentities, settings)];
            });
            Changes = new(() =>
            {
                if (standing.Old.Count == 0)
                    return null;
                var previous = settings.HoldsFrom(standing.Grouping) ? standing.Clusters.ToHold(settings.Hysteresis) : null;
                // What is kept for the table knows nothing of short lists and of clusters that hold.
                var grouped = settings.ShortLists
                    ? Clustering.Of(snapshot.Keywords, settings.Compared(snapshot.Lists, snapshot.UrlIdentities).Without(k => standing.IsLeftOut[k]), settings, snapshot.Order, previous)
                    : at().At(settings.MinOverlap, settings.Rule, previous).AtLeast(settings.Smallest);
                return ChangesOf(standing, Regrouping.Of(grouped, snapshot.Keywords, standing.Clusters, snapshot.Ranks), grouped.HeldBack.Length);
            });
            Tighter = new(() => settings.MinOverlap < settings.Depth && With(settings.MinOverlap + 1) is var tighter
                ? Parts(ClusteringParts.Of(ClustersOf(Chosen()), ClustersOf(tighter)).Splits, Named(Chosen(), snapshot), Named(tighter, snapshot), Samples)
                : []);
            Looser = new(() => settings.MinOverlap > 1 && With(settings.MinOverlap - 1) is var looser
                ? Parts(ClusteringParts.Of(ClustersOf(Chosen()), ClustersOf(looser)).Merges, Named(looser, snapshot), Named(Chosen(), snapshot), Samples)
                : []);
            _isSlow = minOverlap => IsSlow(at(), minOverlap, settings.Rule);
            _minOverlap = settings.MinOverlap;
        }

        private readonly Func<int, bool> _isSlow;
        private readonly int _minOverlap;

        public Lazy<IReadOnlyList<string>> Advice { get; }

        /// <summary>What makes the grouping worth less than it looks.</summary>
        public Lazy<IReadOnlyList<string>> Cautions { get; }

        public Lazy<ChangesView?> Changes { get; }

        public Lazy<List<PartsView>> Tighter { get; }

        public Lazy<List<PartsView>> Looser { get; }

        public bool IsComplete => Advice.IsValueCreated && Changes.IsValueCreated && Cautions.IsValueCreated && Tighter.IsValueCreated && Looser.IsValueCreated;

        /// <summary>Whether the next part takes joins of its own.</summary>
        public bool IsNextSlow => _isSlow(_minOverlap) || (Advice.IsValueCreated && Changes.IsValueCreated && Cautions.IsValueCreated && Tighter.IsValueCreated && _isSlow(_minOverlap - 1));

        /// <summary>Computes the next part.</summary>
        /// <returns>Whether there was one left.</returns>
        public bool Step()
        {
            if (IsComplete)
                return false;
            _ = !Advice.IsValueCreated ? Advice.Value
                : !Changes.IsValueCreated ? Changes.Value
                : !Cautions.IsValueCreated ? Cautions.Value
                : !Tighter.IsValueCreated ? Tighter.Value
                : (object)Looser.Value;
            return true;
        }
    }

    /// <summary>Fewer shared results than pairs are held of take a join of their own, every pair one at each level.</summary>
    private static bool IsSlow(Sensitivity sensitivity, int minOverlap, LinkingRule rule) =>
        minOverlap > 0 && minOverlap < sensitivity.LeastHeld && (minOverlap > 1 || rule == LinkingRule.EveryPair);

    private Sensitivity At(Standing standing, ClusterSettings settings)
    {
        var snapshot = standing.Snapshot;
        var isLeftOut = standing.IsLeftOut;
        var key = $"{snapshot.Version} {settings.Depth} {settings.PerHost} {string.Join('\n', settings.LeftOutHosts)}";
        Lazy<Sensitivity> wanted;
        lock (_lock)
        {
            var at = _kept.FindIndex(k => k.Key == key && isLeftOut.AsSpan().SequenceEqual(k.LeftOut));
            if (at < 0)
            {
                wanted = new Lazy<Sensitivity>(() =>
                {
                    var lists = settings.Compared(snapshot.Lists, snapshot.UrlIdentities).Without(k => isLeftOut[k]);
                    return new Sensitivity(snapshot.Keywords, lists, Widest(snapshot, settings).Within(lists, settings.Depth), snapshot.Order);
                });
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

    /// <summary>The pairs of all keywords, nothing left out, as deep as was asked; kept, so that other settings and manual edits need no join of their own.</summary>
    private OverlapPairs Widest(ProjectSnapshot snapshot, ClusterSettings settings)
    {
        // A single shared result links keywords by the million.
        var wanted = Math.Max(2, settings.MinOverlap - 1);
        lock (_widestLock)
        {
            // With deep lists there may have been room only for the pairs of greater overlaps.
            if (_widest is not { } kept || kept.Of != snapshot.Lists || kept.Pairs.Depth < settings.Depth || (kept.Pairs.Depth > settings.Depth && kept.Pairs.Least > wanted))
                _widest = kept = (snapshot.Lists, OverlapPairs.Of(snapshot.Lists.Cut(settings.Depth), settings.Depth, MostPairs, wanted));
            return kept.Pairs;
        }
    }

    /// <summary>Computes what may be asked next, one after another, until all of it is known and nobody has asked for a while.</summary>
    private void WorkAhead()
    {
        lock (_lock)
        {
            if (!_ahead.IsCompleted)
                return;
            _ahead = Task.Run(async () =>
            {
                while (true)
                {
                    // Both may have changed since the last round: the data, and what was asked.
                    var quiet = Environment.TickCount64 - Volatile.Read(ref _askedAt);
                    if (Volatile.Read(ref _asking) > 0)
                        await Task.Delay(1).ConfigureAwait(false);
                    else if (_standing is { } standing && Next(standing) is { } next && (next.Distance < Far || quiet >= QuietMilliseconds))
                        next.Work();
                    else if (quiet < IdleMilliseconds)
                        await Task.Delay(QuietMilliseconds / 10).ConfigureAwait(false);
                    else
                        break;
                }

                LetGo();
            });
        }
    }

    /// <summary>What is nearest to the settings that were asked last and is not there yet; null where all of it is.</summary>
    private Ahead? Next(Standing standing)
    {
        ClusterSettings asked;
        lock (_lock)
            asked = _asked;
        var sensitivity = At(standing, asked);
        var ahead = new List<Ahead>();
        foreach (var rule in Enum.GetValues<LinkingRule>())
        {
            // Every pair takes longest, so it comes last where it is not what was asked for.
            var distance = rule == asked.Rule ? 0 : rule == LinkingRule.EveryPair ? Far : 2;
            for (var m = 1; m <= sensitivity.Minimums; m++)
            {
                var (minimum, with) = (m, asked with { MinOverlap = m, Rule = rule });
                var step = Math.Abs(m - asked.MinOverlap);
                if (PreviewOf(standing, with) is { IsComplete: false } preview)
                    ahead.Add(new Ahead(distance + step + (preview.IsNextSlow ? Far : 0), () => preview.Step()));
                if (!sensitivity.HasRow(m, rule, asked.Smallest))
                    ahead.Add(new Ahead(distance + 1 + (step / 10.0) + (m < sensitivity.LeastHeld ? Far : 0), () => sensitivity.Row(minimum, rule, asked.Smallest)));
            }
        }

        var isSlow = IsSlow(sensitivity, asked.MinOverlap, asked.Rule) || IsSlow(sensitivity, asked.MinOverlap - 1, asked.Rule);
        foreach (var with in new[] { -1, 1 }.Select(step => asked with { Depth = asked.Depth + step }).Where(s => s.Fault() is null))
        {
            if (PreviewOf(standing, with) is { IsComplete: false } preview)
                ahead.Add(new Ahead(2.5 + (isSlow ? Far : 0), () => preview.Step()));
        }

        return ahead.MinBy(a => a.Distance);
    }

    /// <summary>Something to compute before it is asked for.</summary>
    private sealed record Ahead(double Distance, Action Work);

    /// <summary>Keeps what opening the preview again needs: the pairs of the depth that was asked last.</summary>
    private void LetGo()
    {
        lock (_lock)
        {
            _kept.RemoveRange(0, Math.Max(0, _kept.Count - 1));
            foreach (var kept in _kept.Where(k => k.Sensitivity.IsValueCreated))
                kept.Sensitivity.Value.LetGo();
        }
    }

    private static string KeyOf(ClusterSettings settings) => $"{settings.Depth} {settings.MinOverlap} {settings.Rule} {settings.Smallest} {settings.PerHost} {settings.ShortLists} {settings.Hysteresis} {string.Join('\n', settings.LeftOutHosts)}";

    /// <summary>The clusters as they stand, read once until something is written.</summary>
    private Standing StandingOf(Session session, ProjectSnapshot snapshot, ListId? listId)
    {
        lock (_lock)
        {
            if (_standing is { } kept && kept.Writes == session.Writes && kept.ListId == listId)
                return kept;
            var (old, clusters) = StoredClusters.Standing(session, snapshot, listId);
            var grouping = ProjectStore.Grouping(session);
            return _standing = new Standing(
                session.Writes, listId, snapshot, old, clusters.WithoutOffered(snapshot.Compared(grouping), grouping.MinOverlap, snapshot.Order), ClusterStore.Names(session), grouping,
                NoiseOf(session, snapshot, grouping.Depth));
        }
    }

    /// <summary>How much results change on their own, read once until other results come in; under the lock.</summary>
    private Noise NoiseOf(Session session, ProjectSnapshot snapshot, int depth)
    {
        if (_noise is not { } kept || (kept.Version, kept.Depth) != (snapshot.Version, depth))
            _noise = kept = (snapshot.Version, depth, Noise.Of(ResultStore.Repeated(session, Noise.Days, depth, MostRepeated)));
        return kept.Noise;
    }

    /// <summary>The data that previews are made of, and those that were made of it.</summary>
    private sealed record Standing(
        long Writes, ListId? ListId, ProjectSnapshot Snapshot, IReadOnlyList<StoredCluster> Old, StandingClusters Clusters, Dictionary<ClusterId, ClusterName> Names, ClusterSettings Grouping, Noise Noise)
    {
        /// <summary>For each keyword whether it takes no part in the grouping.</summary>
        public bool[] IsLeftOut { get; } = [.. Enumerable.Range(0, Snapshot.Keywords.Count).Select(Clusters.IsLeftOut)];

        public ConcurrentDictionary<string, Preview> Previews { get; } = new(StringComparer.Ordinal);
    }

    private static ChangesView ChangesOf(Standing standingNow, IReadOnlyList<RegroupedCluster> clusters, int heldBack)
    {
        var (snapshot, old, standing, names) = (standingNow.Snapshot, standingNow.Old, standingNow.Clusters, standingNow.Names);
        var clustering = new Clustering([.. clusters.Select(c => c.Cluster)], []);
        var comparison = ClusteringParts.Of(standing.ClusterOf, clustering.ClusterOf(snapshot.Keywords.Count));
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
        ClusterName Old(int cluster) => names[old[cluster].Id];
        return new ChangesView(
            kept, goesOn.Count - kept, clusters.Count - goesOn.Count, gone.Count, gone.Count(g => old[g].PageId is not null), moved, heldBack,
            comparison.AdjustedRandIndex,
            comparison.Splits.Length, Parts(comparison.Splits, Old, Named(clustering, snapshot), ChangesShown),
            comparison.Merges.Length, Parts(comparison.Merges, Named(clustering, snapshot), Old, ChangesShown));
    }

    private static List<PartsView> Parts(
        IReadOnlyList<ClusterParts> all, Func<int, ClusterName> whole, Func<int, ClusterName> part, int most) =>
    [
        .. all.Select(p => (Whole: whole(p.Cluster), p.Parts)).OrderByDescending(p => p.Whole.Demand).Take(most).Select(p => new PartsView(
            p.Whole.Name, p.Whole.Demand, [.. p.Parts.Take(PartsShown).Select(x => new PartView(part(x.Cluster).Name, x.Count))], Math.Max(0, p.Parts.Length - PartsShown))),
    ];

    private static Func<int, ClusterName> Named(Clustering clustering, ProjectSnapshot snapshot) => cluster => new ClusterName(
        snapshot.Keywords[clustering.Clusters[cluster].Primary].Phrase, clustering.Clusters[cluster].Members.Sum(m => snapshot.Keywords[m].Volume ?? 0));
}
