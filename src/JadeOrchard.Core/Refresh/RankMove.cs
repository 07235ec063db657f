namespace JadeOrchard.Core.Refresh;

/// <summary>What became of a position from one day to another.</summary>
public enum RankMove
{
    /// <summary>No page of the site stood in either list.</summary>
    Absent,

    /// <summary>A page stands there that did not before.</summary>
    Arrived,

    /// <summary>None stands there any more.</summary>
    Left,
    Up,
    Down,
    Same,

    /// <summary>There is only one list, or none.</summary>
    Unknown,
}

/// <summary>Tells moves.</summary>
public static class RankMoves
{
    /// <param name="before">The position on the first day; 0 where no page of the site was in the list, null where there is no list.</param>
    /// <param name="after">The position on the second day; likewise.</param>
    public static RankMove Of(int? before, int? after) => (before, after) switch
    {
        (null, _) or (_, null) => RankMove.Unknown,
        (0, 0) => RankMove.Absent,
        (0, _) => RankMove.Arrived,
        (_, 0) => RankMove.Left,
        _ => before > after ? RankMove.Up : before < after ? RankMove.Down : RankMove.Same,
    };
}
