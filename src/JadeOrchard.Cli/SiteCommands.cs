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
        ClusterSettings Settings, string Output, string? Rejects);

    private sealed record Computed(
        Inputs Inputs, SiteInput Site, Clustering Clustering, ResultLists Lists, SiteText Text, ClickCurve Curve, BrandTerms Brands, IReadOnlyList<ClusterSuggestion> Suggestions);

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
            + Output.Rejects(inputs, arguments.Rejects);
    }

    public static string Findings(Arguments arguments)
    {
        var computed = Compute(arguments);
        var (inputs, site) = (computed.Inputs, computed.Site);
        using var analysis = new TextAnalysis(arguments.Language);
        var taken = computed.Suggestions.Select(s => s.Page).OfType<int>().ToHashSet();
        var findings = SiteFindings.In(new SiteFacts(
            inputs.Keywords, computed.Lists, computed.Clustering.Clusters,
            [.. computed.Suggestions.Select(s => s.AsMapped(taken.Contains))],
            site.PageOfUrl, inputs.UrlIdentities, arguments.Settings, computed.Brands)
        {
            Curve = computed.Curve,
            Performance = site.Performance,
            Pages = site.Pages,
            Text = computed.Text,
            Titles = PageTitles.Of(site.Pages, computed.Brands, analysis),
            Language = arguments.Language,
        });
        string? UrlOf(int? page) => page is { } p ? site.Pages[p].Url : null;
        Output.Write(arguments.Output, ["kind", "cluster", "keyword", "page", "other_page", "at_stake"],
            findings.Select(f => new object?[]
            {
                f.Kind.Code(), f.Cluster + 1, f.Keyword is { } k ? inputs.Keywords[k].Phrase : null, UrlOf(f.Page), UrlOf(f.OtherPage), Math.Round(f.AtStake, 1),
            }));
        return $"{findings.Length} findings on {computed.Clustering.Clusters.Length} clusters and {site.Pages.Count} pages."
            + Output.Rejects(inputs, arguments.Rejects);
    }

    private static Computed Compute(Arguments arguments)
    {
        var site = new OwnSite(arguments.Site);
        if (site.Host.Length == 0)
            throw new TableFormatException($"--site must be a host such as fenwater.example, not '{arguments.Site}'.");
        var inputs = new Inputs(rawUrls: false, keepCaptured: true);
        inputs.ReadKeywords(arguments.Keywords);
        inputs.SortKeywords();
        inputs.ReadResults(arguments.Results, addKeywords: false);
        var lists = inputs.Lists();
        var clustering = Clustering.Of(inputs.Keywords, arguments.Settings.Compared(lists, inputs.UrlIdentities), arguments.Settings);
        var input = inputs.ReadSite(arguments.Pages, arguments.Performance, site);
        using var analysis = new TextAnalysis(arguments.Language);
        var brands = new BrandTerms([site.BrandName, .. arguments.Brands]);
        var curve = CurveFit.Of(input.Queries.Where(q => !brands.IsBrandQuery(q.NormalForm)).Select(q => q.Figures), ClickCurve.Default).Curve;
        var text = new SiteText(input.Pages, [.. input.Texts.Select(t => t is null ? null : string.Join(' ', analysis.Stems(t)))], inputs.Keywords, analysis, arguments.Language);
        var suggestions = PageSuggestions.For(
            clustering.Clusters, inputs.Keywords, input.Pages, new PageCandidates(inputs.Keywords, lists, input.Pages, input.PageOfUrl, text, input.Performance, curve));
        return new Computed(inputs, input, clustering, lists, text, curve, brands, suggestions);
    }
}
