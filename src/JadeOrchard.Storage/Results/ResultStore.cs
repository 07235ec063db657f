using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Keywords;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Results;

/// <summary>One result of a keyword, as its list shows it.</summary>
/// <param name="PageId">The page of the site that it is; null where it is another's.</param>
public sealed record ResultRow(int Position, string Url, string Identity, string Host, string? Title, string? Snippet, PageId? PageId);

/// <summary>A result list of a keyword.</summary>
/// <param name="CapturedAt">ISO 8601, UTC.</param>
/// <param name="Origin">import or capture.</param>
/// <param name="Depth">How many results were asked for; null where that is not known.</param>
/// <param name="Results">How many there are; 0 where the search returned nothing.</param>
public sealed record ListInfo(ResultListId ListId, DateOnly CapturedOn, string CapturedAt, string Origin, int? Depth, long Results);

/// <summary>What people also ask, and related searches.</summary>
public enum PhraseKind
{
    Question,
    Related,
}

/// <summary>A list with its results, for an export.</summary>
public sealed record ExportedList(
    string Keyword, string CapturedAt, IReadOnlyList<ResultRow> Results, IReadOnlyList<string> Questions, IReadOnlyList<string> Related);

/// <summary>Result lists and the URLs in them.</summary>
public static class ResultStore
{
    /// <returns>For keywords that were captured several times the site's page that stood best at each capture, oldest first; captures without one left out.</returns>
    public static IReadOnlyList<(KeywordId KeywordId, DateOnly Day, string PageIdentity)> BestOwnPages(Session session)
    {
        var best = new List<(KeywordId, DateOnly, string)>();
        if (session.Count("select exists (select 1 from result_list group by keyword_id having count(*) > 1)") == 0)
            return best;
        var pages = OwnPages(session, r => r.GetString(2));
        session.Each(
            """
            select l.keyword_id, l.captured_on, group_concat(p.ranks)
            from (select keyword_id from result_list group by keyword_id having count(*) > 1) m
            join result_list l on l.keyword_id = m.keyword_id
            join result_part p on p.list_id = l.list_id
            group by l.list_id
            order by l.keyword_id, l.captured_on
            """,
            r =>
            {
                var own = ResultParts.Ranks(r.GetString(2)).Where(rank => pages.ContainsKey(rank.UrlId)).ToList();
                if (own.Count > 0)
                    best.Add((r.Id<KeywordId>(0), DateOnly.FromDayNumber(r.GetInt32(1)), pages[own.MinBy(rank => rank.Position).UrlId]));
            });
        return best;
    }

    /// <returns>For keywords whose two newest captures are near each other: how many results both have as far as a depth, and the length of the longer one; of some keywords where there are many.</returns>
    /// <param name="session">The session.</param>
    /// <param name="days">Days between the two at most.</param>
    /// <param name="depth">Positions that are compared.</param>
    /// <param name="most">Keywords that are looked at.</param>
    public static IReadOnlyList<(int Shared, int Length)> Repeated(Session session, int days, int depth, int most)
    {
        var lists = new Dictionary<KeywordId, List<HashSet<long>>>();
        session.Each(
            """
            select l.keyword_id, group_concat(p.ranks)
            from (
              select keyword_id, max(captured_on) as newest
              from result_list group by keyword_id having count(*) > 1 order by keyword_id % 7919, keyword_id limit @most
            ) m
            join result_list l on l.keyword_id = m.keyword_id and l.captured_on in (
              m.newest, (select max(b.captured_on) from result_list b where b.keyword_id = m.keyword_id and b.captured_on < m.newest and b.captured_on >= m.newest - @days))
            join result_part p on p.list_id = l.list_id
            group by l.list_id
            """,
            r =>
            {
                var id = r.Id<KeywordId>(0);
                if (!lists.TryGetValue(id, out var of))
                    lists[id] = of = [];
                of.Add([.. ResultParts.Ranks(r.GetString(1)).Where(rank => rank.Position <= depth).Select(rank => rank.UrlId)]);
            },
            ("days", (long)days), ("most", (long)most));
        return [.. lists.Values.Where(l => l.Count == 2).Select(l => (l[0].Count(l[1].Contains), Math.Max(l[0].Count, l[1].Count)))];
    }

