using static JadeOrchard.Core.Overview.ProjectCounts;

namespace JadeOrchard.Core.Overview;

/// <summary>A stage of the track.</summary>
/// <param name="Stage">Its name in addresses: "page-map".</param>
/// <param name="Says">Its counts, in words.</param>
/// <param name="Share">How far it has come, 0 to 1.</param>
/// <param name="Warns">Own pages compete, and somebody should decide.</param>
public sealed record TrackStage(string Stage, string Says, double Share, bool Warns = false);

/// <summary>The stages of the work, in the order in which planners do it, with how far each has come.</summary>
public static class Track
{
    public static IReadOnlyList<TrackStage> Of(ProjectCounts has) =>
    [
        new("site", has.Pages == 0 ? "no pages yet" : Counted(has.Pages, "page"), has.Pages > 0 ? 1 : 0),
        new("keywords", has.Keywords == 0 ? "none yet" : Counted(has.Keywords, "keyword"), has.Keywords > 0 ? 1 : 0),
        new("results", has.Captured == 0 ? "none captured" : $"{Number(has.Captured)} captured", Share(has.Captured, has.Keywords)),
        new(
            "clusters",
            has.Clusters == 0 ? "not grouped yet" : has.Topics == 0 ? Counted(has.Clusters, "cluster") : $"{Number(has.Clusters)} in {Counted(has.Topics, "topic")}",
            Share(has.Grouped, has.Captured)),
        new("page-map", $"{Number(has.Mapped)} of {Number(has.Clusters)} mapped", Share(has.Mapped, has.Clusters)),
        new("findings", has.OpenFindings == 0 ? "none open" : $"{Number(has.OpenFindings)} open", Share(has.SettledFindings, has.AllFindings), has.HasConflicts),
        new("plan", has.Steps == 0 ? "no steps yet" : $"{Counted(has.Steps, "step")}, {Number(has.LiveSteps)} live", Share(has.LiveSteps, has.Steps)),
        new("briefs", has.Briefs == 0 ? "none yet" : $"{Number(has.SentBriefs)} of {Number(has.Briefs)} sent", Share(has.SentBriefs, has.Briefs)),
        new("refresh", has.PerformanceDays == 0 ? "no performance yet" : has.FadingPages == 0 ? "no page fading" : $"{Counted(has.FadingPages, "page")} fading", has.PerformanceDays > 0 ? 1 : 0),
    ];

    private static double Share(long part, long whole) => whole == 0 ? 0 : (double)part / whole;
}
