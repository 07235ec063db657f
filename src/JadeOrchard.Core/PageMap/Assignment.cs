namespace JadeOrchard.Core.PageMap;

/// <summary>One-to-one assignment of the greatest total worth (linear assignment) between rows and columns.</summary>
/// <remarks>
/// Kuhn, "The Hungarian method for the assignment problem", 1955, by shortest augmenting paths with potentials as in
/// Jonker and Volgenant, 1987, on the edges there are: each row is added in turn, along the path that costs least,
/// and may stay without a column at no worth. O(rows · edges · log edges) at worst; components that are not
/// connected never meet, so the cost follows the largest one.
/// </remarks>
public static class Assignment
{
    /// <param name="columnCount">Number of columns.</param>
    /// <param name="edges">For each row the columns that it can have and what each is worth, above 0.</param>
    /// <returns>For each row its column, or -1. Among equals the first row and the smaller column go first.</returns>
    public static int[] Best(int columnCount, IReadOnlyList<(int Column, double Worth)[]> edges)
    {
        var rows = edges.Count;
        // Column columnCount + r is the row's own way to stay without a column.
        var columns = columnCount + rows;
        var rowOf = new int[columns];
        Array.Fill(rowOf, -1);
        var columnPotential = new double[columns];
        var rowPotential = new double[rows];
        var distance = new double[columns];
        Array.Fill(distance, double.PositiveInfinity);
        var reachedFrom = new int[columns];
        var done = new bool[columns];
        var touched = new List<int>();
        var queue = new PriorityQueue<int, (double, int)>();

        for (var start = 0; start < rows; start++)
        {
            // The least cost of a row begins its potential, so that no reduced cost is negative.
            var least = 0 - columnPotential[columnCount + start];
            foreach (var (column, worth) in edges[start])
                least = Math.Min(least, -worth - columnPotential[column]);
            rowPotential[start] = least;
            // Mostly the column that costs least is free, and no path has to be looked for.
            var (first, cost) = (columnCount + start, Reduced(start, columnCount + start, 0));
            foreach (var (column, worth) in edges[start])
            {
                var of = Reduced(start, column, -worth);
                if (of < cost || (of == cost && column < first))
                    (first, cost) = (column, of);
            }

            if (rowOf[first] < 0)
            {
                rowOf[first] = start;
                rowPotential[start] += cost;
                continue;
            }

            queue.Clear();
            Relax(start, 0, -1);
            int end;
            double length;
            while (true)
            {
                var column = queue.Dequeue();
                if (done[column])
                    continue;
                done[column] = true;
                length = distance[column];
                if (rowOf[column] < 0)
                {
                    end = column;
                    break;
                }

                Relax(rowOf[column], length, column);
            }

            rowPotential[start] += length;
            foreach (var column in touched)
            {
                if (done[column] && column != end)
                {
                    rowPotential[rowOf[column]] += length - distance[column];
                    columnPotential[column] -= length - distance[column];
                }
            }

            // Turn the path round: each column goes to the row from which it was reached.
            for (var column = end; column >= 0;)
            {
                var from = reachedFrom[column];
                var row = from < 0 ? start : rowOf[from];
                rowOf[column] = row;
                column = from;
            }

            foreach (var column in touched)
            {
                distance[column] = double.PositiveInfinity;
                done[column] = false;
            }

            touched.Clear();

            void Relax(int row, double soFar, int from)
            {
                Reach(columnCount + row, 0);
                foreach (var (column, worth) in edges[row])
                    Reach(column, -worth);

                void Reach(int column, double cost)
                {
                    if (done[column])
                        return;
                    var through = soFar + Reduced(row, column, cost);
                    if (through >= distance[column])
                        return;
                    if (double.IsPositiveInfinity(distance[column]))
                        touched.Add(column);
                    distance[column] = through;
                    reachedFrom[column] = from;
                    queue.Enqueue(column, (through, column));
                }
            }
        }

        var result = new int[rows];
        Array.Fill(result, -1);
        for (var column = 0; column < columnCount; column++)
        {
            if (rowOf[column] >= 0)
                result[rowOf[column]] = column;
        }

        return result;

        double Reduced(int row, int column, double cost) => Math.Max(0, cost - rowPotential[row] - columnPotential[column]);
    }
}
