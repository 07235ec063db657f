namespace JadeOrchard.Core.Findings;

/// <summary>What is to be decided.</summary>
public enum FindingKind
{
    /// <summary>Two or more pages of the site compete for the same searches.</summary>
    Conflict,

    /// <summary>A cluster with demand has no page.</summary>
    Uncovered,

    /// <summary>An assigned page lacks what its clusters want.</summary>
    PageGap,

    /// <summary>Two or more pages have nearly the same title, heading or text.</summary>
    Twins,

    /// <summary>The pages of a topic do not link to each other.</summary>
    MissingLinks,

    /// <summary>Pages of a folder that serve nothing.</summary>
    IdlePages,
}

/// <summary>What is told of a kind of finding wherever it is named.</summary>
public static class FindingKinds
{
    /// <summary>The code in files and keys: "page-gap".</summary>
    public static string Code(this FindingKind kind) => kind switch
    {
        FindingKind.Conflict => "conflict",
        FindingKind.Uncovered => "uncovered",
        FindingKind.PageGap => "page-gap",
        FindingKind.Twins => "twins",
        FindingKind.MissingLinks => "missing-links",
        FindingKind.IdlePages => "idle-pages",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of finding."),
    };
}
