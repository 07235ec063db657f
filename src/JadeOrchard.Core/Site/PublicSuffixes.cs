using System.Globalization;

namespace JadeOrchard.Core.Site;

/// <summary>The Public Suffix List (publicsuffix.org), which ships with the program as an embedded file.</summary>
/// <remarks>Algorithm as published with the list: the longest matching rule, exceptions first, "*" where none is.</remarks>
public static class PublicSuffixes
{
    private static readonly Lazy<HashSet<string>> Rules = new(Load);

    /// <param name="host">A host name, lower case; "a.b.co.uk".</param>
    /// <returns>The public suffix and one label before it ("b.co.uk"); the host itself where it has no such.</returns>
    public static string RegistrableDomain(string host)
    {
        var labels = host.Split('.');
        if (labels.Length < 2 || labels.All(l => l.All(char.IsAsciiDigit)))
            return host;
        var suffix = 1;
        for (var start = 0; start < labels.Length; start++)
        {
            var candidate = string.Join('.', labels[start..]);
            if (Rules.Value.Contains("!" + candidate))
            {
                suffix = labels.Length - start - 1;
                break;
            }

            var wild = start + 1 < labels.Length ? "*." + string.Join('.', labels[(start + 1)..]) : "";
            if (Rules.Value.Contains(candidate) || Rules.Value.Contains(wild))
            {
                suffix = labels.Length - start;
                break;
            }
        }

        return suffix >= labels.Length ? host : string.Join('.', labels[^(suffix + 1)..]);
    }

    private static HashSet<string> Load()
    {
        using var stream = typeof(PublicSuffixes).Assembly.GetManifestResourceStream("public_suffix_list.dat")
            ?? throw new InvalidOperationException("The public suffix list is missing from the program.");
        using var reader = new StreamReader(stream);
        var idn = new IdnMapping();
        var rules = new HashSet<string>(StringComparer.Ordinal);
        while (reader.ReadLine() is { } line)
        {
            var rule = line.Split([' ', '\t'], 2)[0];
            if (rule.Length == 0 || rule.StartsWith("//", StringComparison.Ordinal))
                continue;
            rules.Add(rule);
            if (rule.Any(c => c > 127))
            {
                var prefix = rule.StartsWith("*.", StringComparison.Ordinal) ? "*." : rule.StartsWith('!') ? "!" : "";
                rules.Add(prefix + idn.GetAscii(rule[prefix.Length..]));
            }
        }

        return rules;
    }
}
