namespace JadeOrchard.Core.Keywords;

/// <summary>Tells brand queries: searches for the site itself, which no page can take from another.</summary>
public sealed class BrandTerms
{
    private readonly string[] _terms;

    /// <param name="terms">Names of the brand as people type them; empty ones are left out.</param>
    public BrandTerms(IEnumerable<string> terms) =>
        _terms = terms.Select(KeywordNormalForm.Of).Where(t => t.Length > 0).Distinct(StringComparer.Ordinal).ToArray();

    /// <param name="normalForm">A keyword's normal form.</param>
    /// <returns>True where a term stands in it as whole words.</returns>
    public bool IsBrandQuery(string normalForm)
    {
        foreach (var term in _terms)
        {
            for (var at = normalForm.IndexOf(term, StringComparison.Ordinal);
                 at >= 0;
                 at = normalForm.IndexOf(term, at + 1, StringComparison.Ordinal))
            {
                var end = at + term.Length;
                var opens = at == 0 || !char.IsLetterOrDigit(normalForm[at - 1]);
                var closes = end == normalForm.Length || !char.IsLetterOrDigit(normalForm[end]);
                if (opens && closes)
                    return true;
            }
        }

        return false;
    }
}
