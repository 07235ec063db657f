using System.Globalization;
using System.Text;

namespace JadeOrchard.Core.Site;

/// <summary>What two URLs must have in common to be the same page.</summary>
/// <remarks>
/// RFC 3986: case normalization (6.2.2.1), percent-encoding normalization (6.2.2.2), dot segments (6.2.2.3, 5.2.4),
/// scheme-based normalization (6.2.3: empty path, default port). Characters outside ASCII are encoded as RFC 3987
/// section 3.1 says, hosts by IDNA. Then the project's <see cref="UrlFolds"/>. For comparing only: the URL as it was
/// captured is what is kept and shown.
/// </remarks>
public static class UrlIdentity
{
    /// <summary>Longer addresses are none: no search engine and no server promises to take them (RFC 9110, section 4.1, asks for 8,000 octets; common practice is 2,048).</summary>
    public const int MostLength = 2_048;

    private static readonly System.Buffers.SearchValues<char> NeedWork = System.Buffers.SearchValues.Create("%\"<>");
    private static readonly System.Buffers.SearchValues<char> PlainCharacters =
        System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~/");

    private static readonly System.Buffers.SearchValues<char> HostCharacters = System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyz0123456789-._");

    private static readonly System.Buffers.SearchValues<byte> PlainBytes = System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~/"u8);

    private static readonly System.Buffers.SearchValues<byte> HostBytes = System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyz0123456789-._"u8);

    private static readonly IdnMapping Idn = new();

    /// <summary>Parameters that say where a visitor came from (from memory).</summary>
    private static readonly HashSet<string> TrackingParameters = new(StringComparer.OrdinalIgnoreCase)
    {
        "gclid", "gclsrc", "dclid", "gbraid", "wbraid", "srsltid", "fbclid", "msclkid", "yclid", "ymclid", "twclid", "ttclid", "igshid", "igsh", "li_fat_id", "epik", "sccid",
        "mc_cid", "mc_eid", "mkt_tok", "_ga", "_gl", "_hsenc", "_hsmi", "_openstat", "vero_id", "oly_anon_id", "oly_enc_id", "wickedid", "rb_clickid", "s_cid", "cmpid",
        "jsessionid", "phpsessid",
    };

    /// <summary>How the names of whole families of them begin (from memory).</summary>
    private static readonly string[] TrackingPrefixes = ["utm_", "gad_", "hsa_", "pk_", "mtm_", "matomo_", "piwik_", "itm_", "ga_source", "ga_medium", "ga_campaign"];

    private static readonly string[] IndexFiles = ["index.html", "index.htm", "index.php", "index.asp", "index.aspx", "index.jsp", "default.html", "default.htm", "default.asp", "default.aspx"];

    /// <param name="url">
    /// An absolute http or https URL; one without a scheme is read as https where it begins with a host name.
    /// </param>
    /// <param name="folds">Which differences do not count.</param>
    /// <param name="identity">The identity, or an empty string.</param>
    /// <returns>False where the text is no such URL.</returns>
    public static bool TryOf(string url, UrlFolds folds, out string identity)
    {
        if (IsPlain(url, folds, out identity))
            return true;
        identity = "";
        if (url.Length > MostLength)
            return false;
        if (Parts.TryRead(url, out var parts) && NormalHost(parts.Host) is { } host)
        {
            var scheme = parts.Scheme.ToLowerInvariant();
            var port = parts.Port.Length == 0 || parts.Port == (scheme == "http" ? "80" : "443") ? "" : ":" + parts.Port;
            if (folds.Scheme)
                scheme = "https";
            if (folds.Www && host.StartsWith("www.", StringComparison.Ordinal) && host.IndexOf('.', 4) > 0)
                host = host[4..];
            if (folds.Twins)
                host = WithoutTwinLabel(host);

            var path = RemoveDotSegments(NormalEscapes(parts.Path));
            if (folds.Tracking)
                path = WithoutSession(path);
            if (path.Length == 0)
                path = "/";
            if (folds.IndexFile)
                path = WithoutIndexFile(path);
            if (folds.TrailingSlash)
                path = path.TrimEnd('/');
            if (folds.Twins && path.EndsWith("/amp", StringComparison.OrdinalIgnoreCase) && path.Length > 4)
                path = folds.TrailingSlash ? path[..^4] : path[..^3];
            var query = NormalQuery(parts.Query, folds);
            var fragment = folds.Fragment || parts.Fragment is null ? "" : "#" + NormalEscapes(parts.Fragment);
            identity = $"{scheme}://{parts.UserInfo}{host}{port}{path}{query}{fragment}";
            return true;
        }

        return false;
    }

