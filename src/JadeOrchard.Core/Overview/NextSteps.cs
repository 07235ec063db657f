using static JadeOrchard.Core.Overview.ProjectCounts;

namespace JadeOrchard.Core.Overview;

/// <summary>Something to do next.</summary>
/// <param name="Stage">Where it is done: "page-map".</param>
/// <param name="Title">What is to be done.</param>
/// <param name="Detail">Why, or what is to be known of it.</param>
/// <param name="Worth">What it is worth a month, in <paramref name="WorthUnit"/>; null where that cannot be told.</param>
/// <param name="WorthUnit">"searches a month"; empty where there is no worth.</param>
public sealed record NextStep(string Stage, string Title, string Detail, long? Worth = null, string WorthUnit = "");

/// <summary>What to do next, in the order in which planners work; each step says what it is worth.</summary>
public static class NextSteps
{
    public static IReadOnlyList<NextStep> Of(ProjectCounts has, OpenWork open)
    {
        var steps = new List<NextStep>();
        if (!has.HasSite)
            steps.Add(new NextStep("site", "Name the site", "its domain and market, so that own pages can be told from others"));
        if (has.Keywords == 0)
        {
            steps.Add(new NextStep("keywords", "Bring keywords", "ideas for a seed phrase, suggestions, rankings, or a file of your own"));
            return steps;
        }

        if (has.Pages == 0)
            steps.Add(new NextStep("site", "Read the site", "a scan of its sitemap or links, or a page list of your own"));
        if (open.NotCaptured is { Count: > 0 } missing)
            steps.Add(new NextStep("results", $"Capture results of {Counted(missing.Count, "keyword")}", "without them a keyword cannot be grouped", Rounded(missing.Worth), "searches a month"));
        if (open.NotGrouped is { Count: > 0 } waiting)
            steps.Add(new NextStep("clusters", $"Group {Counted(waiting.Count, "keyword")}", "captured, but in no cluster yet", Rounded(waiting.Worth), "searches a month"));
        if (open.Undecided is { Count: > 0 } undecided)
            steps.Add(new NextStep("page-map", $"Map {Counted(undecided.Count, "cluster")}", open.Clear > 0 ? $"{Number(open.Clear)} have a clear page" : "none has a clear page", Rounded(undecided.Worth), "demand"));
        Add(open.Conflicts, $"Decide {Counted(open.Conflicts.Count, "conflict")} between own pages", "clicks at stake");
        Add(open.Uncovered, $"Plan pages for {Counted(open.Uncovered.Count, "uncovered cluster")}", "clicks to gain");
        Add(open.PageGaps, $"Mend {Counted(open.PageGaps.Count, "page")} with gaps", "clicks to gain");
        return steps;

        void Add(OpenFindings findings, string title, string unit)
        {
            if (findings.Count > 0)
                steps.Add(new NextStep("findings", title, $"the largest: {findings.Largest}", Rounded(findings.AtStake), unit));
        }
    }

    private static long Rounded(double worth) => (long)Math.Round(worth);
}
