namespace JadeOrchard.Bench;

/// <summary>Result lists at any size: keywords of a subject draw from the subject's pages, some from pages that rank for everything.</summary>
internal static class ListGenerator
{
    /// <summary>URLs of each list, best first.</summary>
    /// <param name="keywords">How many lists.</param>
    /// <param name="topShare">Share of the lists in which the most frequent URL stands.</param>
    /// <param name="frequent">How many very frequent URLs a list may hold, from 0 to 6, beside the most frequent one.</param>
    /// <param name="seed">The same seed makes the same lists.</param>
    public static int[][] Lists(int keywords, double topShare = 0.15, int frequent = 0, int seed = 5)
    {
        // 0 is the most frequent; then come forty that stand everywhere, then those of subjects, then those seen rarely.
        const int everywhere = 40;
        var random = new Random(seed);
        var subjects = Math.Max(1, keywords / 8);
        var first = 1 + everywhere;
        var lists = new int[keywords][];
        var order = Enumerable.Range(0, keywords).ToArray();
        random.Shuffle(order);
        foreach (var k in order)
        {
            var subject = k / 8;
            var urls = new HashSet<int>();
            if (random.NextDouble() < topShare)
                urls.Add(0);
            for (var i = 0; i < frequent; i++)
                urls.Add(1 + (int)(everywhere * Math.Pow(random.NextDouble(), 1.3)));
            while (urls.Count < 10)
            {
                urls.Add(random.NextDouble() switch
                {
                    < 0.75 => first + (subject * 14) + random.Next(14),
                    < 0.85 => first + (random.Next(subjects) * 14) + random.Next(14),
                    _ => first + (subjects * 14) + random.Next(keywords * 4),
                });
            }

            lists[k] = [.. urls];
            random.Shuffle(lists[k]);
        }

        random.Shuffle(lists);
        return lists;
    }
}