    /// <returns>What the newest captures of some keywords kept of those before, for keywords that were captured more than once.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="selection">Which keywords.</param>
    /// <param name="depth">Positions that are compared.</param>
    /// <param name="newest">Captures of each keyword that are looked at, 2 or more.</param>
    public static IReadOnlyList<Repeat> Repeats(Session session, KeywordSelection selection, int depth, int newest = 4)
    {
        KeywordStore.Select(session, selection);
        var repeats = new List<Repeat>();
        var (keyword, day, before) = (default(KeywordId), 0, new HashSet<long>());
        session.Each(
            """
            select l.keyword_id, l.captured_on, group_concat(p.ranks)
            from temp.selected_keyword c
            cross join result_list l on l.keyword_id = c.keyword_id
            join result_part p on p.list_id = l.list_id
            where (select count(*) from result_list n where n.keyword_id = l.keyword_id) > 1
              and (select count(*) from result_list n where n.keyword_id = l.keyword_id and n.captured_on > l.captured_on) < @newest
            group by l.keyword_id, l.captured_on
            order by l.keyword_id, l.captured_on
            """,
            r =>
            {
                var (id, on) = (r.Id<KeywordId>(0), r.GetInt32(1));
                var urls = ResultParts.Ranks(r.GetString(2)).Where(rank => rank.Position <= depth).Select(rank => rank.UrlId).ToHashSet();
                if (id == keyword && before.Count > 0)
                    repeats.Add(new Repeat(id, on - day, before.Count, before.Count(urls.Contains)));
                (keyword, day, before) = (id, on, urls);
            },
            ("newest", (long)newest));
        return repeats;
    }

    /// <returns>By URL the pages of the site: what is read of url_id, page_id, identity.</returns>
    internal static Dictionary<long, T> OwnPages<T>(Session session, Func<SqliteDataReader, T> read)
    {
        var pages = new Dictionary<long, T>();
        session.Each(
            "select u.url_id, g.page_id, u.identity from url u join page g on g.identity = u.identity and g.kind = 'existing'",
            r => pages[r.GetInt64(0)] = read(r));
        return pages;
    }

    /// <returns>The lists of a keyword, newest first.</returns>
    public static IReadOnlyList<ListInfo> Lists(Session session, KeywordId keywordId) => session.List(
        """
        select l.list_id, l.captured_on, l.captured_at, l.origin, l.depth, (select group_concat(p.ranks) from result_part p where p.list_id = l.list_id)
        from result_list l
        where l.keyword_id = @id
        order by l.captured_on desc
        """,
        r => new ListInfo(r.Id<ResultListId>(0), DateOnly.FromDayNumber(r.GetInt32(1)), r.GetString(2), r.GetString(3), r.IntOrNull(4), ResultParts.Ranks(r.TextOrNull(5) ?? "").DistinctBy(rank => rank.UrlId).Count()),
        ("id", keywordId));

    /// <returns>The results of a list, best first.</returns>
    public static IReadOnlyList<ResultRow> Results(Session session, ResultListId listId)
    {
        var rows = new List<ResultRow>();
        using var url = session.Command("select u.identity, u.host, p.page_id from url u left join page p on p.identity = u.identity where u.url_id = @id", ("id", 0L));
        session.Each(
            "select ranks, shown from result_part where list_id = @id",
            r =>
            {
                foreach (var (rank, shown) in ResultParts.Ranks(r.GetString(0)).Zip(ResultParts.Shown(r.GetString(1))))
                {
                    url.Set(rank.UrlId);
                    using var found = url.ExecuteReader();
                    found.Read();
                    rows.Add(new ResultRow(rank.Position, shown.Url, found.GetString(0), found.GetString(1), shown.Title, shown.Snippet, found.IdOrNull<PageId>(2)));
                }
            },
            ("id", listId));
        return [.. rows.OrderBy(r => r.Position).ThenBy(r => r.Identity, StringComparer.Ordinal).DistinctBy(r => r.Identity)];
    }

    /// <returns>The newest list of a keyword; null where it has none.</returns>
    public static ListInfo? NewestList(Session session, KeywordId keywordId) => Lists(session, keywordId) is [var newest, ..] ? newest : null;

