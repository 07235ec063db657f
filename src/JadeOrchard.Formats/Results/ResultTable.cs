using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Formats.Results;

/// <summary>Result lists from a file: keyword, position, url, title, snippet, captured_at.</summary>
public sealed class ResultTable
{
    /// <summary>Positions further down are of no use to anybody and point to a wrong column.</summary>
    public const int MaxPosition = 1000;

    private readonly UrlFolds _folds;
    private readonly bool _rawUrls;
    private string _lastPhrase = "";
    private string _lastNormalForm = "";

    /// <param name="folds">How URLs are compared.</param>
    /// <param name="rawUrls">URLs are compared as they are given; they need not even be URLs.</param>
    public ResultTable(UrlFolds folds, bool rawUrls = false)
    {
        _folds = folds;
        _rawUrls = rawUrls;
    }

    public IEnumerable<TableRow<ResultRow>> Read(DelimitedFile file, ColumnMapping mapping) =>
        TableReader.Read(file, mapping, Read);

    private ResultRow? Read(Fields fields)
    {
        if (fields.Text(0) is not { } phrase)
            return null;
        // The rows of one result list mostly follow each other.
        if (phrase != _lastPhrase)
            (_lastPhrase, _lastNormalForm) = (phrase, KeywordNormalForm.Of(phrase));
        if (_lastNormalForm.Length == 0)
            fields.Reject(0, "Nothing that can be searched for is left of it.", phrase);
        var position = fields.WholeNumber(1, 1, MaxPosition);
        if (fields.Text(2) is not { } url)
            return null;
        var identity = url;
        if (!_rawUrls && !UrlIdentity.TryOf(url, _folds, out identity))
            fields.Reject(2, "Is not an http or https address.", url);
        return new ResultRow(_lastPhrase, _lastNormalForm, (int)(position ?? 0), url, identity, fields.Text(3), fields.Text(4), fields.Day(5));
    }
}

/// <summary>One result of one keyword.</summary>
/// <param name="Phrase">The keyword as it is given.</param>
/// <param name="NormalForm">Its identity.</param>
/// <param name="Position">From 1.</param>
/// <param name="Url">As it was captured.</param>
/// <param name="Identity">What it is compared by.</param>
/// <param name="Title">Null where it is not given.</param>
/// <param name="Snippet">Null where it is not given.</param>
/// <param name="CapturedOn">Captures are told apart by day; null where it is not given.</param>
public sealed record ResultRow(
    string Phrase, string NormalForm, int Position, string Url, string Identity, string? Title, string? Snippet, DateOnly? CapturedOn);
