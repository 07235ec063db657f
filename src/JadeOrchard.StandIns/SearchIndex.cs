using System.Collections.Concurrent;
using JadeOrchard.Core.Keywords;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.StandIns;

/// <summary>A page in a result list.</summary>
public sealed record RankedPage(int Position, WorldPage Page, string Snippet);

/// <summary>Full-text search over all pages of the invented world.</summary>
/// <remarks>
/// SQLite FTS5 with the Porter stemmer; BM25 with weights for title, headings and body, times an authority of the page.
/// Pages with all the words come before pages with some of them; at most two of a host, as searchers are used to.
/// </remarks>
public sealed class SearchIndex : IDisposable
{
    private const int MostOfHost = 2;
    private readonly string _path = Path.Combine(Path.GetTempPath(), $"jade-world-{Guid.NewGuid():N}.db");
    private readonly IReadOnlyList<WorldPage> _pages;
    private readonly ConcurrentBag<SqliteConnection> _idle = [];

    public SearchIndex(GeneratedWorld world, CorpusText texts)
    {
        _pages = world.Corpus;
        // What a killed stand-in left behind.
        foreach (var old in Directory.GetFiles(Path.GetTempPath(), "jade-world-*.db").Where(f => File.GetLastWriteTimeUtc(f) < DateTime.UtcNow.AddDays(-1)))
            File.Delete(old);
        using var connection = Connect();
        Run(connection, "pragma journal_mode = off; pragma synchronous = off;");
        using var transaction = connection.BeginTransaction();
        Run(connection, "create virtual table page using fts5 (title, headings, body, tokenize = 'porter unicode61')");
        using var insert = connection.CreateCommand();
        insert.CommandText = "insert into page (rowid, title, headings, body) values (@id, @title, @headings, @body)";
        foreach (var name in new[] { "@id", "@title", "@headings", "@body" })
            insert.Parameters.Add(new SqliteParameter(name, DBNull.Value));
        foreach (var i in Enumerable.Range(0, _pages.Count).Where(i => _pages[i].IsFound))
        {
            var text = texts.Of(_pages[i]);
            insert.Parameters[0].Value = i + 1;
            insert.Parameters[1].Value = _pages[i].Title;
            insert.Parameters[2].Value = string.Join("\n", text.Sections.Select(s => s.Heading));
            insert.Parameters[3].Value = text.Description + " " + text.Body;
            insert.ExecuteNonQuery();
        }

        Run(connection, "insert into page (page) values ('optimize')");
        transaction.Commit();
    }

    /// <param name="query">What somebody typed.</param>
    /// <param name="depth">Results at most.</param>
    /// <param name="withSnippets">False where nobody reads them, which is quicker.</param>
    public IReadOnlyList<RankedPage> Search(string query, int depth, bool withSnippets = true)
    {
        var words = KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(query))).Select(w => $"\"{w.Replace("\"", "", StringComparison.Ordinal)}\"").Distinct().Take(12).ToList();
        if (words.Count == 0)
            return [];
        if (!_idle.TryTake(out var connection))
            connection = Connect();
        try
        {
            // Words that stand next to each other count as a phrase besides; the first word makes that part true in any case.
            var pairs = words.Zip(words.Skip(1), (a, b) => $"\"{a.Trim('"')} {b.Trim('"')}\"");
            var named = words.Select(w => w.Trim('"')).ToHashSet(StringComparer.Ordinal);
            var found = Match(connection, named, $"{string.Join(" AND ", words)} AND ({string.Join(" OR ", pairs.Prepend(words[0]))})", depth, withSnippets);
            if (found.GroupBy(f => _pages[f.Id].Host).Sum(h => Math.Min(MostOfHost, h.Count())) < depth && words.Count > 1)
            {
                var known = found.Select(f => f.Id).ToHashSet();
                found.AddRange(Match(connection, named, string.Join(" OR ", words), depth, withSnippets).Where(f => !known.Contains(f.Id)));
            }

            var ofHost = new Dictionary<string, int>(StringComparer.Ordinal);
            var list = new List<RankedPage>();
            foreach (var (id, snippet) in found)
            {
                var page = _pages[id];
                var count = ofHost.GetValueOrDefault(page.Host);
                if (count >= MostOfHost)
                    continue;
                ofHost[page.Host] = count + 1;
                list.Add(new RankedPage(list.Count + 1, page, snippet));
                if (list.Count == depth)
                    break;
            }

            return list;
        }
        finally
        {
            _idle.Add(connection);
        }
    }

    public void Dispose()
    {
        foreach (var connection in _idle)
            connection.Dispose();
        File.Delete(_path);
    }

    private SqliteConnection Connect()
    {
        var connection = new SqliteConnection($"Data Source={_path};Pooling=False");
        connection.Open();
        Run(connection, "pragma mmap_size = 268435456; pragma cache_size = -65536;");
        return connection;
    }

    private static void Run(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    private List<(int Id, string Snippet)> Match(SqliteConnection connection, HashSet<string> named, string match, int depth, bool withSnippets)
    {
        var scored = new List<(int Id, double Score)>();
        using var command = connection.CreateCommand();
        command.CommandText = "select rowid, bm25(page, 6.0, 2.5, 1.0) from page where page match @match";
        command.Parameters.AddWithValue("@match", match);
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                var id = reader.GetInt32(0) - 1;
                // Who types a site's name wants that site.
                var isNamed = named.Contains(_pages[id].Host.Replace("www.", "", StringComparison.Ordinal).Split('.')[0]);
                scored.Add((id, -reader.GetDouble(1) * (0.45 + _pages[id].Authority) * (isNamed ? _pages[id].Path == "/" ? 12 : 3 : 1)));
            }
        }

        var best = scored.OrderByDescending(s => s.Score).ThenBy(s => s.Id).Take(depth * 3).ToList();
        if (!withSnippets || best.Count == 0)
            return [.. best.Select(b => (b.Id, ""))];
        using var snippets = connection.CreateCommand();
        snippets.CommandText = $"select rowid, snippet(page, 2, '', '', '…', 24) from page where page match @match and rowid in ({string.Join(',', best.Select(b => b.Id + 1))})";
        snippets.Parameters.AddWithValue("@match", match);
        var texts = new Dictionary<int, string>();
        using (var reader = snippets.ExecuteReader())
        {
            while (reader.Read())
                texts[reader.GetInt32(0) - 1] = reader.GetString(1);
        }

        return [.. best.Select(b => (b.Id, texts.GetValueOrDefault(b.Id, "")))];
    }
}
