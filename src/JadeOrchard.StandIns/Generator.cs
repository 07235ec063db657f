using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.StandIns;

/// <summary>Makes keywords, result lists, pages and the truth from a scenario; the same seed makes the same.</summary>
public sealed class Generator
{
    private const int ListLength = 10;
    private const int PoolSize = 20;
    private const double NotCapturedShare = 0.02;
    private const int MostDraws = 500;

    /// <summary>The share of the results that changed since the tidy lists, which real results do within a month or so.</summary>
    public const double UsualNoise = 0.1;

    /// <summary>Keywords that were captured a month earlier as well, those of most volume.</summary>
    private const int CapturedTwice = 310;

    private const double UnknownVolumeShare = 0.06;

    /// <summary>Shared results beyond the minimum, so that what is planted is there still when some have changed.</summary>
    private const int Reserve = 2;

    /// <summary>Where no page of the site in the lists holds what belongs to one subject together, a keyword that left it would be uncovered by itself.</summary>
    private const int ReserveOfUncovered = 4;

    /// <summary>Results that lists of different subjects share at most, unless they are planted to be near.</summary>
    private const int Apart = 2;

    private const int DeepPosition = 34;

    private const int BigSites = 3;
    private static readonly int MinOverlap = new ClusterSettings().MinOverlap;
    private readonly Scenario _scenario;
    private readonly int _seed;
    private readonly double _noise;
    private readonly List<ClusterPlan> _plans;
    private readonly Dictionary<string, Keyword> _keywords = new(StringComparer.Ordinal);
    private readonly List<GeneratedResult> _results = [];
    private readonly List<GeneratedResult> _earlier = [];

    /// <summary>The clusters in whose head's list a URL stands.</summary>
    private readonly Dictionary<string, List<ClusterPlan>> _heads = new(StringComparer.Ordinal);
    private readonly List<OwnStanding> _standings = [];

    private Generator(Scenario scenario, int seed, double noise)
    {
        _noise = noise;
        _scenario = scenario;
        _seed = seed;
        _plans = [.. scenario.Topics.SelectMany((topic, t) => topic.Clusters.Select((c, i) => new ClusterPlan(c, t, RandomFor(t, i))))];
    }

    /// <param name="scenario">The scenario.</param>
    /// <param name="seed">Null for the scenario's own.</param>
    /// <param name="noise">The share of results that are others than in the lists that were planted, 0 to 1.</param>
    public static GeneratedWorld Make(Scenario scenario, int? seed = null, double noise = UsualNoise) =>
        new Generator(scenario, seed ?? scenario.Seed, noise).Make();

    /// <summary>What is decided about a cluster before its lists are drawn.</summary>
    private sealed class ClusterPlan(ScenarioCluster cluster, int topic, Random random)
    {
        public ScenarioCluster Cluster { get; } = cluster;

        public int Topic { get; } = topic;

        public Random Random { get; } = random;

        public List<string> Phrases { get; } = [];

        /// <summary>Rivals' pages about this cluster, with how well each ranks.</summary>
        public List<(string Url, string Title, double Score)> Pool { get; } = [];

        /// <summary>Where the site's own page mostly stands.</summary>
        public int OwnPosition { get; set; }

        /// <summary>The first URLs of the head's result list, once it is drawn.</summary>
        public HashSet<string> HeadList { get; set; } = [];

        /// <summary>For each phrase that was captured its list, as it was planted.</summary>
        public Dictionary<int, List<Hit>> Lists { get; } = [];

        public string Head => Phrases[0];
    }

    private GeneratedWorld Make()
    {
        foreach (var plan in _plans)
        {
            AddKeywords(plan);
            AddPool(plan);
            plan.OwnPosition = 2 + plan.Random.Next(5);
        }

        // The heads first, which all others are measured by; who stands near another needs the other's list.
        foreach (var plan in _plans.OrderBy(p => p.Cluster.Near is not null))
            DrawLists(plan, 0, 1);
        foreach (var plan in _plans)
            DrawLists(plan, 1, plan.Phrases.Count);
        AddResults();
        var pages = Pages();
        return new GeneratedWorld([.. _keywords.Values], _results, _earlier, pages, [.. Truth()], [.. Corpus(pages)], [.. _plans.Select(p => new WorldSubject(p.Topic, p.Cluster, p.Phrases))],
            _standings, Unlinked(), _plans.Where(p => Assigned(p) is not null).ToDictionary(p => p.Head, p => Own(Assigned(p)!)));
    }

