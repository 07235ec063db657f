using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Plan;

/// <summary>What a page could gain, to order work by. Not a forecast.</summary>
/// <remarks>Volume × max(0, curve(target) − curve(now)) × (1 − difficulty/100); unknown numbers count as the project's medians, see <see cref="Medians"/>.</remarks>
public static class ExpectedGain
{
    /// <param name="keyword">With its unknown numbers filled in; else they count as 0.</param>
    /// <param name="positionNow">Where the page stands; 0 for nowhere.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>Clicks per month.</returns>
    public static double Of(Keyword keyword, int positionNow, ClickCurve curve)
    {
        var rise = Math.Max(0, curve.At(ClickCurve.TargetPosition) - curve.At(positionNow));
        return (keyword.Volume ?? 0) * rise * (1 - (Math.Clamp(keyword.Difficulty ?? 0, 0, 100) / 100));
    }
}
