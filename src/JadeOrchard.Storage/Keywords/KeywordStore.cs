using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Keywords;

/// <summary>A keyword as lists show it.</summary>
/// <param name="TitleCompetition">Title matches ÷ volume; null where one of them is unknown.</param>
/// <param name="Intent">What a source said, else what the phrase tells; null where neither.</param>
/// <param name="IntentToldBy">The word that told the intent; null where a source said it.</param>
/// <param name="CaptureNote">Why the last capture failed; null where it did not.</param>
/// <param name="CapturedOn">Day of its newest result list; null where it was not captured.</param>
/// <param name="Sources">How many sources said something of it.</param>
/// <param name="ClusterId">The cluster that it is in, or expected in where it has no result list; null where there is none.</param>
/// <param name="PageUrl">The page of its cluster.</param>
/// <param name="DeclinedFor">Why the planner does not want it; null where it is wanted.</param>
/// <param name="Season">Null where too few months are known.</param>
public sealed record KeywordRow(
    KeywordId Id,
    string Phrase,
    long? Volume,
    double? Difficulty,
    long? TitleMatches,
    double? TitleCompetition,
    Intent? Intent,
    string? IntentToldBy,
    double? Cpc,
    bool IsQuestion,
    NamedBrand Brand,
    CaptureState Capture,
    string? CaptureNote,
    DateOnly? CapturedOn,
    long Sources,
    ClusterId? ClusterId,
    string? ClusterName,
    string? PageUrl,
    string? DeclinedFor,
    Season? Season);

/// <summary>Close variants: keywords with the same stems in any order.</summary>
/// <param name="Keywords">Most searched first.</param>
public sealed record VariantGroup(string Key, long Demand, IReadOnlyList<KeywordRow> Keywords);

/// <summary>Keywords and what is known of them.</summary>
public static class KeywordStore
{
    private const string IntentOf = "coalesce(k.intent, k.told_intent)";

    private static readonly ListSource<KeywordRow> Rows = new(
        "k.keyword_id",
        $"""
        k.keyword_id, k.phrase, k.volume, k.difficulty, k.title_matches, {KeywordFilter.CompetitionOf}, {IntentOf}, iif(k.intent is null, k.intent_rule, null), k.cpc,
        k.is_question, k.brand, coalesce(k.capture_state, iif({StagedStore.IsExpected}, 'expected', 'none')), k.capture_note, k.captured_on,
        (select count(*) from keyword_value v where v.keyword_id = k.keyword_id), c.cluster_id, coalesce(c.name, p.phrase), g.url, d.reason, {SeasonStore.Columns("ks")}
        """,
        """
        keyword k
        left join cluster_member m on m.keyword_id = k.keyword_id
        left join cluster_expected x on x.keyword_id = k.keyword_id
        left join cluster c on c.cluster_id = coalesce(m.cluster_id, x.cluster_id)
        left join keyword p on p.keyword_id = c.primary_keyword_id
        left join assignment a on a.cluster_id = c.cluster_id
        left join page g on g.page_id = a.page_id
        left join declined d on d.keyword_id = k.keyword_id
        left join keyword_season ks on ks.keyword_id = k.keyword_id
        """,
        "count(*), count(*), coalesce(sum(k.volume), 0), avg(k.difficulty), 0.0, coalesce(sum(k.capture_state = 'captured'), 0)",
        ListSource<KeywordRow>.Like("k.phrase"),
        new Dictionary<string, string>
        {
            ["phrase"] = "k.phrase",
            ["volume"] = "k.volume",
            ["difficulty"] = "k.difficulty",
            ["titleMatches"] = "k.title_matches",
            ["titleCompetition"] = KeywordFilter.CompetitionOf,
            ["intent"] = IntentOf,
            ["cpc"] = "k.cpc",
            ["capture"] = "k.capture_state",
            ["capturedOn"] = "k.captured_on",
            ["clusterName"] = "coalesce(c.name, p.phrase)",
            ["season"] = "ks.tau",
        },
        "k.volume desc, k.normal_form",
        Read)
    {
        Narrow = "keyword k",
        WideSorts = new HashSet<string> { "clusterName", "season" },
    };

