using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Results;

/// <summary>Result lists from a file: keyword, position, url, title, snippet, captured_at.</summary>
public sealed class ResultTable
{
    /// <summary>Positions further down are of no use to anybody and point to a wrong column.</summary>
    public const int MaxPosition = 1000;

    private readonly UrlFolds _folds;
    private readonly bool _rawUrls;
    private readonly string? _language;
    private string _lastPhrase = "";
    private string _lastNormalForm = "";

    /// <param name="folds">How URLs are compared.</param>
    /// <param name="rawUrls">URLs are compared as they are given; they need not even be URLs.</param>
    /// <param name="language">That of the market, two letters; null for any.</param>
    public ResultTable(UrlFolds folds, bool rawUrls = false, string? language = null)
    {
        _language = language;
        _folds = folds;
        _rawUrls = rawUrls;
    }

    public IEnumerable<TableRow<CapturedResult>> Read(TableFile file, ColumnMapping mapping) =>
        TableReader.Read(file, mapping, Read);

    /// <summary>Tells without making a text what a URL is compared by, where that takes no more than a look.</summary>
    /// <param name="url">UTF-8, as the file has it.</param>
    /// <param name="from">The identity is the first eight bytes and what stands from here,</param>
    /// <param name="to">to here.</param>
    internal bool IsPlain(ReadOnlySpan<byte> url, out int from, out int to)
    {
        if (!_rawUrls)
            return UrlIdentity.IsPlain(url, out from, out to) && _folds == UrlFolds.All;
        (from, to) = (Math.Min(8, url.Length), url.Length);
        return url.ContainsAnyInRange((byte)'!', (byte)'~');
    }

    internal CapturedResult? Read(Fields fields)
    {
        if (fields.Text(0) is not { } phrase)
            return null;
        // The rows of one result list mostly follow each other.
        if (phrase != _lastPhrase)
            (_lastPhrase, _lastNormalForm) = (phrase, KeywordNormalForm.Of(phrase, _language));
        if (_lastNormalForm.Length == 0)
            fields.Reject(0, "Nothing that can be searched for is left of it.", phrase);
        var position = fields.WholeNumber(1, 1, MaxPosition);
        if (fields.Text(2) is not { } url)
            return null;
        var identity = url;
        if (!_rawUrls && !UrlIdentity.TryOf(url, _folds, out identity))
            fields.Reject(2, UrlIdentity.Fault(url), url);
        return new CapturedResult(_lastPhrase, _lastNormalForm, (int)(position ?? 0), url, identity, fields.Text(3), fields.Text(4), fields.Day(5));
    }
}
