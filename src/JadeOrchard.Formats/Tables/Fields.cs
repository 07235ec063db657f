using System.Globalization;
using System.Text.RegularExpressions;

namespace JadeOrchard.Formats.Tables;

/// <summary>Takes the fields of one row by the names of its columns and says what is wrong with the first bad one.</summary>
public sealed partial class Fields(ColumnMapping mapping)
{
    private static readonly string[] DateFormats = ["yyyy-MM-dd", "yyyy/MM/dd", "yyyyMMdd"];
    private readonly IReadOnlyList<TableColumn> _columns = TableColumns.Of(mapping.Kind);
    private (string Text, DateOnly Day) _lastDay = ("", default);
    private long _line;
    private string[] _fields = [];

    /// <summary>What is wrong with the row; null as long as nothing is.</summary>
    public RejectedRow? Rejected { get; private set; }

    public void Begin(long line, string[] fields)
    {
        _line = line;
        _fields = fields;
        Rejected = null;
    }

    /// <returns>The field as it stands; null where the file does not have it, it is blank, or it holds a null character.</returns>
    public string? Text(int column)
    {
        var place = mapping[column];
        var text = place >= 0 && place < _fields.Length ? _fields[place] : null;
        if (!string.IsNullOrWhiteSpace(text) && !text.Contains('\0', StringComparison.Ordinal))
            return text;
        if (text?.Contains('\0', StringComparison.Ordinal) == true)
            Reject(column, "Holds a null character.", text.Replace("\0", "", StringComparison.Ordinal));
        else if (_columns[column].IsRequired)
            Reject(column, "Is empty.", "");
        return null;
    }

    /// <summary>A whole number from a least value; thousands may be parted ("1,200", "1 200", "1'200").</summary>
    public long? WholeNumber(int column, long least, long most)
    {
        if (Text(column)?.Trim() is not { } text)
            return null;
        // Most numbers are just digits.
        if (text.Length <= 9 && int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var plain) && plain >= least && plain <= most)
            return plain;
        var digits = Thousands().IsMatch(text) ? NoDigit().Replace(text, "") : text;
        if (!decimal.TryParse(digits, NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number)
            || number != decimal.Truncate(number))
        {
            Reject(column, "Is not a whole number.", text);
            return null;
        }

        if (number < least || number > most)
        {
            Reject(column, $"Must be from {least} to {most}.", text);
            return null;
        }

        return (long)number;
    }

    /// <summary>A number between two; a decimal comma is read as a point.</summary>
    public double? Number(int column, double least, double most)
    {
        if (Text(column)?.Trim() is not { } text)
            return null;
        if (!double.TryParse(text.Replace(',', '.'), NumberStyles.Float & ~NumberStyles.AllowExponent, CultureInfo.InvariantCulture, out var number)
            || !double.IsFinite(number))
        {
            Reject(column, "Is not a number.", text);
            return null;
        }

        if (number < least || number > most)
        {
            Reject(column, string.Create(CultureInfo.InvariantCulture, $"Must be from {least} to {most}."), text);
            return null;
        }

        return number;
    }

    /// <summary>The day of a date, or of a date and time (UTC where it says its offset), as ISO 8601 writes them.</summary>
    public DateOnly? Day(int column)
    {
        if (Text(column)?.Trim() is not { } text)
            return null;
        // Mostly it is the day of the row before.
        if (text == _lastDay.Text)
            return _lastDay.Day;
        if (DateOnly.TryParseExact(text, DateFormats, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
        {
            _lastDay = (text, day);
            return day;
        }

        if (text.Length >= 10 && char.IsAsciiDigit(text[0])
            && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal, out var time))
            return DateOnly.FromDateTime(time.UtcDateTime);
        Reject(column, "Is not a date such as 2026-11-12 or 2026-11-12T08:30:00Z.", text);
        return null;
    }

    public void Reject(int column, string reason, string value) =>
        Rejected ??= RejectedRow.At(_line, _columns[column].Name, reason, value);

    [GeneratedRegex(@"^\d{1,3}([, \u00A0\u202F']\d{3})+$")]
    private static partial Regex Thousands();

    [GeneratedRegex(@"\D")]
    private static partial Regex NoDigit();
}