    public static ListPage<KeywordRow> List(Session session, ListQuery query, KeywordFilter filter)
    {
        // What a source said is stored in the order of the keywords, so going along both at once spares looking each up.
        var rows = filter.SourceId is null
            ? Rows
            : Rows with { Narrow = "keyword_value fs cross join keyword k on k.keyword_id = fs.keyword_id and fs.source_id = @source" };
        var (conditions, parameters) = (query.Sort is { } sort && Rows.WideSorts.Contains(sort) ? filter : filter with { SourceId = null }).ToSql();
        return rows.Page(session, query, conditions, [.. parameters, ("source", filter.SourceId)]);
    }

    /// <summary>The tally of keywords that were chosen.</summary>
    public static ListTally Tally(Session session, KeywordSelection selection)
    {
        Select(session, selection);
        return session.First(
            $"select {Rows.Tally} from keyword k where k.keyword_id in (select keyword_id from selected_keyword)",
            r => new ListTally(r.GetInt64(0), r.GetInt64(1), r.GetInt64(2), r.DoubleOrNull(3), r.GetDouble(4), r.GetInt64(5)))!;
    }

    public static KeywordRow? Find(Session session, KeywordId keywordId) => session.First(
        $"select {Rows.Columns} from {Rows.From} where k.keyword_id = @id", Read, ("id", keywordId));

    /// <returns>The keywords of the last <see cref="Select"/> of the session.</returns>
    public static IReadOnlyList<KeywordId> Selected(Session session) => session.List("select keyword_id from temp.selected_keyword", r => r.Id<KeywordId>(0));

    /// <returns>The phrases of some keywords; those that are gone are left out.</returns>
    public static IReadOnlyDictionary<KeywordId, string> Phrases(Session session, IReadOnlyCollection<KeywordId> keywordIds) => session.List(
        "select keyword_id, phrase from keyword where keyword_id in (select value from json_each(@ids))", r => (Id: r.Id<KeywordId>(0), Phrase: r.GetString(1)),
        ("ids", "[" + string.Join(',', keywordIds) + "]")).ToDictionary(k => k.Id, k => k.Phrase);

    /// <returns>The volumes of some keywords; those that are gone are left out.</returns>
    public static IReadOnlyDictionary<KeywordId, long?> Volumes(Session session, IReadOnlyCollection<KeywordId> keywordIds) => session.List(
        "select keyword_id, volume from keyword where keyword_id in (select value from json_each(@ids))", r => (Id: r.Id<KeywordId>(0), Volume: r.LongOrNull(1)),
        ("ids", "[" + string.Join(',', keywordIds) + "]")).ToDictionary(k => k.Id, k => k.Volume);

    /// <summary>The words and volumes of the keywords that a filter lets through, for their modifiers.</summary>
    public static List<(string Words, long Volume)> Words(Session session, string? search, KeywordFilter filter)
    {
        var (conditions, parameters) = Searched(filter, search);
        return session.List(
            $"select k.words, coalesce(k.volume, 0) from keyword k {Where(conditions)}", r => (r.GetString(0), r.GetInt64(1)), [.. parameters]);
    }

    /// <summary>Groups of close variants among the keywords that a filter lets through, those of most demand first.</summary>
    public static (IReadOnlyList<VariantGroup> Groups, long Total) Variants(Session session, ListQuery query, KeywordFilter filter)
    {
        var (conditions, parameters) = Searched(filter, query.Search);
        var groups = $"select k.variant_key as key, count(*) as size, coalesce(sum(k.volume), 0) as demand from keyword k {Where(conditions)} group by k.variant_key having count(*) > 1";
        var total = session.Count($"select count(*) from ({groups})", [.. parameters]);
        var page = session.List(
            $"{groups} order by demand desc, key limit @limit offset @offset",
            r => (Key: r.GetString(0), Demand: r.GetInt64(2)),
            [.. parameters, ("limit", query.Limit), ("offset", query.Offset)]);
        return (
            [.. page.Select(g => new VariantGroup(g.Key, g.Demand, List(session, new ListQuery(query.Search), filter with { VariantKey = g.Key }).Rows))],
            total);
    }

