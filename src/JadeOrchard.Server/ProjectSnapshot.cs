using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>Keywords, result lists and existing pages in memory, as the rules want them: by index.</summary>
/// <remarks>At 100,000 keywords and 1,000,000 results about 100 MB, most of it the URLs' identities.</remarks>
public sealed class ProjectSnapshot
{
    private ProjectSnapshot(
        long version, IReadOnlyList<long> keywordIds, IReadOnlyList<Keyword> keywords, ResultLists lists, IReadOnlyList<string> urlIdentities,
        IReadOnlyList<long> pageIds, IReadOnlyList<SitePage> pages, int[] pageOfUrl, string language)
    {
        Version = version;
        KeywordIds = keywordIds;
        Keywords = keywords;
        Lists = lists;
        UrlIdentities = urlIdentities;
        PageIds = pageIds;
        Pages = pages;
        PageOfUrl = pageOfUrl;
        _ranks = new Lazy<int[]>(() => KeywordOrder.Ranks(KeywordOrder.Of(keywords)));
        _candidates = new Lazy<PageCandidates>(() => new PageCandidates(keywords, lists, pages, pageOfUrl, new TextAnalysis(language)));
        IndexOfKeyword = Indexes(keywordIds);
        IndexOfPage = Indexes(pageIds);
    }

    /// <summary>The data version of which it is an image.</summary>
    public long Version { get; }

    public IReadOnlyList<long> KeywordIds { get; }

    public IReadOnlyList<Keyword> Keywords { get; }

    public ResultLists Lists { get; }

    public IReadOnlyList<string> UrlIdentities { get; }

    /// <summary>For each URL its host, made when it is first asked for.</summary>
    public string[] UrlHosts => _urlHosts ??= HostsOf(UrlIdentities);

    private string[]? _urlHosts;

    /// <summary>For each keyword its place in keyword order; made when it is first asked for.</summary>
    public int[] Ranks => _ranks.Value;

    private readonly Lazy<int[]> _ranks;

    /// <summary>The lists as a grouping compares them; kept for the last settings, so that the same lists tell that nothing changed.</summary>
    public ResultLists Compared(ClusterSettings settings)
    {
        var key = $"{settings.Depth} {string.Join('\n', settings.LeftOutHosts)}";
        if (_compared is not { } kept || kept.Item1 != key)
            _compared = kept = Tuple.Create(key, settings.Compared(Lists, UrlIdentities));
        return kept.Item2;
    }

    /// <summary>Which pages could stand for clusters; made when it is first asked for.</summary>
    public PageCandidates Candidates => _candidates.Value;

    private readonly Lazy<PageCandidates> _candidates;

    // One reference, so that readers beside each other never see half of it.
    private Tuple<string, ResultLists>? _compared;

    public IReadOnlyList<long> PageIds { get; }

    public IReadOnlyList<SitePage> Pages { get; }

    /// <summary>For each URL its page, or -1.</summary>
    public int[] PageOfUrl { get; }

    public IReadOnlyDictionary<long, int> IndexOfKeyword { get; }

    public IReadOnlyDictionary<long, int> IndexOfPage { get; }

    public static ProjectSnapshot Load(Session session)
    {
        var (keywordIds, keywords) = KeywordStore.All(session);
        var (lists, identities) = ResultStore.Newest(session, keywordIds);
        var (pageIds, pageIdentities, pages) = PageStore.Existing(session);
        var pageOfIdentity = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var p = 0; p < pages.Count; p++)
            pageOfIdentity[pageIdentities[p]] = p;
        int[] pageOfUrl = [.. identities.Select(i => pageOfIdentity.GetValueOrDefault(i, -1))];
        return new ProjectSnapshot(ProjectStore.DataVersion(session), keywordIds, keywords, lists, identities, pageIds, pages, pageOfUrl, ProjectStore.Get(session).Language);
    }

    /// <summary>Hosts are few and URLs many, so equal hosts are one string.</summary>
    private static string[] HostsOf(IReadOnlyList<string> identities)
    {
        var known = new Dictionary<string, string>(StringComparer.Ordinal);
        return [.. identities.Select(identity =>
        {
            var host = UrlIdentity.HostOf(identity);
            return known.TryGetValue(host, out var same) ? same : known[host] = host;
        })];
    }

    private static Dictionary<long, int> Indexes(IReadOnlyList<long> ids)
    {
        var indexes = new Dictionary<long, int>(ids.Count);
        for (var i = 0; i < ids.Count; i++)
            indexes[ids[i]] = i;
        return indexes;
    }
}