    /// <summary>Most URLs need nothing but their trailing slash and their "www." dropped; for these the parts need not be told apart.</summary>
    private static bool IsPlain(string url, UrlFolds folds, out string identity)
    {
        const string scheme = "https://";
        identity = "";
        if (folds != UrlFolds.All || url.Length > MostLength || !url.StartsWith(scheme, StringComparison.Ordinal) || url.AsSpan(scheme.Length).ContainsAnyExcept(PlainCharacters))
            return false;
        var rest = url.AsSpan(scheme.Length);
        var slash = rest.IndexOf('/');
        var host = slash < 0 ? rest : rest[..slash];
        if (host.Length is 0 or > 253 || host.ContainsAnyExcept(HostCharacters) || host[0] == '.' || host[^1] == '.' || host.Contains("..", StringComparison.Ordinal))
            return false;
        var path = slash < 0 ? [] : rest[slash..];
        if (path.Contains("/.", StringComparison.Ordinal))
            return false;
        path = path.TrimEnd('/');
        if (MayFold(host, path))
            return false;
        if (host.StartsWith("www.", StringComparison.Ordinal) && host[4..].Contains('.'))
            host = host[4..];
        identity = scheme.Length + host.Length + path.Length == url.Length ? url : string.Concat(scheme, host, path);
        return true;
    }

    /// <summary>There may be more to drop than a look tells.</summary>
    private static bool MayFold(ReadOnlySpan<char> host, ReadOnlySpan<char> path) =>
        host.StartsWith("m.", StringComparison.Ordinal) || host.StartsWith("amp.", StringComparison.Ordinal) || host.StartsWith("www.m.", StringComparison.Ordinal)
        || path.EndsWith("/amp", StringComparison.OrdinalIgnoreCase) || path.Contains("/index.", StringComparison.OrdinalIgnoreCase) || path.Contains("/default.", StringComparison.OrdinalIgnoreCase);

    /// <summary>"m.example.com" without its first label, where a host is left.</summary>
    private static string WithoutTwinLabel(string host)
    {
        foreach (var label in new[] { "m.", "amp." })
        {
            if (host.StartsWith(label, StringComparison.Ordinal) && host.IndexOf('.', label.Length) > 0)
                return host[label.Length..];
        }

        return host;
    }

    /// <summary>"/shop;jsessionid=1A2B" without what tells one visit from another.</summary>
    private static string WithoutSession(string path)
    {
        var at = path.IndexOf(";jsessionid=", StringComparison.OrdinalIgnoreCase);
        if (at < 0)
            return path;
        var end = path.IndexOf('/', at);
        return end < 0 ? path[..at] : path[..at] + path[end..];
    }

    private static string WithoutIndexFile(string path)
    {
        var file = path.LastIndexOf('/') + 1;
        return IndexFiles.Contains(path[file..], StringComparer.OrdinalIgnoreCase) ? path[..file] : path;
    }