    /// <summary>The page that the planner gave a cluster though no result speaks for it; null for none.</summary>
    private string? Assigned(ClusterPlan plan) =>
        plan.Cluster.MappedTo ?? (!plan.Cluster.Stands || plan.Cluster.Second?.Plants == "wrong-page-ranks" || SaysNothingOf(plan) is not null ? plan.Cluster.Page : null);

    /// <summary>A page says most of what people call its subject, but nobody says "pdf". Where it stands at the top all the same, nothing is missed.</summary>
    private Keyword? SaysNothingOf(ClusterPlan plan) =>
        plan.Cluster is { Page: not null, Brand: false, Kind: "what" } cluster && (!cluster.Stands || plan.OwnPosition > ClickCurve.TargetPosition + 1)
        && _keywords.TryGetValue(Phrases.Keyword("{0} pdf", cluster), out var pdf) && pdf.Volume > 0 && plan.Phrases.Contains(pdf.Phrase) ? pdf : null;

    /// <summary>Each cluster draws from its own stream, so that a change to one leaves the others as they are.</summary>
    private Random RandomFor(int topic, int cluster) => new(unchecked((((_seed * 397) ^ topic) * 397) ^ cluster));

    private string Own(string path) => $"https://www.{_scenario.Site.Host}{path}";

    private ClusterPlan Named(string about, ClusterPlan by) =>
        _plans.Where(p => p.Cluster.About == about && p != by && p.Cluster.Page is not null)
            .OrderByDescending(p => p.Cluster.Volume).First();

    private void AddKeywords(ClusterPlan plan)
    {
        var (cluster, random) = (plan.Cluster, plan.Random);
        var kind = _scenario.Kinds[cluster.Kind];
        var phrases = kind.Patterns.Select(p => Phrases.Keyword(p, cluster)).Take(1)
            .Concat(kind.Patterns.Skip(1).Select(p => Phrases.Keyword(p, cluster)).Where(_ => random.NextDouble() < 0.93))
            .Concat(cluster.Also ?? [])
            .Concat((cluster.Also ?? []).Where(_ => cluster.Kind is "buy" or "best" && random.NextDouble() < 0.6).Select(a => a.StartsWith("best", StringComparison.Ordinal) ? a + " uk" : "best " + a))
            .Distinct();
        foreach (var phrase in phrases)
        {
            if (!_keywords.ContainsKey(phrase))
                plan.Phrases.Add(phrase);
        }

        // Few high, many low: the head takes most, the rest falls off by rank in a drawn order.
        var ranks = Enumerable.Range(1, plan.Phrases.Count - 1).OrderBy(_ => random.Next()).ToArray();
        var shares = plan.Phrases.Select((_, i) => i == 0 ? 1.6 : 1 / Math.Pow(ranks[i - 1] + 0.6, 1.25) * (0.7 + (0.6 * random.NextDouble()))).ToArray();
        for (var i = 0; i < plan.Phrases.Count; i++)
        {
            var volume = TwoDigits(cluster.Volume * shares[i] / shares.Sum());
            // Some volumes nobody knows; never the head's, which is the most searched for.
            var isUnknown = i > 0 && cluster.Volume >= 300 && random.NextDouble() < UnknownVolumeShare;
            var crowding = Math.Exp((random.NextDouble() * 4) - 2);
            _keywords[plan.Phrases[i]] = new Keyword(
                plan.Phrases[i],
                plan.Phrases[i],
                isUnknown ? null : volume,
                Math.Clamp(Math.Round(4 + (7 * Math.Log10(1 + cluster.Volume)) + (random.NextDouble() * 16) - (i == 0 ? 0 : 5)), 1, 80),
                random.NextDouble() < 0.1 ? null : (long)(volume * crowding),
                Enum.Parse<Intent>(kind.Intent, ignoreCase: true),
                Math.Round((cluster.Kind is "buy" ? 0.5 : cluster.Kind is "best" or "boat" ? 0.35 : 0.08) * (0.5 + random.NextDouble()), 2));
        }
    }

