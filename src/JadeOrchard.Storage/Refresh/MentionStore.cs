using System.Collections.Concurrent;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Storage.Refresh;

/// <summary>How often and where a page mentions a query; 16 bytes in the database.</summary>
[StructLayout(LayoutKind.Sequential)]
internal readonly record struct PageMentionRow(long QueryId, int Count, MentionPlace Places);

/// <summary>How often and where pages mention the queries for which they were shown.</summary>
public static class MentionStore
{
    /// <summary>Pages whose texts are held at once.</summary>
    private const int PagesAtOnce = 200;

    /// <summary>Looks for the queries of pages whose text, language or queries changed, and leaves the others as they are.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="language">Of the project.</param>
    /// <param name="pageOf">Finds the page of an address; null if it has none.</param>
    /// <param name="haveQueriesChanged">Search performance came or went, so that pages may have other queries.</param>
    public static void Update(WriteSession session, string language, Func<string, PageId?> pageOf, bool haveQueriesChanged)
    {
        var known = new Dictionary<long, (long Basis, ulong Queries)>();
        session.Each("select performance_page_id, basis, mentions from page_mention", r => known[r.GetInt64(0)] = (r.GetInt64(1), HashOf(MemoryMarshal.Cast<byte, PageMentionRow>((byte[])r[2]))));
        var queries = new Dictionary<long, ulong>();
        if (haveQueriesChanged)
        {
            session.Each(
                "select distinct d.performance_page_id, d.query_id from performance_days d join performance_batch b on b.batch_id = d.batch_id",
                r => CollectionsMarshal.GetValueRefOrAddDefault(queries, r.GetInt64(0), out _) += HashOf(r.GetInt64(1)));
        }

        var bases = new Dictionary<PageId, long>();
        session.Each(
            "select page_id, coalesce(title, '') || char(10) || coalesce(h1, '') || char(10) || coalesce(h2, '') || char(10) || coalesce(h3, '') || char(10) || content_id from page where content_id is not null",
            r => bases[r.Id<PageId>(0)] = unchecked((long)XxHash64.HashToUInt64(MemoryMarshal.AsBytes($"{language}\n{r.GetInt64(0)}\n{r.GetString(1)}".AsSpan()))) | 1);
        var waiting = new List<(long Id, PageId? Page, long Basis)>();
        session.Each("select performance_page_id, identity from performance_page", r =>
        {
            var (id, page) = (r.GetInt64(0), pageOf(r.GetString(1)));
            // Without a text nobody knows what a page mentions.
            var basis = page is { } own ? bases.GetValueOrDefault(own) : 0;
            var before = known.TryGetValue(id, out var row) ? row : (Basis: 0L, Queries: 0UL);
            if (before.Basis != basis || (haveQueriesChanged && basis != 0 && before.Queries != queries.GetValueOrDefault(id)))
                waiting.Add((id, page, basis));
        });
        if (waiting.Count == 0)
            return;
        using var analysis = new TextAnalysis(language);
        using var save = session.Command("insert or replace into page_mention values (@id, @basis, @mentions)", ("id", 0L), ("basis", 0L), ("mentions", Array.Empty<byte>()));
        foreach (var some in waiting.Chunk(PagesAtOnce))
        {
            session.GiveWay();
            var (texts, queriesOf) = (Briefs.BriefStore.OwnTexts(session, [.. some.Where(w => w.Basis != 0).Select(w => w.Page!.Value)]), QueriesOf(session, [.. some.Select(w => w.Id)]));
            var pages = some.Select(w => (Text: w.Basis == 0 ? null : texts.GetValueOrDefault(w.Page!.Value), Queries: queriesOf[w.Id].ToList(), Old: known.TryGetValue(w.Id, out var old) && old.Basis == w.Basis ? OldOf(session, w.Id, w.Basis) : [])).ToList();
            var made = new byte[some.Length][];
            Parallel.ForEach(Partitioner.Create(0, some.Length, 1), range => made[range.Item1] = pages[range.Item1] is { Text: { } text } page ? Made(text, page.Queries, page.Old, analysis, language) : []);
            for (var i = 0; i < some.Length; i++)
            {
                // Without a text or without queries there is nothing to keep.
                if (some[i].Basis == 0 || pages[i].Queries.Count == 0)
                    session.Execute("delete from page_mention where performance_page_id = @id", ("id", some[i].Id));
                else
                    save.Run(some[i].Id, some[i].Basis, made[i]);
            }
        }
    }

