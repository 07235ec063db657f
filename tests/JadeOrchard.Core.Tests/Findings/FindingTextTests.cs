using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Tests.Findings;

public sealed class FindingTextTests
{
    public static TheoryData<SignKind> Signs => [.. Enum.GetValues<SignKind>()];

    public static TheoryData<FindingKind> Kinds => [.. Enum.GetValues<FindingKind>()];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void EveryKindOfFindingHasANameAnAdviceAndSigns(FindingKind kind)
    {
        Assert.Matches("^[a-z ]{5,}$", FindingText.Name(kind));
        Assert.Matches("^[A-Z][a-z ]{4,}$", FindingText.Heading(kind));
        Assert.EndsWith(".", FindingText.Advice(kind), StringComparison.Ordinal);
        Assert.NotEmpty(SignKinds.Of(kind));
    }

    [Theory]
    [MemberData(nameof(Signs))]
    public void EveryKindOfSignHasANameAndASentenceWithItsPages(SignKind kind)
    {
        Assert.Matches("^[a-z ]{5,}$", FindingText.Name(kind));
        Assert.Contains(Enum.GetValues<FindingKind>(), k => SignKinds.Of(k).Contains(kind));
        Assert.NotEmpty(FindingText.Brief(kind, 1, 2));
        var sentence = FindingText.Sentence(new SaidSign(kind, "/suits", ["/guide"], "kayak insurance", 3));
        Assert.EndsWith(".", sentence, StringComparison.Ordinal);
        Assert.DoesNotContain("“”", sentence, StringComparison.Ordinal);
        if (kind is not (SignKind.NoPage or SignKind.OpenQuestion))
            Assert.Contains("/suits", sentence, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(FindingKind.Conflict, 2, "/a and /b")]
    [InlineData(FindingKind.Conflict, 5, "/a, /b and 3\u00A0more")]
    [InlineData(FindingKind.PageGap, 1, "/a")]
    [InlineData(FindingKind.Uncovered, 0, "dry suit")]
    [InlineData(FindingKind.IdlePages, 7, "/blog/")]
    [InlineData(FindingKind.IdlePages, 1, "/a")]
    public void AFindingIsNamedByWhatItIsAbout(FindingKind kind, int pages, string subject) =>
        Assert.Equal(subject, FindingText.Subject(kind, kind == FindingKind.Uncovered ? "dry suit" : null, [.. new[] { "/a", "/b", "/c" }.Take(pages)], pages, "/blog/"));

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
