using CsCheck;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class StepOrderTests
{
    /// <summary>Against networkx, lexicographical_topological_sort.</summary>
    [Fact]
    public void TheOrderIsThatOfAReferenceLibrary()
    {
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "topological.txt")).Select(l => l.Split(';')))
        {
            double[] ratios = [.. line[0].Split(' ').Select(double.Parse)];
            (int, int)[] before = [.. line[1].Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(p => p.Split('-')).Select(p => (int.Parse(p[0], System.Globalization.CultureInfo.InvariantCulture), int.Parse(p[1], System.Globalization.CultureInfo.InvariantCulture)))];
            Assert.Equal(line[2].Split(' ').Select(int.Parse), StepOrder.Of(ratios, before));
        }
    }

    [Fact]
    public void CirclesLoseNoStep() =>
        Gen.Select(Gen.Double[0, 9].Array[1, 20], Gen.Select(Gen.Int[0, 19], Gen.Int[0, 19]).Array[0, 60]).Sample((ratios, pairs) =>
        {
            (int, int)[] before = [.. pairs.Where(p => p.Item1 < ratios.Length && p.Item2 < ratios.Length)];
            Assert.Equal(Enumerable.Range(0, ratios.Length), StepOrder.Of(ratios, before).Order());
        });

    /// <summary>From the default curve: 1,000 × (0.11 − 0.032) × 0.7 + 200 × (0.11 − 0) × 0.7 = 54.6 + 15.4.</summary>
    [Fact]
    public void GainsAreTheWorkedExample()
    {
        Keyword first = new("sea kayak", "sea kayak", 1_000, 30), second = new("kayak sea", "kayak sea", 200, 30), unknown = new("kayak", "kayak");
        var gain = StepGain.Of([(first, first, 8), (second, second, 0)], ClickCurve.Default);
        Assert.Equal(70.0, gain.Clicks, 9);
        Assert.Equal("1,200 searches, from 8th to 3rd, difficulty 30: about 70 clicks a month", gain.ToString());
        // What is not known counts as the median and is not shown as known.
        var guessed = StepGain.Of([(unknown, first, 0)], ClickCurve.Default);
        Assert.Equal("volume unknown, from nowhere to 3rd, difficulty unknown: about 77 clicks a month", guessed.ToString());
        // At the target or above there is nothing to gain.
        Assert.Equal(0, StepGain.Of([(first, first, 2)], ClickCurve.Default).Clicks);
    }

    [Theory]
    [InlineData(StepKind.Write, null, 6)]
    [InlineData(StepKind.Write, 600L, 4)]
    [InlineData(StepKind.Write, 601L, 6)]
    [InlineData(StepKind.Write, 9_000L, 14)]
    [InlineData(StepKind.Redirect, 9_000L, 0.25)]
    public void EffortComesFromTheTable(StepKind kind, long? words, double hours) => Assert.Equal(hours, EffortTable.Default.Of(kind, words));

    [Fact]
    public void LinksAndTitlesCostNothingOnAPageThatIsWrittenAnyway()
    {
        Assert.Equal(3, EffortTable.Default.Of([StepKind.Refresh, StepKind.Retitle, StepKind.Link, StepKind.Link], 1_000));
        Assert.Equal(1, EffortTable.Default.Of([StepKind.Retitle, StepKind.Link, StepKind.Link], 1_000));
        Assert.NotNull(EffortTable.Fault([new EffortRow(StepKind.Write, null, 0)]));
        Assert.NotNull(EffortTable.Fault([new EffortRow(StepKind.Write, 5, 1), new EffortRow(StepKind.Write, 5, 2)]));
        Assert.Null(EffortTable.Fault(EffortTable.DefaultRows));
    }
}
