using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Plan;

/// <summary>What a step could gain, with its parts. For prioritising, not a forecast.</summary>
/// <param name="Searches">Per month, of the keywords; unknown volumes left out; null where none is known.</param>
/// <param name="From">The best position of the page now; 0 where it stands nowhere.</param>
/// <param name="Difficulty">Mean of the keywords, weighted by volume; null where none is known.</param>
/// <param name="Clicks">More a month.</param>
public readonly record struct StepGain(long? Searches, int From, double? Difficulty, double Clicks)
{
    /// <param name="keywords">The keywords of the page’s clusters: as they are known, with unknown numbers filled in, and the page’s position (0 if it does not rank).</param>
    /// <param name="curve">The share of clicks at each position.</param>
    public static StepGain Of(IEnumerable<(Keyword Known, Keyword Weighed, int Position)> keywords, ClickCurve curve)
    {
        var (searches, clicks, from) = ((long?)null, 0.0, 0);
        var (difficulty, weight) = (0.0, 0.0);
        foreach (var (known, weighed, position) in keywords)
        {
            searches = known.Volume is { } volume ? (searches ?? 0) + volume : searches;
            clicks += ExpectedGain.Of(weighed, position, curve);
            if (position > 0 && (from == 0 || position < from))
                from = position;
            if (known.Difficulty is { } d)
            {
                var w = Math.Max(1, weighed.Volume ?? 1);
                (difficulty, weight) = (difficulty + (d * w), weight + w);
            }
        }

        return new StepGain(searches, from, weight > 0 ? difficulty / weight : null, clicks);
    }

    /// <returns>"1,240 searches, from 8th to 3rd, difficulty 34: about 64 clicks a month".</returns>
    public override string ToString()
    {
        var way = From == 0 ? $"from nowhere to {Ordinal(ClickCurve.TargetPosition)}"
            : From <= ClickCurve.TargetPosition ? $"{Ordinal(From)} already at best"
            : $"from {Ordinal(From)} to {Ordinal(ClickCurve.TargetPosition)}";
        return FormattableString.Invariant($"{(Searches is { } known ? Counted(known, "search", "searches") : "volume unknown")}, {way}, ")
            + (Difficulty is { } d ? FormattableString.Invariant($"difficulty {d:0}") : "difficulty unknown") + $": about {Counted((long)Math.Round(Clicks), "click", "clicks")} a month";
    }

    private static string Counted(long count, string one, string many) => $"{count.ToString("N0", CultureInfo.InvariantCulture)} {(count == 1 ? one : many)}";

    private static string Ordinal(int n) => n + ((n % 100) is >= 11 and <= 13 ? "th" : (n % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" });
}
