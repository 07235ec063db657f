namespace JadeOrchard.Core.Site;

/// <summary>A URL as people read it: without scheme and "www.", and of the site's own pages the path alone.</summary>
public static class ShortUrl
{
    /// <param name="url">From the data; anything else comes back unchanged.</param>
    /// <param name="host">The site's host, with or without "www."; empty to keep every host.</param>
    public static string Of(string url, string host)
    {
        var bare = url.AsSpan();
        foreach (var start in (ReadOnlySpan<string>)["https://", "http://", "www."])
        {
            if (bare.StartsWith(start, StringComparison.OrdinalIgnoreCase))
                bare = bare[start.Length..];
        }

        var own = host.StartsWith("www.", StringComparison.OrdinalIgnoreCase) ? host.AsSpan(4) : host;
        if (own.Length == 0 || !bare.StartsWith(own, StringComparison.OrdinalIgnoreCase) || (bare.Length > own.Length && bare[own.Length] is not ('/' or '?' or '#' or ':')))
            return bare.ToString();
        return bare.Length == own.Length ? "/" : bare[own.Length..].ToString();
    }
}
