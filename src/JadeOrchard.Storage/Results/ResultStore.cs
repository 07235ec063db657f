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
public sealed record ResultRow(int Position, string Url, string Host, string? Title, string? Snippet, long? PageId);

/// <summary>Result lists and the URLs in them.</summary>
public static class ResultStore
{
    /// <returns>The newest result list of a keyword, best first; empty where it was not captured.</returns>
    public static IReadOnlyList<ResultRow> ListOf(Session session, long keywordId) => session.List(
        """
        select r.position, r.url, u.host, r.title, r.snippet, p.page_id
        from keyword k
        join result r on r.keyword_id = k.keyword_id and r.captured_on = k.captured_on
        join url u on u.url_id = r.url_id
        left join page p on p.identity = u.identity
        where k.keyword_id = @id
        order by r.position, u.identity
        """,
        r => new ResultRow(r.GetInt32(0), r.GetString(1), r.GetString(2), r.TextOrNull(3), r.TextOrNull(4), r.LongOrNull(5)),
        ("id", keywordId));

    /// <summary>The newest result lists of all keywords, for the rules.</summary>
    /// <param name="session">The transaction.</param>
    /// <param name="keywordIds">Ascending; their places are the indexes of the lists.</param>
    /// <returns>The lists, and the identity of each URL in them.</returns>
    public static (ResultLists Lists, IReadOnlyList<string> Identities) Newest(Session session, IReadOnlyList<long> keywordIds)
    {
        var identities = new List<string>();
        var indexOfUrl = new Dictionary<long, int>();
        session.List(
            "select url_id, identity from url order by url_id",
            r =>
            {
                indexOfUrl[r.GetInt64(0)] = identities.Count;
                identities.Add(r.GetString(1));
                return 0;
            });
        var builder = new ResultLists.Builder();
        using var command = session.Command("select keyword_id, captured_on, position, url_id from result order by keyword_id");
        using var reader = command.ExecuteReader();
        var keyword = 0;
        while (reader.Read())
        {
            var id = reader.GetInt64(0);
            while (keywordIds[keyword] != id)
                keyword++;
            builder.Add(keyword, reader.GetInt32(2), indexOfUrl[reader.GetInt64(3)], reader.GetInt32(1));
        }

        return (builder.Build(keywordIds.Count, identities), identities);
    }

    /// <summary>Writes captured results one after another. A list that is there already for its keyword and day is replaced.</summary>
    /// <remarks>
    /// Memory: about 48 bytes a distinct URL and 100 a keyword, whatever the number of results. URLs are told apart by
    /// 128-bit hashes of their identity (XXH128), so that their texts need not be held.
    /// </remarks>
    public sealed class Writer : IDisposable
    {
        private readonly Session _session;
        private readonly DateOnly _today;
        private readonly KeywordStore.Writer _keywords;
        private readonly Dictionary<string, long> _keywordIds = new(StringComparer.Ordinal);
        private readonly Dictionary<UInt128, long> _urlIds = [];
        private readonly HashSet<(long Keyword, int Day)> _begun = [];
        private readonly HashSet<long> _capturedBefore;
        private readonly SqliteCommand _insertUrl;
        private readonly SqliteCommand _insert;
        private readonly SqliteCommand _clear;

        /// <param name="session">The transaction.</param>
        /// <param name="today">The day of results that do not say when they were captured.</param>
        public Writer(Session session, DateOnly today)
        {
            _session = session;
            _today = today;
            _keywords = new KeywordStore.Writer(session);
            session.List("select normal_form, keyword_id from keyword", r => _keywordIds[r.GetString(0)] = r.GetInt64(1));
            _capturedBefore = [.. session.List("select keyword_id from keyword where captured_on is not null", r => r.GetInt64(0))];
            session.List("select identity, url_id from url", r => _urlIds[HashOf(r.GetString(0))] = r.GetInt64(1));
            _insertUrl = Prepared("insert into url (identity, host) values (@identity, @host) returning url_id", "@identity", "@host");
            _clear = Prepared("delete from result where keyword_id = @keyword and captured_on = @day", "@keyword", "@day");
            _insert = Prepared(
                """
                insert into result (keyword_id, captured_on, url_id, position, url, title, snippet)
                values (@keyword, @day, @id, @position, @url, @title, @snippet)
                on conflict (keyword_id, captured_on, url_id) do update set
                  position = excluded.position, url = excluded.url, title = excluded.title, snippet = excluded.snippet
                where excluded.position < position
                """,
                "@keyword", "@day", "@id", "@position", "@url", "@title", "@snippet");
        }

        /// <summary>Result lists that were written.</summary>
        public int Lists => _begun.Count;

        /// <summary>Keywords that were not known and came in without a volume.</summary>
        public int NewKeywords { get; private set; }

        public void Write(CapturedResult result)
        {
            var keyword = KeywordOf(result);
            var day = (result.CapturedOn ?? _today).DayNumber;
            if (_begun.Add((keyword, day)) && _capturedBefore.Contains(keyword))
            {
                _clear.Parameters[0].Value = keyword;
                _clear.Parameters[1].Value = day;
                _clear.ExecuteNonQuery();
            }

            var values = _insert.Parameters;
            values[0].Value = keyword;
            values[1].Value = day;
            values[2].Value = UrlOf(result);
            values[3].Value = result.Position;
            values[4].Value = result.Url;
            values[5].Value = (object?)result.Title ?? DBNull.Value;
            values[6].Value = (object?)result.Snippet ?? DBNull.Value;
            _insert.ExecuteNonQuery();
        }

        /// <summary>Says of each keyword which of its lists is the newest. To be called after the last row.</summary>
        public void Finish()
        {
            using var newest = Prepared(
                "update keyword set captured_on = @day where keyword_id = @keyword and coalesce(captured_on, 0) < @day", "@keyword", "@day");
            foreach (var (keyword, day) in _begun)
            {
                newest.Parameters[0].Value = keyword;
                newest.Parameters[1].Value = day;
                newest.ExecuteNonQuery();
            }
        }

        public void Dispose()
        {
            _keywords.Dispose();
            _insertUrl.Dispose();
            _insert.Dispose();
            _clear.Dispose();
        }

        private long KeywordOf(CapturedResult result)
        {
            if (_keywordIds.TryGetValue(result.NormalForm, out var id))
                return id;
            id = _keywords.Write(new Keyword(result.Phrase, result.NormalForm));
            _keywordIds[result.NormalForm] = id;
            NewKeywords++;
            return id;
        }

        private long UrlOf(CapturedResult result)
        {
            ref var id = ref CollectionsMarshal.GetValueRefOrAddDefault(_urlIds, HashOf(result.Identity), out var known);
            if (known)
                return id;
            _insertUrl.Parameters[0].Value = result.Identity;
            _insertUrl.Parameters[1].Value = UrlIdentity.HostOf(result.Identity);
            return id = (long)_insertUrl.ExecuteScalar()!;
        }

        private static UInt128 HashOf(string identity) => XxHash128.HashToUInt128(MemoryMarshal.AsBytes(identity.AsSpan()));

        private SqliteCommand Prepared(string sql, params string[] parameters)
        {
            var command = _session.Command(sql);
            foreach (var parameter in parameters)
                command.Parameters.Add(new SqliteParameter(parameter, DBNull.Value));
            command.Prepare();
            return command;
        }
    }
}
