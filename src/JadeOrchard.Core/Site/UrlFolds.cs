namespace JadeOrchard.Core.Site;

/// <summary>Which differences between URLs do not count when they are compared. All are on by default.</summary>
/// <param name="Scheme">http equals https.</param>
/// <param name="Www">A leading "www." of the host is dropped.</param>
/// <param name="Fragment">"#…" is dropped.</param>
/// <param name="Tracking">Parameters that only tell where a visitor came from are dropped.</param>
/// <param name="ParameterOrder">The remaining parameters are sorted.</param>
/// <param name="TrailingSlash">"/path/" equals "/path".</param>
/// <param name="IndexFile">"/path/index.html" equals "/path/".</param>
/// <param name="Twins">The page of a mobile host ("m.") and the one for fast display ("/amp") equal the page itself.</param>
public sealed record UrlFolds(
    bool Scheme = true,
    bool Www = true,
    bool Fragment = true,
    bool Tracking = true,
    bool ParameterOrder = true,
    bool TrailingSlash = true,
    bool IndexFile = true,
    bool Twins = true)
{
    public static UrlFolds All { get; } = new();

    /// <summary>RFC 3986 normalization and nothing else.</summary>
    public static UrlFolds None { get; } = new(false, false, false, false, false, false, false, false);
}