    /// <summary>Volumes come rounded to two digits, and not below ten but for none at all.</summary>
    private static long TwoDigits(double volume)
    {
        if (volume < 5)
            return 0;
        var unit = Math.Pow(10, Math.Max(1, Math.Floor(Math.Log10(volume)) - 1));
        return (long)(Math.Max(1, Math.Round(volume / unit)) * unit);
    }

    private void AddPool(ClusterPlan plan)
    {
        var (cluster, random) = (plan.Cluster, plan.Random);
        var kind = _scenario.Kinds[cluster.Kind];
        // Big sites have a page about nearly everything.
        foreach (var big in _scenario.Everywhere.Select(u => u.Split('/')[0]).Distinct().Take(BigSites))
            plan.Pool.Add(($"https://{big}/{Phrases.Slug(plan.Head)}", $"{Phrases.Sentence(plan.Head)} - {Phrases.RivalName(big.Split('.')[0])}", 0.55 + (0.5 * random.NextDouble())));
        foreach (var rival in _scenario.Rivals.OrderBy(_ => random.NextDouble()).Take(PoolSize))
        {
            plan.Pool.Add((
                $"https://{rival}.example{Phrases.Path(Pick(kind.Paths, random), cluster)}",
                Phrases.Title(Pick(kind.Titles, random), cluster, Phrases.RivalName(rival)),
                random.NextDouble()));
        }
    }

    private void DrawLists(ClusterPlan plan, int from, int to)
    {
        var cluster = plan.Cluster;
        var near = cluster.Near is { } n ? Named(n.About, plan) : null;
        var supporter = _plans.FirstOrDefault(p => p.Cluster.Supports == cluster.About && cluster.Page is not null && p.Cluster != cluster && Named(cluster.About, p) == plan);
        for (var i = from; i < to; i++)
        {
            if (i > 0 && plan.Random.NextDouble() < NotCapturedShare)
                continue;
            var (list, further) = Drawn(plan, near, supporter, i);
            for (var draws = 1; !HoldsTogether(plan, i, list) && draws < MostDraws; draws++)
                (list, further) = Drawn(plan, near, supporter, i);
            plan.Lists[i] = list;
            if (i == 0)
            {
                plan.HeadList = UrlsOf(list);
                foreach (var url in plan.HeadList)
                    (System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(_heads, url, out _) ??= []).Add(plan);
            }

            if (further > 0)
                _standings.Add(new OwnStanding(_keywords[plan.Phrases[i]], Own(cluster.Page!), further, null));
            AddStandings(plan, i, list);
        }
    }

    private void AddStandings(ClusterPlan plan, int phrase, List<Hit> list)
    {
        var (cluster, keyword) = (plan.Cluster, _keywords[plan.Phrases[phrase]]);
        for (var position = 1; position <= Math.Min(ListLength, list.Count); position++)
        {
            var url = list[position - 1].Url;
            if (!url.StartsWith(Own("/"), StringComparison.Ordinal))
                continue;
            var isTurn = cluster.Second?.Plants == "page-swap" && url == Own(cluster.Page!);
            _standings.Add(new OwnStanding(keyword, url, position, isTurn ? 0 : null));
            // The page that takes turns with it stands nowhere on the day of the capture.
            if (isTurn)
                _standings.Add(new OwnStanding(keyword, Own(cluster.Second!.Page), position + 1, 1));
        }

        if (phrase == 0 && cluster.Deep is { } deep)
            _standings.Add(new OwnStanding(keyword, Own(deep), DeepPosition, null));
    }

