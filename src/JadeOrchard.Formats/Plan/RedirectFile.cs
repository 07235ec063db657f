using System.Globalization;
using System.Text;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Plan;

/// <summary>How redirects are written.</summary>
public enum RedirectFormat
{
    /// <summary>CSV: from, to, status.</summary>
    Csv,

    /// <summary>Rules for the Apache HTTP server, for a virtual host or a .htaccess file (mod_rewrite).</summary>
    Apache,

    /// <summary>Rules for nginx, for a server block.</summary>
    Nginx,
}

/// <summary>Redirects as files: read from CSV, written as CSV or as rules of web servers.</summary>
public static class RedirectFile
{
    /// <param name="path">CSV or TSV with the columns from, to and status; without a status 301.</param>
    /// <exception cref="TableFormatException">A column or a row is wrong: says which line and why.</exception>
    public static List<Redirect> Read(string path)
    {
        using var file = DelimitedFile.Open(path);
        List<string> columns = [.. file.Header.Select(h => h.Trim().ToLowerInvariant())];
        var (from, to, status) = (columns.IndexOf("from"), columns.IndexOf("to"), columns.IndexOf("status"));
        if (from < 0 || to < 0)
            throw new TableFormatException($"{path}: the columns from and to are needed; status is 301 where it is missing. The columns are: {string.Join(", ", file.Header)}.");
        var redirects = new List<Redirect>();
        var lines = new Dictionary<string, long>(StringComparer.Ordinal);
        foreach (var (line, row) in file.Rows())
        {
            string Fault(string what) => $"{path}, line {line}: {what}";
            if (row.Value is not { } fields)
                throw new TableFormatException(Fault(row.Rejected?.Reason ?? "couldn't be read."));
            string Field(int column) => column >= 0 && column < fields.Length ? fields[column].Trim() : "";
            var (source, target, code) = (Field(from), Field(to), Field(status));
            if (source.Length == 0 && target.Length == 0)
                continue;
            var number = 301;
            if (code.Length > 0 && !(int.TryParse(code, NumberStyles.None, CultureInfo.InvariantCulture, out number) && Redirects.Statuses.Contains(number)))
                throw new TableFormatException(Fault($"'{code}' is not the status of a redirect. Use {string.Join(", ", Redirects.Statuses)}."));
            if (!IsAddress(source))
                throw new TableFormatException(Fault($"'{source}' is neither an http or https address nor a path."));
            if (number == 410 ? target.Length > 0 : !IsAddress(target))
                throw new TableFormatException(Fault(number == 410 ? "a page that is gone (410) leads nowhere; leave to empty." : $"'{target}' is neither an http or https address nor a path."));
            if (!lines.TryAdd(IdentityOf(source), line))
                throw new TableFormatException(Fault($"'{source}' is there twice, first in line {lines[IdentityOf(source)]}. A page leads to one place."));
            redirects.Add(new Redirect(source, target, number));
        }

        return redirects;
    }

    /// <summary>Makes chains short and finds loops.</summary>
    /// <remarks>Addresses are compared as a server sees them: scheme, "www." and the case of the host make no difference. Paths are of the one host that the others name.</remarks>
    public static Redirects Resolve(IReadOnlyList<Redirect> redirects)
    {
        List<string> addresses = [.. redirects.SelectMany(r => new[] { r.From, r.To }).Where(a => a.Length > 0)];
        List<string> hosts = [.. addresses.Select(a => Parts.Of(a).Host).Where(h => h.Length > 0).Distinct()];
        var isOneSite = hosts.Count <= 1 || !addresses.Any(a => a.StartsWith('/'));
        return Redirects.Of(redirects, address => isOneSite && hosts is [var host] && Parts.Of(address).Host == host ? IdentityOf(address)[host.Length..] : IdentityOf(address));
    }

    private static string IdentityOf(string address)
    {
        var parts = Parts.Of(address);
        return $"{parts.Host}{parts.Path}{(parts.Query is { } query ? "?" + query : "")}";
    }

    /// <param name="output">Stays open; UTF-8 without a byte order mark.</param>
    /// <param name="redirects">Without chains and loops.</param>
    /// <param name="format">As what.</param>
    public static void Write(Stream output, IReadOnlyList<Redirect> redirects, RedirectFormat format)
    {
        if (format == RedirectFormat.Csv)
        {
            TableOutput.WriteCsv(output, ["from", "to", "status"], redirects.Select(r => new object?[] { r.From, r.To, r.Status }), forSpreadsheets: false);
            return;
        }

        using var writer = new StreamWriter(output, new UTF8Encoding(false), leaveOpen: true) { NewLine = "\n" };
        // What has a query comes before the same path without one.
        List<(Parts From, Redirect Redirect)> rules = [.. redirects.Select(r => (From: Parts.Of(r.From), r)).OrderBy(r => r.From.Query is null)];
        if (format == RedirectFormat.Apache)
            Apache(writer, rules);
        else
            Nginx(writer, rules);
    }

