using CsCheck;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Core.Tests.Refresh;

/// <summary>Changes that are close together, their effects together, moves of ranks, drift, and the months of queries.</summary>
public sealed class ChangeSetTests
{
    private static readonly DateOnly Day = new(2026, 3, 1);

    private static readonly Gen<MadeChange[]> Changes = Gen.Select(Gen.Long[1, 4], Gen.Int[0, 120], Gen.Enum<ChangeKind>(), Gen.Enum<ChangeSource>(), Gen.Long[1, 1_000])
        .Select(c => new MadeChange(new PageId(c.Item1), Day.AddDays(c.Item2), c.Item4, c.Item3, "", "", new StepId(c.Item5))).Array[0, 30];

    /// <summary>Every change is in one set, sets of a page are apart, changes within one are not, and the order of rows is no matter.</summary>
    [Fact]
    public void ChangesCloseTogetherAreOneInAnyOrder() => Changes.Sample(changes =>
    {
        var sets = ChangeSet.Of(changes);
        Assert.Equal(changes.Length, sets.Sum(s => s.Changes.Count));
        Assert.Equal(sets.Select(s => (s.PageId, s.Day, s.LastDay, s.Changes.Count)), ChangeSet.Of(changes.Reverse()).Select(s => (s.PageId, s.Day, s.LastDay, s.Changes.Count)));
        foreach (var page in sets.GroupBy(s => s.PageId))
        {
            foreach (var (earlier, later) in page.Reverse().Zip(page.Reverse().Skip(1)))
                Assert.True(later.Day.DayNumber - earlier.LastDay.DayNumber >= ChangeSet.DaysApart);
        }

        Assert.All(sets, s => Assert.All(s.Changes.Zip(s.Changes.Skip(1)), p => Assert.True(p.Second.Day.DayNumber - p.First.Day.DayNumber < ChangeSet.DaysApart)));
        var near = ChangeSet.Near(sets, p => (int)p.Value);
        Assert.All(sets.Zip(near), s => Assert.Contains((int)s.First.PageId.Value, s.Second));
    });

    /// <summary>Ten pages that a change lifts by a little each: none is certain by itself, all together are.</summary>
    [Fact]
    public void EffectsTogetherAreTheSumAndTheirIntervalGrowsByTheRoot()
    {
        var one = new ChangeEffect(EffectVerdict.NoEffect, 10, -5, 25, 100, 28, 12) { Total = 200 };
        var all = ChangeEffect.Together(Enumerable.Repeat(one, 10))!;
        Assert.Equal((EffectVerdict.Helped, 100, 1000), (all.Verdict, all.Clicks, all.Expected));
        Assert.Equal(15 * Math.Sqrt(10), all.High - all.Clicks, 9);
        Assert.Null(ChangeEffect.Together([new ChangeEffect(EffectVerdict.TooEarly, 0, 0, 0, 0, 3, 0)]));
        // Clicks too few by themselves count with the others.
        var few = one with { Verdict = EffectVerdict.TooLittleData, Clicks = 4, Low = -2, High = 10, Total = 20 };
        Assert.NotEqual(EffectVerdict.TooLittleData, ChangeEffect.Together([few, few])!.Verdict);
    }

    [Fact]
    public void TheCourseWithoutAChangeAddsUpToWhatWasExpected()
    {
        var random = new Random(5);
        long[][] clicks = [.. Enumerable.Range(0, 12).Select(p => Enumerable.Range(0, 120).Select(d => (long)(20 + (6 * Math.Sin(d / 9.0)) + random.Next(5))).ToArray())];
        for (var d = 80; d < 120; d++)
            clicks[3][d] += 15;
        var effect = ChangeEffect.Of(clicks, 3, 80, new HashSet<int> { 3 });
        Assert.Equal(EffectVerdict.Helped, effect.Verdict);
        Assert.InRange(28 * 15, effect.Low, effect.High);
        var course = ChangeEffect.CourseOf(clicks, 3, 80, new HashSet<int> { 3 })!;
        Assert.Equal(ChangeEffect.DaysBefore + 28, course.Length);
        Assert.Equal(effect.Expected, course.Skip(ChangeEffect.DaysBefore).Sum(), 6);
        // Before the change it is what the page got.
        Assert.Equal(clicks[3].Skip(80 - ChangeEffect.DaysBefore).Take(ChangeEffect.DaysBefore).Sum(), course.Take(ChangeEffect.DaysBefore).Sum(), 3);
        Assert.Null(ChangeEffect.CourseOf(clicks, 3, 20, new HashSet<int> { 3 }));
    }

    [Theory]
    [InlineData(null, 3, RankMove.Unknown)]
    [InlineData(3, null, RankMove.Unknown)]
    [InlineData(0, 0, RankMove.Absent)]
    [InlineData(0, 7, RankMove.Arrived)]
    [InlineData(7, 0, RankMove.Left)]
    [InlineData(7, 3, RankMove.Up)]
    [InlineData(3, 7, RankMove.Down)]
    [InlineData(3, 3, RankMove.Same)]
    public void MovesAreTold(int? before, int? after, RankMove move) => Assert.Equal(move, RankMoves.Of(before, after));

    /// <summary>Tables of the binomial distribution: 3 or more of 10 at a tenth 0.0702, 2 or more of 5 at a half 0.8125, 10 of 10 at a half 1/1024.</summary>
    [Theory]
    [InlineData(3, 10, 0.1, 0.0702)]
    [InlineData(2, 5, 0.5, 0.8125)]
    [InlineData(10, 10, 0.5, 0.00098)]
    public void DriftsTailIsTheBinomials(int count, int of, double rate, double expected) => Assert.Equal(expected, Drift.Tail(count, of, rate), 4);

