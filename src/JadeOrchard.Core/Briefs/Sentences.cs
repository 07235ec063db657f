namespace JadeOrchard.Core.Briefs;

/// <summary>Takes text apart into sentences, well enough for counting and showing (common practice).</summary>
public static class Sentences
{
    /// <returns>The sentences without the white space around them; an empty text has none.</returns>
    public static IEnumerable<string> Of(string text)
    {
        var start = 0;
        for (var i = 0; i <= text.Length; i++)
        {
            if (i < text.Length && !IsEnd(text, i))
                continue;
            var end = Math.Min(text.Length, i + 1);
            if (text[start..end].Trim() is { Length: > 0 } sentence)
                yield return sentence;
            start = end;
        }
    }

    /// <returns>Whether a sentence ends with a character: a line end, a mark that ends sentences before white space, or one of Chinese and Japanese.</returns>
    public static bool IsEnd(string text, int i) =>
        text[i] is '\n' or '。' or '！' or '？' || (text[i] is '.' or '!' or '?' or '…' && (i + 1 == text.Length || char.IsWhiteSpace(text[i + 1])) && !IsShortened(text, i));

    /// <summary>"e.g." and single letters end no sentence.</summary>
    private static bool IsShortened(string text, int i) => text[i] == '.' && i > 0 && char.IsLetter(text[i - 1]) && (i == 1 || text[i - 2] is '.' or ' ');
}