    private static void Apache(StreamWriter writer, List<(Parts From, Redirect Redirect)> rules)
    {
        writer.WriteLine("# Needs mod_rewrite. For a virtual host, or a .htaccess file in the root of the site.");
        writer.WriteLine("RewriteEngine On");
        foreach (var (from, redirect) in rules)
        {
            if (from.Host.Length > 0)
                writer.WriteLine($"RewriteCond %{{HTTP_HOST}} \"^(www\\.)?{Pattern(from.Host)}(:[0-9]+)?$\" [NC]");
            if (from.Query is { } query)
                writer.WriteLine($"RewriteCond %{{QUERY_STRING}} \"^{Pattern(query)}$\"");
            var pattern = $"\"^/?{Pattern(Unescaped(from.Path).TrimStart('/'))}$\"";
            if (redirect.Status == 410)
                writer.WriteLine($"RewriteRule {pattern} - [G,L]");
            else
                writer.WriteLine($"RewriteRule {pattern} \"{Target(redirect.To)}\" [R={redirect.Status.ToString(CultureInfo.InvariantCulture)},L,NE{(KeepsQuery(from, redirect) ? "" : ",QSD")}]");
        }

        // In a regular expression (PCRE), within quotes.
        static string Pattern(string text) => string.Concat(text.Select(c => c switch
        {
            '"' => "\\x22",
            _ when @"\.+*?[](){}^$|".Contains(c, StringComparison.Ordinal) => "\\" + c,
            _ when c is ' ' => "\\x20",
            _ => c.ToString(),
        }));

        // % and $ refer to what was matched.
        static string Target(string to) => Escaped(to).Replace("\\", "%5C", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("$", "\\$", StringComparison.Ordinal);
    }

    private static void Nginx(StreamWriter writer, List<(Parts From, Redirect Redirect)> rules)
    {
        writer.WriteLine("# For a server block.");
        foreach (var path in rules.GroupBy(r => Unescaped(r.From.Path), StringComparer.Ordinal))
        {
            writer.WriteLine($"location = \"{Quoted(path.Key)}\" {{");
            foreach (var (from, redirect) in path)
            {
                var answer = redirect.Status == 410 ? "return 410;"
                    : $"return {redirect.Status.ToString(CultureInfo.InvariantCulture)} \"{Quoted(Escaped(redirect.To).Replace("$", "%24", StringComparison.Ordinal))}{(KeepsQuery(from, redirect) ? "$is_args$args" : "")}\";";
                var hosts = $"^(www\\.)?{Expression(from.Host)}";
                // An "if" that only returns does what it says.
                writer.WriteLine((from.Query, from.Host) switch
                {
                    (null, "") => $"  {answer}",
                    (null, _) => $"  if ($host ~* \"{hosts}$\") {{ {answer} }}",
                    ({ } query, "") => $"  if ($args ~ \"^{Expression(query)}$\") {{ {answer} }}",
                    ({ } query, _) => $"  set $asked \"$host?$args\";\n  if ($asked ~* \"{hosts}\\?{Expression(query)}$\") {{ {answer} }}",
                });
            }

            writer.WriteLine("}");
        }

        static string Quoted(string text) => text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal);

        static string Expression(string text) => Quoted(System.Text.RegularExpressions.Regex.Escape(text));
    }

    /// <summary>Whatever else is asked for stays, where neither address says otherwise.</summary>
    private static bool KeepsQuery(Parts from, Redirect redirect) => from.Query is null && redirect.To.IndexOfAny(['?', '#']) < 0;

    /// <summary>An address as it is sent: what is not ASCII, and spaces and quotes, percent-encoded (RFC 3986, 2.1); what is encoded stays.</summary>
    private static string Escaped(string url)
    {
        var text = new StringBuilder();
        foreach (var rune in url.EnumerateRunes())
        {
            if (rune.IsAscii && rune.Value > ' ' && rune.Value != '"' && rune.Value != 127)
                text.Append((char)rune.Value);
            else
                text.Append(Uri.EscapeDataString(rune.ToString()));
        }

        return text.ToString();
    }

    private static string Unescaped(string path) => Uri.UnescapeDataString(path);

    private static bool IsAddress(string text) =>
        text.Length is > 0 and <= UrlIdentity.MostLength && !text.Any(char.IsControl)
        && (text.StartsWith('/') ? !text.StartsWith("//", StringComparison.Ordinal) : Uri.TryCreate(text, UriKind.Absolute, out var url) && url.Scheme is "http" or "https");

    /// <summary>An address taken apart.</summary>
    /// <param name="Host">Lower case, without "www."; empty for a path.</param>
    /// <param name="Path">From the first slash, percent-encoded as it is sent.</param>
    /// <param name="Query">Null where there is none.</param>
    private sealed record Parts(string Host, string Path, string? Query)
    {
        public static Parts Of(string address)
        {
            var host = "";
            var rest = address;
            if (!address.StartsWith('/'))
            {
                host = UrlIdentity.HostOf(address);
                var slash = address.IndexOf("//", StringComparison.Ordinal) + 2;
                var end = address.AsSpan(slash).IndexOfAny('/', '?', '#');
                rest = end < 0 ? "/" : address[(slash + end)..];
                if (rest[0] != '/')
                    rest = "/" + rest;
            }

            var hash = rest.IndexOf('#', StringComparison.Ordinal);
            if (hash >= 0)
                rest = rest[..hash];
            var mark = rest.IndexOf('?', StringComparison.Ordinal);
            return new Parts(host, Escaped(mark < 0 ? rest : rest[..mark]), mark < 0 || mark + 1 == rest.Length ? null : Escaped(rest[(mark + 1)..]));
        }
    }
}
