namespace JadeOrchard.Core.Keywords;

/// <summary>Keywords that say the same in other words: the same stems in any order, stop words ignored.</summary>
/// <remarks>Shown as a group and merged only on request: word order and plurals can change the results.</remarks>
public static class CloseVariants
{
    /// <param name="normalForm">A keyword's normal form.</param>
    /// <param name="analysis">Of the project's language.</param>
    /// <returns>Two keywords are close variants where this is the same; the normal form where only stop words are left.</returns>
    public static string KeyOf(string normalForm, TextAnalysis analysis)
    {
        var stems = analysis.Stems(normalForm);
        return stems.Count == 0 ? normalForm : string.Join(' ', stems.Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal));
    }
}
