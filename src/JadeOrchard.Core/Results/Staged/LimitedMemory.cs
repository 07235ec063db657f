namespace JadeOrchard.Core.Results.Staged;

/// <summary>Finds where a smooth function of many numbers is small (Nocedal and Wright, "Numerical Optimization", 2nd edition 2006, algorithms 7.4 and 7.5).</summary>
internal static class LimitedMemory
{
    /// <summary>Steps that are remembered.</summary>
    private const int Memory = 8;

    /// <summary>The part of the promised decrease that a step has to bring (the book's c₁).</summary>
    private const double Enough = 1e-4;

    private const double SmallGain = 1e-7;

    /// <returns>The value at a point; the slope is written into the second.</returns>
    public delegate double Function(ReadOnlySpan<double> at, Span<double> gradient);

    public static double[] Minimize(double[] start, Function function, int steps)
    {
        var (x, gradient) = ((double[])start.Clone(), new double[start.Length]);
        var value = function(x, gradient);
        var memory = new List<(double[] Moved, double[] Bent, double Inverse)>();
        var factors = new double[Memory];
        for (var step = 0; step < steps; step++)
        {
            var direction = (double[])gradient.Clone();
            for (var i = memory.Count - 1; i >= 0; i--)
            {
                factors[i] = memory[i].Inverse * Dot(memory[i].Moved, direction);
                AddTo(direction, memory[i].Bent, -factors[i]);
            }

            var scale = memory.Count == 0 ? 1 / Math.Max(1, Math.Sqrt(Dot(gradient, gradient))) : 1 / (memory[^1].Inverse * Dot(memory[^1].Bent, memory[^1].Bent));
            for (var i = 0; i < direction.Length; i++)
                direction[i] *= scale;
            for (var i = 0; i < memory.Count; i++)
                AddTo(direction, memory[i].Moved, factors[i] - (memory[i].Inverse * Dot(memory[i].Bent, direction)));
            var slope = -Dot(gradient, direction);
            if (slope >= 0)
                break;
            var (next, nextGradient, length) = (new double[x.Length], new double[x.Length], 1.0);
            double nextValue;
            while (true)
            {
                x.CopyTo(next, 0);
                AddTo(next, direction, -length);
                nextValue = function(next, nextGradient);
                if (nextValue <= value + (Enough * length * slope) || length < 1e-10)
                    break;
                length /= 2;
            }

            if (!(nextValue < value))
                break;
            var (moved, bent) = (new double[x.Length], new double[x.Length]);
            for (var i = 0; i < x.Length; i++)
                (moved[i], bent[i]) = (next[i] - x[i], nextGradient[i] - gradient[i]);
            if (Dot(moved, bent) is > 1e-12 and var curvature)
            {
                if (memory.Count == Memory)
                    memory.RemoveAt(0);
                memory.Add((moved, bent, 1 / curvature));
            }

            var gained = value - nextValue;
            (x, gradient, value) = (next, nextGradient, nextValue);
            if (gained <= SmallGain * (1 + Math.Abs(value)))
                break;
        }

        return x;
    }

    private static double Dot(double[] a, double[] b)
    {
        var sum = 0.0;
        for (var i = 0; i < a.Length; i++)
            sum += a[i] * b[i];
        return sum;
    }

    private static void AddTo(double[] sum, double[] what, double times)
    {
        for (var i = 0; i < sum.Length; i++)
            sum[i] += times * what[i];
    }
}
