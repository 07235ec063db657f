using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>The site's search performance by day in memory, with what pages mention and the names of queries. Never changed once it is made.</summary>
/// <remarks>At a million rows of 200,000 pairs about 70 MB.</remarks>
internal sealed class QueryImage
{
    private QueryImage(string key, DailyPerformance daily, string[] phrases, string[] forms, Mention?[] mentions)
    {
        (Key, Daily, Phrases, Forms, Mentions) = (key, daily, phrases, forms, mentions);
    }

    /// <summary>What it was made of.</summary>
    public string Key { get; }

    /// <summary>Pages by their index in the image of the project, queries by their id.</summary>
    public DailyPerformance Daily { get; }

    /// <summary>Queries by id, as they were searched for; empty for what the source keeps to itself.</summary>
    public string[] Phrases { get; }

    /// <summary>Their normal forms.</summary>
    public string[] Forms { get; }

    /// <summary>By pair; null where the text of the page is not known.</summary>
    public Mention?[] Mentions { get; }

    /// <param name="session">The transaction.</param>
    /// <param name="snapshot">What the session sees.</param>
    /// <param name="kept">An older image, which is good as long as nothing changed that it was made of.</param>
    public static QueryImage Of(Session session, ProjectSnapshot snapshot, QueryImage? kept)
    {
        var addresses = PerformanceStore.Addresses(session);
        var pages = addresses.Select(snapshot.PageOf).ToArray();
        var key = $"{PerformanceStore.Batches(session)} {MentionStore.Version(session)} {snapshot.Pages.Count} {XxHash64.HashToUInt64(MemoryMarshal.AsBytes(pages.AsSpan()))}";
        return kept?.Key == key ? kept : Load(session, snapshot, key, addresses.Zip(pages).ToDictionary(a => a.First, a => a.Second, StringComparer.Ordinal));
    }

    private static QueryImage Load(Session session, ProjectSnapshot snapshot, string key, Dictionary<string, int> pageOf)
    {
        var daily = PerformanceStore.Daily(session, identity => pageOf.GetValueOrDefault(identity, -1), snapshot.Pages.Count);
        var (phrases, forms) = PerformanceStore.Queries(session);
        var mentions = new Mention?[daily.PairCount];
        var pairOf = new Dictionary<(int, int), int>(daily.PairCount);
        for (var pair = 0; pair < daily.PairCount; pair++)
            pairOf[(daily.PageOf(pair), daily.QueryOf(pair))] = pair;
        MentionStore.Each(session, (identity, query, mention) =>
        {
            if (pageOf.TryGetValue(identity, out var page) && pairOf.TryGetValue((page, query), out var pair))
                mentions[pair] = mention;
        });
        return new QueryImage(key, daily, phrases, forms, mentions);
    }

    /// <summary>For each query, by id, whether it is about a brand and whether it asks something.</summary>
    /// <param name="brands">Of the project.</param>
    /// <param name="questions">Of the project.</param>
    public (bool[] IsBrand, bool[] IsQuestion) Kinds(BrandTerms brands, Questions questions)
    {
        var (isBrand, isQuestion) = (new bool[Forms.Length], new bool[Forms.Length]);
        Parallel.For(0, Forms.Length, query =>
        {
            if (Forms[query] is { Length: > 0 } form)
                (isBrand[query], isQuestion[query]) = (brands.IsBrandQuery(form), questions.IsQuestion(KeywordWords.Padded(form)));
        });
        return (isBrand, isQuestion);
    }
}