    /// <summary>All keywords by id, for the rules.</summary>
    public static (IReadOnlyList<KeywordId> Ids, IReadOnlyList<Keyword> Keywords) All(Session session)
    {
        var ids = new List<KeywordId>();
        var keywords = session.List(
            "select keyword_id, phrase, normal_form, volume, difficulty, title_matches, coalesce(intent, told_intent), cpc from keyword order by normal_form",
            r =>
            {
                ids.Add(r.Id<KeywordId>(0));
                return new Keyword(r.GetString(1), r.GetString(2), r.LongOrNull(3), r.DoubleOrNull(4), r.LongOrNull(5), r.EnumOrNull<Intent>(6), r.DoubleOrNull(7));
            });
        return (ids, keywords);
    }

    /// <summary>Puts the ids of a selection into the temporary table "selected_keyword (keyword_id)".</summary>
    /// <returns>How many there are.</returns>
    public static int Select(Session session, KeywordSelection selection)
    {
        session.Temporary("create temp table if not exists selected_keyword (keyword_id integer primary key); delete from temp.selected_keyword;");
        if (selection.Ids is null)
        {
            var (conditions, parameters) = Searched(selection.Filter ?? new KeywordFilter(), selection.Search);
            return session.Temporary($"insert into temp.selected_keyword select k.keyword_id from keyword k {Where(conditions)}", [.. parameters]);
        }

        return session.Temporary(
            "insert or ignore into temp.selected_keyword select k.keyword_id from json_each(@ids) j join keyword k on k.keyword_id = j.value",
            ("ids", "[" + string.Join(',', selection.Ids) + "]"));
    }

    /// <summary>Computes again what phrases alone tell, after the rules or the brands of the project changed.</summary>
    public static void RefreshReadings(WriteSession session, KeywordReader reader)
    {
        using var update = session.Command(
            """
            update keyword
            set words = @words, word_count = @count, is_question = @question, brand = @brand, told_intent = @told, intent_rule = @rule, variant_key = @key
            where keyword_id = @id
              and (words, is_question, brand, coalesce(told_intent, ''), coalesce(intent_rule, ''), variant_key) <> (@words, @question, @brand, coalesce(@told, ''), coalesce(@rule, ''), @key)
            """,
            ("id", 0L), ("words", ""), ("count", 0), ("question", 0), ("brand", ""), ("told", null), ("rule", null), ("key", ""));
        foreach (var (id, form) in session.List("select keyword_id, normal_form from keyword", r => (r.Id<KeywordId>(0), r.GetString(1))))
        {
            var reading = reader.Read(form);
            update.Set(id);
            Set(update, 1, reading);
            update.ExecuteNonQuery();
        }
    }

    /// <summary>Takes the keywords of a selection out of the project, with all that depends on them.</summary>
    /// <returns>How many there were.</returns>
    public static int Remove(WriteSession session, KeywordSelection selection)
    {
        var count = Select(session, selection);
        ClusterStore.TakeOut(session);
        session.Execute(
            """
            delete from declined where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from list_member where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from keyword_choice where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from keyword_value where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from keyword_alias where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from capture_failure where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from result_list where keyword_id in (select keyword_id from temp.selected_keyword);
            delete from keyword where keyword_id in (select keyword_id from temp.selected_keyword);
            """);
        session.Touch(Data.Keywords);
        return count;
    }

