namespace JadeOrchard.Core.PageMap;

/// <summary>The parts of BM25F, which ranks texts of several fields for the words of a query.</summary>
/// <remarks>
/// Robertson and Zaragoza, "The Probabilistic Relevance Framework: BM25 and Beyond", 2009, sections 3.5 and 3.6: for each
/// word Σ over fields of weight · occurrences / (1 − b + b · length / mean length), saturated by f / (k1 + f), times its inverse
/// document frequency. With one field of weight 1 it is BM25. k1 and b are common practice.
/// </remarks>
public static class Bm25F
{
    public const double K1 = 1.2;
    private const double B = 0.75;

    /// <summary>What one occurrence counts in a field.</summary>
    /// <param name="weight">Of the field.</param>
    /// <param name="length">Words of the field in this text.</param>
    /// <param name="meanLength">Words of the field over all texts that have it; above 0.</param>
    public static double Occurrence(double weight, double length, double meanLength) => weight / (1 - B + (B * length / meanLength));

    /// <returns>0 to 1.</returns>
    public static double Saturated(double frequency, double k1 = K1) => frequency / (k1 + frequency);

    /// <returns>Above 0, also for a word that is in all texts.</returns>
    public static double InverseDocumentFrequency(int texts, int textsWithWord) =>
        Math.Log(1 + ((texts - textsWithWord + 0.5) / (textsWithWord + 0.5)));
}
