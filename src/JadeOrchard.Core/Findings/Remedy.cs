namespace JadeOrchard.Core.Findings;

/// <summary>What is to be done about two pages that compete, or should be linked.</summary>
public enum Remedy
{
    /// <summary>Keep one, redirect the other to it.</summary>
    Redirect,

    /// <summary>Bring the texts together on one, redirect the other.</summary>
    Merge,

    /// <summary>The other gets searches of its own.</summary>
    NewTarget,

    /// <summary>One is declared the canonical of the other.</summary>
    Canonical,

    /// <summary>Link from one to the other.</summary>
    Link,
}
