using CsCheck;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Clusters;

/// <summary>What is kept and brought up to date after each of many random changes is what computing everything from scratch gives.</summary>
public class IncrementalTests
{
    private const int KeywordCount = 26;
    private const int UrlCount = 22;
    private const int PageCount = 9;
    private const int Depth = 6;
    private const int MinOverlap = 2;

    [Fact]
    public void Fits() => Worlds.Sample(world =>
    {
        var (lists, postings) = (world.Lists, new UrlPostings(world.Lists));
        var kept = new FitTable(world.Table, lists, postings, MinOverlap, Depth);
        kept.Rebuild();
        return world.Steps.All(step =>
        {
            var changed = kept.Update(world.Apply(step)).ToHashSet();
            var fresh = new FitTable(world.Table, lists, postings, MinOverlap, Depth);
            fresh.Rebuild();
            return Enumerable.Range(0, KeywordCount).Where(k => world.Table.SlotOf(k) >= 0).All(k => kept[k] == fresh[k]);
        });
    });

    /// <summary>Who reports no change of a keyword must not have changed it: only reported ones are stored.</summary>
    [Fact]
    public void FitsThatChangedAreReported() => Worlds.Sample(world =>
    {
        var kept = new FitTable(world.Table, world.Lists, new UrlPostings(world.Lists), MinOverlap, Depth);
        kept.Rebuild();
        var stored = Enumerable.Range(0, KeywordCount).ToDictionary(k => k, k => kept[k]);
        return world.Steps.All(step =>
        {
            foreach (var keyword in kept.Update(world.Apply(step)))
                stored[keyword] = kept[keyword];
            return Enumerable.Range(0, KeywordCount).Where(k => world.Table.SlotOf(k) >= 0).All(k =>
                (stored[k].Fit, stored[k].Nearest, stored[k].BridgeTo) == (kept[k].Fit, kept[k].Nearest, kept[k].BridgeTo));
        });
    });

    [Fact]
    public void Links() => Worlds.Sample(world =>
    {
        var postings = new UrlPostings(world.Lists);
        var kept = new ClusterLinkTable(world.Table, world.Lists, postings, World.StemsOf);
        kept.Rebuild();
        var stored = Enumerable.Range(0, world.Table.SlotCount).ToDictionary(s => s, kept.KeptOf);
        return world.Steps.All(step =>
        {
            foreach (var slot in kept.Update(world.Apply(step)))
                stored[slot] = kept.KeptOf(slot);
            var fresh = new ClusterLinkTable(world.Table, world.Lists, postings, World.StemsOf);
            fresh.Rebuild();
            return Enumerable.Range(0, world.Table.SlotCount).All(s => stored.GetValueOrDefault(s, []).SequenceEqual(fresh.KeptOf(s)));
        });
    });

    [Fact]
    public void SuggestionsAndFindings() => Worlds.Sample(world =>
    {
        var board = new Board(world);
        var stored = board.Found().ToDictionary(IdentityOf, Says);
        return world.Steps.All(step =>
        {
            foreach (var looked in board.Update(step))
            {
                if (looked.Finding is { } finding)
                    stored[looked.Identity] = Says(finding);
                else
                    stored.Remove(looked.Identity);
            }

            var fresh = new Board(world);
            return Enumerable.Range(0, world.Table.SlotCount).Where(s => world.Table[s] is not null).All(s => board.Suggestions.Of(s) == fresh.Suggestions.Of(s))
                && board.Map.SequenceEqual(fresh.Map)
                && stored.Values.Order().SequenceEqual(fresh.Found().Select(Says).Order());
        });
    });

    /// <summary>Against the plain method, which finds the greatest total from scratch.</summary>
    [Fact]
    public void TheKeptAssignmentIsTheBest() => Gen.Select(Gen.Int[0, 5], Gen.Int[1, 40]).Array[0, 4].Array[1, 7].Array[1, 12].Sample(states =>
    {
        var kept = new DynamicAssignment(6);
        return states.All(rows =>
        {
            (int, long)[][] edges = [.. Enumerable.Range(0, 7).Select(r => r < rows.Length ? rows[r].DistinctBy(e => e.Item1).Select(e => (e.Item1, (long)e.Item2)).ToArray() : [])];
            for (var row = 0; row < edges.Length; row++)
                kept.Set(row, edges[row]);
            var best = Assignment.Best(6, [.. edges.Select(e => ((int, double)[])[.. e.Select(x => (x.Item1, (double)x.Item2))])]);
            double Worth(Func<int, int> columnOf) => edges.Select((e, r) => columnOf(r) is var c and >= 0 ? e.Single(x => x.Item1 == c).Item2 : 0).Sum();
            var columns = Enumerable.Range(0, 7).Select(kept.ColumnOf).Where(c => c >= 0).ToList();
            return columns.Distinct().Count() == columns.Count && columns.All(c => kept.ColumnOf(kept.RowOf(c)) == c) && Worth(kept.ColumnOf) == Worth(r => best[r]);
        });
    });

