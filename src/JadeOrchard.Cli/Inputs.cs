using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Performance;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>The pages of a site with what is known of them.</summary>
/// <param name="Texts">For each page its main text; null where the file does not have it.</param>
/// <param name="PageOfUrl">For each URL of the results its page, or -1.</param>
/// <param name="Queries">What each query got, for the click curve.</param>
internal sealed record SiteInput(
    IReadOnlyList<SitePage> Pages, IReadOnlyList<string?> Texts, int[] PageOfUrl, SearchPerformance Performance, IReadOnlyList<FormFigures> Queries);

/// <summary>What a command reads: keywords, result lists and pages, by index, with the rows that were rejected.</summary>
/// <param name="rawUrls">URLs are compared as they are given.</param>
/// <param name="keepCaptured">The URLs as they were captured are wanted too, for pages of the site that no file names.</param>
/// <param name="language">That of the market, two letters.</param>
internal sealed class Inputs(bool rawUrls, bool keepCaptured = false, string? language = null)
{
    private Names _keywordNames = new();
    private Names _urls = new();
    private readonly List<Keyword> _keywords = [];
    private readonly Dictionary<int, string> _urlsAsCaptured = [];
    private ResultLists.Builder _results = new();
    private readonly List<(string File, RejectedRow Row)> _rejected = [];

    /// <summary>What is dropped from addresses beyond what is known.</summary>
    public TrackingParameters Tracking { get; init; } = TrackingParameters.None;

    public IReadOnlyList<Keyword> Keywords => _keywords;

    public IReadOnlyList<string> UrlIdentities => _urls;

    /// <summary>Keywords that have results but were not asked for.</summary>
    public int UnknownKeywords { get; private set; }

    public IReadOnlyList<(string File, RejectedRow Row)> Rejected => _rejected;

    /// <summary>The result lists. To be called once, after all was read.</summary>
    public ResultLists Lists()
    {
        // What reading left behind is as much as what it made.
        _urls.Close();
        Collect();
        return _results.Build(_keywords.Count, _urls);
    }

    /// <summary>The result lists, and those of another file for the same keywords. To be called once, after all was read.</summary>
    public (ResultLists Lists, ResultLists Others) ListsAnd(string path)
    {
        var first = _results;
        _results = new ResultLists.Builder();
        ReadResults(path, addKeywords: false);
        _urls.Close();
        return (first.Build(_keywords.Count, _urls), _results.Build(_keywords.Count, _urls));
    }

    /// <summary>Lets go of what only reading needs: with a million keywords the names of URLs take more than all else. Nothing can be read afterwards.</summary>
    public void ForgetNames()
    {
        (_keywordNames, _urls) = (new Names(), new Names());
        if (_keywords.Count < ManyKeywords)
            return;
        System.Runtime.GCSettings.LargeObjectHeapCompactionMode = System.Runtime.GCLargeObjectHeapCompactionMode.CompactOnce;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
    }

