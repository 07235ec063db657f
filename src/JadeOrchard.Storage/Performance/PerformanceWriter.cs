using JadeOrchard.Core.Performance;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Performance;

/// <summary>Writes the rows of one batch of search performance.</summary>
/// <remarks>
/// A row that is there twice counts once, the later one; queries and addresses that are compared as the same are summed. Up to a million rows are held in memory (50 MB); beyond,
/// they wait in a temporary table.
/// </remarks>
public sealed class PerformanceWriter : IDisposable, IGivesWay
{
    private const int MostHeld = 1_000_000;

    private readonly WriteSession _session;
    private readonly PerformanceOrigin _origin;
    private readonly string _label;
    private readonly DateTimeOffset _now;
    private readonly Names _queries;
    private readonly Names _pages;
    private readonly List<Row> _rows = [];
    private readonly int _mostHeld;
    private bool _isSpilled;
    private (int First, int Last) _days = (int.MaxValue, int.MinValue);

    /// <param name="session">The transaction.</param>
    /// <param name="origin">Where they come from.</param>
    /// <param name="label">The file, or what was asked for.</param>
    /// <param name="now">When.</param>
    /// <param name="mostHeld">Rows that are held in memory.</param>
    public PerformanceWriter(WriteSession session, PerformanceOrigin origin, string label, DateTimeOffset now, int mostHeld = MostHeld)
    {
        (_session, _origin, _label, _now, _mostHeld) = (session, origin, label, now, mostHeld);
        _queries = new Names(session, "performance_query", "query_id", "normal_form", "phrase");
        _pages = new Names(session, "performance_page", "performance_page_id", "identity", "url");
        session.Add(this);
    }

    /// <param name="query">As it was searched for; empty where the source names none, which counts for the page alone.</param>
    /// <param name="normalForm">Its identity.</param>
    /// <param name="url">The page's address, unchanged.</param>
    /// <param name="identity">What it is compared by.</param>
    /// <param name="day">The day.</param>
    /// <param name="clicks">At most <paramref name="impressions"/>.</param>
    /// <param name="impressions">From 0.</param>
    /// <param name="position">Average, from 1.</param>
    public void Write(string query, string normalForm, string url, string identity, DateOnly day, long clicks, long impressions, double position)
    {
        _days = (Math.Min(_days.First, day.DayNumber), Math.Max(_days.Last, day.DayNumber));
        if (_rows.Count == _mostHeld)
            Spill();
        _rows.Add(new Row(_queries.IdOf(normalForm, query), _pages.IdOf(identity, url), RowFingerprint.HashOf(query, url), _rows.Count, new DayFigures(day.DayNumber, clicks, impressions, position * impressions)));
    }

    /// <summary>To be called once, after the last row.</summary>
    /// <returns>How many rows count.</returns>
    public long Finish()
    {
        _queries.Flush();
        _pages.Flush();
        if (_days.First > _days.Last)
            return 0;
        var batch = _session.Count(
            "insert into performance_batch (label, origin, row_count, first_day, last_day, made_at) values (@label, @origin, 0, @first, @last, @now) returning batch_id",
            ("label", _label), ("origin", _origin.Stored()), ("first", _days.First), ("last", _days.Last), ("now", _now.UtcDateTime.ToString("O")));
        var rows = 0L;
        using (var save = new RowBuffer(_session, "insert or fail into performance_days", 6, 4))
        {
            var (query, page, days) = (-1L, -1L, new List<DayFigures>());
            void Save()
            {
                if (days.Count > 0)
                    save.Add(query, page, batch, DayFigures.Packed(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(days)));
                days.Clear();
            }

            foreach (var row in _isSpilled ? Spilled() : Held())
            {
                rows++;
                if (row.Query != query || row.Page != page)
                    Save();
                (query, page) = (row.Query, row.Page);
                if (days.Count > 0 && days[^1] is var same && same.Day == row.Figures.Day)
                    days[^1] = same.Plus(row.Figures);
                else
                    days.Add(row.Figures);
            }

            Save();
        }

        _rows.Clear();
        _session.Execute("update performance_batch set row_count = @rows where batch_id = @batch", ("rows", rows), ("batch", batch));
        _session.Touch(Data.Performance);
        _session.Touch(Data.Evidence);
        return rows;
    }

    public void Dispose()
    {
        _session.Remove(this);
        _queries.Dispose();
        _pages.Dispose();
        if (_isSpilled)
            _session.Execute("delete from temp.brought");
    }

    void IGivesWay.BeforeOthers()
    {
        _queries.Flush();
        _pages.Flush();
    }

    void IGivesWay.AfterOthers(bool haveChanged)
    {
        _queries.Forget();
        _pages.Forget();
    }

