namespace JadeOrchard.Core.Refresh;

/// <summary>Whether a change of a page helped.</summary>
public enum EffectVerdict
{
    /// <summary>Fewer than <see cref="ChangeEffect.FewestDays"/> days have passed.</summary>
    TooEarly,

    /// <summary>Fewer than <see cref="ChangeEffect.FewestClicks"/> clicks, or too few pages to compare with.</summary>
    TooLittleData,

    NoEffect,
    Helped,
    Hurt,
}

/// <summary>What a change did to the clicks of a page.</summary>
/// <param name="Clicks">Clicks more than it would have got without the change, in the days after it.</param>
/// <param name="Low">The lower end of the 95 % interval of <paramref name="Clicks"/>.</param>
/// <param name="High">The upper end.</param>
/// <param name="Expected">Clicks that it would have got.</param>
/// <param name="Days">Days after the change that count, at most <see cref="Fading.Days"/>.</param>
/// <param name="Controls">Unchanged pages that it is compared with.</param>
public sealed record ChangeEffect(EffectVerdict Verdict, double Clicks, double Low, double High, double Expected, int Days, int Controls)
{
    public const int FewestDays = 14, FewestClicks = 30;

    /// <summary>Days before the change by which pages are weighted (DESIGN.md 4.18).</summary>
    public const int DaysBefore = 56;

    /// <summary>Pages with a like course that are weighted at most, and pages that are asked what chance does.</summary>
    private const int MostControls = 20, MostPlacebos = 200;

    private const int FewestControls = 3;

    /// <summary>Standard deviations of the interval: 96 % of a normal distribution, as the spread is estimated from a few dozen pages and no more than 5 % of verdicts are to be false.</summary>
    private const double Deviations = 2.054;

    /// <summary>
    /// Difference in differences against a weighted sum of pages that did not change: the weights are not negative and fitted on the days before (Abadie, Diamond and Hainmueller, Journal of
    /// the American Statistical Association 105, 2010). The interval comes from the same comparison for pages that did not change, by how far they miss in units of chance.
    /// </summary>
    /// <param name="clicks">For each page its clicks by day, all from the same first day on.</param>
    /// <param name="page">The page that changed.</param>
    /// <param name="day">The day of the change, by index; the days from it on are after it.</param>
    /// <param name="changed">Pages that changed within the days that count, this one too; they are no measure.</param>
    public static ChangeEffect Of(IReadOnlyList<long[]> clicks, int page, int day, IReadOnlySet<int> changed)
    {
        var after = Math.Min(Fading.Days, clicks[page].Length - day);
        var none = new ChangeEffect(EffectVerdict.TooEarly, 0, 0, 0, 0, Math.Max(0, after), 0);
        if (after < FewestDays)
            return none;
        if (Courses.Of(clicks, page, day, after, changed) is not { } courses)
            return none with { Verdict = EffectVerdict.TooLittleData };
        if (courses.Unchanged.Length < FewestControls)
            return none with { Verdict = EffectVerdict.TooLittleData, Controls = courses.Unchanged.Length };
        var (expected, controls) = courses.Expected(page);
        var miss = courses.After(page) - expected;
        // The most like in size tell best what chance does, and it is told in units of the chance of their own counts.
        var misses = courses.Unchanged.OrderBy(p => Math.Abs(Math.Log((1 + courses.Before(p)) / (1 + courses.Before(page))))).ThenBy(p => p).Take(MostPlacebos)
            .Select(p => courses.Expected(p) is var (e, _) ? Math.Abs(courses.After(p) - e) / Chance(e) : 0).ToList();
        // With few pages the interval is no narrower than chance alone.
        var spread = Math.Sqrt(misses.Sum(m => m * m) / misses.Count) * (1 + (1.0 / misses.Count));
        var width = Deviations * Math.Max(1, spread) * Chance(expected + (Math.Max(0, miss) / 4));
        var total = Sum(clicks[page], Math.Max(0, day - Fading.Days), Math.Min(Fading.Days, day)) + Sum(clicks[page], day, after);
        return new ChangeEffect(VerdictOf(miss, width, total), miss, miss - width, miss + width, expected, after, controls) { Total = total };
    }

    /// <summary>Clicks before and after together.</summary>
    public long Total { get; init; }

    /// <returns>What changes of several pages did together: their effects add up, and so do the squares of their chances. Null where none has been measured.</returns>
    /// <remarks>Those that are too early or cannot be compared are left out; those with too few clicks by themselves are not.</remarks>
    public static ChangeEffect? Together(IEnumerable<ChangeEffect> effects)
    {
        List<ChangeEffect> measured = [.. effects.Where(e => e.High > e.Low)];
        if (measured.Count == 0)
            return null;
        var (clicks, expected, total) = (measured.Sum(e => e.Clicks), measured.Sum(e => e.Expected), measured.Sum(e => e.Total));
        var width = Math.Sqrt(measured.Sum(e => (e.High - e.Low) * (e.High - e.Low) / 4));
        return new ChangeEffect(VerdictOf(clicks, width, total), clicks, clicks - width, clicks + width, expected, measured.Max(e => e.Days), measured.Min(e => e.Controls)) { Total = total };
    }

