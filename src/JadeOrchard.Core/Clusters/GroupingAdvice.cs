using System.Globalization;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Clusters;

/// <summary>What a planner should know of a grouping before it is applied, in plain words.</summary>
/// <remarks>The bounds are common practice: a page serves one intent, and a page for each single search is no plan.</remarks>
public static class GroupingAdvice
{
    /// <summary>From this share of the captured keywords on, too many stand alone.</summary>
    private const double ManySingletons = 0.6;

    /// <summary>From this share of the captured keywords on, a cluster is too large to be one page.</summary>
    private const double VeryLarge = 0.05;

    private const int FewestOfAMixture = 6;

    /// <summary>From this share of a cluster's keywords on, an intent counts.</summary>
    private const double NoticeableIntent = 0.15;

    private static readonly int Intents = Enum.GetValues<Intent>().Length;

    /// <param name="clustering">The grouping.</param>
    /// <param name="keywords">Its keywords.</param>
    /// <param name="minOverlap">The minimum that it was made with.</param>
    /// <returns>One to three sentences, the gravest first.</returns>
    public static IReadOnlyList<string> For(Clustering clustering, IReadOnlyList<Keyword> keywords, int minOverlap)
    {
        var clusters = clustering.Clusters;
        var captured = clusters.Sum(c => c.Members.Length);
        if (captured == 0)
            return ["No keyword has a result list yet, so there is nothing to group."];
        var says = new List<string>();
        var largest = clusters.MaxBy(c => c.Members.Length)!;
        if (largest.Members.Length >= 20 && largest.Members.Length >= VeryLarge * captured)
        {
            says.Add($"At {minOverlap}, '{keywords[largest.Primary].Phrase}' would take in {Number(largest.Members.Length)} keywords, "
                + $"{Percent(largest.Members.Length, captured)} of all: more than one page can serve. A higher minimum parts it.");
        }

        var mixed = clusters
            .Where(c => c.Members.Length >= FewestOfAMixture)
            .Select(c => (Cluster: c, Intents: IntentsOf(c, keywords)))
            .Where(c => c.Intents >= 2)
            .OrderByDescending(c => c.Intents).ThenByDescending(c => c.Cluster.Members.Length)
            .FirstOrDefault();
        if (mixed.Cluster is { } cluster)
        {
            says.Add($"At {minOverlap}, '{keywords[cluster.Primary].Phrase}' would take in {Number(cluster.Members.Length)} keywords with "
                + $"{(mixed.Intents == 2 ? "two" : mixed.Intents == 3 ? "three" : "four")} different intents. Look whether one page can serve them.");
        }

        var singletons = clusters.Count(c => c.Members.Length == 1);
        if (singletons >= ManySingletons * captured)
            says.Add($"At {minOverlap}, {Percent(singletons, captured)} of the keywords stand alone. A lower minimum gathers more of them.");
        if (says.Count == 0)
        {
            says.Add($"At {minOverlap}, no cluster is mixed or very large: the largest, '{keywords[largest.Primary].Phrase}', has {Number(largest.Members.Length)} "
                + $"{(largest.Members.Length == 1 ? "keyword" : "keywords")}, and {Percent(singletons, captured)} stand alone.");
        }

        return says;
    }

    private static int IntentsOf(Cluster cluster, IReadOnlyList<Keyword> keywords)
    {
        Span<int> counts = stackalloc int[Intents];
        foreach (var member in cluster.Members)
        {
            if (keywords[member].Intent is { } intent)
                counts[(int)intent]++;
        }

        var intents = 0;
        foreach (var count in counts)
            intents += count >= 2 && count >= NoticeableIntent * cluster.Members.Length ? 1 : 0;
        return intents;
    }

    private static string Number(int number) => number.ToString("N0", CultureInfo.InvariantCulture);

    private static string Percent(int part, int whole) => (100.0 * part / whole).ToString("0", CultureInfo.InvariantCulture) + " %";
}