    private static FindingIdentity IdentityOf(Finding f) => new(f.Kind, f.Kind switch
    {
        FindingKind.Conflict => string.Join(':', f.Pages.Order()),
        FindingKind.Twins => $"{f.Pages.Min()}",
        FindingKind.PageGap => $"{f.Pages[0]}",
        FindingKind.IdlePages => f.Folder!,
        _ => $"{f.Clusters[0].Cluster}",
    });

    private static string Says(Finding f) =>
        $"{f.Kind} {f.Folder} {f.Keyword} {string.Join(',', f.Pages)} {string.Join(',', f.Clusters)} {f.AtStake:R} {f.Confidence:R} {f.IsPlanned} {string.Join(" + ", f.Signs.Select(Says))}";

    private static string Says(Sign s) =>
        $"{s.Kind} {s.Cluster} {s.Keyword} {s.Page} {string.Join(',', s.Others)} {s.OtherCluster} {s.AtStake:R} {string.Join(',', s.Facts.Select(x => $"{x.Keyword}/{x.Position}/{x.OtherPosition}/{x.AtStake:R}/{x.Share:R}/{x.Count}"))}";

    private static Gen<World> Worlds { get; } = Gen.Int[0, 999_999].Select(seed => new World(seed));

    /// <summary>One change: keywords that go to a cluster (a new one where it is -1), and what is decided of some clusters.</summary>
    private sealed record Step(int[] Keywords, int To, int[] Decided, int Pair);

    private sealed class World
    {
        private readonly Random _random;

        public World(int seed)
        {
            _random = new Random(seed);
            Keywords = Core.Tests.Lists.Keywords([.. Enumerable.Range(0, KeywordCount).Select(k => ($"kayak {"abcdefgh"[k % 8]}{(k % 3 == 0 ? " suit" : "")} {k}", _random.Next(4) == 0 ? (long?)null : _random.Next(6) * 100))]);
            Lists = Core.Tests.Lists.Of([.. Enumerable.Range(0, KeywordCount).Select(_ => Enumerable.Range(0, UrlCount).OrderBy(_ => _random.Next()).Take(_random.Next(0, Depth + 1)).ToArray()), [UrlCount - 1]]);
            Ranks = KeywordOrder.Ranks(KeywordOrder.Of(Keywords));
            Table = new ClusterTable([.. Ranks, KeywordCount]);
            var captured = Enumerable.Range(0, KeywordCount).Where(Lists.IsCaptured).ToList();
            Apply([.. captured.GroupBy(_ => _random.Next(7)).Select(g => (Table.NewSlot(), (Cluster?)Made([.. g])))]);
            Steps = [.. Enumerable.Range(0, 8).Select(_ => new Step(
                [.. captured.OrderBy(_ => _random.Next()).Take(_random.Next(0, 4))], _random.Next(-2, 12), [.. Enumerable.Range(0, _random.Next(0, 3)).Select(_ => _random.Next(0, 999))], _random.Next(3) == 0 ? _random.Next(0, 999) : -1))];
            // No two pages have the same address: it decides between equals.
            Pages = [.. Enumerable.Range(0, PageCount).Select(p => new SitePage($"https://f.example/kayak-{"abcdefghi"[p]}", $"Kayak {"abcdefgh"[p % 4]} suit", LinksIn: p % 3))];
            var performance = new SearchPerformance.Builder();
            for (var k = 0; k < KeywordCount; k++)
            {
                foreach (var page in Enumerable.Range(0, PageCount).Where(_ => _random.Next(8) == 0))
                    performance.Add(k, new PageFigures(page, _random.Next(20), 20 + _random.Next(100), 1 + _random.Next(25)));
            }

            Performance = performance.Build(KeywordCount, PageCount, 90);
        }

        public Keyword[] Keywords { get; }

        public ResultLists Lists { get; }

        public int[] Ranks { get; }

        public ClusterTable Table { get; }

        public IReadOnlyList<Step> Steps { get; }

        public SitePage[] Pages { get; }

        public SearchPerformance Performance { get; }

        public static int[] StemsOf(int keyword) => keyword < KeywordCount ? [0, 1 + (keyword % 8), 10 + (keyword % 3)] : [];

        public IReadOnlyList<ClusterChange> Apply(IReadOnlyCollection<(int, Cluster?)> changes) => Table.Apply(changes);

        public IReadOnlyList<ClusterChange> Apply(Step step)
        {
            var alive = Enumerable.Range(0, Table.SlotCount).Where(s => Table[s] is not null).ToList();
            if (step.Keywords.Length == 0 || alive.Count == 0)
                return [];
            var to = step.To < 0 ? Table.NewSlot() : alive[step.To % alive.Count];
            var members = alive.ToDictionary(s => s, s => Table[s]!.Members.Except(step.Keywords).ToList());
            // At -2 they leave all clusters.
            if (step.To != -2)
                (members.TryGetValue(to, out var known) ? known : members[to] = []).AddRange(step.Keywords);
            return Apply([.. members.Select(m => (m.Key, m.Value.Count == 0 ? null : (Cluster?)Made(m.Value)))]);
        }

