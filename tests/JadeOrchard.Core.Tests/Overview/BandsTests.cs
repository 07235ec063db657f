using JadeOrchard.Core.Overview;

namespace JadeOrchard.Core.Tests.Overview;

public class BandsTests
{
    public static TheoryData<Bands> All => [Bands.Volume, Bands.Demand, Bands.Size, Bands.Words];

    [Theory]
    [InlineData(0, "0 to 9")]
    [InlineData(1, "10 to 99")]
    [InlineData(3, "1,000 to 9,999")]
    [InlineData(4, "10,000 or more")]
    public void ARangeIsNamedByItsEnds(int band, string says) => Assert.Equal(says, Bands.Volume.Says(band));

    [Fact]
    public void ARangeOfOneValueIsThatValue() => Assert.Equal("1", Bands.Size.Says(0));

    [Theory]
    [MemberData(nameof(All))]
    public void RangesFollowEachOtherWithoutAGap(Bands bands)
    {
        Assert.Equal(bands.From.Order(), bands.From);
        Assert.Equal(bands.From.Count, bands.From.Distinct().Count());
    }

    [Fact]
    public void TheConditionOfARangeHasBothItsEnds()
    {
        Assert.Equal(new Dictionary<string, string> { ["minVolume"] = "10", ["maxVolume"] = "99" }, Bands.Volume.Filter(1));
        Assert.Equal(new Dictionary<string, string> { ["minVolume"] = "10000" }, Bands.Volume.Filter(4));
    }

    [Fact]
    public void AListThatCannotBeCutOffAtTheEndIsOfferedTheLastRangeAlone()
    {
        Assert.Empty(Bands.Demand.Filter(0));
        Assert.Equal(new Dictionary<string, string> { ["minDemand"] = "10000" }, Bands.Demand.Filter(4));
    }
}
