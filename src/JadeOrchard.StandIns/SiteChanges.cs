using System.Collections.Concurrent;

namespace JadeOrchard.StandIns;

/// <summary>Tells the own site to change a page, as a plan decided. What is null stays as it is.</summary>
/// <param name="Path">The page: "/guides/first-kayak". One that is not there is made, with the title given.</param>
/// <param name="RedirectTo">The path that it redirects to from now on.</param>
/// <param name="Title">Title and main heading.</param>
/// <param name="Canonical">The path that it names as its canonical.</param>
/// <param name="LinkTo">A path that it links to as well.</param>
/// <param name="LinkWords">The words of that link.</param>
/// <param name="Text">A paragraph that is added.</param>
/// <param name="NoIndex">It asks not to be listed.</param>
/// <param name="Description">Its description in result lists.</param>
/// <param name="Heading">A heading above the paragraph.</param>
public sealed record SiteChange(
    string Path, string? RedirectTo = null, string? Title = null, string? Canonical = null, string? LinkTo = null, string? LinkWords = null, string? Text = null, bool? NoIndex = null, string? Description = null,
    string? Heading = null);

/// <summary>The changes to apply to the own site.</summary>
public sealed class SiteChanges
{
    private readonly ConcurrentDictionary<string, IReadOnlyList<SiteChange>> _changes = new(StringComparer.Ordinal);

    /// <summary>Pages that were made, with their titles.</summary>
    public IEnumerable<string> Paths => _changes.Keys.Order(StringComparer.Ordinal);

    public void Apply(SiteChange change) => _changes.AddOrUpdate(change.Path, [change], (_, before) => [.. before, change]);

    /// <returns>In the order in which they were told; none where nothing was.</returns>
    public IReadOnlyList<SiteChange> Of(string path) => _changes.GetValueOrDefault(path) ?? [];
}
