using System.Collections.Immutable;

namespace JadeOrchard.StandIns;

/// <summary>Through what a page loses clicks.</summary>
public enum LossCause
{
    Position,
    Searches,
    ClickRate,
}

/// <summary>A page that loses clicks from a day on.</summary>
public sealed record PlantedLoss(DateOnly Since, LossCause Cause)
{
    private const int DaysUntilWhole = 21;

    /// <returns>How much of the loss is there on a day, 0 to 1.</returns>
    public double On(DateOnly day) => Math.Clamp((day.DayNumber - Since.DayNumber + 1) / (double)DaysUntilWhole, 0, 1);
}

/// <summary>What is planted in the site's search performance.</summary>
/// <param name="Losses">Pages that fade, by URL.</param>
/// <param name="Seasonal">Pages that only their season takes clicks from, by URL: calling them fading is wrong.</param>
/// <param name="UnderClicked">Keywords and URLs that get far fewer clicks than their position earns.</param>
/// <param name="Helps">For each page that a change of its title or text would help, how many times as many clicks it gets after it.</param>
/// <param name="MissingDays">Days that a partial answer lacks.</param>
public sealed record PerformancePlants(
    IReadOnlyDictionary<string, PlantedLoss> Losses, IReadOnlyList<string> Seasonal, IReadOnlySet<(string Phrase, string Url)> UnderClicked, IReadOnlyDictionary<string, double> Helps, IReadOnlyList<DateOnly> MissingDays)
{
    /// <summary>Search performance ends this many days before the scenario's own day.</summary>
    public const int DaysBehind = 2;

    /// <summary>Of the clicks that the position earns.</summary>
    public const double UnderClickedShare = 0.25;

    /// <summary>The key with which the service refuses search performance.</summary>
    public const string DeniedKey = "expired";

    private const double FadingShare = 0.12, UnderClickedOf = 0.35, StrongSeason = 0.7;
    private const int FewestClicksToFade = 60, FewestClicksToHelp = 120, FewestExpectedClicks = 12;

    private static readonly int[] MissingBefore = [9, 10, 11, 40, 77, 78];

    internal static PerformancePlants Of(Scenario scenario, GeneratedWorld world, int seed, Func<string, ScenarioTopic?> topicOf)
    {
        var last = scenario.CapturedOn.AddDays(-DaysBehind);
        double ClicksOf(OwnStanding s) => World.SearchesOn(s, last.AddDays(-14), topicOf(s.Keyword.Phrase)) * World.SeenAt(s.Position) * Core.Results.ClickCurve.Default.At(s.Position) * 28;
        // Pages with other trouble are left alone, so that what is planted about them stays as it is.
        var busy = world.Truth.SelectMany(t => new[] { t.Page, t.OtherPage }).Concat(world.Standings.Where(s => s.Turn is not null).Select(s => s.Url)).ToHashSet(StringComparer.Ordinal);
        var pages = world.Standings.Where(s => !busy.Contains(s.Url)).GroupBy(s => s.Url).Select(g => (Url: g.Key, Clicks: g.Sum(ClicksOf), Season: g.Max(s => topicOf(s.Keyword.Phrase)?.Season ?? 0)))
            .OrderBy(p => CorpusText.Hash($"{seed}|loss|{p.Url}")).ThenBy(p => p.Url, StringComparer.Ordinal).ToList();
        var strong = pages.Where(p => p.Clicks >= FewestClicksToFade).ToList();
        var fading = strong.Take((int)Math.Ceiling(strong.Count * FadingShare)).ToList();
        var losses = fading.Select((p, i) => (p.Url, Loss: new PlantedLoss(last.AddDays(-50 - (CorpusText.Hash($"{seed}|since|{p.Url}") % 60)), (LossCause)(i % 3)))).ToDictionary(p => p.Url, p => p.Loss, StringComparer.Ordinal);
        // Who searches for a brand wants that site, so that such queries are judged by no curve.
        var clicked = world.Standings.Where(s => s.Turn is null && !s.Keyword.NormalForm.Contains(scenario.Site.Name, StringComparison.OrdinalIgnoreCase) && !busy.Contains(s.Url) && !losses.ContainsKey(s.Url) && ClicksOf(s) >= FewestExpectedClicks)
            .Where(s => CorpusText.Hash($"{seed}|rate|{s.Keyword.Phrase}|{s.Url}") % 1000 < UnderClickedOf * 1000).Select(s => (s.Keyword.Phrase, s.Url)).ToHashSet();
        return new PerformancePlants(
            losses,
            [.. pages.Where(p => p.Season >= StrongSeason && !losses.ContainsKey(p.Url)).Select(p => p.Url).Order(StringComparer.Ordinal)],
            clicked,
            pages.Where(p => p.Clicks >= FewestClicksToHelp && !losses.ContainsKey(p.Url)).Where(p => CorpusText.Hash($"{seed}|helps|{p.Url}") % 2 == 0)
                .ToImmutableSortedDictionary(p => p.Url, p => 1.5 + (CorpusText.Hash($"{seed}|factor|{p.Url}") % 40 * 0.01), StringComparer.Ordinal),
            [.. MissingBefore.Select(d => last.AddDays(-d)).Order()]);
    }

    /// <summary>As rows of the truth file: kind, phrase, page, number, what is planted, and why in words.</summary>
    public IEnumerable<object?[]> Rows() =>
    [
        .. Losses.OrderBy(l => l.Key, StringComparer.Ordinal).Select(l => new object?[] { "fading", "", l.Key, l.Value.Since.ToString("yyyy-MM-dd", null), "trouble", l.Value.Cause switch { LossCause.Position => "It stands lower from that day on.", LossCause.Searches => "Fewer people search for it from that day on.", _ => "Fewer people choose it from that day on, at the same position." } }),
        .. Seasonal.Select(url => new object?[] { "fading", "", url, "", "decoy", "Only its season is over." }),
        .. UnderClicked.OrderBy(u => u.Phrase, StringComparer.Ordinal).ThenBy(u => u.Url, StringComparer.Ordinal).Select(u => new object?[] { "under-clicked", u.Phrase, u.Url, UnderClickedShare, "trouble", "It gets this share of the clicks that its position earns." }),
        .. Helps.Select(h => new object?[] { "change-helps", "", h.Key, Math.Round(h.Value, 2), "effect", "Its clicks are multiplied by this from the day its title or text changes." }),
        .. MissingDays.Select(d => new object?[] { "missing-day", "", "", d.ToString("yyyy-MM-dd", null), "trouble", "A partial answer lacks it." }),
        ["denied-key", "", "", DeniedKey, "trouble", "The service refuses search performance to this key."],
    ];
}
