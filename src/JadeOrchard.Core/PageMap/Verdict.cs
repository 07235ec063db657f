namespace JadeOrchard.Core.PageMap;

/// <summary>How far the best existing page can be trusted to be the page of a cluster.</summary>
public enum Verdict
{
    /// <summary>No page of the site fits: plan one.</summary>
    None,

    /// <summary>A page fits somewhat, another is nearly as strong, or another is meant for it: look before accepting.</summary>
    Doubtful,

    /// <summary>One page fits well, is ahead of the next, and no other is meant for it.</summary>
    Clear,
}
