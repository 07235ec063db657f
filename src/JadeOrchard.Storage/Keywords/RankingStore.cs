using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Storage.Keywords;

/// <summary>A host whose rankings were read.</summary>
public sealed record RankedHost(string Host, long Keywords, string ReadAt);

/// <summary>What hosts rank for, as the rankings service said.</summary>
public static class RankingStore
{
    /// <summary>Puts what was read of a host in the place of what was known.</summary>
    public static void Replace(WriteSession session, string host, IEnumerable<(Keyword Keyword, string Url, int Position)> rows, DateTimeOffset now)
    {
        session.Execute("delete from ranking where host = @host", ("host", host));
        using var insert = session.Command(
            """
            insert or ignore into ranking (host, normal_form, url, phrase, position, volume, difficulty, title_matches, intent, cpc, read_at)
            values (@host, @form, @url, @phrase, @position, @volume, @difficulty, @titles, @intent, @cpc, @now)
            """,
            ("host", host), ("form", ""), ("url", ""), ("phrase", ""), ("position", 0), ("volume", null), ("difficulty", null), ("titles", null), ("intent", null), ("cpc", null),
            ("now", SourceStore.Iso(now)));
        foreach (var (keyword, url, position) in rows)
        {
            var values = insert.Parameters;
            values[1].Value = keyword.NormalForm;
            values[2].Value = url;
            values[3].Value = keyword.Phrase;
            values[4].Value = position;
            values[5].Value = (object?)keyword.Volume ?? DBNull.Value;
            values[6].Value = (object?)keyword.Difficulty ?? DBNull.Value;
            values[7].Value = (object?)keyword.TitleMatches ?? DBNull.Value;
            values[8].Value = (object?)keyword.Intent?.Stored() ?? DBNull.Value;
            values[9].Value = (object?)keyword.Cpc ?? DBNull.Value;
            insert.ExecuteNonQuery();
        }
    }

    public static IReadOnlyList<RankedHost> Hosts(Session session) => session.List(
        "select host, count(distinct normal_form), max(read_at) from ranking group by host order by 2 desc, host",
        r => new RankedHost(r.GetString(0), r.GetInt64(1), r.GetString(2)));

    public static IReadOnlyList<HostStanding> Standings(Session session) => session.List(
        "select normal_form, host, url, position from ranking", r => new HostStanding(r.GetString(0), r.GetString(1), r.GetString(2), r.GetInt32(3)));

    /// <returns>What the service said of keywords, by normal form.</returns>
    public static Dictionary<string, Keyword> Keywords(Session session)
    {
        var keywords = new Dictionary<string, Keyword>(StringComparer.Ordinal);
        session.List(
            "select phrase, normal_form, volume, difficulty, title_matches, intent, cpc from ranking order by read_at",
            r => keywords[r.GetString(1)] = new Keyword(
                r.GetString(0), r.GetString(1), r.LongOrNull(2), r.DoubleOrNull(3), r.LongOrNull(4), r.EnumOrNull<Intent>(5), r.DoubleOrNull(6)));
        return keywords;
    }
}
