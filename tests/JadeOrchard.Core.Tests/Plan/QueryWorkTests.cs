using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Core.Tests.Plan;

/// <summary>What work for a query is called, why it is done, and when it is seen on the site.</summary>
public class QueryWorkTests
{
    [Fact]
    public void EveryWorkIsSaidAndNoTwoAlike()
    {
        var said = Enum.GetValues<QueryWork>().Select(w => QueryWorkText.Says(w, "kayak hire")).ToList();
        Assert.Equal(said.Count, said.Distinct().Count());
        Assert.All(said, s => Assert.EndsWith("“kayak hire”", s, StringComparison.Ordinal));
        Assert.Throws<ArgumentOutOfRangeException>(() => QueryWorkText.Says((QueryWork)99, "kayak hire"));
        Assert.Equal([QueryWork.Title], Enum.GetValues<QueryWork>().Where(w => QueryWorkText.KindOf(w) == StepKind.Retitle));
    }

    [Theory]
    [InlineData(QueryWork.Mention, 0, null, "shown 1,200 times at position 8.4, never mentioned; no passage comes close, so give it a heading")]
    [InlineData(QueryWork.Mention, 1, "We hire kayaks.", "shown 1,200 times at position 8.4, mentioned once; closest passage: “We hire kayaks.”")]
    [InlineData(QueryWork.Section, 3, null, "shown 1,200 times at position 8.4, mentioned 3 times")]
    [InlineData(QueryWork.Answer, null, null, "shown 1,200 times at position 8.4; no passage comes close, so give it a heading")]
    [InlineData(QueryWork.Title, 3, null, "shown 1,200 times at position 8.4; 1.5 % click, the position earns 3.0 %")]
    public void WhyItIsDoneIsToldInNumbers(QueryWork work, int? mentions, string? passage, string says) =>
        Assert.Equal(says, QueryWorkText.Because(1_200, 8.42, 0.015, 0.03, mentions, work, passage));

    [Fact]
    public void WhatIsNotKnownIsLeftOut() => Assert.Equal("shown 0 times", QueryWorkText.Because(0, null, null, 0, null, QueryWork.Title, null));

    private static Mention Mentioned(int count, MentionPlace places = default) => new(count, places);

    [Fact]
    public void WorkIsFoundWhereItBelongs()
    {
        Assert.True(Check(QueryWork.Mention, Mentioned(1)));
        Assert.False(Check(QueryWork.Mention, Mentioned(0)));
        Assert.True(Check(QueryWork.Answer, Mentioned(2)));
        // A section wants a heading; the text alone is not enough.
        Assert.False(Check(QueryWork.Section, Mentioned(5)));
        Assert.True(Check(QueryWork.Section, Mentioned(1, MentionPlace.Headings)));
        Assert.True(Check(QueryWork.Section, Mentioned(1, MentionPlace.H1)));
        Assert.Equal((false, "its text was not read; a full scan reads it"), QueryWorkText.Check(QueryWork.Section, "kayak hire", null, null, null));

        static bool Check(QueryWork work, Mention mention)
        {
            var (isFound, says) = QueryWorkText.Check(work, "kayak hire", mention, null, null);
            Assert.Contains("“kayak hire”", says, StringComparison.Ordinal);
            return isFound;
        }
    }

    [Theory]
    [InlineData("Hire kayaks", "Hire kayaks", false)]
    [InlineData("Hire kayaks", "Hire a kayak in Fenwater", true)]
    [InlineData("", null, false)]
    [InlineData("Hire kayaks", null, true)]
    public void ADescriptionIsChangedWhenItIsAnother(string before, string? after, bool isFound) =>
        Assert.Equal(isFound, QueryWorkText.Check(QueryWork.Description, "kayak hire", Mentioned(0), before, after).IsFound);
}
