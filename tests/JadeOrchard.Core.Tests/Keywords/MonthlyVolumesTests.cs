using System.Collections.Immutable;
using CsCheck;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

public sealed class MonthlyVolumesTests
{
    private static readonly DateOnly Today = new(2026, 11, 28);

    [Fact]
    public void TheNewestIsTheLastMonthThatIsOver()
    {
        var months = MonthlyVolumes.Parse("10|20|30|40|50|60|70|80|90|100|110| 120", Today)!;
        Assert.Equal((new DateOnly(2026, 10, 1), 120L), (months.Newest, months.Volumes[^1]));
        Assert.Equal(months, MonthlyVolumes.Stored(months.ToString()));
        Assert.Equal("10|20|30|40|50|60|70|80|90|100|110|120", months.Numbers);
    }

    [Theory]
    [InlineData("")]
    [InlineData("1|2|3|4|5|6|7|8|9|10|11")]
    [InlineData("1|2|3|4|5|6|7|8|9|10|11|-12")]
    [InlineData("1|2|3|4|5|6|7|8|9|10|11|many")]
    [InlineData("1,2,3,4,5,6,7,8,9,10,11,12")]
    public void OtherListsAreNone(string text) => Assert.Null(MonthlyVolumes.Parse(text, Today));

    [Fact]
    public void OfMoreThanFourYearsTheNewestCount() =>
        Assert.Equal(Enumerable.Range(13, 48).Select(i => (long)i), MonthlyVolumes.Parse(string.Join('|', Enumerable.Range(1, 60)), Today)!.Volumes);

    /// <summary>Calculated on paper: the mean of the year is 100, so 150 is a peak and 149 is not.</summary>
    [Fact]
    public void PeaksAreMonthsOfHalfAsMuchAgain()
    {
        // November to October; December has 151, July 150, August 149.
        var months = MonthlyVolumes.Parse("75|151|75|75|75|75|75|75|150|149|75|150", Today)!;
        Assert.Equal(100, months.Volumes.Average());
        Assert.Equal("7, 10, 12", string.Join(", ", months.PeakMonths()));
        Assert.Empty(MonthlyVolumes.Parse("0|0|0|0|0|0|0|0|0|0|0|0", Today)!.PeakMonths());
        Assert.Empty(MonthlyVolumes.Parse("9|9|9|9|9|9|9|9|9|9|9|9", Today)!.PeakMonths());
    }

    [Theory]
    // Eight weeks before 1 June 2027.
    [InlineData(new[] { 6, 7, 8 }, "2027-06-01", "2027-04-06")]
    // Over the turn of the year it begins in December, and with less than six weeks it is too late for this one.
    [InlineData(new[] { 1, 12 }, "2027-12-01", "2027-10-06")]
    // Nine weeks ahead.
    [InlineData(new[] { 2 }, "2027-02-01", "2026-12-07")]
    // Less than eight weeks, but not too late.
    [InlineData(new[] { 1 }, "2027-01-01", "2026-11-15", "2026-11-15")]
    public void WorkIsDueEightWeeksBeforeAPeak(int[] peaks, string peak, string due, string? today = null) =>
        Assert.Equal((Day(peak), Day(due)), MonthlyVolumes.NextPeak(peaks, today is null ? Today : Day(today)));

    [Fact]
    public void WithoutAPeakNothingIsDue()
    {
        Assert.Null(MonthlyVolumes.NextPeak([], Today));
        Assert.Null(MonthlyVolumes.NextPeak([.. Enumerable.Range(1, 12)], Today));
    }

    [Fact]
    public void ASumIsOfTheMonthsThatAllHave()
    {
        var late = new MonthlyVolumes(new DateOnly(2026, 10, 1), [.. Enumerable.Range(0, 14).Select(i => (long)i)]);
        var early = new MonthlyVolumes(new DateOnly(2026, 9, 1), [.. Enumerable.Range(100, 24).Select(i => (long)i)]);
        var sum = MonthlyVolumes.Sum([late, early])!;
        Assert.Equal(new DateOnly(2026, 9, 1), sum.Newest);
        Assert.Equal(Enumerable.Range(0, 13).Select(i => (long)(i + 111 + i)), sum.Volumes);
        Assert.Null(MonthlyVolumes.Sum([late, new MonthlyVolumes(new DateOnly(2026, 7, 1), early.Volumes)]));
        Assert.Null(MonthlyVolumes.Sum([]));
    }

    [Fact]
    public void ASumIsTheSameInAnyOrder() => Gen.Select(Gen.Int[0, 8], Gen.Long[0, 9_999].Array[12, 30]).Array[1, 6].Sample(given =>
    {
        ImmutableArray<MonthlyVolumes> several = [.. given.Select(g => new MonthlyVolumes(new DateOnly(2026, 10, 1).AddMonths(-g.Item1), [.. g.Item2]))];
        Assert.Equal(MonthlyVolumes.Sum(several), MonthlyVolumes.Sum([.. several.Reverse()]));
        Assert.All(several, m => Assert.Equal(m, MonthlyVolumes.Sum([m])));
    });

    private static DateOnly Day(string text) => DateOnly.ParseExact(text, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
}
