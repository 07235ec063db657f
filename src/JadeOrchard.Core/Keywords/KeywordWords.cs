using System.Text;

namespace JadeOrchard.Core.Keywords;

/// <summary>The words of a keyword, as filters and modifiers see them: whole words, whatever parts them.</summary>
/// <remarks>
/// White space, hyphens, slashes and other punctuation part words ("sit-on-top" is three); what belongs to a word
/// stays in it ("c++", "50%", "kayaker's", "3.5").
/// </remarks>
public static class KeywordWords
{
    private const string Within = "'.&";
    private const string AtEnd = "+#%";

    /// <param name="normalForm">A keyword's normal form, or a phrase to look for in one.</param>
    /// <returns>The words in order, each between two spaces: " sit on top kayak "; a single space where there are none.</returns>
    public static string Padded(string normalForm)
    {
        var words = new StringBuilder(normalForm.Length + 2).Append(' ');
        for (var i = 0; i < normalForm.Length; i++)
        {
            var c = normalForm[i];
            var belongs = char.IsLetterOrDigit(c) || char.IsSurrogate(c) || IsMark(c)
                || (Within.Contains(c, StringComparison.Ordinal) && i + 1 < normalForm.Length && char.IsLetterOrDigit(normalForm[i + 1]) && (c == '.' || words[^1] != ' '))
                || (AtEnd.Contains(c, StringComparison.Ordinal) && words[^1] != ' ');
            if (belongs)
                words.Append(c);
            else if (words[^1] != ' ')
                words.Append(' ');
        }

        if (words[^1] != ' ')
            words.Append(' ');
        return words.ToString();
    }

    /// <param name="padded">As <see cref="Padded"/> gives it.</param>
    public static string[] Split(string padded) => padded.Split(' ', StringSplitOptions.RemoveEmptyEntries);

    /// <param name="padded">As <see cref="Padded"/> gives it.</param>
    /// <param name="phrase">One word or several, in normal form or not.</param>
    /// <returns>True where the phrase is in it as whole words, next to each other; an empty one never does.</returns>
    public static bool Contain(string padded, string phrase)
    {
        var wanted = Padded(KeywordNormalForm.Of(phrase));
        return wanted.Length > 1 && padded.Contains(wanted, StringComparison.Ordinal);
    }

    private static bool IsMark(char c) => char.GetUnicodeCategory(c) is
        System.Globalization.UnicodeCategory.NonSpacingMark or System.Globalization.UnicodeCategory.SpacingCombiningMark;
}
