using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Keywords;

/// <summary>What a source of keywords is.</summary>
public enum SourceKind
{
    File,
    Paste,
    Research,
    Suggestions,
    Rankings,
    Performance,
    Results,
    Hand,
}

/// <summary>Where keywords came from.</summary>
/// <param name="Label">The file, the seed, the host: what tells it from others of its kind.</param>
/// <param name="MadeAt">When it was last read, ISO 8601 in UTC.</param>
/// <param name="Keywords">How many keywords it said something of.</param>
public sealed record SourceRow(SourceId Id, SourceKind Kind, string Label, string MadeAt, long Keywords);

/// <summary>What one source said of a keyword.</summary>
/// <param name="Phrase">As the source writes it.</param>
/// <param name="IsVariant">It said so of a close variant that was merged.</param>
/// <param name="SaidAt">ISO 8601, UTC.</param>
public sealed record SourceValue(
    SourceId SourceId, SourceKind Kind, string Label, string Phrase, bool IsVariant, long? Volume, double? Difficulty, long? TitleMatches, Core.Keywords.Intent? Intent,
    double? Cpc, long? Clicks, long? Impressions, double? Position, string SaidAt);

/// <summary>A number of a keyword on which sources can differ.</summary>
public enum KeywordField
{
    Volume,
    Difficulty,
    TitleMatches,
    Intent,
    Cpc,
}

/// <summary>Sources of keywords, and what each said.</summary>
public static class SourceStore
{
    /// <summary>The source of a kind and label; read again it is the same source.</summary>
    /// <returns>Its id.</returns>
    public static SourceId Touch(WriteSession session, SourceKind kind, string label, DateTimeOffset now)
    {
        var known = session.IdOrNull<SourceId>("select source_id from source where kind = @kind and label = @label", ("kind", kind.Stored()), ("label", label));
        if (known is not { } id)
        {
            return session.Id<SourceId>(
                "insert into source (kind, label, made_at) values (@kind, @label, @now) returning source_id",
                ("kind", kind.Stored()), ("label", label), ("now", Iso(now)));
        }

        session.Execute("update source set made_at = @now where source_id = @id", ("id", id), ("now", Iso(now)));
        return id;
    }

    /// <returns>Sources that still say something, newest first.</returns>
    public static IReadOnlyList<SourceRow> All(Session session) => session.List(
        """
        select s.source_id, s.kind, s.label, s.made_at, count(*)
        from source s
        join keyword_value v on v.source_id = s.source_id
        group by s.source_id
        order by s.made_at desc, s.source_id desc
        """,
        r => new SourceRow(r.Id<SourceId>(0), r.Enum<SourceKind>(1), r.GetString(2), r.GetString(3), r.GetInt64(4)));

    /// <returns>What each source said of a keyword, newest first.</returns>
    public static IReadOnlyList<SourceValue> Of(Session session, KeywordId keywordId) => session.List(
        """
        select s.source_id, s.kind, s.label, v.phrase, v.of_variant, v.volume, v.difficulty, v.title_matches, v.intent, v.cpc, v.clicks, v.impressions, v.position, v.said_at
        from keyword_value v
        join source s on s.source_id = v.source_id
        where v.keyword_id = @id
        order by v.said_at desc, v.value_id desc
        """,
        Read,
        ("id", keywordId));

    /// <returns>Whether a source said anything of a keyword.</returns>
    public static bool Knows(Session session, SourceId sourceId, KeywordId keywordId) => session.Count(
        "select count(*) from keyword_value where keyword_id = @id and source_id = @source", ("id", keywordId), ("source", sourceId)) > 0;

    /// <returns>For each field on which the planner chose, the source.</returns>
    public static IReadOnlyDictionary<KeywordField, SourceId> Choices(Session session, KeywordId keywordId) => session.List(
            "select field, source_id from keyword_choice where keyword_id = @id",
            r => (Field: Enum.Parse<KeywordField>(r.GetString(0).Replace("_", "", StringComparison.Ordinal), ignoreCase: true), Source: r.Id<SourceId>(1)),
            ("id", keywordId))
        .ToDictionary(c => c.Field, c => c.Source);

    /// <summary>Chooses the source whose value counts, or the newest again.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keywordId">The keyword.</param>
    /// <param name="field">Which number.</param>
    /// <param name="sourceId">Null for the newest.</param>
    public static void Choose(WriteSession session, KeywordId keywordId, KeywordField field, SourceId? sourceId)
    {
        session.Execute("delete from keyword_choice where keyword_id = @id and field = @field", ("id", keywordId), ("field", ColumnOf(field)));
        if (sourceId is not null)
        {
            session.Execute(
                "insert into keyword_choice (keyword_id, field, source_id) values (@id, @field, @source)",
                ("id", keywordId), ("field", ColumnOf(field)), ("source", sourceId));
        }

        Refresh(session, keywordId);
    }

    /// <summary>
    /// Puts in force what counts: the chosen source's value where the planner chose one, else the newest that is known;
    /// what was said of a merged variant counts only where nothing was said of the keyword itself.
    /// </summary>
    public static void Refresh(WriteSession session, KeywordId keywordId)
    {
        // Months are of the source whose volume counts.
        var columns = Enum.GetValues<KeywordField>().Select(ColumnOf).Select(c => (Column: c, Chosen: c)).Append((Column: "monthly_volumes", Chosen: ColumnOf(KeywordField.Volume)));
        var sets = string.Join(", ", columns.Select(c => $"""
            {c.Column} = (
              select v.{c.Column}
              from keyword_value v
              where v.keyword_id = @id and v.{c.Column} is not null
              order by
                exists (select 1 from keyword_choice c where c.keyword_id = v.keyword_id and c.field = '{c.Chosen}' and c.source_id = v.source_id) desc,
                v.of_variant, v.said_at desc, v.value_id desc
              limit 1)
            """));
        session.Execute($"update keyword set {sets} where keyword_id = @id", ("id", keywordId));
        session.Touch(Data.Keywords, keywordId);
    }

    internal static string ColumnOf(KeywordField field) => field == KeywordField.TitleMatches ? "title_matches" : field.Stored();

    internal static string Iso(DateTimeOffset time) => time.UtcDateTime.ToString("O");

    private static SourceValue Read(SqliteDataReader r) => new(
        r.Id<SourceId>(0), r.Enum<SourceKind>(1), r.GetString(2), r.GetString(3), r.GetInt64(4) == 1, r.LongOrNull(5), r.DoubleOrNull(6), r.LongOrNull(7),
        r.EnumOrNull<Core.Keywords.Intent>(8), r.DoubleOrNull(9), r.LongOrNull(10), r.LongOrNull(11), r.DoubleOrNull(12), r.GetString(13));
}