    /// <summary>As <see cref="TryOf"/> with all folds, without making a text: of most URLs only "www." and slashes at the end are dropped.</summary>
    /// <param name="url">UTF-8.</param>
    /// <param name="from">The identity is "https://" and what stands from here,</param>
    /// <param name="to">to here.</param>
    /// <returns>False where it takes more than a look.</returns>
    public static bool IsPlain(ReadOnlySpan<byte> url, out int from, out int to)
    {
        (from, to) = (8, url.Length);
        if (url.Length > MostLength || !url.StartsWith("https://"u8))
            return false;
        var slash = url[8..].IndexOf((byte)'/');
        var end = slash < 0 ? url.Length : 8 + slash;
        var host = url[8..end];
        if (host.Length is 0 or > 253 || host.ContainsAnyExcept(HostBytes) || host[^1] == '.' || url[end..].ContainsAnyExcept(PlainBytes))
            return false;
        // No segment begins with a dot, and no label is empty.
        var lastDot = 0;
        for (var dot = url.IndexOf((byte)'.'); dot >= 0;)
        {
            if (url[dot - 1] == '/' || (url[dot - 1] == '.' && dot < end))
                return false;
            lastDot = dot < end ? dot : lastDot;
            var next = url[(dot + 1)..].IndexOf((byte)'.');
            dot = next < 0 ? -1 : dot + 1 + next;
        }

        while (to > end && url[to - 1] == '/')
            to--;
        if (host.StartsWith("m."u8) || host.StartsWith("amp."u8) || host.StartsWith("www.m."u8) || url[..to].EndsWith("/amp"u8) || url[..to].EndsWith("/AMP"u8)
            || url[end..to].IndexOf("/index."u8) >= 0 || url[end..to].IndexOf("/default."u8) >= 0 || url[end..to].IndexOf("/Default."u8) >= 0 || url[end..to].IndexOf("/Index."u8) >= 0)
            return false;
        if (lastDot > 11 && host.StartsWith("www."u8))
            from += 4;
        return true;
    }

    /// <returns>Why a text is no such URL, in words.</returns>
    public static string Fault(string url) => url.Length > MostLength ? "Is longer than 2,048 characters, which no address may be." : "Is not an http or https address.";

    /// <returns>Whether a URL is on a host or on one below it.</returns>
    /// <param name="url">The URL.</param>
    /// <param name="host">Lower case and without "www.".</param>
    public static bool IsOn(string url, string host)
    {
        var of = PlainHostOf(url);
        if (of.Length == 0)
            of = HostOf(url);
        return of.EndsWith(host, StringComparison.Ordinal) && (of.Length == host.Length || of[^(host.Length + 1)] == '.');
    }

    /// <summary>The host of an identity, which needs only to be cut out; empty where there may be more to it.</summary>
    private static ReadOnlySpan<char> PlainHostOf(string url)
    {
        if (!url.StartsWith("https://", StringComparison.Ordinal))
            return [];
        var slash = url.IndexOf('/', 8);
        var plain = slash < 0 ? url.AsSpan(8) : url.AsSpan(8, slash - 8);
        return plain.Length is > 0 and <= 253 && !plain.ContainsAnyExcept(HostCharacters) && plain[0] != '.' && plain[^1] != '.' && !plain.Contains("..", StringComparison.Ordinal)
            && !plain.StartsWith("www.", StringComparison.Ordinal) ? plain : [];
    }

    /// <returns>The host of a URL, lower case and without "www."; empty where the text is no http or https URL.</returns>
    public static string HostOf(string url)
    {
        if (PlainHostOf(url) is { Length: > 0 } plain)
            return plain.ToString();
        if (!Parts.TryRead(url, out var parts) || NormalHost(parts.Host) is not { } host)
            return "";
        return host.StartsWith("www.", StringComparison.Ordinal) && host.IndexOf('.', 4) > 0 ? host[4..] : host;
    }

    /// <summary>RFC 3986, section 5.2.4.</summary>
    public static string RemoveDotSegments(string path)
    {
        if (!path.Contains("/.", StringComparison.Ordinal) && !path.StartsWith('.'))
            return path;
        var input = path;
        var output = new StringBuilder(path.Length);
        while (input.Length > 0)
        {
            if (input.StartsWith("../", StringComparison.Ordinal))
                input = input[3..];
            else if (input.StartsWith("./", StringComparison.Ordinal))
                input = input[2..];
            else if (input.StartsWith("/./", StringComparison.Ordinal))
                input = input[2..];
            else if (input == "/.")
                input = "/";
            else if (input.StartsWith("/../", StringComparison.Ordinal) || input == "/..")
            {
                input = input == "/.." ? "/" : input[3..];
                var last = output.ToString().LastIndexOf('/');
                output.Length = Math.Max(0, last);
            }
            else if (input is "." or "..")
                input = "";
            else
            {
                var next = input.IndexOf('/', 1);
                if (next < 0)
                    next = input.Length;
                output.Append(input, 0, next);
                input = input[next..];
            }
        }

        return output.ToString();
    }

