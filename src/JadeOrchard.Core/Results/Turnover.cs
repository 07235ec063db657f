namespace JadeOrchard.Core.Results;

/// <summary>Two captures of a keyword, one after the other.</summary>
/// <param name="Days">Between them, 1 or more.</param>
/// <param name="Compared">Results of the earlier one, 1 or more.</param>
/// <param name="Kept">Of them in the later one.</param>
public readonly record struct Repeat(KeywordId KeywordId, int Days, int Compared, int Kept);

/// <summary>How fast the results of keywords change, learned from captures that were repeated: which have probably changed since.</summary>
/// <remarks>
/// Results are taken to leave a list at random times, at a rate of the keyword's own. What was kept over a time tells the rate: −ln((kept + ½) / (compared + ½)),
/// which also serves where nothing or everything was kept (Cho and Garcia-Molina, "Estimating frequency of change", ACM TOIT 3, 2003). A keyword with
/// few captures leans towards all others, as if it had been captured once more with what is usual.
/// </remarks>
public sealed class Turnover
{
    /// <summary>Where nothing was captured twice: a tenth of the results in 30 days, from memory. It serves to put keywords in order by age.</summary>
    private const double UsualRate = 0.1 / 30;

    private readonly Dictionary<KeywordId, (double Gone, double Days, int Lists, double Results)> _seen = [];
    private readonly double _usualDays;

    /// <param name="repeats">In any order; a keyword may have several.</param>
    public Turnover(IEnumerable<Repeat> repeats)
    {
        foreach (var repeat in repeats)
        {
            var (gone, days, lists, results) = _seen.GetValueOrDefault(repeat.KeywordId);
            var one = -Math.Log((repeat.Kept + 0.5) / (repeat.Compared + 0.5));
            _seen[repeat.KeywordId] = (gone + one, days + repeat.Days, lists + 1, results + repeat.Compared);
        }

        // By keyword: the order of the repeats must not change the sums.
        var all = _seen.OrderBy(s => s.Key).Select(s => s.Value).ToList();
        var count = all.Sum(s => s.Lists);
        (_usualDays, Usual) = count == 0 ? (30, UsualRate) : (all.Sum(s => s.Days) / count, all.Sum(s => s.Gone) / all.Sum(s => s.Days));
        UsualLength = count == 0 ? 10 : all.Sum(s => s.Results) / count;
    }

    /// <summary>The rate at which a result goes, per day, of all keywords together.</summary>
    public double Usual { get; }

    private double UsualLength { get; }

    /// <returns>The rate at which a result of a keyword goes, per day.</returns>
    public double RateOf(KeywordId keywordId) =>
        _seen.TryGetValue(keywordId, out var own) ? (own.Gone + (Usual * _usualDays)) / (own.Days + _usualDays) : Usual;

    /// <param name="keywordId">The keyword.</param>
    /// <param name="days">Since it was captured.</param>
    /// <returns>The probability that at least one of its results is another now, 0 to 1.</returns>
    public double Changed(KeywordId keywordId, int days) => 1 - Math.Exp(-RateOf(keywordId) * UsualLength * Math.Max(0, days));
}