    /// <returns>The newest result list of a keyword, best first; empty where it was not captured.</returns>
    public static IReadOnlyList<ResultRow> ListOf(Session session, KeywordId keywordId) =>
        NewestList(session, keywordId) is { } newest ? Results(session, newest.ListId) : [];

    /// <returns>What people also ask, or related searches, in their order.</returns>
    public static IReadOnlyList<string> Phrases(Session session, ResultListId listId, PhraseKind kind) => session.List(
        "select phrase from result_phrase where list_id = @id and kind = @kind order by place", r => r.GetString(0), ("id", listId), ("kind", kind.Stored()));

    /// <returns>All questions or related searches of the newest lists of chosen keywords, each once.</returns>
    public static IReadOnlyList<string> PhrasesOfChosen(Session session, PhraseKind kind) => session.List(
        """
        select min(p.phrase)
        from temp.selected_keyword c
        join keyword k on k.keyword_id = c.keyword_id
        join result_list l on l.keyword_id = k.keyword_id and l.captured_on = k.captured_on
        join result_phrase p on p.list_id = l.list_id and p.kind = @kind
        group by lower(p.phrase)
        order by 1
        """,
        r => r.GetString(0),
        ("kind", kind.Stored()));

    /// <returns>What people also ask, by the newest lists of the keywords of a cluster: what most of these lists have first.</returns>
    public static IReadOnlyList<string> Asked(Session session, ClusterId clusterId) => session.List(
        """
        select min(p.phrase)
        from cluster_member m
        join keyword k on k.keyword_id = m.keyword_id
        join result_list l on l.keyword_id = k.keyword_id and l.captured_on = k.captured_on
        join result_phrase p on p.list_id = l.list_id and p.kind = @kind
        where m.cluster_id = @cluster
        group by lower(p.phrase)
        order by count(*) desc, min(p.place), lower(p.phrase)
        """,
        r => r.GetString(0),
        ("kind", PhraseKind.Question.Stored()),
        ("cluster", clusterId));

    /// <summary>The newest result lists of all keywords, for the rules.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keywordIds">Ascending; their places are the indexes of the lists.</param>
    /// <param name="withinJob">A job is capturing: keywords are not told of its lists before it ends, so these are looked up.</param>
    /// <returns>The lists, and the identity of each URL in them.</returns>
    public static (ResultLists Lists, IReadOnlyList<string> Identities) Newest(Session session, IReadOnlyList<KeywordId> keywordIds, bool withinJob = false)
    {
        var identities = new List<string>();
        var indexOfUrl = new Dictionary<long, int>();
        var tracking = ProjectStore.Tracking(session);
        // Most addresses have no parameters; those that have may be the same without some.
        var folded = new Dictionary<string, int>(StringComparer.Ordinal);
        session.Each(
            tracking.IsEmpty ? "select url_id, identity from url order by url_id" : "select url_id, identity from url order by instr(identity, '?') > 0, url_id",
            r =>
            {
                var identity = r.GetString(1);
                if (!tracking.IsEmpty)
                {
                    identity = tracking.Fold(identity);
                    if (folded.TryGetValue(identity, out var known))
                    {
                        indexOfUrl[r.GetInt64(0)] = known;
                        return;
                    }

                    folded[identity] = identities.Count;
                }

                indexOfUrl[r.GetInt64(0)] = identities.Count;
                identities.Add(identity);
            });
        var places = new Dictionary<KeywordId, int>(keywordIds.Count);
        for (var i = 0; i < keywordIds.Count; i++)
            places[keywordIds[i]] = i;
        var builder = new ResultLists.Builder();
        EachNewest(session, (keyword, ranks) =>
        {
            foreach (var rank in ranks)
                builder.Add(places[keyword], rank.Position, indexOfUrl[rank.UrlId]);
        }, withinJob);
        return (builder.Build(keywordIds.Count, identities), identities);
    }