        private Cluster Made(List<int> members)
        {
            members.Sort((a, b) => Ranks[a].CompareTo(Ranks[b]));
            return new Cluster(members[0], [.. members]);
        }
    }

    /// <summary>The tables as the server keeps them: suggestions, the page of each cluster, findings.</summary>
    private sealed class Board
    {
        private readonly World _world;
        private readonly FindingTable _findings;
        private readonly List<Cluster> _clusters = [];
        private readonly List<int> _pillars = [];
        private readonly Dictionary<int, MappedPage> _decided = [];
        private readonly HashSet<(int, int)> _pairs = [];
        private static readonly Dictionary<World, (Dictionary<int, MappedPage> Decided, HashSet<(int, int)> Pairs)> Shared = new(ReferenceEqualityComparer.Instance);

        public Board(World world)
        {
            _world = world;
            lock (Shared)
            {
                if (Shared.TryGetValue(world, out var shared))
                    (_decided, _pairs) = (new(shared.Decided), [.. shared.Pairs]);
                else
                    Shared[world] = (_decided, _pairs);
            }

            using var analysis = new TextAnalysis("en");
            var text = new SiteText(world.Pages, [.. world.Pages.Select((_, p) => p % 2 == 0 ? "kayak suit a b" : null)], world.Keywords, analysis, "en");
            int[] pageOfUrl = [.. Enumerable.Range(0, UrlCount).Select(u => u < PageCount ? u : -1)];
            Suggestions = new SuggestionTable(world.Table, world.Keywords, world.Pages, new PageCandidates(world.Keywords, world.Lists, world.Pages, pageOfUrl, text, world.Performance, ClickCurve.Default));
            Suggestions.Rebuild();
            Load();
            var site = new SiteFacts(
                world.Keywords, world.Lists, _clusters, Map, pageOfUrl, [.. Enumerable.Range(0, UrlCount).Select(u => $"https://u.example/{u:D4}")], new ClusterSettings(Depth, MinOverlap), new BrandTerms([]))
            {
                Pages = world.Pages,
                Text = text,
                Performance = world.Performance,
                Links = new SiteLinks(world.Pages.Select((_, p) => (IEnumerable<int>?)[(p + 1) % PageCount])),
                PillarOf = _pillars,
                DeliberatePairs = _pairs,
                OrderOf = s => world.Table[s] is null ? int.MaxValue : world.Table.RankOf(s),
            };
            _findings = new FindingTable(site, k => world.Table.SlotOf(k), world.Lists.Cut(Depth), new UrlPostings(world.Lists.Cut(Depth)));
        }

        public SuggestionTable Suggestions { get; }

        public List<MappedPage> Map { get; } = [];

        public IReadOnlyList<Finding> Found() => _findings.All();

        public IReadOnlyList<LookedFinding> Update(Step step)
        {
            var changes = _world.Apply(step);
            var touched = changes.Select(c => c.Slot).ToHashSet();
            var changed = touched.ToHashSet();
            touched.UnionWith(Suggestions.Update(changes));
            foreach (var decided in step.Decided)
            {
                var slot = decided % _world.Table.SlotCount;
                _decided[slot] = (decided % 5) switch
                {
                    0 => new MappedPage(null, true, true),
                    1 => new MappedPage(null, true, false, IsDeclined: true),
                    2 => default,
                    _ => new MappedPage(decided % PageCount, true, false),
                };
                if (decided % 5 == 2)
                    _decided.Remove(slot);
                touched.Add(slot);
            }

            var pages = new HashSet<int>();
            if (step.Pair >= 0)
            {
                var (a, b) = (step.Pair % PageCount, (step.Pair / PageCount) % PageCount);
                if (a != b)
                {
                    var pair = (Math.Min(a, b), Math.Max(a, b));
                    if (!_pairs.Remove(pair))
                        _pairs.Add(pair);
                    pages = [a, b];
                }
            }

            // The board of the server follows which pages turned; here everything that is mapped in another way is told.
            var before = Map.ToList();
            var pillars = _pillars.ToList();
            Load();
            for (var s = 0; s < Map.Count; s++)
            {
                if (s >= before.Count || before[s] != Map[s] || pillars[s] != _pillars[s])
                    touched.Add(s);
            }

            return _findings.Update(touched, changed, pages);
        }

        private void Load()
        {
            var taken = Enumerable.Range(0, _world.Table.SlotCount).Where(s => _world.Table[s] is not null)
                .Select(s => _decided.TryGetValue(s, out var decided) ? decided.Page : Suggestions.Of(s).Page).OfType<int>().ToHashSet();
            _clusters.Clear();
            Map.Clear();
            _pillars.Clear();
            for (var s = 0; s < _world.Table.SlotCount; s++)
            {
                _clusters.Add(_world.Table[s] ?? new Cluster(-1, []));
                Map.Add(_world.Table[s] is null ? default : _decided.TryGetValue(s, out var decided) ? decided : Suggestions.Undecided(s, taken.Contains));
                // Every third cluster supports the first of those that are there.
                _pillars.Add(s % 3 == 1 && _world.Table[0] is not null && _world.Table[s] is not null ? 0 : -1);
            }
        }
    }
}
