using System.Globalization;

namespace JadeOrchard.Core.Overview;

/// <summary>What is worth knowing of a list: how its rows are spread.</summary>
public sealed record ListSummary(IReadOnlyList<Distribution> Distributions);

/// <summary>How the rows of a list are spread over the values of one thing.</summary>
/// <param name="Title">What they are told apart by: "Intent".</param>
/// <param name="Unit">What the worth of a share is: "searches a month"; empty where it has none.</param>
public sealed record Distribution(string Title, string Unit, IReadOnlyList<DistributionShare> Shares);

/// <summary>The rows with one value.</summary>
/// <param name="Says">The value in words.</param>
/// <param name="Worth">Their sum, in the unit of the distribution.</param>
/// <param name="Filter">The condition that shows them alone, by the names of the list's query; empty where there is none.</param>
public sealed record DistributionShare(string Says, long Count, double Worth, IReadOnlyDictionary<string, string> Filter);

/// <summary>Ranges of a number, for showing how it is spread.</summary>
/// <param name="Least">Query name for the least value: "minVolume".</param>
/// <param name="Most">Query name for the greatest; empty where a list has no such condition.</param>
/// <param name="From">Where each range begins, ascending; the last has no end.</param>
public sealed record Bands(string Least, string Most, params IReadOnlyList<long> From)
{
    /// <summary>Searches a month (common practice: powers of ten).</summary>
    public static readonly Bands Volume = new("minVolume", "maxVolume", 0, 10, 100, 1_000, 10_000);

    /// <summary>Demand of a cluster, in searches a month.</summary>
    public static readonly Bands Demand = new("minDemand", "", 0, 10, 100, 1_000, 10_000);

    /// <summary>Keywords of a cluster.</summary>
    public static readonly Bands Size = new("minSize", "", 1, 2, 5, 10, 25);

    /// <summary>Words of a page.</summary>
    public static readonly Bands Words = new("minWords", "maxWords", 0, 150, 300, 600, 1_200, 2_500);

    /// <summary>A range in words: "10 to 99", "1", "10,000 or more".</summary>
    public string Says(int band) => band == From.Count - 1 ? $"{Number(From[band])} or more"
        : From[band + 1] - From[band] == 1 ? Number(From[band])
        : $"{Number(From[band])} to {Number(From[band + 1] - 1)}";

    /// <summary>The condition for one range; empty where the list cannot be cut off at its end.</summary>
    public IReadOnlyDictionary<string, string> Filter(int band)
    {
        var filter = new Dictionary<string, string>();
        var isLast = band == From.Count - 1;
        if (!isLast && Most.Length == 0)
            return filter;
        filter[Least] = Plain(From[band]);
        if (!isLast)
            filter[Most] = Plain(From[band + 1] - 1);
        return filter;
    }

    private static string Number(long value) => value.ToString("N0", CultureInfo.InvariantCulture);

    private static string Plain(long value) => value.ToString(CultureInfo.InvariantCulture);
}
