using System.Collections.Immutable;
using System.Globalization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on what writers need: terms, placement, titles.</summary>
internal static class BriefCommands
{
    private const string Separator = " | ";

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
