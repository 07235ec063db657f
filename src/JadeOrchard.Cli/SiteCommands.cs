using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on a whole site: which page for which cluster, and what is wrong.</summary>
internal static class SiteCommands
{
    internal sealed record Arguments(
        string Keywords, string Results, string Pages, string? Performance, string Site, string Language, string[] Brands,
        ClusterSettings Settings, string Output, string? Rejects, string? Map = null, string? Signs = null)
    {
        /// <summary>Brand terms that are brands although the site is about them.</summary>
        public string[] ConfirmedBrands { get; init; } = [];

        /// <summary>Parameters that are dropped from addresses.</summary>
        public string[] Tracking { get; init; } = [];
    }

    internal sealed record Computed(
        Inputs Inputs, SiteInput Site, Clustering Clustering, ResultLists Lists, SiteText Text, ClickCurve Curve, BrandTerms Brands, IReadOnlyList<SubjectBrand> Subjects, IReadOnlyList<ClusterSuggestion> Suggestions);

    public static string Map(Arguments arguments)
    {
        var computed = Compute(arguments);
        var (inputs, suggestions) = (computed.Inputs, computed.Suggestions);
        Output.Write(arguments.Output, ["cluster", "primary", "page", "strength", "verdict"],
            computed.Clustering.Clusters.Select((cluster, c) => new object?[]
            {
                c + 1,
                inputs.Keywords[cluster.Primary].Phrase,
                suggestions[c].Page is { } page ? computed.Site.Pages[page].Url : null,
                Math.Round(suggestions[c].Strength, 1),
                suggestions[c].Verdict.ToString().ToLowerInvariant(),
            }));
        int Count(Verdict verdict) => suggestions.Count(s => s.Verdict == verdict);
        return $"{suggestions.Count} clusters: {Count(Verdict.Clear)} clear, {Count(Verdict.Doubtful)} doubtful, {Count(Verdict.None)} none."
            + SaysOf(computed.Subjects) + Output.Rejects(inputs, arguments.Rejects);
    }

    public static string Findings(Arguments arguments)
    {
        var computed = Compute(arguments);
        var (inputs, site) = (computed.Inputs, computed.Site);
        var findings = SiteFindings.In(Facts(computed, arguments));
        string UrlOf(int page) => site.Pages[page].Url;
        string? PhraseOf(int? keyword) => keyword is { } k ? inputs.Keywords[k].Phrase : null;
        Output.Write(arguments.Output, ["finding", "signs", "cluster", "keyword", "page", "other_pages", "at_stake", "confidence"],
            findings.Select(f => new object?[]
            {
                f.Kind.Code(), string.Join(Separator, f.Signs.Select(s => s.Kind.Code()).Distinct()), string.Join(Separator, f.Clusters.Select(c => c.Cluster + 1)), PhraseOf(f.Keyword),
                f.Pages.IsEmpty ? null : UrlOf(f.Pages[0]), string.Join(Separator, f.Pages.Skip(1).Select(UrlOf)), Math.Round(f.AtStake, 1), Math.Round(f.Confidence, 2),
            }));
        if (arguments.Signs is { } path)
        {
            Output.Write(path, ["finding", "sign", "cluster", "other_cluster", "keyword", "page", "other_pages", "keywords", "at_stake"],
                findings.SelectMany((f, i) => f.Signs.Select(s => new object?[]
                {
                    i + 1, s.Kind.Code(), s.Cluster + 1, s.OtherCluster + 1, PhraseOf(s.Keyword), s.Page is { } page ? UrlOf(page) : null, string.Join(Separator, s.Others.Select(UrlOf)),
                    s.Facts.Count(x => x.Keyword is not null), Math.Round(s.AtStake, 1),
                })));
        }

        var kinds = findings.GroupBy(f => f.Kind).Select(g => $"{g.Count()} {FindingText.Heading(g.Key).ToLowerInvariant()}");
        return $"{findings.Length} findings on {computed.Clustering.Clusters.Length} clusters and {site.Pages.Count} pages{(findings.IsEmpty ? "" : $": {string.Join(", ", kinds)}")}."
            + SaysOf(computed.Subjects) + Output.Rejects(inputs, arguments.Rejects);
    }

