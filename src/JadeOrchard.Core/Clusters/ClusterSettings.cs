using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Clusters;

/// <summary>What decides how keywords are grouped.</summary>
/// <param name="Depth">Positions that are compared, from 1 to 100.</param>
/// <param name="MinOverlap">Shared results that link two keywords (common practice: 3 or 4 of the first 10).</param>
/// <param name="Rule">How links become clusters.</param>
/// <param name="Smallest">Keywords that a cluster must have; those of smaller ones stay without a cluster, for review.</param>
/// <param name="LeftOutHosts">Results of these hosts, and of hosts below them, are left out of the comparison.</param>
/// <param name="PerHost">Results of one host that count in a list at most, the best ones; 0 for all.</param>
/// <param name="ShortLists">Two lists of which one is short need not share the minimum but three fifths of the shorter one.</param>
/// <param name="Hysteresis">Results that a keyword must share more with the primary of another cluster to leave its own, when grouped again; 0 for none.</param>
public sealed record ClusterSettings(
    int Depth = 10, int MinOverlap = 4, LinkingRule Rule = LinkingRule.Primary, int Smallest = 1, IReadOnlyList<string>? LeftOutHosts = null, int PerHost = 0,
    bool ShortLists = false, int Hysteresis = 2)
{
    public const int MaxDepth = 100;

    private const int MostHosts = 1_000;

    /// <summary>Never null.</summary>
    public IReadOnlyList<string> LeftOutHosts { get; init; } = LeftOutHosts ?? [];

    /// <returns>What is wrong with the settings, in words; null where nothing is.</returns>
    public string? Fault() =>
        Depth is < 1 or > MaxDepth ? $"Depth must be from 1 to {MaxDepth}, not {Depth}."
        : MinOverlap < 1 || MinOverlap > Depth ? $"Minimum overlap must be from 1 to the depth ({Depth}), not {MinOverlap}."
        : Smallest < 1 ? $"The smallest cluster must have 1 keyword or more, not {Smallest}."
        : LeftOutHosts.Count > MostHosts ? $"At most {MostHosts} hosts can be left out, not {LeftOutHosts.Count}."
        : PerHost is < 0 or > MaxDepth ? $"Results per host must be from 0, for all, to {MaxDepth}, not {PerHost}."
        : Hysteresis is < 0 or > MaxDepth ? $"The results that hold a keyword must be from 0 to {MaxDepth}, not {Hysteresis}."
        : LeftOutHosts.FirstOrDefault(h => !IsHost(h)) is { } host ? $"'{host}' is not a host. Write it like videos.example."
        : null;

    /// <returns>The lists as they are compared: cut at the depth, without the hosts that are left out.</returns>
    /// <param name="lists">Result lists.</param>
    /// <param name="urlIdentities">The identity of each URL.</param>
    public ResultLists Compared(ResultLists lists, IReadOnlyList<string> urlIdentities)
    {
        if (LeftOutHosts.Count == 0)
            return PerHosts(lists.Cut(Depth), urlIdentities);
        string[] hosts = [.. LeftOutHosts.Select(Bare)];
        var isOut = new bool[urlIdentities.Count];
        Parallel.For(0, isOut.Length, url =>
        {
            foreach (var host in hosts)
                isOut[url] |= UrlIdentity.IsOn(urlIdentities[url], host);
        });
        return PerHosts(lists.Cut(Depth, url => isOut[url]), urlIdentities);
    }

    private ResultLists PerHosts(ResultLists lists, IReadOnlyList<string> urlIdentities)
    {
        if (PerHost == 0)
            return lists;
        var (numbers, hostOf) = (new Dictionary<string, int>(StringComparer.Ordinal), new int[urlIdentities.Count]);
        for (var url = 0; url < hostOf.Length; url++)
        {
            var host = UrlIdentity.HostOf(urlIdentities[url]);
            if (!numbers.TryGetValue(host, out hostOf[url]))
                numbers[host] = hostOf[url] = numbers.Count;
        }

        return lists.PerHost(hostOf, PerHost);
    }

    /// <returns>Whether clusters made with other settings are to hold with these: they are made of the same comparison.</returns>
    public bool HoldsFrom(ClusterSettings other) =>
        Rule == LinkingRule.Primary && other.Rule == Rule && (other.Depth, other.MinOverlap, other.PerHost, other.ShortLists) == (Depth, MinOverlap, PerHost, ShortLists)
        && other.LeftOutHosts.Order(StringComparer.Ordinal).SequenceEqual(LeftOutHosts.Order(StringComparer.Ordinal), StringComparer.Ordinal);

    private static bool IsHost(string host) => Bare(host) is { Length: > 0 and <= 253 } bare && !bare.Contains("..", StringComparison.Ordinal)
        && bare.All(c => char.IsLetterOrDigit(c) || c is '-' or '.');

    private static string Bare(string host)
    {
        var bare = host.Trim().Trim('.').ToLowerInvariant();
        return bare.StartsWith("www.", StringComparison.Ordinal) ? bare[4..] : bare;
    }
}
