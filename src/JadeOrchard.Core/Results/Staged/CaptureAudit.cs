using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Results.Staged;

/// <summary>What came of capturing some of the expected keywords, drawn by chance.</summary>
/// <param name="Right">Those whose results put them where they were expected.</param>
/// <param name="Audited">All that were captured.</param>
/// <param name="Lower">The least share of right ones among all expected, with 95 % of confidence.</param>
/// <param name="Upper">The most.</param>
public sealed record CaptureAudit(int Right, int Audited, double Lower, double Upper)
{
    /// <summary>The part of the expected keywords that is audited.</summary>
    public const double Share = 0.05;

    /// <summary>At least as many, where there are that many.</summary>
    public const int Fewest = 30;

    /// <summary>By Wilson's interval.</summary>
    public static CaptureAudit Of(int right, int audited)
    {
        var (lower, upper) = WilsonInterval.Of(right, audited);
        return new CaptureAudit(right, audited, lower, upper);
    }

    /// <returns>Whether the audit bears out a certainty; if not, the rest is to be captured, or more certainty asked for.</returns>
    public bool BearsOut(double certainty) => Lower >= certainty;
}
