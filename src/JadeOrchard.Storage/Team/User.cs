namespace JadeOrchard.Storage.Team;

/// <summary>What somebody who signs in may do.</summary>
public enum Role
{
    /// <summary>Everything, with who else may sign in.</summary>
    Planner,

    /// <summary>Read the briefs on which they are named, check texts against them, and hand texts in.</summary>
    Writer,

    /// <summary>Read everything, and change nothing.</summary>
    Reader,
}

/// <summary>Somebody who can sign in.</summary>
/// <param name="Name">By which they sign in, and which stands beside their changes; not even in its case the same as another's.</param>
/// <param name="AddedAt">ISO 8601, UTC.</param>
/// <param name="SignedInAt">The last time, ISO 8601 in UTC; null where they never have.</param>
public sealed record User(UserId Id, string Name, Role Role, string AddedAt, string? SignedInAt);

/// <summary>Why somebody cannot be added, changed or removed, in words.</summary>
public sealed class TeamException(string? wrong, string message) : Exception(message)
{
    /// <summary>The field of the request that is wrong; null where the request as a whole cannot be done now.</summary>
    public string? Field => wrong;
}
