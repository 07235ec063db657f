using CsCheck;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class PlanPartsTests
{
    private static PlanPart<int, int> Part(StepKind kind, int page, int? other = null) => new(kind, page, other, null, "");

    private static DecidedFinding<int, int> Finding(FindingKind kind, params int[] pages) => new(kind, pages, [7], [], "says");

    [Theory]
    [InlineData(Remedy.Redirect, "redirect 2 1, redirect 3 1")]
    [InlineData(Remedy.Merge, "merge 1 2, merge 1 3, redirect 2 1, redirect 3 1")]
    [InlineData(Remedy.Canonical, "canonical 2 1, canonical 3 1")]
    [InlineData(Remedy.NewTarget, "refresh 2, refresh 3")]
    [InlineData(Remedy.Link, "link 2 1, link 3 1")]
    public void ARemedyBecomesStepsOnItsPages(Remedy remedy, string expected) =>
        Assert.Equal(expected, Says(PlanParts.Of(Finding(FindingKind.Conflict, 1, 2, 3), remedy, null, _ => false)));

    [Fact]
    public void WithoutARemedyAPageThatHasAHomeIsNotGivenUp()
    {
        Assert.Equal("merge 1 2, redirect 2 1, refresh 3", Says(PlanParts.Of(Finding(FindingKind.Conflict, 1, 2, 3), null, null, p => p == 3)));
        Assert.Equal("retitle 2", Says(PlanParts.Of(Finding(FindingKind.Twins, 1, 2), null, null, _ => false)));
        Assert.Equal("refresh 1", Says(PlanParts.Of(Finding(FindingKind.PageGap, 1), null, null, _ => false)));
        // 20,000 pages with the same heading are a matter of their template.
        Assert.Equal("retitle 0", Says(PlanParts.Of(Finding(FindingKind.Twins, [.. Enumerable.Range(0, 20_000)]), null, null, _ => false)));
        Assert.Empty(PlanParts.Of(Finding(FindingKind.IdlePages, 1), null, null, _ => false));
    }

    [Fact]
    public void EachMissingLinkIsAPartOfItsSourcePage()
    {
        var finding = new DecidedFinding<int, int>(FindingKind.MissingLinks, [1, 2], [7], [new(SignKind.SupportToPillar, 2, [1], 7), new(SignKind.PillarToSupport, 1, [2], 8)], "");
        Assert.Equal("link 2 1, link 1 2", Says(PlanParts.Of(finding, null, null, _ => false)));
    }

    [Fact]
    public void APageThatIsGivenUpGetsNothingElse()
    {
        var agreeing = PlanParts.Agreeing(
        [
            Part(StepKind.Merge, 1, 2), Part(StepKind.Redirect, 2, 1), Part(StepKind.Retitle, 2), Part(StepKind.Link, 3, 2), Part(StepKind.Link, 1, 2), Part(StepKind.Redirect, 1, 4), Part(StepKind.Merge, 2, 5), Part(StepKind.Redirect, 5, 2),
        ]);
        // 1 is kept already, 5 goes where 2 goes, a link to 2 leads to 1, and 1 does not link to itself.
        Assert.Equal("merge 1 2, redirect 2 1, link 3 1, redirect 5 1", Says(agreeing));
    }

    [Fact]
    public void AgreeingPartsNeverContradictEachOther() =>
        Gen.Select(Gen.Int[0, 8], Gen.Int[0, 7], Gen.Int[0, 7]).Array[0, 30].Sample(given =>
        {
            var parts = PlanParts.Agreeing([.. given.Select(g => Part((StepKind)g.Item1, g.Item2, (StepKind)g.Item1 is StepKind.Merge or StepKind.Redirect or StepKind.Canonical or StepKind.Link ? g.Item3 : null))]);
            var givenUp = parts.Where(p => p.Kind is StepKind.Redirect or StepKind.Canonical).ToList();
            Assert.Equal(givenUp.Count, givenUp.Select(p => p.Page).Distinct().Count());
            Assert.DoesNotContain(givenUp, p => givenUp.Any(o => o.Page == p.Other));
            Assert.DoesNotContain(parts, p => p.Kind is not (StepKind.Redirect or StepKind.Canonical) && givenUp.Any(g => g.Page == p.Page));
            Assert.DoesNotContain(parts, p => p.Page == p.Other);
        });

    [Fact]
    public void APageComesBeforeWhatLeadsToItAndAPillarBeforeItsSupport()
    {
        IReadOnlyList<PlanPart<int, int>>[] steps =
        [
            [Part(StepKind.Link, 5, 1)], [new PlanPart<int, int>(StepKind.Write, 1, null, 11, "")], [new PlanPart<int, int>(StepKind.Write, 2, null, 12, "")], [Part(StepKind.Merge, 3, 4)], [Part(StepKind.Redirect, 4, 3)], [Part(StepKind.Link, 6, 5)],
        ];
        Assert.Equal([(1, 0), (1, 2), (3, 4)], PlanParts.Before(steps, cluster => cluster == 12 ? 1 : null).AsEnumerable());
    }

    private static string Says(IEnumerable<PlanPart<int, int>> parts) => string.Join(", ", parts.Select(p => $"{StepText.Name(p.Kind)} {p.Page}{(p.Other is { } other ? $" {other}" : "")}"));
}