    /// <summary>A tenth of all pairs crosses by noise; one cluster of twenty loses eight of ten.</summary>
    [Fact]
    public void OnlyWhatDriftsBeyondTheNoiseOfAllIsFlagged()
    {
        var random = new Random(3);
        List<SharedThenAndNow<int, int>> pairs = [.. Enumerable.Range(0, 200).Select(i => new SharedThenAndNow<int, int>(i / 10, i, 6, i / 10 == 7 ? (i % 10 < 8 ? 1 : 6) : random.Next(10) == 0 ? 3 : 6))];
        var flagged = Assert.Single(Drift.Apart(pairs, 4));
        Assert.Equal((7, 10, 8), (flagged.Group, flagged.Pairs, flagged.Keywords.Count));
        Assert.Empty(Drift.Together(pairs, 4));
        // The same from below the minimum to above it is a drift together.
        var together = Assert.Single(Drift.Together(pairs.Select(p => p with { Then = 1, Now = 7 - p.Now }), 4));
        Assert.Equal((7, 8), (together.Group, together.Keywords.Count));
    }

    [Fact]
    public void MonthsOfQueriesAreWholeAndWithoutMissingDays()
    {
        var (first, last) = (new DateOnly(2025, 7, 29), new DateOnly(2026, 11, 10));
        DailyPerformance Of(params DateOnly[] missing)
        {
            var builder = new DailyPerformance.Builder();
            for (var day = first; day <= last; day = day.AddDays(1))
            {
                if (missing.Contains(day))
                    continue;
                builder.Add(0, 0, new DayFigures(day.DayNumber, 1, day.Month == 7 ? 30 : 10, 50));
                builder.Add(1, 1, new DayFigures(day.DayNumber, 0, day.Day == 1 ? 1 : 0, 5));
            }

            return builder.Build(2);
        }

        var months = Assert.Single(QueryMonths.Of(Of(), _ => true)).Value;
        Assert.Equal((new DateOnly(2026, 10, 1), 15), (months.Newest, months.Volumes.Length));
        Assert.Equal([310, 300], new[] { months.Volumes[0], months.Volumes[1] });
        Assert.Equal([7], Season.Of(months, isCounted: true).Peaks.ToArray());
        Assert.Empty(QueryMonths.Of(Of(new DateOnly(2026, 2, 3)), _ => true));
        // A day that is missing before the first whole month is no matter.
        Assert.NotEmpty(QueryMonths.Of(Of(new DateOnly(2025, 7, 30)), _ => true));
        Assert.Empty(QueryMonths.Of(Of(), _ => false));
    }

    [Fact]
    public void ASeasonTellsTrendAndPeaks()
    {
        // Two years that rise, with twice as much in June.
        var months = MonthlyVolumes.Of([.. Enumerable.Range(0, 24).Select(i => (long)((100 + (4 * i)) * (i % 12 == 5 ? 2 : 1)))], new DateOnly(2026, 1, 15))!;
        var season = Season.Of(months, isCounted: false);
        Assert.Equal((Direction.Rising, new DateOnly(2025, 12, 1)), (season.Direction, season.Newest));
        Assert.Equal([6], season.Peaks.ToArray());
        Assert.Equal([6], Season.MonthsOf(season.PeakBits()).ToArray());
        Assert.Equal(Direction.Falling, Season.Of(months with { Volumes = [.. months.Volumes.Reverse()] }, isCounted: false).Direction);
        Assert.Equal(Direction.Level, Season.Of(months with { Volumes = [.. Enumerable.Repeat(50L, 24)] }, isCounted: true).Direction);
    }

    [Fact]
    public void EveryVerdictHasASentenceWithItsNumbers()
    {
        Assert.Contains("No search performance", EffectText.Says(null), StringComparison.Ordinal);
        Assert.Contains("3 days", EffectText.Says(new ChangeEffect(EffectVerdict.TooEarly, 0, 0, 0, 0, 3, 0)), StringComparison.Ordinal);
        Assert.Contains("22 clicks", EffectText.Says(new ChangeEffect(EffectVerdict.TooLittleData, 1, -3, 5, 10, 28, 9) { Total = 22 }), StringComparison.Ordinal);
        Assert.Contains("−3 clicks in 28 days, 95 % between −20 and +14, against 1,240 expected", EffectText.Says(new ChangeEffect(EffectVerdict.NoEffect, -3, -20, 14, 1240, 28, 9)), StringComparison.Ordinal);
        Assert.Contains("50 clicks more in 20 days", EffectText.Says(new ChangeEffect(EffectVerdict.Helped, 50, 20, 80, 100, 20, 9)), StringComparison.Ordinal);
        Assert.Contains("50 clicks fewer in 20 days than without the change, 95 % between 20 and 80", EffectText.Says(new ChangeEffect(EffectVerdict.Hurt, -50, -80, -20, 100, 20, 9)), StringComparison.Ordinal);
        Assert.Equal(("new title", "new titles", "changed text", "other change"), (EffectText.Name(ChangeKind.Title), EffectText.Name(ChangeKind.Title, isMany: true), EffectText.Name(ChangeKind.Text), EffectText.Name(ChangeKind.Other)));
    }
}
