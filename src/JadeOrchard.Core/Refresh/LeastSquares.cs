namespace JadeOrchard.Core.Refresh;

/// <summary>Least squares with weights that are not negative (Lawson and Hanson, "Solving Least Squares Problems", 1974, chapter 23, algorithm NNLS).</summary>
public static class LeastSquares
{
    private const double Tolerance = 1e-10;

    /// <param name="columns">What is weighted: columns of equal length.</param>
    /// <param name="target">What is to be met, of the same length.</param>
    /// <returns>A weight of 0 or more for each column, such that the sum of squares of their weighted sum less the target is least.</returns>
    public static double[] NonNegative(IReadOnlyList<double[]> columns, double[] target)
    {
        var count = columns.Count;
        var products = new double[count, count];
        var onto = new double[count];
        for (var i = 0; i < count; i++)
        {
            for (var j = i; j < count; j++)
                products[i, j] = products[j, i] = Dot(columns[i], columns[j]);
            onto[i] = Dot(columns[i], target);
        }

        var weights = new double[count];
        var isFree = new bool[count];
        var scale = Math.Max(1, onto.Select(Math.Abs).DefaultIfEmpty(0).Max());
        for (var round = 0; round < 3 * count + 10; round++)
        {
            var (best, steepest) = (-1, Tolerance * scale);
            for (var i = 0; i < count; i++)
            {
                if (isFree[i])
                    continue;
                var slope = onto[i];
                for (var j = 0; j < count; j++)
                    slope -= products[i, j] * weights[j];
                if (slope > steepest)
                    (best, steepest) = (i, slope);
            }

            if (best < 0)
                break;
            isFree[best] = true;
            while (true)
            {
                int[] free = [.. Enumerable.Range(0, count).Where(i => isFree[i])];
                var solved = Solve(products, onto, free);
                if (solved.All(s => s > 0))
                {
                    Array.Clear(weights);
                    for (var i = 0; i < free.Length; i++)
                        weights[free[i]] = solved[i];
                    break;
                }

                // As far towards the solution as all stay above 0; what meets 0 is fixed there.
                var step = Enumerable.Range(0, free.Length).Where(i => solved[i] <= 0).Min(i => weights[free[i]] - solved[i] is > 0 and var gap ? weights[free[i]] / gap : 0);
                for (var i = 0; i < free.Length; i++)
                {
                    weights[free[i]] += step * (solved[i] - weights[free[i]]);
                    if (weights[free[i]] <= Tolerance)
                        (weights[free[i]], isFree[free[i]]) = (0, false);
                }

                if (!isFree.Any(f => f))
                    break;
            }
        }

        return weights;
    }

    private static double Dot(double[] a, double[] b)
    {
        var sum = 0.0;
        for (var i = 0; i < a.Length; i++)
            sum += a[i] * b[i];
        return sum;
    }

    /// <summary>The normal equations of the free columns, by Cholesky's decomposition; columns that depend on others get next to nothing added to their diagonal.</summary>
    private static double[] Solve(double[,] products, double[] onto, int[] free)
    {
        var n = free.Length;
        var lower = new double[n, n];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = products[free[i], free[j]];
                if (i == j)
                    sum *= 1 + 1e-12;
                for (var k = 0; k < j; k++)
                    sum -= lower[i, k] * lower[j, k];
                lower[i, j] = i == j ? Math.Sqrt(Math.Max(sum, 1e-12)) : sum / lower[j, j];
            }
        }

        var y = new double[n];
        for (var i = 0; i < n; i++)
        {
            y[i] = onto[free[i]];
            for (var k = 0; k < i; k++)
                y[i] -= lower[i, k] * y[k];
            y[i] /= lower[i, i];
        }

        for (var i = n - 1; i >= 0; i--)
        {
            for (var k = i + 1; k < n; k++)
                y[i] -= lower[k, i] * y[k];
            y[i] /= lower[i, i];
        }

        return y;
    }
}