    /// <summary>Keeps keywords that the planner does not want out of clusters, now and in later groupings.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="selection">Which.</param>
    /// <param name="reason">Why.</param>
    /// <param name="now">When.</param>
    /// <returns>How many.</returns>
    public static int Decline(WriteSession session, KeywordSelection selection, string reason, DateTimeOffset now)
    {
        var count = Select(session, selection);
        ClusterStore.TakeOut(session);
        session.Execute(
            """
            insert into declined (keyword_id, reason, declined_at) select keyword_id, @reason, @now from temp.selected_keyword where true
            on conflict (keyword_id) do update set reason = excluded.reason, declined_at = excluded.declined_at
            """,
            ("reason", reason), ("now", SourceStore.Iso(now)));
        session.Touch(Data.Expected, [.. Selected(session)]);
        return count;
    }

    /// <summary>Takes declined keywords back: they may be grouped again.</summary>
    /// <returns>How many were declined.</returns>
    public static int TakeBack(WriteSession session, KeywordSelection selection)
    {
        Select(session, selection);
        return session.Touching(Data.Expected, "delete from declined where keyword_id in (select keyword_id from temp.selected_keyword) returning keyword_id");
    }

    /// <returns>What an unknown volume counts as, see <see cref="Medians"/>.</returns>
    public static long MedianVolume(Session session) =>
        session.Scalar("select volume from keyword where volume is not null order by volume limit 1 offset (select (count(volume) - 1) / 2 from keyword)") is long median ? median : Medians.WhenNoneIsKnown;

    public static long Count(Session session) => session.Count("select count(*) from keyword");

    public static bool Exists(Session session, KeywordId keywordId) => session.Count("select count(*) from keyword where keyword_id = @id", ("id", keywordId)) == 1;

    /// <returns>How many of some keywords are not there.</returns>
    public static int Missing(Session session, IReadOnlyList<KeywordId> keywordIds) => (int)session.Count(
        "select count(*) from (select distinct value from json_each(@ids)) j where not exists (select 1 from keyword k where k.keyword_id = j.value)", ("ids", "[" + string.Join(',', keywordIds) + "]"));

    /// <returns>The phrases of a selection.</returns>
    public static IReadOnlyList<string> Phrases(Session session, KeywordSelection selection)
    {
        Select(session, selection);
        return session.List("select k.phrase from temp.selected_keyword c join keyword k on k.keyword_id = c.keyword_id", r => r.GetString(0));
    }

    /// <returns>The other close variants of a keyword.</returns>
    public static IReadOnlyList<KeywordRow> VariantsOf(Session session, KeywordId keywordId) =>
        session.Scalar("select variant_key from keyword where keyword_id = @id", ("id", keywordId)) is string key
            ? [.. List(session, new ListQuery(), new KeywordFilter(VariantKey: key)).Rows.Where(k => k.Id != keywordId)]
            : [];

    /// <returns>How many keywords have no result list and are not expected in a cluster without one, and their volume.</returns>
    public static (long Count, long Volume) NotCaptured(Session session) => session.List(
        $"select count(*), coalesce(sum(volume), 0) from keyword k where (capture_state is null or capture_state = 'failed') and not {StagedStore.IsExpected}", r => (r.GetInt64(0), r.GetInt64(1)))[0];

    /// <returns>How many captured keywords are in no cluster and not declined, and their volume.</returns>
    public static (long Count, long Volume) NotGrouped(Session session) => session.List(
        """
        select count(*), coalesce(sum(volume), 0)
        from keyword k
        where capture_state = 'captured' and not exists (select 1 from cluster_member m where m.keyword_id = k.keyword_id)
          and not exists (select 1 from declined d where d.keyword_id = k.keyword_id)
        """,
        r => (r.GetInt64(0), r.GetInt64(1)))[0];

    /// <returns>How many keywords have a result list.</returns>
    public static long CapturedCount(Session session) => session.Count("select count(*) from keyword where capture_state = 'captured'");

    /// <returns>The day of the newest result list; null where there is none.</returns>
    public static DateOnly? NewestCapture(Session session) =>
        session.Scalar("select max(captured_on) from keyword") is long day ? DateOnly.FromDayNumber((int)day) : null;