    /// <summary>The lists as they were captured: some of what was planted is another result by now. What was planted about the head is there still.</summary>
    private void AddResults()
    {
        var twice = _keywords.Values.OrderByDescending(k => k.Volume ?? 0).ThenBy(k => k.Phrase, StringComparer.Ordinal).Take(CapturedTwice).Select(k => k.Phrase).ToHashSet(StringComparer.Ordinal);
        foreach (var plan in _plans)
        {
            var random = new Random(unchecked((_seed * 31) ^ CorpusText.Hash(plan.Head)));
            foreach (var (i, list) in plan.Lists.OrderBy(l => l.Key))
            {
                if (twice.Contains(plan.Phrases[i]))
                    Add(_earlier, plan, i, list, random);
                Add(_results, plan, i, Changed(plan, i, list, random), random);
                if (i == 0 && plan.Cluster.Deep is { } deep)
                    _results.Add(ResultOf(plan, i, DeepPosition, new Hit(Own(deep), _scenario.OtherPages[deep])));
            }
        }
    }

    private static void Add(List<GeneratedResult> to, ClusterPlan plan, int phrase, List<Hit> list, Random random)
    {
        for (var position = 1; position <= Math.Min(ListLength, list.Count); position++)
            to.Add(ResultOf(plan, phrase, position, list[position - 1] with { Url = Tracked(list[position - 1].Url, plan, random) }));
    }

    /// <summary>The same list some weeks later.</summary>
    private List<Hit> Changed(ClusterPlan plan, int phrase, List<Hit> list, Random random)
    {
        var changed = list.Take(ListLength).ToList();
        // What most people search for changes least.
        var noise = phrase == 0 ? _noise / 3 : _noise;
        for (var i = 0; i < changed.Count; i++)
        {
            if (random.NextDouble() >= noise || (phrase == 0 && changed[i].Url.StartsWith(Own("/"), StringComparison.Ordinal)))
                continue;
            // Another page about it, or one that is about something else of the topic.
            var from = plan.Cluster.MappedTo is null && random.NextDouble() < 0.4 ? Pick([.. _plans.Where(p => p.Topic == plan.Topic)], random) : plan;
            var (url, title, _) = Pick(from.Pool, random);
            if (changed.TrueForAll(c => c.Url != url))
                changed[i] = new Hit(url, title);
        }

        for (var i = 1; i < changed.Count; i++)
        {
            if (random.NextDouble() < 2 * noise)
                (changed[i - 1], changed[i]) = (changed[i], changed[i - 1]);
        }

        return changed;
    }

    /// <summary>Shops hang a number on their addresses that tells where a visitor came from, another one each time.</summary>
    private static string Tracked(string url, ClusterPlan plan, Random random) => random.NextDouble() switch
    {
        < 0.1 when plan.Cluster.Kind is "buy" or "boat" or "best" => $"{url}?srsltid=Afm{random.NextInt64(1L << 40, 1L << 44):x}",
        < 0.11 => $"{url}?utm_source=search&utm_medium=organic",
        < 0.12 => $"{url}?gad_source=1&gclid=Cj{random.NextInt64(1L << 40, 1L << 44):x}",
        _ => url,
    };

    /// <summary>One result list, and where the cluster's own page stands further down than the list goes; 0 for nowhere.</summary>
    private (List<Hit> List, int Further) Drawn(ClusterPlan plan, ClusterPlan? near, ClusterPlan? supporter, int phrase)
    {
        var (cluster, random, isHead, further) = (plan.Cluster, plan.Random, phrase == 0, 0);
        if (cluster.Brand)
            return (BrandList(plan), 0);
        var list = RivalsFor(plan, near, isHead);
        var own = plan.OwnPosition + random.Next(-1, 2);
        if (cluster.Page is { } page && cluster.Stands && cluster.Second?.Plants != "wrong-page-ranks")
        {
            if (isHead || random.NextDouble() < 0.9)
                Insert(list, own, Own(page), cluster.Title!);
            else
                further = 11 + (CorpusText.Hash(plan.Phrases[phrase]) % 8);
        }

        if (cluster.Second is { } second && second.Plants != "page-swap" && (isHead || random.NextDouble() < 0.75))
            Insert(list, second.Plants == "wrong-page-ranks" ? 6 + random.Next(3) : own + 2 + random.Next(3), Own(second.Page), second.Title);
        if (supporter is not null && (isHead || random.NextDouble() < 0.6))
            Insert(list, own + 2 + random.Next(3), Own(supporter.Cluster.Page!), supporter.Cluster.Title!);
        return (list, further);
    }

