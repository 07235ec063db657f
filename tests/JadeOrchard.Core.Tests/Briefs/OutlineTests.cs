using CsCheck;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Briefs;

public sealed class OutlineTests : IDisposable
{
    private readonly TextAnalysis _english = new("en");

    public void Dispose() => _english.Dispose();

    [Fact]
    public void HeadingsThatSayTheSameAreOneSectionInTheOrderOfThePages()
    {
        PageText[] ranking = [Page(0, "What a dry suit is", "How to wash a dry suit", "Prices"), Page(1, "What is a dry suit?", "Washing your dry suit", "Sizes"), Page(2, "Washing", "Prices and offers")];
        var outline = Of(["dry suit", "wash dry suit", "dry suit sizes", "dry suit repair", "dry suits"], [], ranking, own: Page(9, "Sizes", "Our workshop"));
        Assert.Equal(["What a dry suit is", "Washing", "Prices"], outline.Sections.Where(s => s.Pages > 1).Select(s => s.Heading));
        var washing = outline.Sections.Single(s => s.Keywords.Contains(1));
        Assert.Equal((3, false), (washing.Pages, washing.IsOurs));
        Assert.True(outline.Sections.Single(s => s.Heading == "Our workshop").IsOnlyOurs);
        // All rivals wash, and we do not.
        Assert.Equal(washing, outline.Sections[Assert.Single(outline.Lacking)]);
        // What nobody has a section for gets one, and a keyword that says no more than the primary needs none.
        Assert.Equal("Dry suit repair", outline.Sections.Single(s => s.Keywords.Contains(3)).Heading);
        Assert.DoesNotContain(outline.Sections, s => s.Keywords.Contains(4));
    }

    [Fact]
    public void WhatOnlyWeHaveTakesNoPlaceFromWhatOthersHave()
    {
        PageText[] ranking = [.. Enumerable.Range(0, 3).Select(p => Page(p, [.. Enumerable.Range(0, 12).Select(h => $"Shared{h}")]))];
        var own = Page(9, [.. Enumerable.Range(0, 20).Select(h => $"Own{h}")]) with { };
        own = own with { H2 = [.. own.H2, new PageHeading(3, "A detail of ours")] };
        var outline = Of(["dry suit"], [], ranking, own: own);
        Assert.Equal(12, outline.Sections.Count(s => s.Pages == 3));
        Assert.Equal(6, outline.Sections.Count(s => s.IsOnlyOurs));
        Assert.DoesNotContain(outline.Sections, s => s.Heading == "A detail of ours");
        // Each section names the pages that have it.
        Assert.All(outline.Sections.Where(s => s.Pages == 3), s => Assert.Equal([0, 1, 2], s.On));
    }

    [Fact]
    public void QuestionsThatNoSectionAnswersStandTogether()
    {
        var outline = Of(["dry suit"], ["How to wash a dry suit?", "Can you swim in a dry suit?"], [Page(0, "Washing"), Page(1, "Washing it")]);
        Assert.Equal("0", string.Join(' ', outline.Sections.Single(s => s.Pages == 2).Questions));
        Assert.Equal("1", string.Join(' ', outline.Sections.Single(s => s.Heading == "Questions").Questions));
    }

    [Fact]
    public void EveryKeywordQuestionAndTermIsServedOrListed()
    {
        var word = Gen.Int[0, 7].Select(i => new[] { "wash", "zip", "seal", "price", "size", "repair", "socks", "warm" }[i]);
        Gen.Select(word.List[0, 5].List[0, 5], word.List[1, 6], word.List[0, 4]).Sample((headings, keywords, terms) =>
        {
            var ranking = headings.Select((h, i) => Page(i, [.. h])).ToArray();
            List<Keyword> all = [.. keywords.Select(k => $"dry suit {k}").Prepend("dry suit").Distinct().Select(k => new Keyword(k, k))];
            List<Term> found = [.. terms.Distinct().Select(t => new Term(t, 1, 3, 3, 0, 1, 0))];
            var outline = Outline.Of(all, [], found, ranking, null, ranking, _english);
            var (openKeywords, _, openTerms) = outline.Unserved(all, 0, found.Count, _english);
            Assert.Equal(Enumerable.Range(1, all.Count - 1), outline.Sections.SelectMany(s => s.Keywords).Concat(openKeywords).Order());
            Assert.Equal(Enumerable.Range(0, found.Count), outline.Sections.SelectMany(s => s.Terms).Concat(openTerms).Order());
            Assert.True(outline.Sections.Length == 0 || outline.Sections[0].Level == 2);
        });
    }

    /// <summary>Edits name keywords by their words, so that they hold when facts are updated.</summary>
    [Fact]
    public void EditsHoldWhenTheFactsChange()
    {
        var before = Make(["dry suit", "dry suit price", "wash dry suit"]);
        var edits = new BriefEdits(Title: "Suits that fit", Words: 900, Outline: [new EditedSection(2, "Money", ["dry suit price", "gone"], [], []), new EditedSection(3, "Care", ["wash dry suit"], [], [])], Without: ["wash dry suit"]);
        foreach (var proposal in new[] { before, Make(["dry suit", "dry suit zip", "wash dry suit", "dry suit price"]) })
        {
            var brief = edits.Apply(proposal);
            Assert.Equal(("Suits that fit", 900), (brief.Proposed(TitleKind.Title), brief.Words!.Words));
            Assert.DoesNotContain(brief.Keywords, k => k.Phrase == "wash dry suit");
            Assert.Equal(["Money", "Care"], brief.Outline.Sections.Select(s => s.Heading));
            Assert.Equal("dry suit price", brief.Keywords[Assert.Single(brief.Outline.Sections[0].Keywords)].Phrase);
            Assert.Empty(brief.Outline.Sections[1].Keywords);
        }

        Assert.Equal((4, 0), (edits.Count, new BriefEdits().Count));
        Assert.Equal(before.Keywords.Select(k => k.Phrase), new BriefEdits().Apply(before).Keywords.Select(k => k.Phrase));
    }

    /// <summary>Type 7 of Hyndman and Fan 1996, as R's quantile and numpy have it: of 1, 2, 3, 4 the quartiles are 1.75, 2.5 and 3.25.</summary>
    [Fact]
    public void TheWordTargetIsTheMedianOfThePagesRoundedTo50()
    {
        Assert.Equal(new WordTarget(1_200, 800, 1_500, 5), WordTarget.Of([1_500, 0, 1_210, 400, 800, 2_900]));
        Assert.Equal((1.75, 3.25), (WordTarget.Quantile([1, 2, 3, 4], 0.25), WordTarget.Quantile([1, 2, 3, 4], 0.75)));
        Assert.Equal(50, WordTarget.Of([3])!.Words);
        Assert.Null(WordTarget.Of([0]));
    }

    private Brief Make(string[] keywords) => new BriefMaker(_english, "en", "").Of(new BriefFacts(
        [.. keywords.Select(k => new Keyword(k, k, 10))], "https://f.example/x", null, [], [], [], [], [.. keywords.Select(_ => 0)], [], []));

    private Outline Of(string[] keywords, string[] questions, PageText[] ranking, PageText? own = null) =>
        Outline.Of([.. keywords.Select(k => new Keyword(k, k))], questions, [], ranking, own, ranking, _english);

    private static PageText Page(int number, params string[] headings) => new($"https://h{number}.example/", null, null, [], [.. headings.Select(h => new PageHeading(2, h))], ["Text."], []);
}
