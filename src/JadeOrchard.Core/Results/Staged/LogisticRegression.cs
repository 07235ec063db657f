namespace JadeOrchard.Core.Results.Staged;

/// <summary>Logistic regression with a ridge: the probability of an outcome from a few numbers.</summary>
/// <remarks>
/// Least squares reweighted again and again, which is Newton's method (Hastie, Tibshirani and Friedman, "The Elements of Statistical Learning",
/// 2nd edition 2009, section 4.4.1). It minimises ½‖w‖² · ridge − log likelihood; the intercept is not held back.
/// </remarks>
public sealed class LogisticRegression
{
    private const int MostSteps = 50;
    private const double SmallStep = 1e-9;

    private readonly double[] _weights;

    private LogisticRegression(double[] weights) => _weights = weights;

    /// <summary>One for each number of a row.</summary>
    public ReadOnlySpan<double> Coefficients => _weights.AsSpan(1);

    public double Intercept => _weights[0];

    /// <param name="rows">Numbers of each case, as many in each.</param>
    /// <param name="outcomes">What came of it.</param>
    /// <param name="ridge">More than 0: how much coefficients are held back towards 0.</param>
    public static LogisticRegression Fit(IReadOnlyList<double[]> rows, IReadOnlyList<bool> outcomes, double ridge = 1)
    {
        var size = rows.Count == 0 ? 1 : rows[0].Length + 1;
        var (w, gradient, hessian) = (new double[size], new double[size], new double[size, size]);
        var loss = LossOf(w);
        for (var step = 0; step < MostSteps; step++)
        {
            Array.Clear(gradient);
            Array.Clear(hessian);
            for (var i = 1; i < size; i++)
                (gradient[i], hessian[i, i]) = (ridge * w[i], ridge);
            // Without cases nothing pulls at the intercept.
            hessian[0, 0] = SmallStep;
            for (var r = 0; r < rows.Count; r++)
            {
                var p = Probability(w, rows[r]);
                var (error, curve) = (p - (outcomes[r] ? 1 : 0), p * (1 - p));
                for (var i = 0; i < size; i++)
                {
                    var x = i == 0 ? 1 : rows[r][i - 1];
                    gradient[i] += error * x;
                    for (var j = 0; j <= i; j++)
                        hessian[i, j] += curve * x * (j == 0 ? 1 : rows[r][j - 1]);
                }
            }

            var direction = Solve(hessian, gradient);
            var scale = 1.0;
            var next = Moved(scale);
            var nextLoss = LossOf(next);
            while (nextLoss > loss && scale > 1e-6)
            {
                scale /= 2;
                next = Moved(scale);
                nextLoss = LossOf(next);
            }

            var gained = loss - nextLoss;
            if (gained > 0)
                (w, loss) = (next, nextLoss);
            if (gained <= SmallStep * (1 + Math.Abs(loss)))
                break;

            double[] Moved(double by) => [.. w.Select((v, i) => v - (by * direction[i]))];
        }

        return new LogisticRegression(w);

        double LossOf(double[] of)
        {
            var sum = 0.0;
            for (var i = 1; i < size; i++)
                sum += ridge * of[i] * of[i] / 2;
            for (var r = 0; r < rows.Count; r++)
            {
                var odds = LogOdds(of, rows[r]);
                sum += Logistic.Softplus(odds) - (outcomes[r] ? odds : 0);
            }

            return sum;
        }
    }

    /// <returns>The probability of the outcome, 0 to 1.</returns>
    public double Of(ReadOnlySpan<double> row) => Probability(_weights, row);

    private static double Probability(double[] w, ReadOnlySpan<double> row) => Logistic.Of(LogOdds(w, row));

    private static double LogOdds(double[] w, ReadOnlySpan<double> row)
    {
        var sum = w[0];
        for (var i = 0; i < row.Length; i++)
            sum += w[i + 1] * row[i];
        return sum;
    }

    /// <summary>By Cholesky's factors; only the lower half of the matrix is read.</summary>
    private static double[] Solve(double[,] matrix, double[] right)
    {
        var n = right.Length;
        var (lower, x) = (new double[n, n], (double[])right.Clone());
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = matrix[i, j];
                for (var k = 0; k < j; k++)
                    sum -= lower[i, k] * lower[j, k];
                lower[i, j] = i == j ? Math.Sqrt(Math.Max(sum, 1e-12)) : sum / lower[j, j];
            }
        }

        for (var i = 0; i < n; i++)
        {
            for (var k = 0; k < i; k++)
                x[i] -= lower[i, k] * x[k];
            x[i] /= lower[i, i];
        }

        for (var i = n - 1; i >= 0; i--)
        {
            for (var k = i + 1; k < n; k++)
                x[i] -= lower[k, i] * x[k];
            x[i] /= lower[i, i];
        }

        return x;
    }
}

/// <summary>The logistic function, without overflow.</summary>
internal static class Logistic
{
    public static double Of(double logOdds) => logOdds >= 0 ? 1 / (1 + Math.Exp(-logOdds)) : Math.Exp(logOdds) / (1 + Math.Exp(logOdds));

    /// <summary>log(1 + eˣ).</summary>
    public static double Softplus(double x) => x > 0 ? x + Math.Log(1 + Math.Exp(-x)) : Math.Log(1 + Math.Exp(x));
}