    /// <summary>
    /// True where a list makes what is planted: it shares enough with the list of its cluster's head, more than with the head of any other cluster, and
    /// no two heads share enough to be one cluster.
    /// </summary>
    private bool HoldsTogether(ClusterPlan plan, int phrase, List<Hit> list)
    {
        var urls = UrlsOf(list);
        var withHead = urls.Count(plan.HeadList.Contains);
        var withOther = urls.SelectMany(u => _heads.GetValueOrDefault(u, [])).Where(p => p != plan).GroupBy(p => p).Select(g => g.Count()).DefaultIfEmpty(0).Max();
        var mostOfOther = plan.Cluster.Near is not null || (phrase == 0 && IsShaded(plan)) ? MinOverlap - 1 : Apart;
        return phrase == 0 ? withOther <= mostOfOther
            : withHead >= MinOverlap + (IsSeen(plan) ? Reserve : ReserveOfUncovered) && (plan.Cluster.Near is not null ? withHead > withOther : withOther <= mostOfOther);
    }

    private static HashSet<string> UrlsOf(List<Hit> list) => [.. list.Take(ListLength).Select(r => r.Url)];

    /// <summary>Links that are planted as missing between a pillar's page and its support's.</summary>
    private HashSet<(string From, string To)> Unlinked()
    {
        var missing = new HashSet<(string, string)>();
        foreach (var plan in _plans.Where(p => p.Cluster.Unlinked is not null))
        {
            var (support, pillar) = (Own(plan.Cluster.Page!), Own(Named(plan.Cluster.Supports!, plan).Cluster.Page!));
            missing.Add(plan.Cluster.Unlinked == "up" ? (support, pillar) : (pillar, support));
        }

        return missing;
    }

    private static GeneratedResult ResultOf(ClusterPlan plan, int phrase, int position, Hit result) =>
        new(plan.Phrases[phrase], position, result.Url, result.Title,
            $"{Phrases.Sentence(plan.Cluster.About)}{(plan.Cluster.Versus is { } v ? " and " + v : "")}: what we found, with prices, pictures and advice from people who paddle.");

    private List<Hit> RivalsFor(ClusterPlan plan, ClusterPlan? near, bool isHead)
    {
        var random = plan.Random;
        var drawn = plan.Pool.Select(p => (p.Url, p.Title, Score: p.Score + (0.66 * random.NextDouble()))).ToList();
        if (near is not null)
        {
            // The head shares too little to be gathered; the other keywords share enough that both clusters chase the same.
            var best = near.Lists[0].Where(h => !h.Url.StartsWith(Own("/"), StringComparison.Ordinal));
            var shared = plan.Cluster.Near!.Share == "target" ? (isHead ? 3 : 5) : 2;
            drawn.AddRange(best.Take(shared).Select(p => (p.Url, p.Title, 2.3 + (0.4 * random.NextDouble()))));
        }

        // What has the page of something else shares nothing with that, not even what ranks for everything.
        if (plan.Cluster.MappedTo is null)
            drawn.AddRange(General(plan).Concat(Shading(plan, isHead)));
        // Overlaps are gradual: some lists have nearly all of the head's results, others just enough.
        if (plan.Lists.TryGetValue(0, out var head))
        {
            var shared = near is not null ? MinOverlap + 2 : IsSeen(plan) ? MinOverlap + 1 + random.Next(4) : ListLength - random.Next(2);
            drawn.AddRange(head.Take(ListLength).Where(h => !h.Url.StartsWith(Own("/"), StringComparison.Ordinal)).OrderBy(_ => random.Next()).Take(shared)
                .Select(h => (h.Url, h.Title, 1.7 + (0.5 * random.NextDouble()))));
        }

        return [.. drawn.OrderByDescending(p => p.Score).Select(p => new Hit(p.Url, p.Title)).DistinctBy(h => h.Url).Take(ListLength)];
    }

