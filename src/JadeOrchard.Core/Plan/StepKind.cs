namespace JadeOrchard.Core.Plan;

/// <summary>What is done to a page in a step of the plan.</summary>
public enum StepKind
{
    /// <summary>A planned page is written.</summary>
    Write,

    /// <summary>An existing page gets what it lacks.</summary>
    Refresh,

    /// <summary>The text of another page is brought into this one.</summary>
    Merge,

    /// <summary>The page leads to another one.</summary>
    Redirect,

    /// <summary>The page names another one as its canonical.</summary>
    Canonical,

    /// <summary>The page gets a title and heading that say what only it has.</summary>
    Retitle,

    /// <summary>The page links to another one.</summary>
    Link,

    /// <summary>Search services are told not to list the page, or it is taken down.</summary>
    RemoveFromIndex,

    /// <summary>Nothing is done, on purpose.</summary>
    LeaveOut,
}

/// <summary>How far a step is.</summary>
public enum StepStatus
{
    ToDo,
    InProgress,
    InReview,

    /// <summary>Done as its owner says; a scan has not seen it yet, or not all of it.</summary>
    Done,

    /// <summary>Done, and seen on the site.</summary>
    Live,

    /// <summary>Not done after all, for a reason that is kept.</summary>
    Dropped,
}

/// <summary>What steps are called: on screens, in files and on the command line.</summary>
public static class StepText
{
    /// <summary>The code in files: "remove-from-index".</summary>
    public static string Code(this StepKind kind) => Name(kind).Replace(' ', '-');

    /// <returns>"remove from index".</returns>
    public static string Name(StepKind kind) => kind switch
    {
        StepKind.Write => "write",
        StepKind.Refresh => "refresh",
        StepKind.Merge => "merge",
        StepKind.Redirect => "redirect",
        StepKind.Canonical => "canonical",
        StepKind.Retitle => "retitle",
        StepKind.Link => "link",
        StepKind.RemoveFromIndex => "remove from index",
        StepKind.LeaveOut => "leave out",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of step."),
    };

    /// <returns>"in progress".</returns>
    public static string Name(StepStatus status) => status switch
    {
        StepStatus.ToDo => "to do",
        StepStatus.InProgress => "in progress",
        StepStatus.InReview => "in review",
        StepStatus.Done => "done",
        StepStatus.Live => "live",
        StepStatus.Dropped => "dropped",
        _ => throw new ArgumentOutOfRangeException(nameof(status), status, "Not a status."),
    };

    /// <returns>The kind with this name or code; null where there is none.</returns>
    public static StepKind? KindOf(string text) => Find<StepKind>(text, Name);

    /// <returns>The status with this name; null where there is none.</returns>
    public static StepStatus? StatusOf(string text) => Find<StepStatus>(text, Name);

    /// <summary>Work is still to be done on it.</summary>
    public static bool IsOpen(this StepStatus status) => status is StepStatus.ToDo or StepStatus.InProgress or StepStatus.InReview;

    /// <summary>What one thing that is to be done to a page is, in words.</summary>
    /// <param name="kind">What is done.</param>
    /// <param name="other">The page it leads to, is merged with, or links to, as it is to be shown; null for none.</param>
    /// <param name="words">The words to link; null for none.</param>
    public static string Says(StepKind kind, string? other, string? words = null) => kind switch
    {
        StepKind.Write => "Write the page",
        StepKind.Refresh => "Refresh the page",
        StepKind.Merge => $"Merge the text of {other ?? "the other page"} into it",
        StepKind.Redirect => $"Redirect it to {other ?? "the page that stays"}",
        StepKind.Canonical => $"Name {other ?? "the page that stays"} as its canonical",
        StepKind.Retitle => "Give it a title and heading of its own",
        StepKind.Link => $"Link to {other ?? "the page"}{(string.IsNullOrEmpty(words) ? "" : $" on “{words}”")}",
        StepKind.RemoveFromIndex => "Remove it from the index",
        StepKind.LeaveOut => "Leave it as it is",
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "Not a kind of step."),
    };

    /// <summary>The kind of a step with several parts: the first of them in this order, most work first.</summary>
    public static StepKind Main(IEnumerable<StepKind> parts) => parts.Min();

    private static T? Find<T>(string text, Func<T, string> name)
        where T : struct, Enum
    {
        var wanted = text.Trim().Replace('-', ' ');
        foreach (var value in Enum.GetValues<T>())
        {
            if (name(value).Equals(wanted, StringComparison.OrdinalIgnoreCase))
                return value;
        }

        return null;
    }
}
