namespace JadeOrchard.Core.Results;

/// <summary>For each URL the keywords in whose lists it stands.</summary>
/// <remarks>4 bytes a result.</remarks>
public sealed class UrlPostings
{
    private readonly int[] _starts;
    private readonly int[] _keywords;

    /// <param name="lists">The lists; keywords come in their order.</param>
    public UrlPostings(ResultLists lists)
    {
        _starts = new int[lists.UrlCount + 1];
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var url in lists.Urls(keyword))
                _starts[url + 1]++;
            ListCount += lists.IsCaptured(keyword) ? 1 : 0;
        }

        for (var url = 0; url < lists.UrlCount; url++)
            _starts[url + 1] += _starts[url];
        _keywords = new int[_starts[^1]];
        var next = _starts.AsSpan(0, lists.UrlCount).ToArray();
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            foreach (var url in lists.Urls(keyword))
                _keywords[next[url]++] = keyword;
        }
    }

    /// <summary>How many keywords have a list.</summary>
    public int ListCount { get; }

    /// <summary>Number of all postings.</summary>
    internal int Count => _keywords.Length;

    /// <returns>How many postings the URLs before one have.</returns>
    internal int StartOf(int url) => _starts[url];

    /// <returns>The keywords in whose lists a URL stands, ascending.</returns>
    public ReadOnlySpan<int> Of(int url) => _keywords.AsSpan(_starts[url].._starts[url + 1]);
}