    /// <summary>Pages that are in many lists: those that rank for everything, and the overview of the topic.</summary>
    private IEnumerable<(string Url, string Title, double Score)> General(ClusterPlan plan)
    {
        var random = plan.Random;
        foreach (var (url, at) in _scenario.Everywhere.Select((u, i) => ("https://" + u, i)))
        {
            if (random.NextDouble() < 0.16 / (1 + at))
                yield return (url, Phrases.Sentence(url.Split('/')[^1]) + " - " + Phrases.RivalName(url.Split('/')[2].Split('.')[0]), 0.7 + (0.8 * random.NextDouble()));
        }

        var hub = _scenario.Rivals[(plan.Topic * 7) % _scenario.Rivals.Count];
        if (random.NextDouble() < 0.3)
            yield return ($"https://{hub}.example/{Phrases.Slug(_scenario.Topics[plan.Topic].Name)}", $"{_scenario.Topics[plan.Topic].Name} - {Phrases.RivalName(hub)}", 0.8 + (0.7 * random.NextDouble()));
    }

    /// <summary>
    /// Subjects shade into each other: pages about a neighbour in the topic are in its lists too. Every fourth comes so near that a
    /// lower minimum would make one cluster of both.
    /// </summary>
    private List<(string Url, string Title, double Score)> Shading(ClusterPlan plan, bool isHead)
    {
        var random = plan.Random;
        var topic = _plans.Where(p => p.Topic == plan.Topic && p.Cluster is { Brand: false, MappedTo: null }).ToList();
        var at = topic.IndexOf(plan);
        if (at <= 0 || !topic[at - 1].Lists.TryGetValue(0, out var list))
            return [];
        var rivals = list.Take(ListLength).Where(h => !h.Url.StartsWith(Own("/"), StringComparison.Ordinal)).ToList();
        var pages = isHead ? (IsShaded(plan) ? MinOverlap - 1 : random.Next(MinOverlap - 1)) : random.Next(MinOverlap - 1);
        return [.. rivals.OrderBy(_ => random.Next()).Take(pages).Select(h => (h.Url, h.Title, (isHead ? 1.8 : 1.1) + (0.6 * random.NextDouble())))];
    }

    /// <summary>A page of the site is in most of its lists.</summary>
    private static bool IsSeen(ClusterPlan plan) => plan.Cluster is { Page: not null, Stands: true };

    private bool IsShaded(ClusterPlan plan) => plan.Cluster is { Near: null, Second: null, Supports: null } && _plans.IndexOf(plan) % 4 == 3;

    private List<Hit> BrandList(ClusterPlan plan)
    {
        string[] paths = [plan.Cluster.Page!, "/about", "/contact", "/blog", "/delivery"];
        var own = paths.Select(p => new Hit(Own(p), p == plan.Cluster.Page ? plan.Cluster.Title! : _scenario.OtherPages[p]));
        return [.. own, .. RivalsFor(plan, null, false)];
    }

    private static void Insert(List<Hit> list, int position, string url, string title) =>
        list.Insert(Math.Clamp(position - 1, 0, Math.Min(list.Count, ListLength - 1)), new Hit(url, title));

    private List<SitePage> Pages()
    {
        var pages = new Dictionary<string, SitePage>(StringComparer.Ordinal);
        foreach (var plan in _plans)
        {
            if (plan.Cluster.Page is { } page)
                pages.TryAdd(page, PageOf(page, plan.Cluster.Title!, plan));
            if (plan.Cluster.Second is { } second)
                pages.TryAdd(second.Page, PageOf(second.Page, second.Title, plan));
        }

        foreach (var (path, title) in _scenario.OtherPages)
            pages.TryAdd(path, new SitePage(Own(path), $"{title} | {_scenario.Site.Name}", _scenario.SiteNamed.Contains(path) ? _scenario.Site.Name : title, null, 180 + (title.Length * 23 % 700)));
        foreach (var (path, parameters) in _scenario.Guises)
        {
            foreach (var parameter in parameters)
                pages.Add($"{path}?{parameter}", pages[path] with { Url = Own($"{path}?{parameter}"), IsListed = IsPageOfList(parameter) });
        }

        foreach (var version in _scenario.Versions.Pages)
        {
            pages.Add(version.Path, new SitePage(Own(version.Path), $"{version.Title} | {_scenario.Site.Name}", version.Title, version.Text, 60,
                Language: _scenario.Versions.Language, Versions: Own(version.Of)));
            pages[version.Of] = pages[version.Of] with { Versions = Own(version.Path) };
        }

        return [.. pages.Values.Select(p => p with { Language = p.Language ?? _scenario.Site.Language })];
    }

