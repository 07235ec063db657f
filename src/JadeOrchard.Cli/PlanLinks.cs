using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>The links between pages of a site, from a file with the columns source and target, and anchor where it is known.</summary>
internal sealed class PlanLinks
{
    private static readonly string[] Yes = ["yes", "true", "1", "pillar"];
    private readonly HashSet<(int, int)> _links = [];
    private readonly Dictionary<int, List<string>> _anchors = [];

    public bool Has(int source, int target) => _links.Contains((source, target));

    /// <returns>The words by which a page links, in the order of the file.</returns>
    public IReadOnlyList<string> Anchors(int page) => _anchors.GetValueOrDefault(page) ?? [];

    /// <exception cref="TableFormatException">There is no column for the source or the target.</exception>
    public static PlanLinks Read(string path, IReadOnlyList<SitePage> pages)
    {
        using var file = DelimitedFile.Open(path);
        var (source, target) = (Column(file, "source", "from", "page"), Column(file, "target", "to", "link"));
        var anchor = Column(file, "anchor", "words", "text");
        if (source < 0 || target < 0)
            throw new TableFormatException($"{path}: the columns source and target are needed. The columns are: {string.Join(", ", file.Header)}.");
        var pageOf = IndexOf(pages);
        var links = new PlanLinks();
        foreach (var (_, row) in file.Rows())
        {
            if (row.Value is not { } fields || fields.Length <= Math.Max(source, target) || Find(pageOf, fields[source]) is not { } from)
                continue;
            if (Find(pageOf, fields[target]) is { } to)
                links._links.Add((from, to));
            if (anchor >= 0 && anchor < fields.Length && fields[anchor].Trim() is { Length: > 0 } words)
            {
                if (!links._anchors.TryGetValue(from, out var known))
                    links._anchors[from] = known = [];
                known.Add(words);
            }
        }

        return links;
    }

    /// <returns>For normal forms of keywords the page that a file gives them: columns keyword or primary, and page or url; empty where it has no such columns.</returns>
    public static Dictionary<string, int> PagesOfKeywords(string path, IReadOnlyList<SitePage> pages, Func<string, string> form)
    {
        using var file = DelimitedFile.Open(path);
        var (page, pageOf, named) = (Column(file, "page", "url"), IndexOf(pages), new Dictionary<string, int>(StringComparer.Ordinal));
        int[] keywords = [.. new[] { Column(file, "primary"), Column(file, "keyword") }.Where(c => c >= 0)];
        foreach (var (_, row) in page < 0 ? [] : file.Rows())
        {
            if (row.Value is not { } fields || fields.Length <= page || Find(pageOf, fields[page]) is not { } index)
                continue;
            foreach (var keyword in keywords.Where(k => k < fields.Length))
                named.TryAdd(form(fields[keyword]), index);
        }

        return named;
    }

    /// <returns>What a file says of topics: columns topic, cluster and pillar (yes, or the name of the pillar's cluster); null where it has no column topic.</returns>
    /// <exception cref="TableFormatException">It is required, and has no such columns.</exception>
    public static List<(string Topic, string Cluster, bool IsPillar)>? Topics(string path, bool isRequired)
    {
        using var file = DelimitedFile.Open(path);
        var (topic, cluster, pillar) = (Column(file, "topic"), Column(file, "cluster"), Column(file, "pillar"));
        if (topic < 0 || cluster < 0)
        {
            return isRequired
                ? throw new TableFormatException($"{path}: the columns topic and cluster are needed, and pillar, which is yes for one of them. The columns are: {string.Join(", ", file.Header)}.")
                : null;
        }

        return [.. file.Rows().Select(r => r.Row.Value).OfType<string[]>().Where(f => f.Length > Math.Max(topic, cluster) && f[topic].Length > 0)
            .Select(f => (f[topic], f[cluster], pillar >= 0 && pillar < f.Length && (Yes.Contains(f[pillar].Trim().ToLowerInvariant()) && f[pillar] != f[cluster] || f[pillar] == f[cluster])))];
    }

    private static int Column(DelimitedFile file, params string[] names) =>
        names.Select(n => file.Header.ToList().FindIndex(h => h.Trim().Equals(n, StringComparison.OrdinalIgnoreCase))).FirstOrDefault(i => i >= 0, -1);

    private static Dictionary<string, int> IndexOf(IReadOnlyList<SitePage> pages)
    {
        var pageOf = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var p = 0; p < pages.Count; p++)
            pageOf.TryAdd(UrlIdentity.TryOf(pages[p].Url, UrlFolds.All, out var identity) ? identity : pages[p].Url, p);
        return pageOf;
    }

    private static int? Find(Dictionary<string, int> pageOf, string url) => UrlIdentity.TryOf(url, UrlFolds.All, out var identity) && pageOf.TryGetValue(identity, out var page) ? page : null;
}
