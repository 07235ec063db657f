using JadeOrchard.Core.Keywords;

namespace JadeOrchard.StandIns;

/// <summary>How often keywords are searched for month by month.</summary>
public static class Seasons
{
    private const int Months = 24;

    /// <summary>Of the volume, up or down, by chance.</summary>
    private const double Chance = 0.12;

    /// <returns>The share of a day or a month in the year's mean: <paramref name="strength"/> more in the middle of the season, as much less half a year later.</returns>
    /// <param name="dayOfYear">1 to 366.</param>
    /// <param name="strength">0 to 1.</param>
    /// <param name="month">The month in the middle of the season, 1 to 12.</param>
    public static double Share(int dayOfYear, double strength, int month) => 1 + (strength * Math.Cos((dayOfYear - MiddleOf(month)) * 2 * Math.PI / 365));

    /// <summary>Volumes of the last two years before a day; null where the volume is unknown.</summary>
    public static MonthlyVolumes? Of(Keyword keyword, ScenarioTopic? topic, DateOnly today)
    {
        if (keyword.Volume is not { } volume)
            return null;
        var first = new DateOnly(today.Year, today.Month, 1).AddMonths(-Months);
        return MonthlyVolumes.Of(
            [.. Enumerable.Range(0, Months).Select(first.AddMonths).Select(m =>
            {
                var chance = 1 + (Chance * ((CorpusText.Hash($"{keyword.Phrase}|{m:yyyy-MM}") % 2001 / 1000.0) - 1));
                return (long)Math.Round(volume * chance * (topic is null ? 1 : Share(MiddleOf(m.Month), topic.Season, topic.SeasonMonth)));
            })],
            today);
    }

    /// <returns>The day of the year in the middle of a month.</returns>
    private static int MiddleOf(int month) => new DateOnly(2025, month, 16).DayOfYear;
}