    /// <summary>A further page of a list is listed, a colour names the page itself as its canonical.</summary>
    private static bool IsPageOfList(string parameter) => parameter.StartsWith("page=", StringComparison.Ordinal);

    private SitePage PageOf(string path, string title, ClusterPlan plan)
    {
        var isShop = plan.Cluster.Kind is "buy" or "boat";
        var h2 = isShop ? "Choose a size | Delivery and returns | Ask the shop"
            : string.Join(" | ", (plan.Cluster.Also ?? []).Take(1).Select(Phrases.Sentence).Append("In short").Append("Read on"));
        return new SitePage(Own(path), $"{title} | {_scenario.Site.Name}", title,
            isShop ? $"{title}: sizes, prices and honest advice from the {_scenario.Site.Name} shop." : $"{title}. Written by people who paddle all year.",
            isShop ? 350 + (title.Length * 17 % 400) : 900 + (title.Length * 61 % 1600), h2);
    }

    /// <summary>Every page of every site, as the search stand-in indexes them: rivals' pools, pages that rank for everything, own pages.</summary>
    private Dictionary<string, WorldPage>.ValueCollection Corpus(List<SitePage> ownPages)
    {
        var pages = new Dictionary<string, WorldPage>(StringComparer.Ordinal);
        for (var s = 0; s < _plans.Count; s++)
        {
            foreach (var (url, title, score) in _plans[s].Pool)
            {
                if (!pages.TryAdd(url, new WorldPage(url, title, s, 0.25 + (0.7 * score))))
                    pages[url].AlsoAbout.Add(s);
            }

            // Two clusters that chase the same searches: the best of the one are about the other as well.
            if (_plans[s].Cluster.Near is { } near)
            {
                var shared = near.Share == "target" ? 6 : 2;
                foreach (var (url, _, _) in Named(near.About, _plans[s]).Pool.OrderByDescending(p => p.Score).Take(shared))
                {
                    if (pages.TryGetValue(url, out var both))
                        both.AlsoAbout.Add(s);
                }
            }
        }

        foreach (var url in _scenario.Everywhere)
            pages.TryAdd("https://" + url, new WorldPage("https://" + url, Phrases.Sentence(url.Split('/')[^1]) + " - " + Phrases.RivalName(url.Split('/')[0].Split('.')[0]), -1, 0.5));
        foreach (var own in ownPages)
        {
            var subject = _plans.FindIndex(p => (p.Cluster.Page is { } page && Own(page) == own.Url) || (p.Cluster.Second is { } second && Own(second.Page) == own.Url));
            var plan = subject < 0 ? null : _plans[subject];
            var ranks = plan switch
            {
                null => 0.3,
                { Cluster.Stands: false } => 0.02,
                { Cluster.Second.Plants: "wrong-page-ranks" } when Own(plan.Cluster.Page!) == own.Url => 0.02,
                _ when plan.Cluster.Second is { } second && Own(second.Page) == own.Url => 0.8,
                _ => 1.12 - (0.06 * plan.OwnPosition),
            };
            pages[own.Url] = new WorldPage(own.Url, own.Title!, subject, ranks, own);
            var of = own.Url.Contains('?', StringComparison.Ordinal) ? own.Url.Split('?')[0] : own.Language == _scenario.Site.Language ? null : own.Versions;
            if (of is not null)
                pages[own.Url] = pages[own.Url] with { IsFound = false, Of = pages[of] };
        }

        return pages.Values;
    }