    private static string NormalQuery(string? query, UrlFolds folds)
    {
        if (query is null)
            return "";
        if (!folds.Tracking && !folds.ParameterOrder && !folds.Twins)
            return "?" + NormalEscapes(query);
        IEnumerable<string> parameters = NormalEscapes(query).Split('&').Where(p => p.Length > 0);
        if (folds.Tracking)
            parameters = parameters.Where(p => !IsTracking(p));
        if (folds.Twins)
            parameters = parameters.Where(p => !p.Equals("amp", StringComparison.OrdinalIgnoreCase) && !p.Equals("amp=1", StringComparison.OrdinalIgnoreCase) && !p.Equals("amp=true", StringComparison.OrdinalIgnoreCase));
        if (folds.ParameterOrder)
            parameters = parameters.Order(StringComparer.Ordinal);
        var kept = string.Join('&', parameters);
        return kept.Length == 0 ? "" : "?" + kept;
    }

    private static bool IsTracking(string parameter)
    {
        var end = parameter.IndexOf('=', StringComparison.Ordinal);
        var name = end < 0 ? parameter : parameter[..end];
        return TrackingParameters.Contains(name) || TrackingPrefixes.Any(p => name.StartsWith(p, StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>Escapes of unreserved characters undone, hex digits upper case, all else outside ASCII escaped.</summary>
    private static string NormalEscapes(string text)
    {
        if (text.AsSpan().IndexOfAnyExceptInRange('!', '~') < 0 && !text.AsSpan().ContainsAny(NeedWork))
            return text;
        text = Composed(text);
        var normal = new StringBuilder(text.Length + 8);
        Span<byte> bytes = stackalloc byte[4];
        var i = 0;
        while (i < text.Length)
        {
            if (text[i] == '%' && i + 2 < text.Length && IsHex(text[i + 1]) && IsHex(text[i + 2]))
            {
                var value = (char)Convert.ToInt32(text.Substring(i + 1, 2), 16);
                if (value < 128 && (char.IsAsciiLetterOrDigit(value) || value is '-' or '.' or '_' or '~'))
                    normal.Append(value);
                else
                    normal.Append('%').Append(text.AsSpan(i + 1, 2).ToString().ToUpperInvariant());
                i += 3;
            }
            else if (text[i] is > ' ' and <= '~' and not '"' and not '<' and not '>')
                normal.Append(text[i++]);
            else
            {
                if (Rune.DecodeFromUtf16(text.AsSpan(i), out var rune, out var length) != System.Buffers.OperationStatus.Done)
                    rune = Rune.ReplacementChar;
                var count = rune.EncodeToUtf8(bytes);
                foreach (var b in bytes[..count])
                    normal.Append('%').Append(b.ToString("X2", CultureInfo.InvariantCulture));
                i += Math.Max(1, length);
            }
        }

        return normal.ToString();
    }

    /// <summary>A letter with its accent beside it is that letter with its accent (NFC, UAX #15), written out or escaped.</summary>
    private static string Composed(string text)
    {
        // Half a surrogate cannot be normalized, and letters beyond the first plane have no accents beside them.
        if (text.AsSpan().IndexOfAnyInRange('\uD800', '\uDFFF') >= 0)
            return text;
        if (!text.IsNormalized(NormalizationForm.FormC))
            text = text.Normalize(NormalizationForm.FormC);
        // Combining marks begin with CC or CD in UTF-8.
        if (!text.Contains("%CC", StringComparison.OrdinalIgnoreCase) && !text.Contains("%CD", StringComparison.OrdinalIgnoreCase))
            return text;
        var composed = new StringBuilder(text.Length);
        for (var i = 0; i < text.Length;)
        {
            // A letter before the escapes belongs to the first of them.
            var start = i;
            while (i + 2 < text.Length && text[i] == '%' && IsHex(text[i + 1]) && IsHex(text[i + 2]))
                i += 3;
            if (i == start)
            {
                composed.Append(text[i++]);
                continue;
            }

            var bytes = Convert.FromHexString(text[start..i].Replace("%", "", StringComparison.Ordinal));
            var decoded = Encoding.UTF8.GetString(bytes);
            var isText = decoded.All(c => c is >= '\u0080' and not '\uFFFD' && !char.IsSurrogate(c));
            composed.Append(isText ? decoded : text[start..i]);
        }

        var whole = composed.ToString();
        return whole.IsNormalized(NormalizationForm.FormC) ? whole : whole.Normalize(NormalizationForm.FormC);
    }

    private static bool IsHex(char c) => char.IsAsciiHexDigit(c);

    private static string? NormalHost(string host)
    {
        if (host.StartsWith('['))
            return host.EndsWith(']') ? host.ToLowerInvariant() : null;
        var lower = host.ToLowerInvariant().TrimEnd('.');
        if (lower.Length is 0 or > 253)
            return null;
        if (lower.All(c => c < 128))
            return lower.All(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-' or '_') && !lower.Contains("..", StringComparison.Ordinal)
                ? lower
                : null;
        try
        {
            return Idn.GetAscii(lower).ToLowerInvariant();
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    /// <summary>The components of RFC 3986, appendix B, for URLs with an authority.</summary>
    private readonly record struct Parts(
        string Scheme, string UserInfo, string Host, string Port, string Path, string? Query, string? Fragment)
    {
        private static readonly System.Buffers.SearchValues<char> Letters =
            System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ");

        public static bool TryRead(string url, out Parts parts)
        {
            parts = default;
            var text = url.Trim();
            var scheme = "https";
            var mark = text.IndexOf("://", StringComparison.Ordinal);
            if (mark > 0 && text.AsSpan(0, mark).IndexOfAnyExcept(Letters) < 0)
            {
                scheme = text[..mark];
                text = text[(mark + 3)..];
                if (!scheme.Equals("http", StringComparison.OrdinalIgnoreCase) && !scheme.Equals("https", StringComparison.OrdinalIgnoreCase))
                    return false;
            }
            else if (!BeginsWithHostName(text))
                return false;

            var fragment = CutAt(ref text, '#');
            var query = CutAt(ref text, '?');
            var slash = text.IndexOf('/', StringComparison.Ordinal);
            var path = slash < 0 ? "" : text[slash..];
            var authority = slash < 0 ? text : text[..slash];
            var at = authority.LastIndexOf('@');
            var userInfo = at < 0 ? "" : authority[..(at + 1)];
            var host = authority[(at + 1)..];
            var port = "";
            var colon = host.LastIndexOf(':');
            if (colon > host.LastIndexOf(']'))
            {
                port = host[(colon + 1)..];
                host = host[..colon];
                if (!port.All(char.IsAsciiDigit))
                    return false;
            }

            parts = new Parts(scheme, userInfo, host, port, path, query, fragment);
            return host.Length > 0;
        }

        private static bool BeginsWithHostName(string text)
        {
            var end = text.AsSpan().IndexOfAny('/', '?', '#');
            var host = end < 0 ? text : text[..end];
            var dot = host.LastIndexOf('.');
            return dot > 0 && dot < host.Length - 1
                && host.All(c => char.IsLetterOrDigit(c) || c is '.' or '-')
                && char.IsLetter(host[^1]);
        }

        private static string? CutAt(ref string text, char mark)
        {
            var at = text.IndexOf(mark, StringComparison.Ordinal);
            if (at < 0)
                return null;
            var rest = text[(at + 1)..];
            text = text[..at];
            return rest;
        }
    }
}
