using System.Collections.Immutable;

namespace JadeOrchard.Core.Plan;

/// <summary>Puts steps in order: the greatest gain per hour first, and what others need before them.</summary>
/// <remarks>Kahn, "Topological sorting of large networks", 1962, with the best of those that are free taken first. n log n.</remarks>
public static class StepOrder
{
    /// <param name="ratios">Gain per hour of each step; ties go to the smaller index.</param>
    /// <param name="before">Pairs: the first is to be done before the second. Where they form a circle, its best step comes all the same.</param>
    /// <returns>All steps.</returns>
    public static ImmutableArray<int> Of(IReadOnlyList<double> ratios, IReadOnlyCollection<(int First, int Then)> before)
    {
        var waits = new int[ratios.Count];
        var after = before.Where(b => b.First != b.Then).Distinct().ToLookup(b => b.First, b => b.Then);
        foreach (var then in after.SelectMany(a => a))
            waits[then]++;
        var order = ImmutableArray.CreateBuilder<int>(ratios.Count);
        var isDone = new bool[ratios.Count];
        var free = new PriorityQueue<int, (double, int)>();
        for (var i = 0; i < waits.Length; i++)
        {
            if (waits[i] == 0)
                free.Enqueue(i, (-ratios[i], i));
        }

        // Those that are left when nothing is free wait for each other.
        var left = new Queue<int>(Enumerable.Range(0, ratios.Count).OrderByDescending(i => ratios[i]));
        while (order.Count < ratios.Count)
        {
            if (!free.TryDequeue(out var next, out _))
            {
                while (isDone[left.Peek()])
                    left.Dequeue();
                next = left.Dequeue();
            }

            if (isDone[next])
                continue;
            isDone[next] = true;
            order.Add(next);
            foreach (var then in after[next])
            {
                if (--waits[then] == 0 && !isDone[then])
                    free.Enqueue(then, (-ratios[then], then));
            }
        }

        return order.MoveToImmutable();
    }
}