    /// <returns>The ids of all declined keywords.</returns>
    public static HashSet<KeywordId> Declined(Session session) => [.. session.Ids<KeywordId>("select keyword_id from declined")];

    /// <summary>Merges close variants into one keyword: what sources said of them and their lists go with them.</summary>
    /// <remarks>Volumes are not added: sources mostly report close variants together.</remarks>
    /// <param name="session">The transaction.</param>
    /// <param name="keepId">The keyword that stays.</param>
    /// <param name="ids">The others.</param>
    public static void Merge(WriteSession session, KeywordId keepId, IReadOnlyList<KeywordId> ids)
    {
        foreach (var id in ids.Where(i => i != keepId).Distinct())
        {
            (string, object?)[] both = [("keep", keepId), ("id", id)];
            session.Execute(
                """
                pragma defer_foreign_keys = on;
                update keyword_alias set keyword_id = @keep where keyword_id = @id;
                insert into keyword_alias (normal_form, phrase, keyword_id) select normal_form, phrase, @keep from keyword where keyword_id = @id;
                update keyword_value set keyword_id = @keep, of_variant = 1
                where keyword_id = @id and source_id not in (select source_id from keyword_value where keyword_id = @keep);
                update list_member set keyword_id = @keep
                where keyword_id = @id and list_id not in (select list_id from list_member where keyword_id = @keep);
                """,
                both);
            if (session.Count("select count(*) from cluster_member where keyword_id = @keep", ("keep", keepId)) == 0)
            {
                session.Execute(
                    """
                    insert into cluster_member (keyword_id, cluster_id) select @keep, cluster_id from cluster_member where keyword_id = @id;
                    update cluster set primary_keyword_id = @keep where primary_keyword_id = @id;
                    """,
                    both);
                session.Touching(Data.Clusters, "select cluster_id from cluster_member where keyword_id = @keep", both);
            }

            Remove(session, new KeywordSelection([id]));
        }

        SourceStore.Refresh(session, keepId);
    }

    /// <summary>Writes what a source says of keywords, one after another.</summary>
    /// <remarks>
    /// The rule is that of <see cref="Keyword.UpdatedBy"/>: known values replace, the phrase stays as it was first given;
    /// but where the planner chose a source, its value stays in force. A merged variant means its keyword.
    /// </remarks>
    public sealed class Writer : IDisposable, IGivesWay
    {
        /// <summary>With more keywords, all are looked at again.</summary>
        private const int MostTouchedById = 10_000;

        private readonly WriteSession _session;
        private readonly KeywordReader _reader;
        private readonly UndoRanges _added;
        private readonly SqliteCommand _keyword;
        private readonly SqliteCommand _value;
        private readonly Dictionary<string, (KeywordId Id, string Form)> _aliases = new(StringComparer.Ordinal);
        private readonly HashSet<KeywordId> _chosen = [];
        private KeywordId _last;
        private readonly HashSet<KeywordId> _toRefresh = [];
        private readonly List<KeywordId> _touched = [];

