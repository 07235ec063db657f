using CsCheck;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class LinkTests : IDisposable
{
    private readonly TextAnalysis _analysis = new("en");

    public void Dispose() => _analysis.Dispose();

    private LinkPassage? Find(string text, string[] headings, string[] anchors, params string[] keywords) =>
        new LinkPassages(text, headings, anchors, _analysis, LinkPassages.StemsFor("en")).Find([.. keywords.Select(_analysis.Stems)], keywords);

    [Theory]
    [InlineData("Boats need care. A dry suit for kayaking keeps you warm. Dry suits vary.", "kayak dry suit", "dry suit for kayaking")]
    [InlineData("We like dry bags. The best dry bags, we find, float.", "best dry bag", "best dry bags")]
    [InlineData("Paddles, e.g. carbon ones, are light. Carbon paddles cost more.", "carbon paddle", "Carbon paddles")]
    [InlineData("Nothing of it. The water is cold.", "neoprene", "")]
    [InlineData("What do I need? Much. A big paddle should be light.", "how big should a kayak paddle be", "big paddle")]
    public void TheLongestMatchIsLinked(string text, string keyword, string words)
    {
        var passage = Find(text, [], [], keyword);
        Assert.Equal(words, passage?.Words ?? "");
        if (passage is { Words.Length: > 0 })
            Assert.Equal(words, passage.Sentence.Substring(passage.Start, words.Length));
    }

    [Fact]
    public void HeadingsAndLinksAreLeftOut()
    {
        const string text = "Sea kayak sizes How to choose. Read our dry suit guide first. Later a dry suit is a comfort.";
        Assert.Equal("Later a dry suit is a comfort.", Find(text, [], ["dry suit guide"], "dry suit")!.Sentence);
        Assert.Equal("", Find(text, ["Sea kayak sizes"], [], "sea kayak")?.Words ?? "");
        // The heading is no part of the sentence after it.
        Assert.Equal("How to choose.", Find(text, ["Sea kayak sizes"], [], "choose a kayak")!.Sentence);
    }

    [Fact]
    public void WithoutTheWordsTheNearestSentenceIsNamed()
    {
        var passage = Find("Kayaks are long. Suits are warm. Boats float.", [], [], "kayak roof rack");
        Assert.Equal(("Kayaks are long.", ""), (passage!.Sentence, passage.Words));
        Assert.Null(Find("Boats float.", [], [], "kayak roof rack"));
    }

    [Fact]
    public void PhrasesOfLanguagesWithoutSpacesAreFoundAsTheyAre()
    {
        using var japanese = new TextAnalysis("ja");
        var passage = new LinkPassages("海は広い。カヤックの選び方を学ぶ。", [], [], japanese, []).Find([japanese.Stems("カヤックの選び方")], ["カヤックの選び方"]);
        Assert.Equal("カヤックの選び方", passage!.Words);
    }

    [Fact]
    public void WordsAreAlwaysWhereTheyAreSaidToBe() =>
        Gen.Select(Gen.String[Gen.Char["ab c.!?\u00e9カ\n'-"], 0, 80], Gen.String[Gen.Char["ab c"], 0, 10], Gen.String[Gen.Char["ab "], 0, 6]).Sample((text, keyword, heading) =>
        {
            if (Find(text, [heading], [keyword], keyword, heading) is { } passage)
            {
                Assert.Equal(passage.Words, passage.Sentence.Substring(passage.Start, passage.Words.Length));
                Assert.Contains(passage.Words, text, StringComparison.Ordinal);
            }
        });

    [Fact]
    public void PillarsAndSupportLinkBothWaysAndNewPagesToTheirKin()
    {
        // Clusters 0 (pillar), 1, 2 (new), 3, 4 (no page); pages are 10 more.
        var links = LinkPlan.Of([[0, 1, 2, 3, 4]], c => c == 4 ? null : c + 10, p => p == 12, (a, b) => b == 3 ? 0.9 : 0.05);
        Assert.Equal(
            [
                (11, 10, LinkDirection.SupportToPillar), (10, 11, LinkDirection.PillarToSupport), (12, 10, LinkDirection.SupportToPillar), (10, 12, LinkDirection.PillarToSupport), (13, 10, LinkDirection.SupportToPillar),
                (10, 13, LinkDirection.PillarToSupport), (13, 12, LinkDirection.OldToNew), (12, 13, LinkDirection.NewToOld),
            ],
            links.Select(l => (l.Source, l.Target, l.Direction)));
        // A new page links with two to five others.
        var many = LinkPlan.Of([[.. Enumerable.Range(0, 20)]], c => c, p => p == 19, (_, _) => 0.5);
        Assert.Equal(LinkPlan.MostForNew, many.Count(l => l.Direction == LinkDirection.OldToNew) + 1);
    }
}
