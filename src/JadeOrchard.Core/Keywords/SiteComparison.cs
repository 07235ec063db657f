using System.Collections.Immutable;

namespace JadeOrchard.Core.Keywords;

/// <summary>Where a site ranks for a keyword.</summary>
/// <param name="Keyword">Normal form.</param>
/// <param name="Host">The site that stands there: a registrable domain, so that a site's subdomains count as that site.</param>
/// <param name="Url">The page that stands there.</param>
/// <param name="Position">From 1.</param>
public readonly record struct HostStanding(string Keyword, string Host, string Url, int Position);

/// <summary>A keyword for which rivals stand and the own site does not, or far behind.</summary>
/// <param name="Keyword">Normal form.</param>
/// <param name="OwnPosition">Best of the own site; null where it does not stand.</param>
/// <param name="Rivals">Best position of each chosen rival within the depth, best first.</param>
public sealed record SiteGap(string Keyword, int? OwnPosition, ImmutableArray<HostStanding> Rivals);

/// <summary>A rival's page and for how much it stands.</summary>
/// <param name="Keywords">Keywords for which it stands within the depth.</param>
/// <param name="Clicks">Clicks per month that this should bring, by the curve.</param>
public sealed record RivalPage(string Url, string Host, int Keywords, double Clicks);

/// <summary>Compares where rivals stand with where the own site stands.</summary>
public static class SiteComparison
{
    /// <summary>This many positions below the best rival is far behind (common practice: a page of results).</summary>
    public const int FarBehind = 10;

    /// <param name="standings">Of the rivals and of the own site, in any order; a keyword may stand there several times.</param>
    /// <param name="isOwn">Tells URLs of the own site.</param>
    /// <param name="rivals">The chosen rivals' hosts.</param>
    /// <param name="depth">How far down a rival counts: 10 or 20.</param>
    /// <returns>Keywords where a rival stands within the depth and the own site stands nowhere or at least <see cref="FarBehind"/> places below, by normal form.</returns>
    public static ImmutableArray<SiteGap> Gaps(IEnumerable<HostStanding> standings, Func<string, bool> isOwn, IReadOnlySet<string> rivals, int depth)
    {
        var own = new Dictionary<string, int>(StringComparer.Ordinal);
        var theirs = new Dictionary<string, Dictionary<string, HostStanding>>(StringComparer.Ordinal);
        foreach (var standing in standings)
        {
            if (isOwn(standing.Url))
            {
                own[standing.Keyword] = Math.Min(own.GetValueOrDefault(standing.Keyword, int.MaxValue), standing.Position);
                continue;
            }

            if (standing.Position > depth || !rivals.Contains(standing.Host))
                continue;
            if (!theirs.TryGetValue(standing.Keyword, out var best))
                theirs[standing.Keyword] = best = new Dictionary<string, HostStanding>(StringComparer.Ordinal);
            if (!best.TryGetValue(standing.Host, out var known) || Before(standing, known))
                best[standing.Host] = standing;
        }

        return
        [
            .. theirs
                .Select(t => new SiteGap(
                    t.Key,
                    own.TryGetValue(t.Key, out var position) ? position : null,
                    [.. t.Value.Values.OrderBy(s => s.Position).ThenBy(s => s.Host, StringComparer.Ordinal)]))
                .Where(g => g.OwnPosition is not { } position || position - g.Rivals[0].Position >= FarBehind)
                .OrderBy(g => g.Keyword, StringComparer.Ordinal),
        ];
    }

    /// <param name="standings">In any order.</param>
    /// <param name="rivals">The chosen rivals' hosts.</param>
    /// <param name="depth">How far down they count.</param>
    /// <param name="volumeOf">Searches per month of a keyword, by normal form.</param>
    /// <param name="curve">The share of clicks at each position.</param>
    /// <returns>The rivals' pages, those with most keywords first.</returns>
    public static ImmutableArray<RivalPage> Pages(IEnumerable<HostStanding> standings, IReadOnlySet<string> rivals, int depth, Func<string, long> volumeOf, Results.ClickCurve curve) =>
    [
        .. standings
            .Where(s => s.Position <= depth && rivals.Contains(s.Host))
            .GroupBy(s => s.Url, StringComparer.Ordinal)
            .Select(page =>
            {
                var best = page.GroupBy(s => s.Keyword, StringComparer.Ordinal).Select(k => (Keyword: k.Key, Position: k.Min(s => s.Position))).ToList();
                return new RivalPage(page.Key, page.First().Host, best.Count, best.Sum(b => volumeOf(b.Keyword) * curve.At(b.Position)));
            })
            .OrderByDescending(p => p.Keywords).ThenByDescending(p => p.Clicks).ThenBy(p => p.Url, StringComparer.Ordinal),
    ];

    private static bool Before(HostStanding a, HostStanding b) =>
        a.Position != b.Position ? a.Position < b.Position : string.CompareOrdinal(a.Url, b.Url) < 0;
}