    /// <summary>Collects what a part of the work left behind, where there is much.</summary>
    public void Collect()
    {
        if (_keywords.Count >= ManyKeywords)
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: true, compacting: false);
    }

    /// <summary>With fewer, a collection takes longer than it saves.</summary>
    private const int ManyKeywords = 200_000;

    public void ReadKeywords(string path)
    {
        using var file = DelimitedFile.Open(path);
        foreach (var keyword in Accepted(path, ReadAhead.Of(KeywordTable.Read(file, ColumnMapping.ByName(TableKind.Keywords, file.Header), language))))
        {
            var index = _keywordNames.IndexOf(keyword.NormalForm);
            if (index == _keywords.Count)
                _keywords.Add(keyword);
            else
                _keywords[index] = _keywords[index].UpdatedBy(keyword);
        }
    }

    /// <summary>Takes phrases in as keywords of which nothing else is known.</summary>
    public void AddPhrases(IEnumerable<string> phrases)
    {
        foreach (var phrase in phrases)
        {
            var form = KeywordNormalForm.Of(phrase, language);
            if (form.Length > 0 && _keywordNames.IndexOf(form) == _keywords.Count)
                _keywords.Add(new Keyword(phrase.Trim(), form));
        }
    }

    /// <returns>The keyword of a phrase; null where there is none.</returns>
    public int? IndexOf(string phrase) => _keywordNames.Find(KeywordNormalForm.Of(phrase, language));

    /// <summary>Puts the keywords into the order of their normal forms, which decides between equals. To be called before results are read.</summary>
    public void SortKeywords()
    {
        _keywords.Sort((a, b) => string.CompareOrdinal(a.NormalForm, b.NormalForm));
        _keywordNames = new Names();
        foreach (var keyword in _keywords)
            _keywordNames.IndexOf(keyword.NormalForm);
    }

    /// <param name="path">The file.</param>
    /// <param name="addKeywords">Keywords that are not known yet are taken in; otherwise their results are passed over.</param>
    public void ReadResults(string path, bool addKeywords)
    {
        using var file = DelimitedFile.Open(path);
        var unknown = new HashSet<string>(StringComparer.Ordinal);
        var table = new ResultTable(UrlFolds.All, rawUrls, language);
        var mapping = ColumnMapping.ByName(TableKind.Results, file.Header);
        using var plain = mapping.Missing.Count == 0 ? PlainResults.Open(file, path, mapping, table) : null;
        if (plain is not null)
            ReadPlain(plain);
        foreach (var row in Accepted(path, plain is null ? table.Read(file, mapping) : plain.Rest(mapping)))
            Add(row);
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

        // The rows of a list mostly follow each other, and most keywords and URLs stand as they are compared: then no text need be made.
        void ReadPlain(PlainResults rows)
        {
            byte[] last = [];
            var lastKeyword = -1;
            var known = new Dictionary<UInt128, int>();
            var hashes = new UInt128[HashTable.FetchedAtOnce];
            foreach (var batch in rows.Batches(Names.HashOf))
            {
                for (var i = 0; i < batch.Count; i++)
                {
                    if (i % hashes.Length == 0)
                    {
                        var ahead = Math.Min(hashes.Length, batch.Count - i);
                        for (var next = 0; next < ahead; next++)
                            hashes[next] = batch[i + next].UrlHash;
                        _urls.Fetch(hashes.AsSpan(0, ahead));
                    }

                    ref readonly var plain = ref batch[i];
                    var keyword = batch.Keyword(plain);
                    // The URL as it was captured is kept, where that is wanted.
                    var isIdentity = plain.IsIdentity && (!keepCaptured || plain.IsAsCaptured);
                    if (plain.Position > 0 && keyword.Length > 0 && IsKnown(keyword) && (isIdentity || (!plain.IsIdentity && known.ContainsKey(plain.UrlHash))))
                    {
                        if (lastKeyword >= 0)
                            Result(lastKeyword, plain.Position, isIdentity ? _urls.IndexOf(batch.Url(plain), plain.UrlHash) : known[plain.UrlHash], plain.CapturedOn);
                        continue;
                    }

                    var full = rows.Full(batch, plain);
                    if (full.Rejected is { } rejected)
                        _rejected.Add((path, rejected));
                    if (full.Value is not { } row)
                        continue;
                    lastKeyword = Add(row) ?? -1;
                    last = keyword.ToArray();
                    if (lastKeyword >= 0 && !plain.IsIdentity)
                        known[plain.UrlHash] = UrlOf(row);
                }
            }

            bool IsKnown(ReadOnlySpan<byte> keyword)
            {
                if (keyword.SequenceEqual(last))
                    return true;
                // What is written as the normal form of a keyword is that keyword.
                if (_keywordNames.Find(Names.HashOf(keyword)) is not { } index)
                    return false;
                (last, lastKeyword) = (keyword.ToArray(), index);
                return true;
            }
        }
    }

    private int UrlOf(CapturedResult row)
    {
        var url = _urls.IndexOf(Tracking.Fold(row.Identity));
        if (keepCaptured && row.Url != row.Identity)
            KeepFirst(_urlsAsCaptured, url, row.Url);
        return url;
    }

    /// <summary>Of several ways to write a URL the same one is shown whatever the order of rows.</summary>
    private static void KeepFirst<TKey>(Dictionary<TKey, string> kept, TKey key, string url)
        where TKey : notnull
    {
        ref var known = ref CollectionsMarshal.GetValueRefOrAddDefault(kept, key, out var isThere);
        if (!isThere || string.CompareOrdinal(url, known) < 0)
            known = url;
    }

    // A result without a date was captured just now.
    private void Result(int keyword, int position, int url, DateOnly? capturedOn) =>
        _results.Add(keyword, position, url, (capturedOn ?? DateOnly.MaxValue).DayNumber);

    /// <summary>
    /// The pages of the site: those of the file, those that are seen in the results, and those that search performance shows; in the order of their
    /// identities, which decides between equals.
    /// </summary>
    /// <param name="path">The file of the pages.</param>
    /// <param name="performance">The file of search performance; null for none.</param>
    /// <param name="site">The site.</param>
    public SiteInput ReadSite(string path, string? performance, OwnSite site)
    {
        var names = new Names();
        var pages = new List<SitePage>();
        var texts = new List<string?>();
        using (var file = DelimitedFile.Open(path))
        {
            foreach (var (page, text) in Accepted(path, PageTable.Read(file, ColumnMapping.ByName(TableKind.Pages, file.Header), site)))
            {
                UrlIdentity.TryOf(page.Url, UrlFolds.All, out var identity);
                var index = names.IndexOf(Tracking.Fold(identity));
                if (index == pages.Count)
                {
                    pages.Add(page);
                    texts.Add(text);
                }
                else
                {
                    pages[index] = pages[index].UpdatedBy(page);
                    texts[index] = text ?? texts[index];
                }
            }
        }

        int PageOf(string identity, string url)
        {
            var index = names.IndexOf(identity);
            if (index == pages.Count)
            {
                pages.Add(new SitePage(url));
                texts.Add(null);
            }

            return index;
        }

        var pageOfUrl = new int[_urls.Count];
        for (var url = 0; url < pageOfUrl.Length; url++)
            pageOfUrl[url] = site.Owns(_urls[url]) ? PageOf(_urls[url], _urlsAsCaptured.GetValueOrDefault(url, _urls[url])) : -1;

        var input = new PerformanceInput();
        var urls = new Dictionary<string, string>(StringComparer.Ordinal);
        if (performance is not null)
        {
            using var file = DelimitedFile.Open(performance);
            foreach (var given in Accepted(performance, new PerformanceTable(site, language).Read(file, ColumnMapping.ByName(TableKind.Performance, file.Header))))
            {
                var row = given with { Identity = Tracking.Fold(given.Identity) };
                KeepFirst(urls, row.Identity, row.Url);
                input.Add(row);
            }

            foreach (var identity in input.PagesShown())
                PageOf(identity, urls[identity]);
        }

        int[] order = [.. Enumerable.Range(0, pages.Count).OrderBy(p => names[p], StringComparer.Ordinal)];
        var placeOf = new int[order.Length];
        for (var place = 0; place < order.Length; place++)
            placeOf[order[place]] = place;
        var (sums, queries) = input.Build(form => _keywordNames.Find(form), identity => placeOf[names.Find(identity)!.Value], _keywords.Count, pages.Count);
        return new SiteInput(SiteLanguages.Listed([.. order.Select(p => pages[p])], language ?? "en"), [.. order.Select(p => texts[p])], [.. pageOfUrl.Select(p => p < 0 ? -1 : placeOf[p])], sums, queries);
    }

    /// <returns>What each query of a file of search performance got, whatever pages it names.</returns>
    public IReadOnlyList<FormFigures> ReadQueries(string path)
    {
        var input = new PerformanceInput();
        using var file = DelimitedFile.Open(path);
        foreach (var row in Accepted(path, new PerformanceTable(new OwnSite(null), language).Read(file, ColumnMapping.ByName(TableKind.Performance, file.Header))))
            input.Add(row);
        return input.Build(_ => null, _ => 0, 0, 1).Queries;
    }

    /// <returns>The rows of a file of search performance, by page, query and day.</returns>
    public NamedPerformance ReadDaily(string path, OwnSite site)
    {
        var daily = new NamedPerformance();
        using var file = DelimitedFile.Open(path);
        foreach (var row in Accepted(path, new PerformanceTable(site, language).Read(file, ColumnMapping.ByName(TableKind.Performance, file.Header))))
            daily.Add(row);
        return daily;
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
