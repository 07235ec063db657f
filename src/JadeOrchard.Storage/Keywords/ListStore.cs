namespace JadeOrchard.Storage.Keywords;

/// <summary>A named set of keywords.</summary>
/// <param name="Captured">How many of them have a result list.</param>
public sealed record ListRow(ListId Id, string Name, string Notes, long Keywords, long Demand, long Captured, string MadeAt);

/// <summary>A list by its name.</summary>
public sealed record ListName(ListId Id, string Name);

/// <summary>How one list changes by another.</summary>
public enum Combination
{
    /// <summary>Gets all keywords of the other.</summary>
    Union,

    /// <summary>Loses all keywords of the other.</summary>
    Subtract,

    /// <summary>Keeps only keywords of the other.</summary>
    Intersect,
}

/// <summary>Filters with a name.</summary>
/// <param name="Query">As in the address of the screen.</param>
public sealed record SavedFilterRow(FilterId Id, string Name, string Query);

/// <summary>Lists of keywords, and filters that were saved.</summary>
public static class ListStore
{
    private const string Select =
        """
        select l.list_id, l.name, l.notes, count(k.keyword_id), coalesce(sum(k.volume), 0), coalesce(sum(k.capture_state = 'captured'), 0), l.made_at
        from list l
        left join list_member m on m.list_id = l.list_id
        left join keyword k on k.keyword_id = m.keyword_id
        """;

    public static IReadOnlyList<ListRow> All(Session session) => session.List($"{Select} group by l.list_id order by l.name", Read);

    public static ListRow? Find(Session session, ListId listId) => session.First($"{Select} where l.list_id = @id group by l.list_id", Read, ("id", listId));

    /// <returns>The lists in which a keyword stands, by name.</returns>
    public static IReadOnlyList<ListName> Of(Session session, KeywordId keywordId) => session.List(
        "select l.list_id, l.name from list l join list_member m on m.list_id = l.list_id where m.keyword_id = @id order by l.name",
        r => new ListName(r.Id<ListId>(0), r.GetString(1)), ("id", keywordId));

    /// <returns>The ids of its keywords.</returns>
    public static HashSet<KeywordId> Members(Session session, ListId listId) =>
        [.. session.Ids<KeywordId>("select keyword_id from list_member where list_id = @id", ("id", listId))];

    public static ListId? IdOf(Session session, string name) => session.IdOrNull<ListId>("select list_id from list where name = @name", ("name", name));

    /// <returns>The id of the new list.</returns>
    public static ListId Make(WriteSession session, string name, string notes, DateTimeOffset now) => session.Id<ListId>(
        "insert into list (name, notes, made_at) values (@name, @notes, @now) returning list_id", ("name", name), ("notes", notes), ("now", SourceStore.Iso(now)));

    public static void Rename(WriteSession session, ListId listId, string name, string notes) => session.Execute(
        "update list set name = @name, notes = @notes where list_id = @id", ("id", listId), ("name", name), ("notes", notes));

    public static void Delete(WriteSession session, ListId listId) => session.Execute(
        "delete from list_member where list_id = @id; delete from list where list_id = @id;", ("id", listId));

    /// <returns>How many came into the list.</returns>
    public static int Add(WriteSession session, ListId listId, KeywordSelection selection)
    {
        KeywordStore.Select(session, selection);
        return session.Execute(
            "insert or ignore into list_member (list_id, keyword_id) select @id, keyword_id from temp.selected_keyword order by keyword_id", ("id", listId));
    }

    /// <returns>How many went out of the list.</returns>
    public static int Remove(WriteSession session, ListId listId, KeywordSelection selection)
    {
        KeywordStore.Select(session, selection);
        return session.Execute("delete from list_member where list_id = @id and keyword_id in (select keyword_id from temp.selected_keyword)", ("id", listId));
    }

    /// <returns>How many came in or went out.</returns>
    public static int Combine(WriteSession session, ListId listId, ListId otherId, Combination how) => session.Execute(
        how switch
        {
            Combination.Union => "insert or ignore into list_member (list_id, keyword_id) select @id, keyword_id from list_member where list_id = @other order by keyword_id",
            Combination.Subtract => "delete from list_member where list_id = @id and keyword_id in (select keyword_id from list_member where list_id = @other)",
            _ => "delete from list_member where list_id = @id and keyword_id not in (select keyword_id from list_member where list_id = @other)",
        },
        ("id", listId), ("other", otherId));

    public static IReadOnlyList<SavedFilterRow> Filters(Session session) => session.List(
        "select filter_id, name, query from saved_filter order by name", r => new SavedFilterRow(r.Id<FilterId>(0), r.GetString(1), r.GetString(2)));

    public static void SaveFilter(WriteSession session, string name, string query) => session.Execute(
        "insert into saved_filter (name, query) values (@name, @query) on conflict (name) do update set query = excluded.query", ("name", name), ("query", query));

    /// <returns>Whether there was one.</returns>
    public static bool DeleteFilter(WriteSession session, FilterId filterId) => session.Execute("delete from saved_filter where filter_id = @id", ("id", filterId)) > 0;

    private static ListRow Read(Microsoft.Data.Sqlite.SqliteDataReader r) => new(
        r.Id<ListId>(0), r.GetString(1), r.GetString(2), r.GetInt64(3), r.GetInt64(4), r.GetInt64(5), r.GetString(6));
}
