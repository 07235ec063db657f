using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>What a command reads: keywords, result lists and pages, by index, with the rows that were rejected.</summary>
internal sealed class Inputs(bool rawUrls)
{
    private readonly Names _keywordNames = new();
    private readonly Names _urls = new();
    private readonly List<Keyword> _keywords = [];
    private readonly List<string> _urlsAsCaptured = [];
    private readonly ResultLists.Builder _results = new();
    private readonly List<(string File, RejectedRow Row)> _rejected = [];

    public IReadOnlyList<Keyword> Keywords => _keywords;

    public IReadOnlyList<string> UrlIdentities => _urls.All;

    /// <summary>Keywords that have results but were not asked for.</summary>
    public int UnknownKeywords { get; private set; }

    public IReadOnlyList<(string File, RejectedRow Row)> Rejected => _rejected;

    public ResultLists Lists() => _results.Build(_keywords.Count, _urls.All);

    public void ReadKeywords(string path)
    {
        using var file = DelimitedFile.Open(path);
        foreach (var keyword in Accepted(path, KeywordTable.Read(file, ColumnMapping.ByName(TableKind.Keywords, file.Header))))
        {
            var index = _keywordNames.IndexOf(keyword.NormalForm);
            if (index == _keywords.Count)
                _keywords.Add(keyword);
            else
                _keywords[index] = _keywords[index].UpdatedBy(keyword);
        }
    }

    /// <param name="path">The file.</param>
    /// <param name="addKeywords">Keywords that are not known yet are taken in; otherwise their results are passed over.</param>
    public void ReadResults(string path, bool addKeywords)
    {
        using var file = DelimitedFile.Open(path);
        var unknown = new HashSet<string>(StringComparer.Ordinal);
        var table = new ResultTable(UrlFolds.All, rawUrls);
        foreach (var row in Accepted(path, table.Read(file, ColumnMapping.ByName(TableKind.Results, file.Header))))
        {
            if (_keywordNames.Find(row.NormalForm) is not { } keyword)
            {
                if (!addKeywords)
                {
                    unknown.Add(row.NormalForm);
                    continue;
                }

                keyword = _keywordNames.IndexOf(row.NormalForm);
                _keywords.Add(new Keyword(row.Phrase, row.NormalForm));
            }

            var url = _urls.IndexOf(row.Identity);
            if (url == _urlsAsCaptured.Count)
                _urlsAsCaptured.Add(row.Url);
            // A result without a date was captured just now.
            _results.Add(keyword, row.Position, url, (row.CapturedOn ?? DateOnly.MaxValue).DayNumber);
        }

        UnknownKeywords = unknown.Count;
    }

    /// <summary>The pages of the site: those of the file, and those that are seen in the results.</summary>
    /// <returns>The pages, and for each URL of the results its page, or -1.</returns>
    public (IReadOnlyList<SitePage> Pages, int[] PageOfUrl) ReadPages(string path, OwnSite site)
    {
        using var file = DelimitedFile.Open(path);
        var names = new Names();
        var pages = new List<SitePage>();
        foreach (var page in Accepted(path, PageTable.Read(file, ColumnMapping.ByName(TableKind.Pages, file.Header), site)))
        {
            UrlIdentity.TryOf(page.Url, UrlFolds.All, out var identity);
            var index = names.IndexOf(identity);
            if (index == pages.Count)
                pages.Add(page);
            else
                pages[index] = pages[index].UpdatedBy(page);
        }

        var pageOfUrl = new int[_urls.All.Count];
        for (var url = 0; url < pageOfUrl.Length; url++)
        {
            pageOfUrl[url] = -1;
            if (!site.Owns(UrlIdentity.HostOf(_urls.All[url])))
                continue;
            pageOfUrl[url] = names.IndexOf(_urls.All[url]);
            if (pageOfUrl[url] == pages.Count)
                pages.Add(new SitePage(_urlsAsCaptured[url]));
        }

        return (pages, pageOfUrl);
    }

    private IEnumerable<T> Accepted<T>(string path, IEnumerable<TableRow<T>> rows)
        where T : class
    {
        IEnumerator<TableRow<T>> row;
        try
        {
            row = rows.GetEnumerator();
        }
        catch (TableFormatException e)
        {
            throw new TableFormatException($"{path}: {e.Message}");
        }

        while (row.MoveNext())
        {
            if (row.Current.Value is { } value)
                yield return value;
            else if (row.Current.Rejected is { } rejected)
                _rejected.Add((path, rejected));
        }
    }
}
