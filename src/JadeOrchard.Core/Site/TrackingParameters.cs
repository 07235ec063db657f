namespace JadeOrchard.Core.Site;

/// <summary>A parameter that seems to tell only where a visitor came from.</summary>
/// <param name="Name">As in addresses.</param>
/// <param name="Lists">Result lists in which it stands.</param>
/// <param name="Values">Different values that it has there.</param>
/// <param name="Pages">Addresses that are the same but for it.</param>
/// <param name="Example">One of the addresses.</param>
public sealed record TrackingProposal(string Name, int Lists, int Values, int Pages, string Example);

/// <summary>Parameters that a project drops from addresses to compare them, beyond those that <see cref="UrlIdentity"/> knows.</summary>
/// <remarks>For comparing only, and never stored, so that one that is taken back parts the addresses again.</remarks>
public sealed class TrackingParameters
{
    /// <summary>In how many of the lists in which it stands the value is another one.</summary>
    private const double LeastDiffering = 0.9;

    private const int FewestLists = 20;

    /// <summary>A parameter that chooses what is shown has many values at few addresses ("/product?id="); one that tracks has them at many.</summary>
    private const int FewestPages = 3;

    /// <summary>Names that usually choose what is shown: never proposed, whatever their values look like (common practice).</summary>
    private static readonly HashSet<string> Choosing = new(StringComparer.OrdinalIgnoreCase)
    {
        "id", "pid", "productid", "product_id", "product", "item", "itemid", "sku", "article", "articleid", "post", "postid", "p", "page", "pg", "cat", "category", "q", "query", "s", "search", "keyword",
        "lang", "language", "locale", "hl", "v", "variant", "color", "colour", "size", "sort", "order", "filter", "tab", "view", "t", "topic", "thread", "tid", "fid", "year", "month", "date",
    };

    private readonly HashSet<string> _names = new(StringComparer.OrdinalIgnoreCase);
    private readonly string[] _beginnings;

    /// <param name="patterns">Names; "*" at the end matches any ending.</param>
    public TrackingParameters(IEnumerable<string> patterns)
    {
        var all = patterns.SelectMany(p => p.Split(',')).Select(p => p.Trim()).Where(p => p.Trim('*').Length > 0).ToList();
        _names.UnionWith(all.Where(p => !p.EndsWith('*')));
        _beginnings = [.. all.Where(p => p.EndsWith('*')).Select(p => p.TrimEnd('*'))];
    }

    public static TrackingParameters None { get; } = new([]);

    public bool IsEmpty => _names.Count == 0 && _beginnings.Length == 0;

    /// <param name="identity">As <see cref="UrlIdentity.TryOf"/> gives it.</param>
    /// <returns>The same without these parameters.</returns>
    public string Fold(string identity)
    {
        var mark = identity.IndexOf('?', StringComparison.Ordinal);
        if (mark < 0 || IsEmpty)
            return identity;
        var kept = identity[(mark + 1)..].Split('&').Where(p => !Has(NameOf(p))).ToList();
        return kept.Count == 0 ? identity[..mark] : $"{identity[..mark]}?{string.Join('&', kept)}";
    }

    private bool Has(string name) => _names.Contains(name) || _beginnings.Any(b => name.StartsWith(b, StringComparison.OrdinalIgnoreCase));

    private static string NameOf(string parameter) => parameter.IndexOf('=', StringComparison.Ordinal) is >= 0 and var end ? parameter[..end] : parameter;

    /// <summary>Parameters whose value is another in nearly every list, while the rest of the address is the same: for the planner to confirm.</summary>
    /// <param name="results">The identities of the URLs of each list; those without parameters may be left out.</param>
    /// <returns>Those in most lists first.</returns>
    public static IReadOnlyList<TrackingProposal> Proposed(IEnumerable<(int List, string Identity)> results)
    {
        // By parameter and the rest of the address: in which lists, and with which values.
        var met = new Dictionary<string, Dictionary<string, (HashSet<int> Lists, HashSet<string> Values, string Example)>>(StringComparer.OrdinalIgnoreCase);
        foreach (var (list, identity) in results)
        {
            var mark = identity.IndexOf('?', StringComparison.Ordinal);
            if (mark < 0)
                continue;
            var parameters = identity[(mark + 1)..].Split('&');
            foreach (var parameter in parameters)
            {
                var name = NameOf(parameter);
                if (name.Length == 0 || name.Length == parameter.Length || Choosing.Contains(name))
                    continue;
                var rest = $"{identity[..mark]}?{string.Join('&', parameters.Where(p => p != parameter))}";
                if (!met.TryGetValue(name, out var rests))
                    met[name] = rests = new(StringComparer.Ordinal);
                if (!rests.TryGetValue(rest, out var of))
                    rests[rest] = of = ([], new(StringComparer.Ordinal), identity);
                of.Lists.Add(list);
                of.Values.Add(parameter[(name.Length + 1)..]);
            }
        }

        return
        [
            .. met.Select(m => (Name: m.Key, Rests: m.Value.Values.Where(r => r.Lists.Count > 1).ToList()))
                .Select(m => new TrackingProposal(
                    m.Name, m.Rests.Sum(r => r.Lists.Count), m.Rests.Sum(r => r.Values.Count), m.Rests.Count, m.Rests.Select(r => r.Example).Min(StringComparer.Ordinal) ?? ""))
                .Where(p => p.Pages >= FewestPages && p.Lists >= FewestLists && p.Values >= LeastDiffering * p.Lists)
                .OrderByDescending(p => p.Lists).ThenBy(p => p.Name, StringComparer.Ordinal),
        ];
    }
}
