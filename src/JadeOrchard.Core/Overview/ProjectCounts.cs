using System.Globalization;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Core.Overview;

/// <summary>How many of something, and what they are worth.</summary>
/// <param name="Worth">Searches, demand or clicks per month.</param>
public readonly record struct CountWithWorth(long Count, double Worth);

/// <summary>Open findings of a kind, or several kinds taken together.</summary>
/// <param name="AtStake">Clicks per month; the same clicks count once.</param>
/// <param name="Largest">What the one with most at stake is about: a cluster's name or a page's URL.</param>
public sealed record OpenFindings(long Count, double AtStake, string Largest)
{
    public static readonly OpenFindings None = new(0, 0, "");
}

/// <summary>What a project has so far.</summary>
/// <param name="HasSite">Its domain is known.</param>
/// <param name="Captured">Keywords with a result list.</param>
/// <param name="Grouped">Keywords in a cluster.</param>
/// <param name="Mapped">Clusters with a page.</param>
/// <param name="Steps">Steps of the plan that are not dropped.</param>
/// <param name="LiveSteps">Those of them that were seen on the site.</param>
/// <param name="OpenFindings">Findings that are open.</param>
/// <param name="SettledFindings">Findings that are dismissed or resolved.</param>
/// <param name="AllFindings">Findings in any state.</param>
/// <param name="HasConflicts">Some of the open ones are conflicts between own pages.</param>
/// <param name="Briefs">Briefs for writers.</param>
/// <param name="SentBriefs">Those of them that are with the writer, or further.</param>
/// <param name="PerformanceDays">Days of search performance that count.</param>
/// <param name="FadingPages">Pages that lose clicks.</param>
public sealed record ProjectCounts(
    bool HasSite, long Pages, long Keywords, long Captured, long Grouped, long Clusters, long Topics, long Mapped, long Steps, long LiveSteps, long OpenFindings, long SettledFindings, long AllFindings,
    bool HasConflicts, long Briefs = 0, long SentBriefs = 0, long PerformanceDays = 0, long FadingPages = 0)
{
    internal static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);

    /// <returns>"1 page", "2 pages".</returns>
    internal static string Counted(long count, string noun) => $"{Number(count)} {noun}{(count == 1 ? "" : "s")}";
}

/// <summary>What waits to be done.</summary>
/// <param name="NotCaptured">Keywords without a result list, with their searches.</param>
/// <param name="NotGrouped">Captured keywords in no cluster, with their searches.</param>
/// <param name="Undecided">Clusters neither with a page nor declined, with their demand.</param>
/// <param name="Clear">How many of them have a clear suggestion.</param>
/// <param name="Conflicts">Findings about own pages that compete.</param>
/// <param name="Uncovered">Findings of <see cref="FindingKind.Uncovered"/>.</param>
/// <param name="PageGaps">Findings of <see cref="FindingKind.PageGap"/>.</param>
public sealed record OpenWork(
    CountWithWorth NotCaptured, CountWithWorth NotGrouped, CountWithWorth Undecided, long Clear, OpenFindings Conflicts, OpenFindings Uncovered, OpenFindings PageGaps);
