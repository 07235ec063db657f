using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Keywords;

/// <summary>Keywords from a file: keyword, volume, difficulty, title_matches, intent, cpc, monthly_volumes.</summary>
public static class KeywordTable
{
    /// <param name="file">The file.</param>
    /// <param name="mapping">Its columns.</param>
    /// <param name="language">That of the market, two letters; null for any.</param>
    /// <param name="today">Monthly volumes end with the month before this day; null for the day on which it is read.</param>
    public static IEnumerable<TableRow<Keyword>> Read(TableFile file, ColumnMapping mapping, string? language = null, DateOnly? today = null)
    {
        var day = today ?? DateOnly.FromDateTime(TimeProvider.System.GetUtcNow().UtcDateTime);
        return TableReader.Read(file, mapping, fields => Read(fields, language, day));
    }

    private static Keyword? Read(Fields fields, string? language, DateOnly today)
    {
        if (fields.Text(0) is not { } phrase)
            return null;
        var normalForm = KeywordNormalForm.Of(phrase, language);
        if (normalForm.Length == 0)
            fields.Reject(0, "Nothing that can be searched for is left of it.", phrase);
        return new Keyword(
            phrase,
            normalForm,
            fields.WholeNumber(1, 0, Keyword.MostCounted),
            fields.Number(2, 0, 100),
            fields.WholeNumber(3, 0, Keyword.MostCounted),
            ReadIntent(fields),
            fields.Number(5, 0, 1_000_000),
            ReadMonths(fields, today));
    }

    private static MonthlyVolumes? ReadMonths(Fields fields, DateOnly today)
    {
        if (fields.Text(6)?.Trim() is not { } text)
            return null;
        var months = MonthlyVolumes.Parse(text, today);
        if (months is null)
            fields.Reject(6, $"Is not a list of {MonthlyVolumes.Fewest} or more whole numbers, separated by \"|\".", text);
        return months;
    }

    private static Intent? ReadIntent(Fields fields)
    {
        if (fields.Text(4)?.Trim() is not { } text)
            return null;
        if (!char.IsAsciiLetter(text[0]) || !Enum.TryParse<Intent>(text, ignoreCase: true, out var intent))
        {
            fields.Reject(4, "Is not informational, commercial, transactional or navigational.", text);
            return null;
        }

        return intent;
    }
}