        /// <param name="session">The transaction.</param>
        /// <param name="sourceId">Who says it.</param>
        /// <param name="now">When.</param>
        public Writer(WriteSession session, SourceId sourceId, DateTimeOffset now)
        {
            _session = session;
            _reader = ProjectStore.Reader(session);
            _added = new UndoRanges(session, "keyword", "keyword_value");
            _keyword = session.Command(
                """
                insert into keyword (phrase, normal_form, volume, difficulty, title_matches, intent, cpc, monthly_volumes, words, word_count, is_question, brand, told_intent, intent_rule, variant_key)
                values (@phrase, @form, @volume, @difficulty, @titles, @intent, @cpc, @months, @words, @count, @question, @brand, @told, @rule, @key)
                on conflict (normal_form) do update set
                  volume = coalesce(excluded.volume, volume),
                  difficulty = coalesce(excluded.difficulty, difficulty),
                  title_matches = coalesce(excluded.title_matches, title_matches),
                  intent = coalesce(excluded.intent, intent),
                  cpc = coalesce(excluded.cpc, cpc),
                  monthly_volumes = coalesce(excluded.monthly_volumes, monthly_volumes)
                returning keyword_id
                """);
            foreach (var name in new[] { "phrase", "form", "volume", "difficulty", "titles", "intent", "cpc", "months", "words", "count", "question", "brand", "told", "rule", "key" })
                _keyword.Parameters.Add(new SqliteParameter("@" + name, DBNull.Value));
            _keyword.Prepare();
            _value = session.Command(
                """
                insert into keyword_value (keyword_id, source_id, phrase, of_variant, volume, difficulty, title_matches, intent, cpc, monthly_volumes, clicks, impressions, position, said_at)
                values (@id, @source, @phrase, @variant, @volume, @difficulty, @titles, @intent, @cpc, @months, @clicks, @impressions, @position, @now)
                on conflict (keyword_id, source_id) do update set
                  volume = coalesce(excluded.volume, volume),
                  difficulty = coalesce(excluded.difficulty, difficulty),
                  title_matches = coalesce(excluded.title_matches, title_matches),
                  intent = coalesce(excluded.intent, intent),
                  cpc = coalesce(excluded.cpc, cpc),
                  monthly_volumes = coalesce(excluded.monthly_volumes, monthly_volumes),
                  clicks = coalesce(excluded.clicks, clicks),
                  impressions = coalesce(excluded.impressions, impressions),
                  position = coalesce(excluded.position, position),
                  said_at = excluded.said_at
                """,
                ("id", 0L), ("source", sourceId), ("phrase", ""), ("variant", 0), ("volume", null), ("difficulty", null), ("titles", null), ("intent", null), ("cpc", null), ("months", null),
                ("clicks", null), ("impressions", null), ("position", null), ("now", SourceStore.Iso(now)));
            _value.Prepare();
            Look();
            session.Add(this);
        }

        /// <summary>Keywords that were not known before.</summary>
        public int NewKeywords { get; private set; }

        /// <param name="keyword">The keyword with what the source says of it.</param>
        /// <param name="performance">The site's own clicks, impressions and average position; null where the source does not know them.</param>
        /// <returns>The id of the keyword.</returns>
        public KeywordId Write(Keyword keyword, QueryPerformance? performance = null)
        {
            KeywordId id;
            var isVariant = _aliases.TryGetValue(keyword.NormalForm, out var alias);
            if (isVariant)
            {
                id = alias.Id;
                _toRefresh.Add(id);
            }
            else
            {
                var values = _keyword.Parameters;
                values[0].Value = keyword.Phrase;
                values[1].Value = keyword.NormalForm;
                SetNumbers(_keyword, 2, keyword);
                KeywordStore.Set(_keyword, 8, _reader.Read(keyword.NormalForm));
                id = new KeywordId((long)_keyword.ExecuteScalar()!);
                _touched.Add(id);
                if (id.Value > _last.Value)
                {
                    _last = id;
                    NewKeywords++;
                }

                if (_chosen.Contains(id))
                    _toRefresh.Add(id);
            }

            var said = _value.Parameters;
            said[0].Value = id.Value;
            said[2].Value = keyword.Phrase;
            said[3].Value = isVariant ? 1 : 0;
            SetNumbers(_value, 4, keyword);
            said[10].Value = (object?)performance?.Clicks ?? DBNull.Value;
            said[11].Value = (object?)performance?.Impressions ?? DBNull.Value;
            said[12].Value = (object?)performance?.Position ?? DBNull.Value;
            _value.ExecuteNonQuery();
            return id;
        }

        /// <summary>To be called after the last keyword; without it the new ones would not be undone.</summary>
        public void Finish()
        {
            _added.End();
            foreach (var id in _toRefresh)
                SourceStore.Refresh(_session, id);
            if (_touched.Count > MostTouchedById)
                _session.Touch(Data.Keywords);
            else
                _session.Touch(Data.Keywords, [.. _touched]);
        }

