using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Keywords;

/// <summary>Keywords from a file: keyword, volume, difficulty, title_matches, intent, cpc.</summary>
public static class KeywordTable
{
    /// <param name="file">The file.</param>
    /// <param name="mapping">Its columns.</param>
    /// <param name="language">That of the market, two letters; null for any.</param>
    public static IEnumerable<TableRow<Keyword>> Read(TableFile file, ColumnMapping mapping, string? language = null) =>
        TableReader.Read(file, mapping, fields => Read(fields, language));

    private static Keyword? Read(Fields fields, string? language)
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
            fields.Number(5, 0, 1_000_000));
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