    private IEnumerable<PlantedFact> Truth()
    {
        var questions = Questions.Of(_scenario.Site.Language);
        foreach (var plan in _plans)
        {
            var (cluster, head) = (plan.Cluster, plan.Head);
            if (SaysNothingOf(plan) is not null)
                yield return new("missing-on-page", head, Own(cluster.Page!), "", false, "its text never says pdf");
            if (cluster is { Page: null, MappedTo: null } && plan.Phrases.Any(p => questions.IsQuestion(KeywordWords.Padded(p))))
                yield return new("open-question", head, "", "", false, "people ask, and no page is about it");
            var page = cluster.Page is { } path ? Own(path) : "";
            if (cluster.Brand)
            {
                yield return new("rivals-in-results", head, page, "", true, cluster.Decoy!);
                continue;
            }

            if (cluster.MappedTo is { } mapped)
            {
                yield return new("mixed-target", head, Own(mapped), "", false, "the planner gave it a page that is about something else");
                if (page.Length > 0)
                    yield return new("targetless", "", page, "", false, "the planner gave its cluster another page");
                yield return new("absent", head, Own(mapped), "", false, "no page of the site is in its results");
            }
            else if (cluster.Page is null)
            {
                if (cluster.Volume > 0)
                    yield return new("no-page", head, "", "", false, "no page of the site is about it");
                else
                    yield return new("no-page", head, "", "", true, cluster.Decoy!);
                yield return new("absent", head, "", "", false, "no page of the site is in its results");
            }
            else if (!cluster.Stands)
                yield return new("absent", head, page, "", false, "its page is in no result list");
            else if (cluster.Decoy is not null)
                yield return new("no-page", head, page, "", true, cluster.Decoy);

            if (cluster.Second is { } second)
            {
                yield return new(second.Plants, head, page, Own(second.Page), false, "two pages of the site for the same searches");
                if (second.Plants != "wrong-page-ranks")
                    yield return new("split-traffic", head, page, Own(second.Page), false, "its visitors are shown now the one page, now the other");
            }

            if (cluster.Supports is { } supported)
                yield return new("split-traffic", Named(supported, plan).Head, Own(Named(supported, plan).Cluster.Page!), page, true, "a pillar and its support, each at its own searches");
            if (cluster.Supports is { } pillar)
                yield return new("rivals-in-results", Named(pillar, plan).Head, Own(Named(pillar, plan).Cluster.Page!), page, true, "a pillar and its support, each at its own searches");
            if (cluster.Near is { } near)
            {
                var other = Named(near.About, plan);
                yield return new("shared-target", head, page, Own(other.Cluster.Page!), near.Share != "target",
                    near.Share == "target" ? "two pages for clusters with the same results" : "they share fewer results than count");
            }

            if (cluster.Deep is { } deep)
                yield return new("rivals-in-results", head, page, Own(deep), true, "the other page stands once, at position 34");
        }

        var supports = _plans.Where(p => p.Cluster.Supports is not null).Select(p => Own(p.Cluster.Page!)).ToHashSet(StringComparer.Ordinal);
        foreach (var (from, to) in Unlinked())
            yield return new(supports.Contains(from) ? "support-to-pillar" : "pillar-to-support", "", from, to, false, "a pillar and its support do not link to each other");
        foreach (var twins in _scenario.Twins)
            yield return new("twin-titles", "", Own(twins[0]), Own(twins[1]), false, "two pages with the same title");
        foreach (var (path, parameters) in _scenario.Guises)
        {
            foreach (var guise in parameters.Select(p => Own($"{path}?{p}")))
            {
                yield return new("twin-titles", "", Own(path), guise, true, "the same page under another address");
                yield return new("targetless", "", guise, "", true, "the same page under another address");
            }
        }

        foreach (var version in _scenario.Versions.Pages)
            yield return new("targetless", "", Own(version.Path), "", true, "a page for another market");
        foreach (var (a, b) in _scenario.SiteNamed.Zip(_scenario.SiteNamed.Skip(1)))
            yield return new("twin-titles", "", Own(a), Own(b), true, "their headings are the name of the site");
        foreach (var orphan in _scenario.Orphans)
            yield return new("orphan", "", Own(orphan), "", false, "no page links to it");
        var shown = _standings.Select(s => s.Url).ToHashSet(StringComparer.Ordinal);
        foreach (var path in _scenario.OtherPages.Keys.Where(p => !shown.Contains(Own(p)) && !_plans.Any(c => c.Cluster.MappedTo == p)))
            yield return new("targetless", "", Own(path), "", false, "nobody searches for what is on it");
    }

    private static T Pick<T>(IReadOnlyList<T> from, Random random) => from[random.Next(from.Count)];

    /// <summary>A page in a result list that is being drawn.</summary>
    internal readonly record struct Hit(string Url, string Title);
}