    /// <summary>What findings are computed from.</summary>
    internal static SiteFacts Facts(Computed computed, Arguments arguments)
    {
        using var analysis = new TextAnalysis(arguments.Language);
        var taken = computed.Suggestions.Select(s => s.Page).OfType<int>().ToHashSet();
        return new SiteFacts(
            computed.Inputs.Keywords, computed.Lists, computed.Clustering.Clusters,
            Mapped(computed, [.. computed.Suggestions.Select(s => s.AsMapped(taken.Contains))], arguments.Map, arguments.Language),
            computed.Site.PageOfUrl, computed.Inputs.UrlIdentities, arguments.Settings, computed.Brands)
        {
            Curve = computed.Curve,
            Performance = computed.Site.Performance,
            Pages = computed.Site.Pages,
            Text = computed.Text,
            Titles = PageTitles.Of(computed.Site.Pages, computed.Brands, analysis),
            Questions = Questions.Of(arguments.Language),
        };
    }

    internal static string SaysOf(IReadOnlyList<SubjectBrand> subjects) => string.Concat(subjects.Select(s => FormattableString.Invariant(
        $" '{s.Term}' is in the titles of {100 * s.Share:0} % of the pages, so searches with it don't count as brand queries. Use --confirmed-brand if they should.")));

    /// <summary>Between several values of one cell.</summary>
    internal const string Separator = " | ";

    /// <summary>The page of each cluster: that of the file, decided, where it names one of its keywords; else the suggestion.</summary>
    private static MappedPage[] Mapped(Computed computed, MappedPage[] map, string? path, string language)
    {
        if (path is null)
            return map;
        using var file = DelimitedFile.Open(path);
        int Column(params string[] names) => names.Select(n => file.Header.ToList().FindIndex(h => h.Equals(n, StringComparison.OrdinalIgnoreCase))).FirstOrDefault(i => i >= 0, -1);
        var (keyword, page) = (Column("keyword", "primary"), Column("page", "url"));
        if (keyword < 0 || page < 0)
            throw new TableFormatException($"{path}: wants the columns keyword (or primary) and page.");
        var clusterOf = computed.Clustering.Clusters.SelectMany((c, i) => c.Members.Select(m => (computed.Inputs.Keywords[m].NormalForm, i))).ToDictionary(m => m.NormalForm, m => m.i, StringComparer.Ordinal);
        var pageOf = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var p = 0; p < computed.Site.Pages.Count; p++)
            pageOf[UrlIdentity.TryOf(computed.Site.Pages[p].Url, UrlFolds.All, out var identity) ? identity : computed.Site.Pages[p].Url] = p;
        foreach (var (_, row) in file.Rows())
        {
            if (row.Value is not { } cells || cells.Length <= Math.Max(keyword, page) || !clusterOf.TryGetValue(KeywordNormalForm.Of(cells[keyword], language), out var cluster))
                continue;
            if (UrlIdentity.TryOf(cells[page], UrlFolds.All, out var identity) && pageOf.TryGetValue(identity, out var known))
                map[cluster] = new MappedPage(known, IsDecided: true, IsPlanned: false);
        }

