namespace JadeOrchard.Core.Findings;

/// <summary>Which pages of the site link to which, as far as their links were read.</summary>
/// <remarks>4 bytes a link.</remarks>
public sealed class SiteLinks
{
    private readonly int[]?[] _targets;

    /// <param name="targets">For each page the pages it links to; null where its links were not read.</param>
    public SiteLinks(IEnumerable<IEnumerable<int>?> targets) => _targets = [.. targets.Select(t => t?.Distinct().Order().ToArray())];

    /// <summary>No page was read.</summary>
    public static SiteLinks Unknown { get; } = new([]);

    public bool IsRead(int page) => page < _targets.Length && _targets[page] is not null;

    /// <summary>True where a page that was read links to another.</summary>
    public bool Has(int from, int to) => IsRead(from) && Array.BinarySearch(_targets[from]!, to) >= 0;
}
