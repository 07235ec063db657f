namespace JadeOrchard.Core.Findings;

/// <summary>What the planner has made of a finding.</summary>
public enum FindingState
{
    Open,

    /// <summary>It is so, and something will be done about it.</summary>
    Accepted,

    /// <summary>Left as it is, for a reason that is kept.</summary>
    Dismissed,

    /// <summary>A page is planned for it; when that page goes live it is resolved.</summary>
    Waiting,

    /// <summary>Done, or its cause has gone. When the cause returns it opens again.</summary>
    Resolved,
}

/// <summary>How a state follows from what the planner said and what the newest computation found.</summary>
public static class FindingStates
{
    /// <returns>Something is still to be done about it: to decide, or what was decided.</returns>
    public static bool IsToDo(this FindingState state) => state is FindingState.Open or FindingState.Accepted;

    /// <param name="decided">What the planner said last; open where nothing.</param>
    /// <param name="present">The newest computation raises the finding.</param>
    /// <param name="wentAway">It was gone in a computation since the decision.</param>
    /// <param name="newerData">Results or pages came in since the decision.</param>
    /// <param name="isPlanned">A page is planned for what is uncovered.</param>
    /// <returns>
    /// Without its cause a finding is resolved. A resolved one whose cause is back, or is still there in newer data,
    /// is open; an accepted one is open again when its cause went away and returned. Dismissed stays what it is. What would be to do waits where a page is planned.
    /// </returns>
    public static FindingState After(FindingState decided, bool present, bool wentAway, bool newerData, bool isPlanned)
    {
        if (!present)
            return FindingState.Resolved;
        var now = (decided == FindingState.Resolved && (wentAway || newerData)) || (decided == FindingState.Accepted && wentAway) ? FindingState.Open : decided;
        return isPlanned && now.IsToDo() ? FindingState.Waiting : now == FindingState.Waiting && !isPlanned ? FindingState.Open : now;
    }
}
