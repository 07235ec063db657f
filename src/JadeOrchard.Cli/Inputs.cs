using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>What a command reads: keywords, result lists and pages, by index, with the rows that were rejected.</summary>
/// <param name="rawUrls">URLs are compared as they are given.</param>
/// <param name="keepCaptured">The URLs as they were captured are wanted too, for pages of the site that no file names.</param>
internal sealed class Inputs(bool rawUrls, bool keepCaptured = false)
{
    private readonly Names _keywordNames = new();
    private readonly Names _urls = new();
    private readonly List<Keyword> _keywords = [];
    private readonly Dictionary<int, string> _urlsAsCaptured = [];
    private readonly ResultLists.Builder _results = new();
    private readonly List<(string File, RejectedRow Row)> _rejected = [];

    public IReadOnlyList<Keyword> Keywords => _keywords;

    public IReadOnlyList<string> UrlIdentities => _urls;

    /// <summary>Keywords that have results but were not asked for.</summary>
    public int UnknownKeywords { get; private set; }

    public IReadOnlyList<(string File, RejectedRow Row)> Rejected => _rejected;

    /// <summary>The result lists. To be called once, after all was read.</summary>
    public ResultLists Lists() => _results.Build(_keywords.Count, _urls);

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
        var mapping = ColumnMapping.ByName(TableKind.Results, file.Header);
        using var plain = mapping.Missing.Count == 0 ? PlainResults.Open(file, path, mapping, table) : null;
        if (plain is null)
        {
            foreach (var row in Accepted(path, table.Read(file, mapping)))
                Add(row);
        }
        else
            ReadPlain(plain);
        UnknownKeywords = unknown.Count;

        int? Add(CapturedResult row)
        {
            if (_keywordNames.Find(row.NormalForm) is not { } keyword)
            {
                if (!addKeywords)
                {
                    unknown.Add(row.NormalForm);
                    return null;
                }

                keyword = _keywordNames.IndexOf(row.NormalForm);
                _keywords.Add(new Keyword(row.Phrase, row.NormalForm));
            }

            Result(keyword, row.Position, UrlOf(row), row.CapturedOn);
            return keyword;
        }

        // The rows of a list mostly follow each other, and most URLs were met before: then no text need be made.
        void ReadPlain(PlainResults rows)
        {
            byte[] last = [];
            var lastKeyword = -1;
            var known = new Dictionary<UInt128, int>();
            foreach (var batch in rows.Batches(Names.HashOf))
            {
                foreach (var plain in batch.Rows)
                {
                    var keyword = batch[plain.Keyword];
                    if (plain.Position > 0 && keyword.Length > 0 && keyword.SequenceEqual(last) && known.TryGetValue(plain.UrlHash, out var url))
                    {
                        if (lastKeyword >= 0)
                            Result(lastKeyword, plain.Position, url, plain.CapturedOn);
                        continue;
                    }

                    var full = rows.Full(batch, plain);
                    if (full.Rejected is { } rejected)
                        _rejected.Add((path, rejected));
                    if (full.Value is not { } row)
                        continue;
                    lastKeyword = Add(row) ?? -1;
                    last = keyword.ToArray();
                    if (lastKeyword >= 0)
                        known[plain.UrlHash] = UrlOf(row);
                }
            }
        }
    }

    private int UrlOf(CapturedResult row)
    {
        var url = _urls.IndexOf(row.Identity);
        if (keepCaptured && row.Url != row.Identity)
            _urlsAsCaptured.TryAdd(url, row.Url);
        return url;
    }

    // A result without a date was captured just now.
    private void Result(int keyword, int position, int url, DateOnly? capturedOn) =>
        _results.Add(keyword, position, url, (capturedOn ?? DateOnly.MaxValue).DayNumber);

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

        var pageOfUrl = new int[_urls.Count];
        for (var url = 0; url < pageOfUrl.Length; url++)
        {
            pageOfUrl[url] = -1;
            if (!site.Owns(UrlIdentity.HostOf(_urls[url])))
                continue;
            pageOfUrl[url] = names.IndexOf(_urls[url]);
            if (pageOfUrl[url] == pages.Count)
                pages.Add(new SitePage(_urlsAsCaptured.GetValueOrDefault(url, _urls[url])));
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