    /// <returns>What a page would have got without its change, for each of the days before it and after it; null where that cannot be said.</returns>
    public static double[]? CourseOf(IReadOnlyList<long[]> clicks, int page, int day, IReadOnlySet<int> changed)
    {
        var after = Math.Min(Fading.Days, clicks[page].Length - day);
        return after > 0 && Courses.Of(clicks, page, day, after, changed) is { } courses && courses.Unchanged.Length >= FewestControls ? courses.Course(page) : null;
    }

    private static EffectVerdict VerdictOf(double miss, double width, long total) =>
        total < FewestClicks ? EffectVerdict.TooLittleData : miss - width > 0 ? EffectVerdict.Helped : miss + width < 0 ? EffectVerdict.Hurt : EffectVerdict.NoEffect;

    /// <summary>The days around a change, of the page and of those that did not change.</summary>
    private sealed class Courses
    {
        private readonly Dictionary<int, double[]> _series;
        private readonly Dictionary<int, double[]> _shapes;
        private readonly int _after;

        private Courses(Dictionary<int, double[]> series, int[] unchanged, int after)
        {
            (_series, Unchanged, _after) = (series, unchanged, after);
            _shapes = series.ToDictionary(s => s.Key, s => Shape(s.Value));
        }

        public int[] Unchanged { get; }

        /// <returns>Null where too few days before it are known.</returns>
        public static Courses? Of(IReadOnlyList<long[]> clicks, int page, int day, int after, IReadOnlySet<int> changed)
        {
            if (day < DaysBefore)
                return null;
            var series = new Dictionary<int, double[]>();
            var unchanged = new List<int>();
            for (var p = 0; p < clicks.Count; p++)
            {
                var own = clicks[p];
                if (p != page && (changed.Contains(p) || Sum(own, day - DaysBefore, DaysBefore) < FewestClicks))
                    continue;
                if (p != page)
                    unchanged.Add(p);
                series[p] = [.. own.AsSpan(day - DaysBefore, DaysBefore + after).ToArray().Select(c => (double)c)];
            }

            return new Courses(series, [.. unchanged], after);
        }

        public double Before(int page) => _series[page].AsSpan(0, DaysBefore).ToArray().Sum();

        public double After(int page) => _series[page].AsSpan(DaysBefore).ToArray().Sum();

        /// <returns>Clicks after the change as the others tell, and how many others were weighted.</returns>
        public (double Clicks, int Controls) Expected(int page)
        {
            var (alike, weights, offset) = Fitted(page);
            return (Math.Max(0, Said(alike, weights, DaysBefore, _after) + (offset * _after)), weights.Count(w => w > 0));
        }

        public double[] Course(int page)
        {
            var (alike, weights, offset) = Fitted(page);
            return [.. Enumerable.Range(0, DaysBefore + _after).Select(d => Math.Max(0, Said(alike, weights, d, 1) + offset))];
        }

        /// <returns>The pages with a like course, how they are weighted, and by how much a day they miss before the change: they would go on missing that.</returns>
        private (int[] Alike, double[] Weights, double Offset) Fitted(int page)
        {
            var (own, shape) = (_series[page], _shapes[page]);
            int[] alike = [.. Unchanged.Where(o => o != page).Select(o => (o, Likeness: Dot(shape, _shapes[o]))).OrderByDescending(o => o.Likeness).ThenBy(o => o.o).Take(MostControls).Select(o => o.o)];
            var weights = LeastSquares.NonNegative([.. alike.Select(o => _series[o][..DaysBefore])], own[..DaysBefore]);
            return (alike, weights, (own[..DaysBefore].Sum() - Said(alike, weights, 0, DaysBefore)) / DaysBefore);
        }

        private double Said(int[] alike, double[] weights, int start, int days)
        {
            var sum = 0.0;
            for (var i = 0; i < alike.Length; i++)
            {
                for (var d = start; d < start + days; d++)
                    sum += weights[i] * _series[alike[i]][d];
            }

            return sum;
        }

        /// <summary>Sums of the weeks before, in which a course shows through the noise of days, around their mean and of length 1: two of them multiplied are their correlation.</summary>
        private static double[] Shape(double[] series)
        {
            var weeks = new double[DaysBefore / 7];
            for (var d = 0; d < weeks.Length * 7; d++)
                weeks[d / 7] += series[d];
            var mean = weeks.Average();
            var length = Math.Sqrt(weeks.Sum(w => (w - mean) * (w - mean)));
            return [.. weeks.Select(w => length > 0 ? (w - mean) / length : 0)];
        }

        private static double Dot(double[] a, double[] b)
        {
            var sum = 0.0;
            for (var i = 0; i < a.Length; i++)
                sum += a[i] * b[i];
            // The same course is the same whatever the order of the sum.
            return Math.Round(sum, 12);
        }
    }

    /// <summary>The standard deviation of a count and of what it is compared with, a count of about the same size.</summary>
    private static double Chance(double expected) => Math.Sqrt(Math.Max(1, expected));

    private static long Sum(long[] clicks, int start, int days)
    {
        var sum = 0L;
        for (var d = start; d < start + days; d++)
            sum += clicks[d];
        return sum;
    }
}
