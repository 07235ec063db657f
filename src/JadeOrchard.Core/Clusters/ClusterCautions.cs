using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Clusters;

/// <summary>What makes the overlaps of a cluster, or of a whole grouping, worth less than their number says.</summary>
public static class ClusterCautions
{
    /// <summary>Shared results that one host supplies, from which on it is said: they are one site's doing, not the search's.</summary>
    public const int OfOneHost = 4;

    /// <summary>From this share of the lists on, it is said that they are of different lengths.</summary>
    private const double NoticeableShare = 0.05;

    /// <param name="members">Keywords of the cluster, the primary first.</param>
    /// <param name="keywords">For their phrases.</param>
    /// <param name="lists">As they are compared.</param>
    /// <param name="urlIdentities">The identity of each URL.</param>
    /// <param name="settings">How it was grouped.</param>
    /// <returns>Sentences; none where there is nothing to say.</returns>
    public static IReadOnlyList<string> Of(IReadOnlyList<int> members, IReadOnlyList<Keyword> keywords, ResultLists lists, IReadOnlyList<string> urlIdentities, ClusterSettings settings)
    {
        if (members.Count < 2)
            return [];
        var says = new List<string>();
        var primary = lists.Urls(members[0]).ToArray().ToHashSet();
        var byHost = members.Skip(1).Select(k => (Keyword: k, Host: OfHost(primary, lists.Urls(k), urlIdentities))).Where(k => k.Host.Count >= OfOneHost).ToList();
        if (byHost.Count > 0)
        {
            var (keyword, (host, count, shared)) = byHost.MaxBy(k => k.Host.Count);
            says.Add($"{host} alone supplies {count} of the {shared} results that '{keywords[keyword].Phrase}' shares with the primary"
                + (byHost.Count == 1 ? "" : $", and {OfOneHost} or more for {byHost.Count - 1} other keyword{(byHost.Count == 2 ? "" : "s")}")
                + ". Count fewer results of one host to see whether they still belong together.");
        }

        if (settings.ShortLists)
        {
            var shorter = members.Skip(1).Where(k => Overlap.Count(lists.Urls(members[0]), lists.Urls(k)) is var shared && shared < settings.MinOverlap
                && shared >= ShortLists.MinOverlap(settings.MinOverlap, lists.Urls(members[0]).Length, lists.Urls(k).Length)).ToList();
            if (shorter.Count > 0)
            {
                var least = shorter.MinBy(k => lists.Urls(k).Length);
                var length = Math.Min(lists.Urls(members[0]).Length, lists.Urls(least).Length);
                says.Add($"{Many(shorter.Count, "keyword is", "keywords are")} here with fewer than {settings.MinOverlap} shared results, since short lists may group: of {length} results, "
                    + $"{ShortLists.MinOverlap(settings.MinOverlap, length, length)} shared are enough ('{keywords[least].Phrase}').");
            }
        }

        var (shortest, longest) = (members.Min(k => lists.Urls(k).Length), members.Max(k => lists.Urls(k).Length));
        if (shortest < longest && members.Count(k => lists.Urls(k).Length < longest) is var few)
            says.Add($"{Many(few, "list has", "lists have")} fewer than the {longest} results of the others, the shortest {shortest}, so they can share fewer.");
        return says;
    }

    /// <param name="clustering">A grouping.</param>
    /// <param name="lists">Its lists as they are compared.</param>
    /// <param name="urlIdentities">The identity of each URL.</param>
    /// <param name="settings">How it was grouped.</param>
    /// <returns>Sentences; none where there is nothing to say.</returns>
    public static IReadOnlyList<string> OfGrouping(Clustering clustering, ResultLists lists, IReadOnlyList<string> urlIdentities, ClusterSettings settings)
    {
        var says = new List<string>();
        if (settings.PerHost is 0 or >= OfOneHost)
        {
            var hosts = new Dictionary<string, int>(StringComparer.Ordinal);
            var clusters = 0;
            foreach (var cluster in clustering.Clusters.Where(c => c.Members.Length > 1))
            {
                var primary = lists.Urls(cluster.Primary).ToArray().ToHashSet();
                // Where no host has as many of the primary's own results, none can supply them.
                if (primary.Count < OfOneHost || !primary.GroupBy(u => UrlIdentity.HostOf(urlIdentities[u]), StringComparer.Ordinal).Any(g => g.Count() >= OfOneHost))
                    continue;
                var supplied = cluster.Members.Skip(1).Select(k => OfHost(primary, lists.Urls(k), urlIdentities)).Where(h => h.Count >= OfOneHost).Select(h => h.Host).Distinct().ToList();
                clusters += supplied.Count > 0 ? 1 : 0;
                foreach (var host in supplied)
                    hosts[host] = hosts.GetValueOrDefault(host) + 1;
            }

            if (clusters > 0)
            {
                var most = hosts.OrderByDescending(h => h.Value).ThenBy(h => h.Key, StringComparer.Ordinal).First();
                says.Add($"In {Many(clusters, "cluster", "clusters")}, one host supplies {OfOneHost} or more of the shared results ({most.Key} in {Number(most.Value)}). Count fewer results of one host to keep it from deciding.");
            }
        }

        var lengths = Enumerable.Range(0, lists.Count).Where(lists.IsCaptured).GroupBy(k => lists.Urls(k).Length).ToDictionary(g => g.Key, g => g.Count());
        var all = lengths.Values.Sum();
        var full = lengths.Where(l => l.Key >= settings.Depth).Sum(l => l.Value);
        if (full > 0 && all - full >= Math.Max(1, NoticeableShare * all))
        {
            var usual = lengths.Where(l => l.Key < settings.Depth).OrderByDescending(l => l.Value).ThenByDescending(l => l.Key).First().Key;
            says.Add($"{Number(all - full)} of {Number(all)} lists have fewer than the {settings.Depth} results that are compared, most of them {usual}: captured less deep, or cut by what is left out. They can share fewer; "
                + $"compare {Math.Max(settings.MinOverlap, usual)}, or capture them deeper.");
        }

        return says;
    }

    /// <returns>The host with most of the shared results, how many it has of them, and how many there are.</returns>
    private static (string Host, int Count, int Shared) OfHost(HashSet<int> primary, ReadOnlySpan<int> urls, IReadOnlyList<string> urlIdentities)
    {
        var shared = new List<string>();
        foreach (var url in urls)
        {
            if (primary.Contains(url))
                shared.Add(UrlIdentity.HostOf(urlIdentities[url]));
        }

        return shared.GroupBy(h => h, StringComparer.Ordinal).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).Select(g => (g.Key, g.Count(), shared.Count)).FirstOrDefault(("", 0, 0));
    }

    private static string Many(int count, string one, string several) => $"{Number(count)} {(count == 1 ? one : several)}";

    private static string Number(int number) => number.ToString("N0", CultureInfo.InvariantCulture);
}
