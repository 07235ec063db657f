namespace JadeOrchard.Core.Results;

/// <summary>The expected share of clicks at each position. From memory, common practice; meant to be edited.</summary>
public static class ClickCurve
{
    private static readonly double[] FirstTen = [0.28, 0.15, 0.11, 0.08, 0.065, 0.05, 0.04, 0.032, 0.027, 0.023];

    /// <summary>The position that a page made for a cluster is expected to reach.</summary>
    public const int TargetPosition = 3;

    /// <param name="position">From 1; 0 or less means that the page does not stand in the list.</param>
    /// <returns>0 to 1.</returns>
    public static double At(int position) => position switch
    {
        < 1 => 0,
        <= 10 => FirstTen[position - 1],
        <= 20 => 0.01,
        _ => 0.003,
    };
}
