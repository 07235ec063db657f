using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Performance;

/// <summary>What a page got for a query on a day.</summary>
/// <param name="Query">As it was searched for; empty where the source names none, to keep a searcher anonymous.</param>
/// <param name="NormalForm">Its identity; empty likewise.</param>
/// <param name="Url">As given.</param>
/// <param name="Identity">What the page is compared by.</param>
/// <param name="Position">Average, from 1; of no meaning without impressions.</param>
public sealed record PerformanceOnDay(string Query, string NormalForm, string Url, string Identity, DateOnly Day, long Clicks, long Impressions, double Position);

/// <summary>Search performance from a file: query, page, date, clicks, impressions, position.</summary>
/// <remarks>Queries and pages come again and again, so what was made of them is kept, as long as there are not too many.</remarks>
/// <param name="site">The site; a page of another host is rejected. One without a host takes every page.</param>
/// <param name="language">That of the market, two letters; null for any.</param>
public sealed class PerformanceTable(OwnSite site, string? language = null)
{
    private const long Most = 1_000_000_000_000;
    private const int MostPosition = 10_000;
    private const int MostKept = 200_000;

    private readonly Dictionary<string, string> _forms = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (string Identity, string? Fault)> _pages = new(StringComparer.Ordinal);

    public IEnumerable<TableRow<PerformanceOnDay>> Read(TableFile file, ColumnMapping mapping) => TableReader.Read(file, mapping, Read);

    private PerformanceOnDay? Read(Fields fields)
    {
        var query = fields.Text(0) ?? "";
        if (fields.Text(1) is not { } url)
            return null;
        var form = Kept(_forms, query, q => KeywordNormalForm.Of(q, language));
        if (form.Length == 0 && query.Length > 0)
            fields.Reject(0, "Nothing that can be searched for is left of it.", query);
        var (identity, fault) = Kept(_pages, url, PageOf);
        if (fault is not null)
            fields.Reject(1, fault, url);
        var day = fields.Day(2);
        long clicks = fields.WholeNumber(3, 0, Most) ?? 0, impressions = fields.WholeNumber(4, 0, Most) ?? 0;
        var position = fields.Number(5, impressions > 0 ? 1 : 0, MostPosition) ?? 0;
        if (clicks > impressions)
            fields.Reject(3, "Is more than the impressions.", clicks.ToString(System.Globalization.CultureInfo.InvariantCulture));
        return new PerformanceOnDay(query.Trim(), form, url.Trim(), identity, day ?? default, clicks, impressions, position);
    }

    private (string Identity, string? Fault) PageOf(string url) =>
        !UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? ("", UrlIdentity.Fault(url))
        : site.Host.Length > 0 && !site.Owns(identity) ? ("", $"Is not a page of {site}.")
        : (identity, null);

    private static T Kept<T>(Dictionary<string, T> kept, string text, Func<string, T> make)
    {
        if (kept.TryGetValue(text, out var known))
            return known;
        if (kept.Count >= MostKept)
            kept.Clear();
        return kept[text] = make(text);
    }
}
