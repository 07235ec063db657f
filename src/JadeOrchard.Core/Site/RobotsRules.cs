using System.Text;

namespace JadeOrchard.Core.Site;

/// <summary>The robots.txt of a host: which paths a reader of a name may read.</summary>
/// <remarks>
/// RFC 9309. The groups of the longest product token that is a prefix match of the reader's are taken together (2.2.1),
/// else those of "*". The longest matching path decides, allow where two are as long (2.2.2); "*" and "$" are special
/// (2.2.3). Paths are compared percent-encoded. Sitemap lines belong to no group (2.2.4). At most 500 KiB are read (2.5).
/// Crawl-delay is not in the RFC, but widely written; it is kept, and the reader may be no faster.
/// </remarks>
public sealed class RobotsRules
{
    /// <summary>RFC 9309, 2.5: a reader must read at least this much, and may stop there.</summary>
    public const int MostBytes = 500 * 1024;

    private readonly List<(string Path, bool Allows)> _rules;

    private RobotsRules(List<(string, bool)> rules, IReadOnlyList<string> sitemaps, double? crawlDelay)
    {
        _rules = rules;
        Sitemaps = sitemaps;
        CrawlDelay = crawlDelay;
    }

    /// <summary>No robots.txt there (any 4xx, RFC 9309, 2.3.1.3): all may be read.</summary>
    public static RobotsRules AllowAll { get; } = new([], [], null);

    /// <summary>robots.txt could not be reached (any 5xx, RFC 9309, 2.3.1.4): nothing may be read.</summary>
    public static RobotsRules DisallowAll { get; } = new([("/", false)], [], null);

    /// <summary>Addresses of sitemaps, as they are written.</summary>
    public IReadOnlyList<string> Sitemaps { get; }

    /// <summary>Seconds between two requests that the site asks for; null where it does not.</summary>
    public double? CrawlDelay { get; }

    /// <param name="text">The file, decoded as UTF-8; anything that is no rule is passed over.</param>
    /// <param name="product">The reader's product token: "jade-orchard".</param>
    public static RobotsRules Parse(string text, string product)
    {
        var groups = new List<(List<string> Agents, List<(string, bool)> Rules, double? Delay)>();
        var sitemaps = new List<string>();
        var inAgents = false;
        foreach (var raw in text.TrimStart('\uFEFF').Split(['\n', '\r']))
        {
            var line = raw.AsSpan();
            var hash = line.IndexOf('#');
            line = (hash < 0 ? line : line[..hash]).Trim();
            var colon = line.IndexOf(':');
            if (colon < 0)
                continue;
            var key = line[..colon].Trim().ToString().ToLowerInvariant();
            var value = line[(colon + 1)..].Trim().ToString();
            switch (key)
            {
                case "user-agent":
                    if (!inAgents)
                        groups.Add(([], [], null));
                    groups[^1].Agents.Add(ProductOf(value));
                    inAgents = true;
                    break;
                case "allow" or "disallow":
                    inAgents = false;
                    // An empty path matches nothing; rules before any group belong to none.
                    if (groups.Count > 0 && value.Length > 0)
                        groups[^1].Rules.Add((NormalPath(value), key == "allow"));
                    break;
                case "crawl-delay":
                    inAgents = false;
                    if (groups.Count > 0 && double.TryParse(value, System.Globalization.NumberStyles.AllowDecimalPoint, System.Globalization.CultureInfo.InvariantCulture, out var delay))
                        groups[^1] = groups[^1] with { Delay = delay };
                    break;
                case "sitemap":
                    if (value.Length > 0)
                        sitemaps.Add(value);
                    break;
            }
        }

        var name = product.ToLowerInvariant();
        var mine = groups.Where(g => g.Agents.Contains(name)).ToList();
        if (mine.Count == 0)
            mine = [.. groups.Where(g => g.Agents.Contains("*"))];
        return new RobotsRules([.. mine.SelectMany(g => g.Rules)], sitemaps, mine.Select(g => g.Delay).Max());
    }

    /// <param name="pathAndQuery">Path and query of an address, beginning with "/".</param>
    public bool Allows(string pathAndQuery)
    {
        if (pathAndQuery == "/robots.txt")
            return true;
        var path = NormalPath(pathAndQuery);
        var (longest, allowed) = (-1, true);
        foreach (var (rule, allows) in _rules)
        {
            if (rule.Length >= longest && Matches(rule, path) && (rule.Length > longest || allows))
                (longest, allowed) = (rule.Length, allows);
        }

        return allowed;
    }

    /// <summary>The product token alone: "Jade-Orchard/1.0 (x)" is "jade-orchard". "*" stays.</summary>
    private static string ProductOf(string value)
    {
        if (value.StartsWith('*'))
            return "*";
        var end = 0;
        while (end < value.Length && (char.IsAsciiLetter(value[end]) || value[end] is '-' or '_'))
            end++;
        return value[..end].ToLowerInvariant();
    }

    /// <summary>Octets outside ASCII are encoded, escapes of unreserved characters undone (RFC 9309, 2.2.2).</summary>
    private static string NormalPath(string path)
    {
        var normal = new StringBuilder(path.Length);
        var bytes = Encoding.UTF8.GetBytes(path);
        for (var i = 0; i < bytes.Length; i++)
        {
            var b = bytes[i];
            if (b == '%' && i + 2 < bytes.Length && char.IsAsciiHexDigit((char)bytes[i + 1]) && char.IsAsciiHexDigit((char)bytes[i + 2]))
            {
                var value = (char)Convert.ToByte($"{(char)bytes[i + 1]}{(char)bytes[i + 2]}", 16);
                if (char.IsAsciiLetterOrDigit(value) || value is '-' or '.' or '_' or '~')
                    normal.Append(value);
                else
                    normal.Append('%').Append(char.ToUpperInvariant((char)bytes[i + 1])).Append(char.ToUpperInvariant((char)bytes[i + 2]));
                i += 2;
            }
            else if (b is > 0x20 and < 0x7F)
                normal.Append((char)b);
            else
                normal.Append('%').Append(b.ToString("X2", System.Globalization.CultureInfo.InvariantCulture));
        }

        return normal.ToString();
    }

    /// <summary>Greedy matching of "*" with going back to the last one: linear in practice, never exponential.</summary>
    private static bool Matches(string rule, string path)
    {
        var ends = rule.EndsWith('$');
        var pattern = ends ? rule.AsSpan()[..^1] : rule.AsSpan();
        int p = 0, t = 0, star = -1, mark = 0;
        while (t < path.Length)
        {
            if (p < pattern.Length && pattern[p] == '*')
                (star, mark) = (p++, t);
            else if (p < pattern.Length && pattern[p] == path[t])
                (p, t) = (p + 1, t + 1);
            else if (p == pattern.Length && !ends)
                return true;
            else if (star >= 0)
                (p, t) = (star + 1, ++mark);
            else
                return false;
        }

        while (p < pattern.Length && pattern[p] == '*')
            p++;
        return p == pattern.Length;
    }
}
