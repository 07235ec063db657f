namespace JadeOrchard.Core.Briefs;

/// <summary>How much a phrase stands by itself, and not only within longer ones.</summary>
public static class CValue
{
    /// <summary>C-value (Frantzi, Ananiadou and Mima, "Automatic recognition of multi-word terms: the C-value/NC-value method", 2000, section 2.2.2).</summary>
    /// <param name="words">Of the phrase; one word alone has the value 0, as its logarithm.</param>
    /// <param name="frequency">Of the phrase.</param>
    /// <param name="longer">How often it stands within longer phrases: their frequencies, each without what stands within still longer ones, summed.</param>
    /// <param name="longerCount">How many longer phrases contain it; 0 where none does.</param>
    public static double Of(int words, double frequency, double longer, int longerCount) => Math.Log2(words) * Alone(frequency, longer, longerCount);

    /// <summary>The frequency without that within longer phrases, as C-value counts it.</summary>
    public static double Alone(double frequency, double longer, int longerCount) => longerCount == 0 ? frequency : frequency - (longer / longerCount);
}
