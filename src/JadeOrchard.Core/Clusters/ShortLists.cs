using System.Runtime.InteropServices;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Clusters;

/// <summary>Lets keywords with few results group: two lists need to share no more than three fifths of the shorter one.</summary>
internal static class ShortLists
{
    private const double Share = 0.6;

    /// <returns>The minimum overlap of two lists: min(m, ⌈0.6 × the shorter⌉).</returns>
    public static int MinOverlap(int minOverlap, int length, int otherLength) => Math.Min(minOverlap, (int)Math.Ceiling(Share * Math.Min(length, otherLength) - 1e-9));

    /// <summary>Neighbours, and those besides that overlap enough for a short list. Cost beside: the lists with the URLs of short ones.</summary>
    /// <param name="neighbours">Those that overlap by the minimum.</param>
    /// <param name="lists">The lists.</param>
    /// <param name="minOverlap">m.</param>
    public static Neighbours With(Neighbours neighbours, ResultLists lists, int minOverlap)
    {
        bool IsShort(int keyword) => lists.IsCaptured(keyword) && MinOverlap(minOverlap, lists.Urls(keyword).Length, int.MaxValue) < minOverlap;
        var shortWith = new Dictionary<int, List<int>>();
        var anyWith = new UrlPostings(lists);
        for (var keyword = 0; keyword < lists.Count; keyword++)
        {
            if (!IsShort(keyword))
                continue;
            foreach (var url in lists.Urls(keyword))
                (CollectionsMarshal.GetValueRefOrAddDefault(shortWith, url, out _) ??= []).Add(keyword);
        }

        var (counts, found) = (new Dictionary<int, int>(), new List<Neighbour>());
        return keyword =>
        {
            found.Clear();
            counts.Clear();
            found.AddRange(neighbours(keyword));
            var known = found.Select(f => f.Keyword).ToHashSet();
            foreach (var url in lists.Urls(keyword))
            {
                foreach (var other in IsShort(keyword) ? anyWith.Of(url) : CollectionsMarshal.AsSpan(shortWith.GetValueOrDefault(url)))
                {
                    if (other != keyword && !known.Contains(other))
                        CollectionsMarshal.GetValueRefOrAddDefault(counts, other, out _)++;
                }
            }

            foreach (var (other, overlap) in counts.OrderBy(c => c.Key))
            {
                if (overlap >= MinOverlap(minOverlap, lists.Urls(keyword).Length, lists.Urls(other).Length))
                    found.Add(new Neighbour(other, overlap));
            }

            return CollectionsMarshal.AsSpan(found);
        };
    }
}