        return map;
    }

    /// <summary>Writes the click curve that search performance shows, position by position.</summary>
    public static string Curve(string performance, string[] brands, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls: false);
        var fit = CurveOf(inputs.ReadQueries(performance), new BrandTerms(brands));
        Output.Write(output, ["position", "share", "queries", "weight_of_default"],
            fit.Supports.Select(s => new object?[] { s.Position, Math.Round(s.Share, 5), s.Queries, Math.Round(s.WeightOfDefault, 3) }));
        return (fit.IsFitted
            ? $"Fitted to {fit.Clicks} clicks from {fit.Queries} queries."
            : $"The default: {fit.Clicks} clicks from {fit.Queries} queries are too few; {CurveFit.FewestClicks} from {CurveFit.FewestQueries} are needed.") + Output.Rejects(inputs, rejects);
    }

    private static CurveFit CurveOf(IEnumerable<FormFigures> queries, BrandTerms brands) =>
        CurveFit.Of(queries.Where(q => !brands.IsBrandQuery(q.NormalForm)).Select(q => q.Figures), ClickCurve.Default);

    /// <summary>Which page of the site phrases are for, by its words and by search performance; nothing need be captured.</summary>
    public static string Which(string pages, string? performance, string host, string language, string[] phrases, string? output, string? rejects)
    {
        var site = SiteOf(host);
        if (phrases.Length == 0)
            throw new TableFormatException("Name at least one phrase. Put quotes around phrases of several words.");
        var inputs = new Inputs(rawUrls: false, keepCaptured: true, language);
        inputs.AddPhrases(phrases);
        var lists = inputs.Lists();
        var input = inputs.ReadSite(pages, performance, site);
        using var analysis = new TextAnalysis(language);
        var text = new SiteText(input.Pages, [.. input.Texts.Select(t => t is null ? null : string.Join(' ', analysis.Stems(t)))], inputs.Keywords, analysis, language);
        var candidates = new PageCandidates(inputs.Keywords, lists, input.Pages, input.PageOfUrl, text, input.Performance, ClickCurve.Default);
        var rows = phrases.Select(phrase =>
        {
            if (inputs.IndexOf(phrase) is not { } k || WhichPage.Of(k, inputs.Keywords, candidates, input.Pages, text, input.Performance, analysis) is not [var best, ..])
                return [phrase, null, 0, null, null, "no page of the site is about it"];
            return new object?[]
            {
                phrase, input.Pages[best.Evidence.Page].Url, Math.Round(best.Evidence.Strength, 1), best.Evidence.Text is { } t ? Math.Round(t, 3) : null,
                best.Evidence.Performance is { } p ? Math.Round(p, 3) : null, string.Join("; ", best.Facts),
            };
        }).ToList();
        string[] columns = ["phrase", "page", "strength", "text", "performance", "facts"];
        if (output is not null)
        {
            Output.Write(output, columns, rows);
            return $"{rows.Count(r => r[1] is not null)} of {rows.Count} phrases have a page.{Output.Rejects(inputs, rejects)}";
        }

        using var stream = new MemoryStream();
        TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
        return System.Text.Encoding.UTF8.GetString(stream.ToArray()).TrimStart('\uFEFF').TrimEnd();
    }

    internal static OwnSite SiteOf(string host) =>
        new OwnSite(host) is { Host.Length: > 0 } site ? site : throw new TableFormatException($"--site must be a host such as fenwater.example, not '{host}'.");

    internal static Computed Compute(Arguments arguments)
    {
        var site = SiteOf(arguments.Site);
        var inputs = new Inputs(rawUrls: false, keepCaptured: true, arguments.Language) { Tracking = new(arguments.Tracking) };
        inputs.ReadKeywords(arguments.Keywords);
        inputs.SortKeywords();
        inputs.ReadResults(arguments.Results, addKeywords: false);
        var lists = inputs.Lists();
        var clustering = Clustering.Of(inputs.Keywords, arguments.Settings.Compared(lists, inputs.UrlIdentities), arguments.Settings);
        var input = inputs.ReadSite(arguments.Pages, arguments.Performance, site);
        using var analysis = new TextAnalysis(arguments.Language);
        string[] names = [site.BrandName, .. arguments.Brands];
        var subjects = SubjectBrands.Of(names, [.. input.Pages.Select(p => p.Title)], analysis).ExceptBy(arguments.ConfirmedBrands, s => s.Term, StringComparer.OrdinalIgnoreCase).ToList();
        var brands = new BrandTerms(names.Except(subjects.Select(s => s.Term), StringComparer.OrdinalIgnoreCase));
        var curve = CurveOf(input.Queries, brands).Curve;
        var text = new SiteText(input.Pages, [.. input.Texts.Select(t => t is null ? null : string.Join(' ', analysis.Stems(t)))], inputs.Keywords, analysis, arguments.Language);
        var suggestions = PageSuggestions.For(
            clustering.Clusters, inputs.Keywords, input.Pages, new PageCandidates(inputs.Keywords, lists, input.Pages, input.PageOfUrl, text, input.Performance, curve));
        return new Computed(inputs, input, clustering, lists, text, curve, brands, subjects, suggestions);
    }
}
