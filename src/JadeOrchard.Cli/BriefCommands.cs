using System.Collections.Immutable;
using System.Globalization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on what writers need: terms, placement, titles.</summary>
internal static class BriefCommands
{
    private const string Separator = " | ";

    /// <summary>Ranking pages of a brief.</summary>
    private const int MostRanking = 20;

    /// <summary>Links in each direction.</summary>
    private const int MostLinks = 5;

    /// <summary>What the ranking pages of each cluster have in common.</summary>
    public static string Terms(string texts, string results, string clusters, int top, string language, string output, string? rejects)
    {
        if (top is < 1 or > 1_000)
            throw new TableFormatException($"--top must be 1 to 1000, not {top}.");
        var (clusterNames, members, inputs) = Clusters(clusters, null, language);
        inputs.ReadResults(results, addKeywords: false);
        var lists = inputs.Lists();
        var pages = ReadTexts(texts);
        var pageOf = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var p = 0; p < pages.Count; p++)
            pageOf.TryAdd(Identity(pages[p].Url!), p);
        using var analysis = new TextAnalysis(language);
        var terms = new Terms(pages, analysis, language).Of(
            [.. members.Select(keywords => (
                (IReadOnlyCollection<int>)[.. keywords.SelectMany(k => lists.Urls(k).ToArray()).Distinct().Select(u => pageOf.GetValueOrDefault(inputs.UrlIdentities[u], -1)).Where(p => p >= 0)],
                (IReadOnlyCollection<string>)[.. keywords.Select(k => inputs.Keywords[k].NormalForm)]))],
            [], top);
        Output.Write(output, ["cluster", "term", "words", "pages", "g2", "c_value"], terms.SelectMany((own, c) => own.Select(t => new object?[]
        {
            clusterNames[c], t.Text, t.Words, t.Pages, Math.Round(t.G2, 4), Math.Round(t.CValue, 4),
        })));
        return $"{terms.Sum(t => t.Length)} terms of {members.Count} clusters, from {pages.Count} pages.{Output.Rejects(inputs, rejects)}";
    }

    /// <summary>Where each keyword appears in a text.</summary>
    public static string Placement(string keywords, string text, string language, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls: false, language: language);
        inputs.ReadKeywords(keywords);
        using var analysis = new TextAnalysis(language);
        var placement = new Placement(DraftFile.Read(text), [], analysis, language);
        var missing = 0;
        var rows = new List<object?[]>();
        foreach (var keyword in inputs.Keywords)
        {
            var places = placement.Of(keyword.Phrase);
            rows.AddRange(places.Select(p => new object?[] { keyword.Phrase, p.Place.ToString().ToLowerInvariant(), p.Exact, p.Within, p.Count, p.Passage }));
            if (places.Count > 0)
                continue;
            missing++;
            rows.Add([keyword.Phrase, "", false, false, 0, placement.Closest(keyword.Phrase) ?? ""]);
        }

        Output.Write(output, ["keyword", "where", "exact", "within", "count", "passage"], rows);
        return $"{inputs.Keywords.Count - missing} of {inputs.Keywords.Count} keywords appear in {placement.Words} words.{Output.Rejects(inputs, rejects)}";
    }

    /// <summary>Titles, descriptions and main headings for each cluster.</summary>
    public static string Titles(string clusters, string keywords, string siteName, string language, string output, string? rejects)
    {
        var (names, members, inputs) = Clusters(clusters, keywords, language);
        using var analysis = new TextAnalysis(language);
        var titles = new Titles(analysis, language, siteName.Trim().Length == 0 ? "" : $" | {siteName.Trim()}");
        var rows = new List<object?[]>();
        foreach (var (cluster, own) in names.Zip(members))
        {
            ImmutableArray<Keyword> of = [.. own.Select(k => inputs.Keywords[k])];
            rows.AddRange(titles.Of(of).Select(t => new object?[]
            {
                cluster, t.Kind.ToString().ToLowerInvariant(), t.Text, t.Characters, t.Pixels, string.Join(Separator, t.Covers.Select(c => of[c].Phrase)),
            }));
        }

        Output.Write(output, ["cluster", "kind", "text", "characters", "pixels", "covers"], rows);
        return $"{rows.Count} texts for {members.Count} clusters.{Output.Rejects(inputs, rejects)}";
    }

    /// <summary>All that a writer needs for the page of one cluster.</summary>
    public static string Brief(SiteCommands.Arguments arguments, string texts, string primary, string format)
    {
        if (!Enum.TryParse<BriefFormat>(format, ignoreCase: true, out var form) || !Enum.IsDefined(form) || char.IsDigit(format[0]))
            throw new TableFormatException($"--format must be docx, html, md, xlsx or json, not '{format}'.");
        var computed = SiteCommands.Compute(arguments);
        var (inputs, lists) = (computed.Inputs, computed.Lists);
        var clusters = computed.Clustering.Clusters;
        var normal = KeywordNormalForm.Of(primary, arguments.Language);
        var at = Enumerable.Range(0, clusters.Length).FirstOrDefault(c => inputs.Keywords[clusters[c].Primary].NormalForm == normal, -1);
        if (at < 0)
            at = Enumerable.Range(0, clusters.Length).FirstOrDefault(c => clusters[c].Members.Any(k => inputs.Keywords[k].NormalForm == normal), -1);
        if (at < 0)
            throw new TableFormatException($"No cluster has the keyword '{primary}'. The largest are of: {string.Join(", ", clusters.Take(5).Select(c => inputs.Keywords[c.Primary].Phrase))}.");
        var facts = SiteCommands.Facts(computed, arguments);
        var site = SiteCommands.SiteOf(arguments.Site);
        var (cluster, own) = (clusters[at], facts.Map[at].Page);
        var all = ReadTexts(texts);
        var readAs = new Dictionary<string, PageText>(StringComparer.Ordinal);
        foreach (var page in all)
            readAs.TryAdd(Identity(page.Url!), page);
        using var analysis = new TextAnalysis(arguments.Language);

        // The page's clusters, this one first; ranking pages by what they bring: lists, then positions.
        int[] keywords = [cluster.Primary, .. facts.QueriesOf(cluster).Where(k => k != cluster.Primary).OrderByDescending(k => inputs.Keywords[k].Volume ?? 0).ThenBy(k => k)];
        var ranking = new List<RankedPage>();
        var mine = new HashSet<int>(clusters[at].Members);
        foreach (var url in mine.SelectMany(k => lists.Urls(k).ToArray()).GroupBy(u => u).Select(g => (Url: g.Key, Lists: g.Count(), Best: mine.Min(k => lists.PositionOf(k, g.Key) is > 0 and var p ? p : int.MaxValue)))
            .OrderByDescending(u => u.Lists).ThenBy(u => u.Best).ThenBy(u => inputs.UrlIdentities[u.Url], StringComparer.Ordinal).Take(MostRanking))
        {
            if (computed.Site.PageOfUrl[url.Url] >= 0 || site.Owns(inputs.UrlIdentities[url.Url]))
                continue;
            var page = readAs.GetValueOrDefault(inputs.UrlIdentities[url.Url]);
            ranking.Add(new RankedPage(page ?? PageText.Of(inputs.UrlIdentities[url.Url], null, [], ""), url.Best, url.Lists, page is not null));
        }

        var indexOf = all.Select((p, i) => (Url: Identity(p.Url!), Index: i)).ToDictionary(p => p.Url, p => p.Index, StringComparer.Ordinal);
        var terms = new Terms(all, analysis, arguments.Language).Of(
            [([.. ranking.Where(r => r.IsRead).Select(r => indexOf[Identity(r.Page.Url!)])], [.. cluster.Members.Select(k => inputs.Keywords[k].NormalForm)])], [])[0];
        PageText? ownText = own is not { } assigned ? null : readAs.GetValueOrDefault(Identity(computed.Site.Pages[assigned].Url)) is { } read
            ? read with { Description = computed.Site.Pages[assigned].Description }
            : OwnText(computed.Site.Pages[assigned], computed.Site.Texts[assigned]);
        var links = LinksOf(computed, facts, at, analysis);
        var taken = computed.Site.Pages.Select(p => Identity(p.Url)).ToHashSet(StringComparer.Ordinal);
        var address = own is { } existing
            ? computed.Site.Pages[existing].Url
            : site.UrlOf(UrlHabits.Of(computed.Site.Pages).PathFor(normal, inputs.Keywords[cluster.Primary].Intent, [], path => taken.Contains(Identity(site.UrlOf(path)))));
        var elsewhere = Enumerable.Range(0, inputs.Keywords.Count).Where(k => !mine.Contains(k)).Select(k => inputs.Keywords[k].NormalForm).ToHashSet(StringComparer.Ordinal);
        var brief = new BriefMaker(analysis, arguments.Language, TitleFurniture.EndingOf([.. computed.Site.Pages.Select(p => p.Title)])).Of(new BriefFacts(
            [.. keywords.Select(k => inputs.Keywords[k])], address, ownText, ranking, all, terms, [], [.. keywords.Select(k => facts.PositionOf(k, own))], links,
            [.. links.Select(l => l with { Words = inputs.Keywords[cluster.Primary].Phrase })], IsElsewhere: form => elsewhere.Contains(form)));
        var unfinished = arguments.Output + ".part";
        using (var stream = File.Create(unfinished))
            BriefFile.Write(stream, brief, new BriefFor(Core.Briefs.Titles.Capital(site.BrandName)), form);
        File.Move(unfinished, arguments.Output, overwrite: true);
        return FormattableString.Invariant($"{brief.Url}: {brief.Keywords.Length} keywords, {brief.Outline.Sections.Length} sections, {brief.Questions.Length} questions, {brief.Terms.Length} terms, from {ranking.Count(r => r.IsRead)} of {ranking.Count} ranking pages.")
            + Output.Rejects(inputs, arguments.Rejects);
    }

    /// <summary>Pages of the clusters that are most like one, with their primary as words to link.</summary>
    private static List<BriefLink> LinksOf(SiteCommands.Computed computed, SiteFacts facts, int cluster, TextAnalysis analysis)
    {
        var keywords = computed.Inputs.Keywords;
        var stems = ClusterLinks.Stems(keywords, analysis);
        return
        [
            .. ClusterLinks.Of(computed.Clustering.Clusters, keywords, computed.Lists, k => stems[k]).Where(l => l.A == cluster || l.B == cluster)
                .OrderByDescending(l => l.Weight).Select(l => l.A == cluster ? l.B : l.A)
                .Where(c => facts.Map[c].Page is { } page && page != facts.Map[cluster].Page).DistinctBy(c => facts.Map[c].Page).Take(MostLinks)
                .Select(c => new BriefLink(computed.Site.Pages[facts.Map[c].Page!.Value].Url, keywords[computed.Clustering.Clusters[c].Primary].Phrase)),
        ];
    }

    internal static PageText OwnText(SitePage page, string? text) => new(
        page.Url, page.Title, page.Description, page.H1 is { } h1 ? [h1] : [],
        [.. PageHeading.Of(page.H2, 2), .. PageHeading.Of(page.H3, 3)], text is null ? [] : [text], []);

    /// <returns>The clusters of a file by name, and their keywords by index, the primary first, then the most searched for.</returns>
    private static (List<string> Names, List<List<int>> Members, Inputs Inputs) Clusters(string clusters, string? keywords, string language)
    {
        var names = new Names();
        string Form(string phrase) => KeywordNormalForm.Of(phrase, language);
        var (clusterOf, clusterNames) = ClusterFile.Read(clusters, names, Form);
        var primaries = ClusterFile.Primaries(clusters, Form);
        var inputs = new Inputs(rawUrls: false, language: language);
        // Numbers may be in the same file, where jade cluster wrote it.
        inputs.ReadKeywords(clusters);
        if (keywords is not null)
            inputs.ReadKeywords(keywords);
        inputs.SortKeywords();
        var order = KeywordOrder.Ranks(KeywordOrder.Of(inputs.Keywords));
        var members = clusterNames.Select(_ => new List<int>()).ToList();
        foreach (var k in Enumerable.Range(0, inputs.Keywords.Count).OrderBy(k => order[k]))
        {
            if (names.Find(inputs.Keywords[k].NormalForm) is { } named)
                members[clusterOf[named]].Add(k);
        }

        for (var c = 0; c < members.Count; c++)
        {
            if (primaries.TryGetValue(clusterNames[c], out var primary) && members[c].FindIndex(k => inputs.Keywords[k].NormalForm == primary) is var at and > 0)
            {
                var first = members[c][at];
                members[c].RemoveAt(at);
                members[c].Insert(0, first);
            }
        }

        return ([.. clusterNames], members, inputs);
    }

    /// <returns>Pages with their texts: columns url, title, headings, text.</returns>
    /// <exception cref="TableFormatException">A column is missing, or a row has no address.</exception>
    private static List<PageText> ReadTexts(string path)
    {
        using var file = DelimitedFile.Open(path);
        var header = file.Header.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var (url, title, headings, text) = (header.IndexOf("url"), header.IndexOf("title"), header.IndexOf("headings"), header.IndexOf("text"));
        if (url < 0 || text < 0)
            throw new TableFormatException($"{path}: the columns url and text are needed, and title and headings where they are known. The columns are: {string.Join(", ", file.Header)}.");
        var pages = new Dictionary<string, PageText>(StringComparer.Ordinal);
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is not { } fields)
                throw new TableFormatException($"{path}, line {line.ToString(CultureInfo.InvariantCulture)}: {row.Rejected?.Reason}");
            string Cell(int column) => column >= 0 && column < fields.Length ? fields[column].Trim() : "";
            if (Cell(url).Length == 0)
                continue;
            // The last row about a page counts.
            pages[Identity(Cell(url))] = PageText.Of(Cell(url), Cell(title) is { Length: > 0 } named ? named : null, Cell(headings).Split('|', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), Cell(text));
        }

        return [.. pages.Values];
    }

    private static string Identity(string url) => UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : url;
}
