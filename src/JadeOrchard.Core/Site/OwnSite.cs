using System.Collections.Immutable;

namespace JadeOrchard.Core.Site;

/// <summary>A part of the web that belongs to the site: a host with those below it, or one folder of it.</summary>
/// <param name="Host">Lower case, without "www.".</param>
/// <param name="Folder">"/shop", without a slash at its end; empty for the whole host.</param>
public readonly record struct SitePlace(string Host, string Folder)
{
    public override string ToString() => Host + Folder;
}

/// <summary>Which URLs belong to the project's site: those of the hosts and folders that the planner names.</summary>
public sealed class OwnSite
{
    private static readonly char[] Separators = [',', ';', ' ', '\t', '\r', '\n'];

    /// <param name="places">"fenwater.example", also with "www." or as a URL, or several with commas between: "fenwater.example, shop.example/kayaks"; an empty one owns nothing.</param>
    public OwnSite(string? places)
    {
        Places = [.. Split(places ?? "").Select(PlaceOf).OfType<SitePlace>().Distinct()];
        Host = Places.IsEmpty ? "" : Places[0].Host;
    }

    /// <summary>What the site consists of, the main place first.</summary>
    public ImmutableArray<SitePlace> Places { get; }

    /// <summary>The host of its main place, lower case, without "www."; empty where there is none.</summary>
    public string Host { get; }

    /// <summary>Its hosts, the main one first, each once.</summary>
    public IEnumerable<string> Hosts => Places.Select(p => p.Host).Distinct();

    /// <summary>The name before the public suffix, by which people search for the site; empty where there is none, as with a bare address.</summary>
    public string BrandName => Host.Length == 0 || !Host.Contains('.', StringComparison.Ordinal) || char.IsAsciiDigit(Host[^1]) || Host[0] == '[' ? "" : PublicSuffixes.RegistrableDomain(Host).Split('.')[0];

    /// <summary>True for the address of a site's first page.</summary>
    public static bool IsHome(string url) => Uri.TryCreate(url, UriKind.Absolute, out var address) && address.AbsolutePath == "/" && address.Query.Length == 0;

    /// <param name="url">A URL, or what URLs are compared by.</param>
    /// <returns>Whether it belongs to the site.</returns>
    public bool Owns(string url)
    {
        var path = default(string?);
        foreach (var place in Places)
        {
            if (!UrlIdentity.IsOn(url, place.Host))
                continue;
            if (place.Folder.Length == 0)
                return true;
            path ??= PathOf(url);
            if (path.StartsWith(place.Folder, StringComparison.OrdinalIgnoreCase) && (path.Length == place.Folder.Length || path[place.Folder.Length] == '/'))
                return true;
        }

        return false;
    }

    /// <param name="path">"/guides/first-kayak"; in the folder where the site is one.</param>
    /// <returns>Its address at the site's main place.</returns>
    public string UrlOf(string path)
    {
        var folder = Places[0].Folder;
        var isWithin = folder.Length == 0 || path == folder || path.StartsWith(folder + "/", StringComparison.OrdinalIgnoreCase);
        return $"https://{Host}{(isWithin ? "" : folder)}{path}";
    }

    /// <param name="host">A host as <see cref="UrlIdentity.HostOf"/> gives it.</param>
    /// <returns>Whether pages of the site may be there; the site may be a folder of it.</returns>
    public bool OwnsHost(string host) => Places.Any(p => host.EndsWith(p.Host, StringComparison.Ordinal) && (host.Length == p.Host.Length || host[^(p.Host.Length + 1)] == '.'));

    /// <returns>The places, with commas between.</returns>
    public override string ToString() => string.Join(", ", Places);

    /// <returns>The places in a text, as they are written there.</returns>
    public static string[] Split(string places) => places.Split(Separators, StringSplitOptions.RemoveEmptyEntries);

    private static SitePlace? PlaceOf(string text)
    {
        var url = text.Contains("://", StringComparison.Ordinal) ? text : "https://" + text;
        if (UrlIdentity.HostOf(url) is not { Length: > 0 } host)
            return null;
        var folder = PathOf(url).TrimEnd('/');
        // For a page, the folder that it is in.
        if (Path.HasExtension(folder))
            folder = folder[..folder.LastIndexOf('/')];
        return new SitePlace(host, folder);
    }

    private static string PathOf(string url) => Uri.TryCreate(UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? identity : url, UriKind.Absolute, out var address) ? address.AbsolutePath : "";
}