        void IGivesWay.BeforeOthers()
        {
        }

        void IGivesWay.AfterOthers(bool haveChanged)
        {
            if (haveChanged)
                Look();
        }

        private void Look()
        {
            _aliases.Clear();
            _session.Each(
                "select a.normal_form, a.keyword_id, k.normal_form from keyword_alias a join keyword k on k.keyword_id = a.keyword_id",
                r => _aliases[r.GetString(0)] = (r.Id<KeywordId>(1), r.GetString(2)));
            _chosen.Clear();
            _chosen.UnionWith(_session.Ids<KeywordId>("select distinct keyword_id from keyword_choice"));
            // A new row gets the id after the greatest.
            _last = new KeywordId(_session.Count("select max(keyword_id) from keyword"));
        }

        public void Dispose()
        {
            _session.Remove(this);
            _keyword.Dispose();
            _value.Dispose();
            _reader.Dispose();
        }

        private static void SetNumbers(SqliteCommand command, int first, Keyword keyword)
        {
            command.Parameters[first].Value = (object?)keyword.Volume ?? DBNull.Value;
            command.Parameters[first + 1].Value = (object?)keyword.Difficulty ?? DBNull.Value;
            command.Parameters[first + 2].Value = (object?)keyword.TitleMatches ?? DBNull.Value;
            command.Parameters[first + 3].Value = (object?)keyword.Intent?.Stored() ?? DBNull.Value;
            command.Parameters[first + 4].Value = (object?)keyword.Cpc ?? DBNull.Value;
            command.Parameters[first + 5].Value = (object?)keyword.Monthly?.ToString() ?? DBNull.Value;
        }
    }

    private static void Set(SqliteCommand command, int first, KeywordReading reading)
    {
        var values = command.Parameters;
        values[first].Value = reading.Words;
        values[first + 1].Value = reading.WordCount;
        values[first + 2].Value = reading.IsQuestion ? 1 : 0;
        values[first + 3].Value = reading.Brand.Stored();
        values[first + 4].Value = (object?)reading.Told?.Intent.Stored() ?? DBNull.Value;
        values[first + 5].Value = (object?)reading.Told?.Word ?? DBNull.Value;
        values[first + 6].Value = reading.VariantKey;
    }

    private static (List<string> Conditions, List<(string Name, object? Value)> Parameters) Searched(KeywordFilter filter, string? search)
    {
        var (conditions, parameters) = filter.ToSql();
        if (!string.IsNullOrWhiteSpace(search))
        {
            conditions.Add(Rows.Search);
            parameters.Add(("search", ListQuery.Pattern(search)));
        }

        return (conditions, parameters);
    }

    private static string Where(List<string> conditions) => conditions.Count == 0 ? "" : "where " + string.Join(" and ", conditions);

    private static KeywordRow Read(SqliteDataReader r) => new(
        r.Id<KeywordId>(0), r.GetString(1), r.LongOrNull(2), r.DoubleOrNull(3), r.LongOrNull(4), r.DoubleOrNull(5), r.EnumOrNull<Intent>(6), r.TextOrNull(7), r.DoubleOrNull(8),
        r.GetInt64(9) == 1, r.Enum<NamedBrand>(10), r.Enum<CaptureState>(11), r.TextOrNull(12), r.IsDBNull(13) ? null : DateOnly.FromDayNumber(r.GetInt32(13)),
        r.GetInt64(14), r.IdOrNull<ClusterId>(15), r.TextOrNull(16), r.TextOrNull(17), r.TextOrNull(18), SeasonStore.Read(r, 19));
}

/// <summary>What the site itself got for a query.</summary>
/// <param name="Position">Average, weighted by impressions.</param>
public sealed record QueryPerformance(long Clicks, long Impressions, double Position);
