namespace JadeOrchard.Core.Keywords;

/// <summary>Tells brand queries: searches for the site itself, which no page can take from another.</summary>
public sealed class BrandTerms
{
    private readonly string[] _terms;

    /// <param name="terms">Names of the brand as people type them; empty ones are left out.</param>
    public BrandTerms(IEnumerable<string> terms) =>
        _terms = terms.Select(t => KeywordNormalForm.Of(t)).Where(t => t.Length > 0)
            .SelectMany(t => new[] { t, Spaced(t), Spaced(t).Replace(" ", "", StringComparison.Ordinal) }).Distinct(StringComparer.Ordinal).ToArray();

    /// <param name="normalForm">A keyword's normal form.</param>
    /// <returns>True if it contains a term as whole words, written with a hyphen, a space or neither; in scripts without spaces anywhere.</returns>
    public bool IsBrandQuery(string normalForm)
    {
        normalForm = Spaced(normalForm);
        foreach (var term in _terms)
        {
            for (var at = normalForm.IndexOf(term, StringComparison.Ordinal);
                 at >= 0;
                 at = normalForm.IndexOf(term, at + 1, StringComparison.Ordinal))
            {
                var end = at + term.Length;
                var opens = at == 0 || !IsOfWord(normalForm[at - 1]) || !IsOfWord(normalForm[at]);
                var closes = end == normalForm.Length || !IsOfWord(normalForm[end]) || !IsOfWord(normalForm[end - 1]);
                if (opens && closes)
                    return true;
            }
        }

        return false;
    }

    private static string Spaced(string text) => text.Contains('-', StringComparison.Ordinal) ? text.Replace('-', ' ').Trim() : text;

    /// <summary>A letter or digit of a script that has spaces between words; Thai, Lao, Khmer, Japanese and Chinese have none.</summary>
    private static bool IsOfWord(char c) => char.IsLetterOrDigit(c) && c is not ((>= '\u0E00' and <= '\u0EFF') or (>= '\u1780' and <= '\u17FF') or (>= '\u3040' and <= '\u30FF') or (>= '\u3400' and <= '\u9FFF'));
}
