namespace JadeOrchard.Core.PageMap;

/// <summary>How far a cluster is covered; each has a mark of its own shape.</summary>
public enum Coverage
{
    /// <summary>An existing page is assigned, and nothing is in its way.</summary>
    Covered,

    /// <summary>A planned page is assigned.</summary>
    Planned,

    /// <summary>No page is assigned.</summary>
    Uncovered,

    /// <summary>Pages of the site compete for it: a conflict is open or accepted.</summary>
    Contested,

    /// <summary>The planner wants no page for it.</summary>
    Declined,
}

/// <summary>The one place that says how far a cluster is covered.</summary>
public static class Coverages
{
    /// <param name="isDeclined">The planner wants no page for it.</param>
    /// <param name="isContested">A conflict about it is open or accepted.</param>
    /// <param name="hasPage">A page is assigned.</param>
    /// <param name="isPlanned">That page is planned.</param>
    public static Coverage Of(bool isDeclined, bool isContested, bool hasPage, bool isPlanned) =>
        isDeclined ? Coverage.Declined
        : isContested ? Coverage.Contested
        : !hasPage ? Coverage.Uncovered
        : isPlanned ? Coverage.Planned
        : Coverage.Covered;

    /// <summary>Its mark in text: "■".</summary>
    public static string Sign(this Coverage coverage) => coverage switch
    {
        Coverage.Covered => "■",
        Coverage.Planned => "▣",
        Coverage.Contested => "◩",
        Coverage.Declined => "–",
        _ => "□",
    };
}
