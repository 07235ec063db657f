namespace JadeOrchard.Core.Site;

/// <summary>Which URLs belong to the project's site: those of its host and of hosts below it.</summary>
public sealed class OwnSite
{
    /// <param name="host">"fenwater.example", also with "www." or as a URL; an empty one owns nothing.</param>
    public OwnSite(string? host)
    {
        var text = (host ?? "").Trim();
        Host = text.Length == 0 ? "" : UrlIdentity.HostOf(text.Contains("://", StringComparison.Ordinal) ? text : "https://" + text);
    }

    /// <summary>Lower case, without "www."; empty where there is none.</summary>
    public string Host { get; }

    /// <summary>The name before the public suffix, by which people search for the site; empty where there is none, as with a bare address.</summary>
    public string BrandName => Host.Length == 0 || !Host.Contains('.', StringComparison.Ordinal) || char.IsAsciiDigit(Host[^1]) || Host[0] == '[' ? "" : PublicSuffixes.RegistrableDomain(Host).Split('.')[0];

    /// <summary>True for the address of a site's first page.</summary>
    public static bool IsHome(string url) => Uri.TryCreate(url, UriKind.Absolute, out var address) && address.AbsolutePath == "/" && address.Query.Length == 0;

    /// <param name="host">A host as <see cref="UrlIdentity.HostOf"/> gives it.</param>
    public bool Owns(string host) =>
        Host.Length > 0
        && (host == Host || (host.Length > Host.Length && host.EndsWith(Host, StringComparison.Ordinal) && host[^(Host.Length + 1)] == '.'));
}