    /// <summary>Goes through the newest result lists of all keywords, each with its ranks in any order.</summary>
    internal static void EachNewest(Session session, Action<KeywordId, IEnumerable<Rank>> read, bool withinJob = false)
    {
        // To look up each list in the database takes longer.
        var keywordOf = new Dictionary<long, KeywordId>();
        session.Each(
            withinJob
                ? "select l.list_id, l.keyword_id from result_list l join (select keyword_id, max(captured_on) as day from result_list group by keyword_id) n on n.keyword_id = l.keyword_id and n.day = l.captured_on"
                : "select l.list_id, l.keyword_id from keyword k join result_list l on l.keyword_id = k.keyword_id and l.captured_on = k.captured_on",
            r => keywordOf[r.GetInt64(0)] = r.Id<KeywordId>(1));
        session.Each("select list_id, group_concat(ranks) from result_part group by list_id", r =>
        {
            if (keywordOf.TryGetValue(r.GetInt64(0), out var keyword))
                read(keyword, ResultParts.Ranks(r.GetString(1)));
        });
    }

    /// <returns>Whether there is any result list.</returns>
    public static bool HasAny(Session session) => session.Count("select exists (select 1 from result_list)") == 1;

    /// <summary>The newest lists of chosen keywords (see <see cref="KeywordStore.Select"/>), for an export, by phrase.</summary>
    public static IEnumerable<ExportedList> Export(Session session)
    {
        var lists = session.List(
            """
            select k.phrase, l.captured_at, l.list_id
            from temp.selected_keyword c
            join keyword k on k.keyword_id = c.keyword_id
            join result_list l on l.keyword_id = k.keyword_id and l.captured_on = k.captured_on
            order by k.normal_form
            """,
            r => (Phrase: r.GetString(0), At: r.GetString(1), Id: r.Id<ResultListId>(2)));
        foreach (var (phrase, at, id) in lists)
            yield return new ExportedList(phrase, at, Results(session, id), Phrases(session, id, PhraseKind.Question), Phrases(session, id, PhraseKind.Related));
    }

    /// <summary>The ids of all URLs by a hash of their identity, kept from one write to the next.</summary>
    /// <remarks>
    /// About 48 bytes a URL. URLs are told apart by 128-bit hashes of their identity (XXH128), so that their texts need
    /// not be held or indexed. Rows of the url table are never changed or deleted, so what came since is enough to catch up.
    /// To be thrown away when a write that used it was not committed.
    /// </remarks>
    public sealed class UrlIds
    {
        private readonly Dictionary<UInt128, long> _ids = [];
        private long _last;

        /// <summary>Reads what came since.</summary>
        internal void CatchUp(Session session) => session.List(
            "select identity, url_id from url where url_id > @last order by url_id",
            r => _ids[HashOf(r.GetString(0))] = _last = r.GetInt64(1),
            ("last", _last));

        /// <summary>The id of a URL; the next one, to be written by the caller, where it is new.</summary>
        internal long IdOf(string identity, out bool isNew)
        {
            ref var id = ref CollectionsMarshal.GetValueRefOrAddDefault(_ids, HashOf(identity), out var isThere);
            isNew = !isThere;
            return isThere ? id : id = ++_last;
        }

        internal static UInt128 HashOf(string identity) => XxHash128.HashToUInt128(MemoryMarshal.AsBytes(identity.AsSpan()));
    }

    /// <summary>Writes result lists in one transaction. A list that is there already for its keyword and day is replaced.</summary>
    public sealed class ListWriter : IDisposable
    {
        private readonly UrlIds _urls;
        private long _lastList;
        private readonly RowBuffer _insertUrls;
        private readonly ResultParts.Writer _insert;
        private readonly SqliteCommand _replace;
        private readonly RowBuffer _begin;
        private (int Day, string At, string Origin, int? Depth) _shared;
        private readonly SqliteCommand _phrase;
        private readonly SqliteCommand _empty;
        private readonly SqliteCommand _success;
        private readonly WriteSession _session;

        public ListWriter(WriteSession session, UrlIds urls)
        {
            (_session, _urls) = (session, urls);
            // The ids that the database gives are those that UrlIds gives: the next after the greatest.
            _insertUrls = new RowBuffer(session, "insert or fail into url (identity, host)", 8, 2);
            _replace = Prepared(session, "delete from result_list where keyword_id = @keyword and captured_on = @day", "@keyword", "@day");
            _begin = new RowBuffer(session, "insert or fail into result_list (captured_on, captured_at, origin, depth, list_id, keyword_id)", 8, 2, "@s0", "@s1", "@s2", "@s3");
            _insert = new ResultParts.Writer(session);
            _phrase = Prepared(
                session, "insert or ignore into result_phrase (list_id, kind, place, phrase) values (@list, @kind, @place, @phrase)", "@list", "@kind", "@place", "@phrase");
            _empty = Prepared(session, "update result_list set is_empty = 1 where list_id = @list", "@list");
            _success = Prepared(session, "delete from capture_failure where keyword_id = @keyword", "@keyword");
            CatchUp();
        }

