using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace JadeOrchard.Core.Findings;

/// <summary>Pages that are nearly the same.</summary>
/// <param name="First">The first of them.</param>
/// <param name="Pages">All of them, two or more.</param>
/// <param name="Signs">By what they are nearly the same.</param>
internal sealed record TwinGroup(int First, HashSet<int> Pages, ImmutableArray<Sign> Signs)
{
    /// <summary>A group of more pages than this is not one that anybody declared pair by pair.</summary>
    private const int MostDeclared = 12;

    /// <summary>All pairs of them are declared deliberate.</summary>
    public bool IsDeliberate(IReadOnlySet<(int, int)> pairs) =>
        pairs.Count > 0 && Pages.Count <= MostDeclared && Pages.All(a => Pages.All(b => a >= b || pairs.Contains((a, b))));
}

/// <summary>Twins: the titles, main headings or texts of pages are near duplicates.</summary>
/// <remarks>
/// Titles and headings: the Jaccard index of their sets of stems, |A ∩ B| / |A ∪ B| (Jaccard 1912), is 0.8 or more; computed exactly for the candidates of
/// <see cref="MinHash"/>. Texts: the index of their runs of five stems, estimated by it. A group is what hangs together by such pairs. Pages that are one page
/// in several guises (<see cref="PageVariants"/>), or link to each other as versions for other languages and countries, count as one. At stake: the clicks of all but the strongest page, counted where search performance tells, else
/// estimated. Cost: n log n for n pages.
/// </remarks>
public static class Twins
{
    /// <summary>How alike twins are at least.</summary>
    public const double Alike = 0.8;

    internal static IEnumerable<TwinGroup> Find(SiteFacts site)
    {
        int[] pages = [.. Enumerable.Range(0, site.Pages.Count).Where(p => site.Pages[p].IsListed).GroupBy(p => site.VariantOf(p)).Select(g => g.Key)];
        var parts = new List<(SignKind Kind, int[] Pages, double Share)>();
        parts.AddRange(BySets(SignKind.TwinTitles, site.Titles.Titles, pages));
        parts.AddRange(BySets(SignKind.TwinHeadings, site.Titles.H1s, pages));
        if (site.Text is { } text)
            parts.AddRange(ByTexts([.. pages.Where(p => text.SignatureOf(p) is not null)], text));
        foreach (var together in Together(parts))
        {
            var signs = together.Select(part =>
            {
                int[] ordered = [.. part.Pages.OrderByDescending(p => ClicksOf(site, p)).ThenBy(p => p)];
                var stake = ordered.Skip(1).Sum(p => ClicksOf(site, p));
                return new Sign(part.Kind, null, null, ordered[0], [.. ordered[1..]], stake, [new SignFact(null, 0, 0, stake, part.Share)]);
            });
            var all = together.SelectMany(p => p.Pages).ToHashSet();
            yield return new TwinGroup(all.Min(), all, [.. signs]);
        }
    }

    /// <param name="a">Numbers, each once, ascending.</param>
    /// <param name="b">Likewise.</param>
    /// <returns>|A ∩ B| / |A ∪ B|; 0 for two empty sets.</returns>
    public static double Jaccard(ReadOnlySpan<int> a, ReadOnlySpan<int> b)
    {
        int common = 0, i = 0, j = 0;
        while (i < a.Length && j < b.Length)
        {
            if (a[i] == b[j])
                (common, i, j) = (common + 1, i + 1, j + 1);
            else if (a[i] < b[j])
                i++;
            else
                j++;
        }

        return a.Length + b.Length == 0 ? 0 : (double)common / (a.Length + b.Length - common);
    }

    private static List<(SignKind, int[], double)> BySets(SignKind kind, int[][] sets, int[] pages)
    {
        // Pages with the very same set are one item, so that 20,000 of them cost what one costs.
        var items = pages.Where(p => p < sets.Length && sets[p].Length > 0)
            .GroupBy(p => string.Join(' ', sets[p]), StringComparer.Ordinal).Select(g => (Set: sets[g.First()], Pages: g.ToArray())).ToList();
        return Parts(kind, [.. items.Select(i => MinHash.Signature(i.Set.Select(n => (ulong)n)))], (a, b) => Jaccard(items[a].Set, items[b].Set), i => items[i].Pages);
    }

    private static List<(SignKind, int[], double)> ByTexts(int[] pages, PageMap.SiteText text)
    {
        var items = pages.GroupBy(p => Convert.ToHexString(MemoryMarshal.AsBytes(text.SignatureOf(p).AsSpan())), StringComparer.Ordinal).Select(g => g.ToArray()).ToList();
        return Parts(SignKind.TwinTexts, [.. items.Select(i => text.SignatureOf(i[0]))], (a, b) => MinHash.Estimate(text.SignatureOf(items[a][0])!, text.SignatureOf(items[b][0])!), i => items[i]);
    }

    /// <summary>The groups of two or more pages, each with how alike the least alike of the pairs are that hold it together.</summary>
    private static List<(SignKind, int[], double)> Parts(SignKind kind, uint[]?[] signatures, Func<int, int, double> alike, Func<int, int[]> pagesOf)
    {
        var held = new Dictionary<int, double>();
        var first = MinHash.Join(signatures, (a, b) =>
        {
            var share = alike(a, b);
            if (share < Alike)
                return false;
            held[a] = Math.Min(share, held.GetValueOrDefault(a, 1));
            return true;
        });
        return
        [
            .. Enumerable.Range(0, first.Length).GroupBy(i => first[i])
                .Select(g => (kind, g.SelectMany(pagesOf).Order().ToArray(), g.Min(i => held.GetValueOrDefault(i, 1))))
                .Where(g => g.Item2.Length > 1),
        ];
    }

    /// <summary>Parts that have a page in common, directly or over others.</summary>
    private static IEnumerable<List<(SignKind Kind, int[] Pages, double Share)>> Together(List<(SignKind Kind, int[] Pages, double Share)> parts)
    {
        var partsOf = parts.SelectMany((part, i) => part.Pages.Select(p => (Page: p, Part: i))).ToLookup(x => x.Page, x => x.Part);
        var met = new bool[parts.Count];
        for (var start = 0; start < parts.Count; start++)
        {
            if (met[start])
                continue;
            met[start] = true;
            var (together, next) = (new List<(SignKind, int[], double)>(), new Queue<int>([start]));
            while (next.TryDequeue(out var part))
            {
                together.Add(parts[part]);
                foreach (var other in parts[part].Pages.SelectMany(p => partsOf[p]))
                {
                    if (met[other])
                        continue;
                    met[other] = true;
                    next.Enqueue(other);
                }
            }

            yield return together;
        }
    }

    private static double ClicksOf(SiteFacts site, int page) =>
        site.Performance.IsKnown ? site.Performance.Monthly(site.Performance.ClicksOf(page)) : site.EstimatedClicks(page);
}
