using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Findings;

public sealed class FindingTextTests
{
    public static TheoryData<FindingKind> Kinds => [.. Enum.GetValues<FindingKind>()];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void EveryKindHasANameAnAdviceAndASentenceWithItsPages(FindingKind kind)
    {
        Assert.Matches("^[a-z ]{5,}$", FindingText.Name(kind));
        Assert.EndsWith(".", FindingText.Advice(kind), StringComparison.Ordinal);
        var sentence = FindingText.Sentence(kind, "/suits", isPageDecided: true, "/guide", "kayak insurance");
        Assert.EndsWith(".", sentence, StringComparison.Ordinal);
        Assert.DoesNotContain("“”", sentence, StringComparison.Ordinal);
        if (kind is not (FindingKind.NoPage or FindingKind.OpenQuestion))
            Assert.Contains("/suits", sentence, StringComparison.Ordinal);
    }

    [Fact]
    public void AnAssignedPageIsToldFromASuggestedOne()
    {
        Assert.Contains("the assigned page", FindingText.Sentence(FindingKind.Absent, "/a", isPageDecided: true, null, null), StringComparison.Ordinal);
        Assert.Contains("the suggested page", FindingText.Sentence(FindingKind.Absent, "/a", isPageDecided: false, null, null), StringComparison.Ordinal);
        Assert.Contains("No page of the site", FindingText.Sentence(FindingKind.Absent, null, isPageDecided: false, null, null), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("https://www.fenwater.example/a?b=1", "fenwater.example", "/a?b=1")]
    [InlineData("HTTP://FENWATER.example", "www.fenwater.example", "/")]
    [InlineData("https://fenwater.example?q=1", "fenwater.example", "?q=1")]
    [InlineData("https://fenwater.example.org/a", "fenwater.example", "fenwater.example.org/a")]
    [InlineData("https://blog.fenwater.example/a", "fenwater.example", "blog.fenwater.example/a")]
    [InlineData("https://other.example/a", "", "other.example/a")]
    [InlineData("no address", "fenwater.example", "no address")]
    public void AnOwnUrlIsShownByItsPath(string url, string host, string shown) => Assert.Equal(shown, ShortUrl.Of(url, host));
}