        /// <summary>Learns which ids others gave.</summary>
        internal void CatchUp()
        {
            _urls.CatchUp(_session);
            _lastList = _session.Count("select seq from sqlite_sequence where name = 'result_list'");
        }

        /// <summary>Begins a list, in the place of that of the same keyword and day.</summary>
        /// <param name="keywordId">The keyword.</param>
        /// <param name="day">Captures are told apart by day.</param>
        /// <param name="at">ISO 8601, UTC.</param>
        /// <param name="origin">import or capture.</param>
        /// <param name="depth">How many results were asked for; null where that is not known.</param>
        /// <param name="mayBeThere">False where the keyword has no list yet, which saves looking.</param>
        /// <returns>Its id.</returns>
        public ResultListId Begin(KeywordId keywordId, int day, string at, string origin, int? depth, bool mayBeThere = true)
        {
            if (mayBeThere)
            {
                _replace.Run(keywordId, day);
                _success.Run(keywordId);
                _session.Touch(Data.Results, keywordId);
            }

            var list = new ResultListId(++_lastList);
            // The lists of a file are mostly of one day.
            if (_begin.Waiting == 0 || (day, at, origin, depth) != _shared)
                _begin.Share(day, at, origin, depth);
            _shared = (day, at, origin, depth);
            _begin.Add(list, keywordId);
            return list;
        }

        public void Add(ResultListId listId, int position, string url, string identity, string? title, string? snippet) =>
            _insert.Add(listId, position, UrlOf(identity), url, title, snippet);

        public void AddPhrases(ResultListId listId, PhraseKind kind, IEnumerable<string> phrases)
        {
            var place = 0;
            foreach (var phrase in phrases)
                _phrase.Run(listId, kind.Stored(), ++place, phrase);
        }

        /// <summary>Says that a list has no results: the search returned nothing.</summary>
        public void MarkEmpty(ResultListId listId) => _empty.Run(listId);

        /// <summary>Writes what is still waiting.</summary>
        public void Flush()
        {
            _insertUrls.Flush();
            _begin.Flush();
            _insert.Flush();
        }

        /// <summary>Writes what is still waiting.</summary>
        public void Dispose()
        {
            _insertUrls.Dispose();
            _insert.Dispose();
            _replace.Dispose();
            _begin.Dispose();
            _phrase.Dispose();
            _empty.Dispose();
            _success.Dispose();
        }

        private long UrlOf(string identity)
        {
            // There is one writer at a time, so the ids can be given here, which spares asking for them.
            var id = _urls.IdOf(identity, out var isNew);
            if (isNew)
                _insertUrls.Add(identity, UrlIdentity.HostOf(identity));
            return id;
        }

        private static SqliteCommand Prepared(Session session, string sql, params string[] parameters)
        {
            var command = session.Command(sql);
            foreach (var parameter in parameters)
                command.Parameters.Add(new SqliteParameter(parameter, DBNull.Value));
            command.Prepare();
            return command;
        }
    }

    /// <summary>Writes captured results of a file one after another, in any order of rows.</summary>
    /// <remarks>Memory: that of <see cref="UrlIds"/> and about 200 bytes a keyword, whatever the number of results.</remarks>
    public sealed class Writer : IDisposable, IGivesWay
    {
        private readonly WriteSession _session;
        private readonly DateOnly _today;
        private readonly string _now;
        private readonly KeywordStore.Writer _keywords;
        private readonly ListWriter _writer;
        private readonly UndoRanges _added;
        private readonly Dictionary<string, KeywordId> _keywordIds = new(StringComparer.Ordinal);
        private readonly Dictionary<(KeywordId Keyword, int Day), ResultListId> _begun = [];
        private readonly HashSet<ResultListId> _withResults = [];
        private ResultListId _withResult;
        private readonly HashSet<KeywordId> _capturedBefore = [];
        private (string? Form, DateOnly? Day, ResultListId List) _last;

