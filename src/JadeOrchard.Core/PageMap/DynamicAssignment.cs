using System.Runtime.InteropServices;

namespace JadeOrchard.Core.PageMap;

/// <summary>One-to-one assignment of the greatest total worth, kept while rows come, change and go.</summary>
/// <remarks>
/// The method of <see cref="Assignment"/> (Kuhn 1955; Jonker and Volgenant 1987), with its potentials kept: a row that comes is added along the path
/// that costs least, and a column that a row leaves looks for another row in the same way, as in Mills-Tettey, Stentz and Dias, "The Dynamic
/// Hungarian Algorithm", CMU-RI-TR-07-27, 2007. Worths are whole numbers, so that no rounding adds up; where the best assignment is unique it does
/// not depend on the order of changes. Cost: the rows and columns that are looked at until the path ends.
/// </remarks>
public sealed class DynamicAssignment
{
    private readonly List<(int Column, long Worth)[]> _edges = [];
    private readonly List<int> _columnOf = [];
    private readonly List<long> _rowPotentials = [];
    private readonly int[] _rowOf;
    private readonly long[] _columnPotentials;
    private readonly List<int>?[] _rowsAt;
    private readonly PriorityQueue<(bool IsRow, int Index), (long, bool, int)> _queue = new();
    private readonly Dictionary<int, (long Distance, int From)> _rows = [];
    private readonly Dictionary<int, (long Distance, int From)> _columns = [];
    private readonly HashSet<int> _doneRows = [];
    private readonly HashSet<int> _doneColumns = [];

    /// <param name="columns">Number of columns.</param>
    public DynamicAssignment(int columns)
    {
        _rowOf = new int[columns];
        Array.Fill(_rowOf, -1);
        _columnPotentials = new long[columns];
        _rowsAt = new List<int>?[columns];
    }

    /// <returns>The column of a row; -1 where it has none.</returns>
    public int ColumnOf(int row) => row < _columnOf.Count ? _columnOf[row] : -1;

    /// <returns>The row of a column; -1 where it has none.</returns>
    public int RowOf(int column) => _rowOf[column];

    /// <summary>Rows whose column changed since this was last emptied.</summary>
    public HashSet<int> Changed { get; } = [];

    /// <summary>Gives a row its edges, in the place of those it had.</summary>
    /// <param name="row">From 0.</param>
    /// <param name="edges">Columns with what they are worth, above 0; none for a row that is gone.</param>
    public void Set(int row, (int Column, long Worth)[] edges)
    {
        while (_edges.Count <= row)
        {
            _edges.Add([]);
            _columnOf.Add(-1);
            _rowPotentials.Add(0);
        }

        if (_edges[row].AsSpan().SequenceEqual(edges))
            return;
        Remove(row);
        _edges[row] = edges;
        foreach (var (column, _) in edges)
            (_rowsAt[column] ??= []).Add(row);
        // The least potential that no edge exceeds; without a column it has to be 0.
        var potential = 0L;
        foreach (var (column, worth) in edges)
            potential = Math.Max(potential, worth - _columnPotentials[column]);
        _rowPotentials[row] = potential;
        if (potential > 0)
            FromRow(row);
    }

    private void Remove(int row)
    {
        foreach (var (column, _) in _edges[row])
            _rowsAt[column]!.Remove(row);
        var left = _columnOf[row];
        _edges[row] = [];
        _rowPotentials[row] = 0;
        if (left < 0)
            return;
        Match(row, -1);
        _rowOf[left] = -1;
        if (_columnPotentials[left] > 0)
            FromColumn(left);
    }

    private void Match(int row, int column)
    {
        if (_columnOf[row] == column)
            return;
        _columnOf[row] = column;
        Changed.Add(row);
    }

