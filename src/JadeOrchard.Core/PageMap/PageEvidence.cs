namespace JadeOrchard.Core.PageMap;

/// <summary>How well a page fits a cluster, with the parts of which it is made.</summary>
/// <param name="Page">Index of the page.</param>
/// <param name="Results">0 to 1, by <see cref="ResultsEvidence"/>; null where no keyword of the cluster has a result list.</param>
/// <param name="Performance">0 to 1, by <see cref="PerformanceEvidence"/>; null where no query of the cluster was seen.</param>
/// <param name="Text">0 to 1, by <see cref="TextEvidence"/>; null where nothing is known of the page but its URL.</param>
/// <param name="Named">The share of the cluster's words, by importance, in the page's title, H1 and address: 0 to 1.</param>
public sealed record PageEvidence(int Page, double? Results, double? Performance, double? Text, double Named = 0)
{
    /// <summary>From this share on, title, H1 and address say that a page is about a cluster (from memory).</summary>
    public const double IsNamed = 0.5;

    private const double ResultsWeight = 0.45;
    private const double PerformanceWeight = 0.30;
    private const double TextWeight = 0.25;

    /// <summary>See <see cref="StrengthOf"/>.</summary>
    public double Strength { get; } = StrengthOf(Results, Performance, Text);

    /// <summary>
    /// True where a page could be that of the cluster: it stands or is visited for it, or says in title, H1 or address that it is about it. One that
    /// mentions it in passing cannot.
    /// </summary>
    public bool IsCandidate => Results > 0 || Performance > 0 || Named >= IsNamed;

    /// <summary>0 to 100: the weighted mean of the evidence there is; missing evidence is re-weighted. 0 where there is none.</summary>
    public static double StrengthOf(double? results, double? performance, double? text)
    {
        var weight = (results is null ? 0 : ResultsWeight) + (performance is null ? 0 : PerformanceWeight) + (text is null ? 0 : TextWeight);
        return weight == 0 ? 0 : 100 * (((results ?? 0) * ResultsWeight) + ((performance ?? 0) * PerformanceWeight) + ((text ?? 0) * TextWeight)) / weight;
    }
}
