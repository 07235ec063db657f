using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Site;

/// <summary>Parameters that only tell where a visitor came from.</summary>
public sealed class TrackingTests
{
    [Theory]
    [InlineData("https://f.example/a?ref=1&id=2", "https://f.example/a?id=2")]
    [InlineData("https://f.example/a?xy_src=1&xy_med=2", "https://f.example/a")]
    [InlineData("https://f.example/a?REF=1", "https://f.example/a")]
    [InlineData("https://f.example/a?refer=1", "https://f.example/a?refer=1")]
    [InlineData("https://f.example/a", "https://f.example/a")]
    public void ParametersAreDropped(string identity, string folded) => Assert.Equal(folded, new TrackingParameters(["ref", "xy_*", " ", "*"]).Fold(identity));

    [Fact]
    public void AValueThatDiffersInEachListIsProposed()
    {
        var results = Enumerable.Range(0, 40).SelectMany(list => new[]
        {
            (list, $"https://shop.example/p{list % 5}?vid={list * 7919}"),
            (list, $"https://shop.example/show?id={list}"),
            (list, $"https://shop.example/show?wares={list}"),
            (list, $"https://shop.example/p{list % 5}?view=grid&tint={list % 4}"),
        });
        var proposal = Assert.Single(TrackingParameters.Proposed(results));
        Assert.Equal(("vid", 40, 40, 5), (proposal.Name, proposal.Lists, proposal.Values, proposal.Pages));
        Assert.Empty(TrackingParameters.Proposed(results.Take(20)));
    }
}