    /// <summary>Finds the cheapest way for a row without a column: to a free column, or to a row that does without.</summary>
    private void FromRow(int start)
    {
        Begin();
        _rows[start] = (0, -1);
        var (best, endsAtRow, end) = (_rowPotentials[start], true, start);
        _queue.Enqueue((true, start), (0, true, start));
        while (_queue.TryDequeue(out var next, out var priority) && priority.Item1 < best)
        {
            var distance = priority.Item1;
            if (next.IsRow)
            {
                if (!_doneRows.Add(next.Index))
                    continue;
                foreach (var (column, worth) in _edges[next.Index])
                    Reach(_columns, _doneColumns, column, distance + _rowPotentials[next.Index] + _columnPotentials[column] - worth, next.Index, isRow: false);
                if (distance + _rowPotentials[next.Index] is var alone && alone < best)
                    (best, endsAtRow, end) = (alone, true, next.Index);
            }
            else
            {
                if (!_doneColumns.Add(next.Index))
                    continue;
                if (_rowOf[next.Index] is var row and >= 0)
                    Reach(_rows, _doneRows, row, distance, next.Index, isRow: true);
                else
                    (best, endsAtRow, end) = (distance, false, next.Index);
            }
        }

        Shift(best, rowSign: -1);
        // Turn the path round: each column goes to the row from which it was reached.
        var at = endsAtRow ? _rows[end].From : end;
        if (endsAtRow)
            Match(end, -1);
        while (at >= 0)
        {
            var row = _columns[at].From;
            var before = _rows[row].From;
            _rowOf[at] = row;
            Match(row, at);
            at = before;
        }
    }

    /// <summary>Finds the cheapest way for a column without a row: to a free row, or to a column that does without.</summary>
    private void FromColumn(int start)
    {
        Begin();
        _columns[start] = (0, -1);
        var (best, endsAtColumn, end) = (_columnPotentials[start], true, start);
        _queue.Enqueue((false, start), (0, false, start));
        while (_queue.TryDequeue(out var next, out var priority) && priority.Item1 < best)
        {
            var distance = priority.Item1;
            if (!next.IsRow)
            {
                if (!_doneColumns.Add(next.Index))
                    continue;
                foreach (var row in CollectionsMarshal.AsSpan(_rowsAt[next.Index] ?? []))
                    Reach(_rows, _doneRows, row, distance + _rowPotentials[row] + _columnPotentials[next.Index] - WorthOf(row, next.Index), next.Index, isRow: true);
                if (distance + _columnPotentials[next.Index] is var alone && alone < best)
                    (best, endsAtColumn, end) = (alone, true, next.Index);
            }
            else
            {
                if (!_doneRows.Add(next.Index))
                    continue;
                if (_columnOf[next.Index] is var column and >= 0)
                    Reach(_columns, _doneColumns, column, distance, next.Index, isRow: false);
                else
                    (best, endsAtColumn, end) = (distance, false, next.Index);
            }
        }

        Shift(best, rowSign: 1);
        var at = endsAtColumn ? _columns[end].From : end;
        if (endsAtColumn)
            _rowOf[end] = -1;
        while (at >= 0)
        {
            var column = _rows[at].From;
            var before = _columns[column].From;
            _rowOf[column] = at;
            Match(at, column);
            at = before;
        }
    }

    private void Begin()
    {
        _queue.Clear();
        _rows.Clear();
        _columns.Clear();
        _doneRows.Clear();
        _doneColumns.Clear();
    }

    private void Reach(Dictionary<int, (long Distance, int From)> reached, HashSet<int> done, int index, long distance, int from, bool isRow)
    {
        if (done.Contains(index) || (reached.TryGetValue(index, out var known) && known.Distance <= distance))
            return;
        reached[index] = (distance, from);
        _queue.Enqueue((isRow, index), (distance, isRow, index));
    }

    /// <summary>Moves the potentials of what is nearer than the end, so that the path costs nothing.</summary>
    private void Shift(long best, int rowSign)
    {
        foreach (var row in _doneRows)
        {
            if (best - _rows[row].Distance is var by and > 0)
                _rowPotentials[row] += rowSign * by;
        }

        foreach (var column in _doneColumns)
        {
            if (best - _columns[column].Distance is var by and > 0)
                _columnPotentials[column] -= rowSign * by;
        }
    }

    private long WorthOf(int row, int column)
    {
        foreach (var edge in _edges[row])
        {
            if (edge.Column == column)
                return edge.Worth;
        }

        return 0;
    }
}
