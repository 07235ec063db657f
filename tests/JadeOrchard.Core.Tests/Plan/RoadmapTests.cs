using CsCheck;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class RoadmapTests
{
    private static readonly DateOnly Monday = new(2026, 11, 30);
    private static readonly Person Ada = new("Ada", 10, []);

    /// <summary>ISO 8601: weeks begin on Monday.</summary>
    [Theory]
    [InlineData("2026-11-30", "2026-11-30")]
    [InlineData("2026-12-06", "2026-11-30")]
    [InlineData("2027-01-01", "2026-12-28")]
    public void WeeksBeginOnMonday(string day, string monday) => Assert.Equal(DateOnly.Parse(monday, System.Globalization.CultureInfo.InvariantCulture), Roadmap.MondayOf(DateOnly.Parse(day, System.Globalization.CultureInfo.InvariantCulture)));

    [Fact]
    public void WeeksAreFilledInOrderAndSmallStepsUseWhatIsLeft()
    {
        var roadmap = Roadmap.Of([new(6, 9), new(6, 8), new(4, 7), new(25, 1)], [0, 1, 2, 3], [], [Ada], Monday, null);
        Assert.Equal([0, 1, 0, 1], Weeks(roadmap));
        // Longer than a week: from the first free hours on, 4 + 10 + 10 + 1.
        Assert.Equal(Monday.AddDays(28), roadmap.Places[3].Last);
    }

    [Fact]
    public void WhatComesBeforeEndsFirstAndOwnersKeepTheirSteps()
    {
        var bob = new Person("Bob", 40, []);
        var roadmap = Roadmap.Of([new(8, 1, "ada"), new(2, 50), new(2, 40, "Ada")], [0, 1, 2], [(0, 1)], [Ada, bob], Monday, null);
        Assert.Equal([0, 0, 0], Weeks(roadmap));
        Assert.Equal([0, 0, 1], [roadmap.Places[0].Person, roadmap.Places[2].Person, roadmap.Places[1].Person]);
        // The same with a step that takes Ada two weeks: what needs it waits.
        Assert.Equal(1, Weeks(Roadmap.Of([new(15, 1, "Ada"), new(2, 50)], [0, 1], [(0, 1)], [Ada, bob], Monday, null))[1]);
    }

    [Fact]
    public void DaysOffTakeAFifthAndWeekendsNothing()
    {
        var away = Ada with { DaysOff = [Monday, Monday.AddDays(1), Monday.AddDays(5), Monday.AddDays(1)] };
        Assert.Equal(6, away.HoursIn(Monday));
        Assert.Equal([1, 0], Weeks(Roadmap.Of([new(7, 2), new(6, 1)], [0, 1], [], [away], Monday, null)));
    }

    [Fact]
    public void ASeasonBringsForwardOnlyWhatWouldMissIt()
    {
        // In time by itself, it keeps its place, however far its season is.
        Assert.Equal([0, 1, 2], Weeks(Roadmap.Of([new(10, 9, Season: Monday.AddDays(200)), new(10, 8), new(10, 7)], [0, 1, 2], [], [Ada], Monday, null)));
        // The last would be done in the third week, but is needed in the second; what that pushes back is told.
        var roadmap = Roadmap.Of([new(10, 9), new(10, 8), new(10, 7, Season: Monday.AddDays(7))], [0, 1, 2], [], [Ada], Monday, null);
        Assert.Equal([0, 2, 1], Weeks(roadmap));
        Assert.Equal(new Displaced(1, 1), Assert.Single(roadmap.Displaced));
        // One that is brought forward may push back another with a season, which then goes before the first.
        Assert.Equal([2, 1, 0], Weeks(Roadmap.Of([new(10, 9), new(10, 8, Season: Monday.AddDays(7)), new(10, 7, Season: Monday.AddDays(7))], [0, 1, 2], [], [Ada], Monday, null)));
        // Too late for anybody, it says so; a due date of its own counts more.
        Assert.True(Roadmap.Of([new(30, 9, Season: Monday.AddDays(7))], [0], [], [Ada], Monday, null).Places[0].IsLate);
        Assert.Equal([2], Weeks(Roadmap.Of([new(10, 9, Due: Monday.AddDays(15), Season: Monday)], [0], [], [Ada], Monday, null)));
    }

    [Fact]
    public void DueDatesStayAndSayWhatTheyPushBack()
    {
        var roadmap = Roadmap.Of([new(10, 9), new(10, 1, Due: Monday.AddDays(3)), new(10, 5)], [0, 2, 1], [], [Ada], Monday, Monday.AddDays(14));
        Assert.Equal([1, 0, 2], Weeks(roadmap));
        Assert.Equal([new Displaced(0, 1), new Displaced(2, 1)], roadmap.Displaced.AsEnumerable());
        // Not enough hours before it: late, and told so.
        var late = Roadmap.Of([new(10, 9, Due: Monday), new(10, 1, Due: Monday)], [0, 1], [], [Ada], Monday, null);
        Assert.Equal([false, true], late.Places.Select(p => p.IsLate));
        // What does not fit before the end has no week.
        Assert.Equal([0, null], Roadmap.Of([new(10, 9), new(10, 1)], [0, 1], [], [Ada], Monday, Monday.AddDays(6)).Places.Select(p => p.First is { } f ? (f.DayNumber - Monday.DayNumber) / 7 : (int?)null));
    }

    [Fact]
    public void NobodyWorksMoreThanTheirHoursWhateverTheInput() =>
        Gen.Select(Gen.Select(Gen.Double[0.25, 30], Gen.Int[0, 20], Gen.Int[-1, 2]).Array[1, 25], Gen.Select(Gen.Int[0, 24], Gen.Int[0, 24]).Array[0, 20], Gen.Double[1, 40].Array[1, 3]).Sample((given, pairs, hours) =>
        {
            RoadmapStep[] steps = [.. given.Select(g => new RoadmapStep(g.Item1, g.Item2, g.Item3 < 0 ? null : $"p{g.Item3}", g.Item2 > 16 ? Monday.AddDays(g.Item2) : null))];
            (int First, int Then)[] before = [.. pairs.Where(p => p.Item1 < p.Item2 && p.Item2 < steps.Length)];
            var order = StepOrder.Of([.. steps.Select(s => s.Gain / s.Hours)], before);
            Person[] people = [.. hours.Select((h, i) => new Person($"p{i}", h, []))];
            var roadmap = Roadmap.Of(steps, order, before, people, Monday, null);
            Assert.Equal(roadmap.Places.AsEnumerable(), Roadmap.Of(steps, order, before, people, Monday, null).Places);
            var whole = roadmap.Places.Where(p => p.First is not null && p.First == p.Last).GroupBy(p => (p.Person, p.First));
            Assert.All(whole, g => Assert.True(g.Sum(p => steps[p.Step].Hours) <= people[g.Key.Person].HoursPerWeek + 1e-6));
            Assert.All(before.Where(b => steps[b.Then].Due is null), b => Assert.True(roadmap.Places[b.First].Last is null || roadmap.Places[b.Then].First is null || roadmap.Places[b.First].Last <= roadmap.Places[b.Then].First));
        });

    private static List<int> Weeks(Roadmap roadmap) => [.. roadmap.Places.Select(p => (p.First!.Value.DayNumber - Monday.DayNumber) / 7)];
}