    /// <returns>The rows that are held, each once, ordered by query, page and day.</returns>
    /// <remarks>They are sorted by query and page as numbers, then the few of each: half the time of comparing whole rows.</remarks>
    private IEnumerable<Row> Held()
    {
        var keys = new ulong[_rows.Count];
        var order = new int[_rows.Count];
        for (var i = 0; i < order.Length; i++)
            (keys[i], order[i]) = (((ulong)_rows[i].Query << 32) | (uint)_rows[i].Page, i);
        Array.Sort(keys, order);
        var some = new List<Row>();
        for (var start = 0; start < order.Length; start += some.Count)
        {
            some.Clear();
            for (var i = start; i < order.Length && keys[i] == keys[start]; i++)
                some.Add(_rows[order[i]]);
            some.Sort();
            for (var i = 0; i < some.Count; i++)
            {
                if (i + 1 == some.Count || !some[i].IsRepeatedBy(some[i + 1]))
                    yield return some[i];
            }
        }
    }

    private void Spill()
    {
        if (!_isSpilled)
        {
            _session.Execute(
                """
                create temp table if not exists brought (query_id integer, performance_page_id integer, day integer, as_given integer, clicks integer, impressions integer, weighted real,
                  primary key (query_id, performance_page_id, day, as_given)) without rowid;
                delete from temp.brought;
                """);
            _isSpilled = true;
        }

        using var insert = new RowBuffer(_session, "insert or replace into temp.brought", 4, 7);
        foreach (var row in Held())
            insert.Add(row.Query, row.Page, row.Figures.Day, unchecked((long)row.AsGiven), row.Figures.Clicks, row.Figures.Impressions, row.Figures.Weighted);
        _rows.Clear();
    }

    private IEnumerable<Row> Spilled()
    {
        Spill();
        using var command = _session.Command("select query_id, performance_page_id, day, clicks, impressions, weighted from temp.brought order by query_id, performance_page_id, day, as_given");
        using var reader = command.ExecuteReader();
        while (reader.Read())
            yield return new Row(reader.GetInt64(0), reader.GetInt64(1), 0, 0, new DayFigures(reader.GetInt32(2), reader.GetInt64(3), reader.GetInt64(4), reader.GetDouble(5)));
    }

    /// <summary>One row of the source.</summary>
    private readonly record struct Row(long Query, long Page, ulong AsGiven, int Order, DayFigures Figures) : IComparable<Row>
    {
        public int CompareTo(Row other) =>
            Query != other.Query ? Query.CompareTo(other.Query)
            : Page != other.Page ? Page.CompareTo(other.Page)
            : Figures.Day != other.Figures.Day ? Figures.Day.CompareTo(other.Figures.Day)
            : AsGiven != other.AsGiven ? AsGiven.CompareTo(other.AsGiven)
            : Order.CompareTo(other.Order);

        public bool IsRepeatedBy(Row next) => Query == next.Query && Page == next.Page && Figures.Day == next.Figures.Day && AsGiven == next.AsGiven;
    }

    /// <summary>Ids of queries or pages by what they are compared by; new ones are written together, in the order of the index.</summary>
    private sealed class Names : IDisposable
    {
        private const int MostKept = 300_000;

        private readonly WriteSession _session;
        private readonly string _table;
        private readonly string _id;
        private readonly string _key;
        private readonly string _given;
        private readonly SqliteCommand _find;
        private readonly Dictionary<string, long> _known = new(StringComparer.Ordinal);
        private readonly List<(string Key, string Given, long Id)> _new = [];
        private bool _isLoaded;
        private bool _knowsAll;
        private long _last;

        public Names(WriteSession session, string table, string id, string key, string given)
        {
            (_session, _table, _id, _key, _given) = (session, table, id, key, given);
            _find = session.Command($"select {id} from {table} where {key} = @key", ("key", ""));
        }

        public long IdOf(string key, string given)
        {
            if (!_isLoaded)
                Load();
            if (_known.TryGetValue(key, out var id))
                return id;
            if (!_knowsAll)
            {
                _find.Parameters[0].Value = key;
                if (_find.ExecuteScalar() is long found)
                    return Keep(key, found);
            }

            _ = Keep(key, ++_last);
            _new.Add((key, given, _last));
            return _last;
        }

        public void Flush()
        {
            _new.Sort((a, b) => string.CompareOrdinal(a.Key, b.Key));
            using var insert = new RowBuffer(_session, $"insert or fail into {_table} ({_id}, {_key}, {_given})", 8, 3);
            foreach (var (key, given, id) in _new)
                insert.Add(id, key, given);
            insert.Flush();
            _new.Clear();
        }

        /// <summary>Others may have added some.</summary>
        public void Forget()
        {
            _known.Clear();
            _isLoaded = false;
        }

        public void Dispose() => _find.Dispose();

        private long Keep(string key, long id)
        {
            if (_known.Count >= MostKept)
            {
                Flush();
                _known.Clear();
                _knowsAll = false;
            }

            return _known[key] = id;
        }

        private void Load()
        {
            _isLoaded = true;
            _last = _session.Count($"select max({_id}) from {_table}");
            _knowsAll = _session.Count($"select count(*) from {_table}") < MostKept;
            if (_knowsAll)
                _session.Each($"select {_key}, {_id} from {_table}", r => _known[r.GetString(0)] = r.GetInt64(1));
        }
    }
}
