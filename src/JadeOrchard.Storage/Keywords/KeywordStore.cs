using JadeOrchard.Core.Keywords;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Keywords;

/// <summary>A keyword as lists show it.</summary>
/// <param name="CapturedOn">Day of its newest result list; null where it was not captured.</param>
/// <param name="ClusterId">Null where it is in no cluster.</param>
public sealed record KeywordRow(
    long Id,
    string Phrase,
    long? Volume,
    double? Difficulty,
    long? TitleMatches,
    Intent? Intent,
    double? Cpc,
    DateOnly? CapturedOn,
    long? ClusterId,
    string? ClusterName);

/// <summary>Which keywords are wanted.</summary>
/// <param name="MinVolume">Searches per month at least.</param>
/// <param name="MaxDifficulty">Difficulty at most.</param>
/// <param name="Intent">Only this one.</param>
/// <param name="Captured">Only those with, or without, a result list.</param>
/// <param name="ClusterId">Only those of this cluster.</param>
public sealed record KeywordFilter(
    long? MinVolume = null, double? MaxDifficulty = null, Intent? Intent = null, bool? Captured = null, long? ClusterId = null);

/// <summary>Keywords and what the research source said of them.</summary>
public static class KeywordStore
{
    private static readonly ListSource<KeywordRow> Rows = new(
        "k.keyword_id",
        "k.keyword_id, k.phrase, k.volume, k.difficulty, k.title_matches, k.intent, k.cpc, k.captured_on, m.cluster_id, coalesce(c.name, p.phrase)",
        """
        keyword k
        left join cluster_member m on m.keyword_id = k.keyword_id
        left join cluster c on c.cluster_id = m.cluster_id
        left join keyword p on p.keyword_id = c.primary_keyword_id
        """,
        "count(*), count(*), coalesce(sum(k.volume), 0), avg(k.difficulty), 0.0",
        "k.phrase",
        new Dictionary<string, string>
        {
            ["phrase"] = "k.phrase",
            ["volume"] = "k.volume",
            ["difficulty"] = "k.difficulty",
            ["titleMatches"] = "k.title_matches",
            ["intent"] = "k.intent",
            ["cpc"] = "k.cpc",
            ["capturedOn"] = "k.captured_on",
            ["clusterName"] = "coalesce(c.name, p.phrase)",
        },
        "k.volume desc, k.normal_form",
        Read);

    public static ListPage<KeywordRow> List(Session session, ListQuery query, KeywordFilter filter) => Rows.Page(
        session,
        query,
        [
            filter.MinVolume is null ? null : "k.volume >= @volume",
            filter.MaxDifficulty is null ? null : "k.difficulty <= @difficulty",
            filter.Intent is null ? null : "k.intent = @intent",
            filter.Captured switch { true => "k.captured_on is not null", false => "k.captured_on is null", null => null },
            filter.ClusterId is null ? null : "m.cluster_id = @cluster",
        ],
        ("volume", filter.MinVolume),
        ("difficulty", filter.MaxDifficulty),
        ("intent", filter.Intent?.Stored()),
        ("cluster", filter.ClusterId));

    public static KeywordRow? Find(Session session, long keywordId) => session.First(
        $"select {Rows.Columns} from {Rows.From} where k.keyword_id = @id", Read, ("id", keywordId));

    /// <summary>All keywords by id, for the rules.</summary>
    public static (IReadOnlyList<long> Ids, IReadOnlyList<Keyword> Keywords) All(Session session)
    {
        var ids = new List<long>();
        var keywords = session.List(
            "select keyword_id, phrase, normal_form, volume, difficulty, title_matches, intent, cpc from keyword order by keyword_id",
            r =>
            {
                ids.Add(r.GetInt64(0));
                return new Keyword(r.GetString(1), r.GetString(2), r.LongOrNull(3), r.DoubleOrNull(4), r.LongOrNull(5), r.EnumOrNull<Intent>(6), r.DoubleOrNull(7));
            });
        return (ids, keywords);
    }

    /// <summary>Writes keywords one after another, those that are there already updated by what is new.</summary>
    /// <remarks>The rule is that of <see cref="Keyword.UpdatedBy"/>: known values replace, the phrase stays.</remarks>
    public sealed class Writer : IDisposable
    {
        private readonly SqliteCommand _command;
        private readonly SqliteParameterCollection _values;

        public Writer(Session session)
        {
            _command = session.Command(
                """
                insert into keyword (phrase, normal_form, volume, difficulty, title_matches, intent, cpc)
                values (@phrase, @form, @volume, @difficulty, @titles, @intent, @cpc)
                on conflict (normal_form) do update set
                  volume = coalesce(excluded.volume, volume),
                  difficulty = coalesce(excluded.difficulty, difficulty),
                  title_matches = coalesce(excluded.title_matches, title_matches),
                  intent = coalesce(excluded.intent, intent),
                  cpc = coalesce(excluded.cpc, cpc)
                returning keyword_id
                """);
            foreach (var name in new[] { "@phrase", "@form", "@volume", "@difficulty", "@titles", "@intent", "@cpc" })
                _command.Parameters.Add(new SqliteParameter(name, DBNull.Value));
            _values = _command.Parameters;
            _command.Prepare();
        }

        /// <returns>The id of the keyword.</returns>
        public long Write(Keyword keyword)
        {
            _values[0].Value = keyword.Phrase;
            _values[1].Value = keyword.NormalForm;
            _values[2].Value = (object?)keyword.Volume ?? DBNull.Value;
            _values[3].Value = (object?)keyword.Difficulty ?? DBNull.Value;
            _values[4].Value = (object?)keyword.TitleMatches ?? DBNull.Value;
            _values[5].Value = (object?)keyword.Intent?.Stored() ?? DBNull.Value;
            _values[6].Value = (object?)keyword.Cpc ?? DBNull.Value;
            return (long)_command.ExecuteScalar()!;
        }

        public void Dispose() => _command.Dispose();
    }

    private static KeywordRow Read(SqliteDataReader r) => new(
        r.GetInt64(0), r.GetString(1), r.LongOrNull(2), r.DoubleOrNull(3), r.LongOrNull(4), r.EnumOrNull<Intent>(5), r.DoubleOrNull(6),
        r.IsDBNull(7) ? null : DateOnly.FromDayNumber(r.GetInt32(7)), r.LongOrNull(8), r.TextOrNull(9));
}