    /// <summary>Forgets all of them, when there is no search performance any more.</summary>
    public static void Clear(WriteSession session) => session.Execute("delete from page_mention");

    /// <summary>Says for each address of search performance what its page mentions.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="read">Gets the address, the id of a query and the mention.</param>
    public static void Each(Session session, Action<string, int, Mention> read) => session.Each(
        "select g.identity, m.mentions from page_mention m join performance_page g on g.performance_page_id = m.performance_page_id",
        r =>
        {
            var identity = r.GetString(0);
            foreach (var mention in MemoryMarshal.Cast<byte, PageMentionRow>((byte[])r[1]))
                read(identity, (int)mention.QueryId, new Mention(mention.Count, mention.Places));
        });

    /// <returns>Changes whenever mentions do.</returns>
    public static string Version(Session session) => (string)session.Scalar(
        "select count(*) || ' ' || coalesce(sum(basis % 1000000007), 0) || ' ' || coalesce(sum(length(mentions) * (performance_page_id % 1009 + 1)), 0) from page_mention")!;

    /// <returns>Tells sets of queries apart, whatever their order.</returns>
    private static ulong HashOf(ReadOnlySpan<PageMentionRow> mentions)
    {
        var hash = 0UL;
        foreach (var mention in mentions)
            hash += HashOf(mention.QueryId);
        return hash;
    }

    private static ulong HashOf(long query) => XxHash3.HashToUInt64(BitConverter.GetBytes(query));

    private static ILookup<long, (long Id, string Form)> QueriesOf(Session session, IReadOnlyCollection<long> performancePageIds) => session.List(
        $"""
        select distinct d.performance_page_id, d.query_id, q.normal_form
        from performance_days d
        join performance_batch b on b.batch_id = d.batch_id
        join performance_query q on q.query_id = d.query_id
        where d.performance_page_id in ({string.Join(',', performancePageIds)})
        order by d.performance_page_id, d.query_id
        """,
        r => (Page: r.GetInt64(0), Query: (r.GetInt64(1), r.GetString(2)))).ToLookup(r => r.Page, r => r.Query);

    /// <returns>What is known of the same text, by query.</returns>
    private static Dictionary<long, PageMentionRow> OldOf(Session session, long performancePageId, long basis)
    {
        var old = new Dictionary<long, PageMentionRow>();
        session.Each("select mentions from page_mention where performance_page_id = @id and basis = @basis", r =>
        {
            foreach (var mention in MemoryMarshal.Cast<byte, PageMentionRow>((byte[])r[0]))
                old[mention.QueryId] = mention;
        }, ("id", performancePageId), ("basis", basis));
        return old;
    }

    private static byte[] Made(PageText text, List<(long Id, string Form)> queries, Dictionary<long, PageMentionRow> old, TextAnalysis analysis, string language)
    {
        // A text is taken apart only where a query is new to it.
        PageMentions? page = null;
        PageMentionRow[] rows =
        [
            .. queries.Select(q =>
            {
                if (old.TryGetValue(q.Id, out var known))
                    return known;
                var mention = q.Form.Length == 0 ? default : (page ??= new PageMentions(text, analysis, language)).Of(q.Form);
                return new PageMentionRow(q.Id, mention.Count, mention.Places);
            }),
        ];
        return MemoryMarshal.AsBytes(rows.AsSpan()).ToArray();
    }
}