        /// <param name="session">The transaction.</param>
        /// <param name="sourceId">The source of keywords that are not known yet.</param>
        /// <param name="now">The day of results that do not say when they were captured.</param>
        public Writer(WriteSession session, SourceId sourceId, DateTimeOffset now)
        {
            _session = session;
            _today = DateOnly.FromDateTime(now.UtcDateTime);
            _now = SourceStore.Iso(now);
            _keywords = new KeywordStore.Writer(session, sourceId, now);
            _added = new UndoRanges(session, "result_list");
            _writer = new ListWriter(session, new UrlIds());
            Look();
            session.Add(this);
        }

        /// <summary>Result lists that were written.</summary>
        public int Lists => _begun.Count;

        /// <summary>Keywords that were not known and came in without a volume.</summary>
        public int NewKeywords => _keywords.NewKeywords;

        public void Write(CapturedResult result)
        {
            var list = ListOf(result.Phrase, result.NormalForm, result.CapturedOn);
            if (list != _withResult)
                _withResults.Add(_withResult = list);
            _writer.Add(list, result.Position, result.Url, result.Identity, result.Title, result.Snippet);
        }

        /// <summary>Questions or related searches that came with a list, which may have no results.</summary>
        public void WritePhrases(string phrase, string normalForm, DateOnly? capturedOn, PhraseKind kind, IEnumerable<string> phrases) =>
            _writer.AddPhrases(ListOf(phrase, normalForm, capturedOn), kind, phrases);

        /// <summary>To be called after the last row.</summary>
        public void Finish()
        {
            _writer.Flush();
            _keywords.Finish();
            _added.End();
            if (_begun.Count == 0)
                return;
            foreach (var list in _begun.Values.Where(l => !_withResults.Contains(l)))
                _writer.MarkEmpty(list);
            _session.Touch(Data.Results);
            _session.Touch(Data.Evidence);
        }

        public void Dispose()
        {
            _session.Remove(this);
            _keywords.Dispose();
            _writer.Dispose();
        }

        void IGivesWay.BeforeOthers() => _writer.Flush();

        void IGivesWay.AfterOthers(bool haveChanged)
        {
            _writer.CatchUp();
            if (!haveChanged)
                return;
            Look();
            // Lists may be gone with their keywords, or replaced by another capture of the same day.
            var lists = _session.Ids<ResultListId>("select list_id from result_list").ToHashSet();
            foreach (var key in _begun.Where(b => !lists.Contains(b.Value)).Select(b => b.Key).ToList())
                _begun.Remove(key);
            _last = default;
        }

        private void Look()
        {
            _keywordIds.Clear();
            _session.Each("select normal_form, keyword_id from keyword union all select normal_form, keyword_id from keyword_alias", r => _keywordIds[r.GetString(0)] = r.Id<KeywordId>(1));
            _capturedBefore.Clear();
            _capturedBefore.UnionWith(_session.Ids<KeywordId>("select keyword_id from result_list union select keyword_id from capture_failure"));
        }

        private ResultListId ListOf(string phrase, string normalForm, DateOnly? capturedOn)
        {
            // The rows of a list mostly follow each other.
            if (ReferenceEquals(normalForm, _last.Form) && capturedOn == _last.Day)
                return _last.List;
            var list = ListOfAny(phrase, normalForm, capturedOn);
            _last = (normalForm, capturedOn, list);
            return list;
        }

        private ResultListId ListOfAny(string phrase, string normalForm, DateOnly? capturedOn)
        {
            if (!_keywordIds.TryGetValue(normalForm, out var keyword))
            {
                keyword = _keywords.Write(new Keyword(phrase, normalForm));
                _keywordIds[normalForm] = keyword;
            }

            var day = capturedOn ?? _today;
            ref var list = ref CollectionsMarshal.GetValueRefOrAddDefault(_begun, (keyword, day.DayNumber), out var isBegun);
            if (!isBegun)
                list = _writer.Begin(keyword, day.DayNumber, capturedOn is null ? _now : day.ToString("yyyy-MM-dd", null), "import", null, _capturedBefore.Contains(keyword));
            return list;
        }
    }
}
