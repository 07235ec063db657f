using System.Collections.Concurrent;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads on one core what is written on another.</summary>
public static class ReadAhead
{
    private const int BatchSize = 512;
    private const int Batches = 16;

    /// <summary>The same items in the same order, made ahead of their use; at most some 8,000 wait.</summary>
    /// <param name="items">Made by one other thread at a time; what that throws is thrown here.</param>
    public static IEnumerable<T> Of<T>(IEnumerable<T> items)
    {
        using var made = new BlockingCollection<T[]>(Batches);
        using var enough = new CancellationTokenSource();
        var maker = Task.Run(() =>
        {
            try
            {
                foreach (var batch in items.Chunk(BatchSize))
                    made.Add(batch, enough.Token);
            }
            catch (OperationCanceledException) when (enough.IsCancellationRequested)
            {
                // Nobody wants the rest.
            }
            finally
            {
                made.CompleteAdding();
            }
        });
        try
        {
            foreach (var batch in made.GetConsumingEnumerable())
            {
                foreach (var item in batch)
                    yield return item;
            }

            maker.GetAwaiter().GetResult();
        }
        finally
        {
            enough.Cancel();
            // The maker reads the file, which is closed when this ends.
            maker.ContinueWith(_ => { }, TaskScheduler.Default).Wait();
        }
    }

    /// <summary>What is made of each item, in their order; some are made at the same time, on all cores.</summary>
    /// <param name="items">Asked for one after another.</param>
    /// <param name="make">What it throws is thrown here.</param>
    public static IEnumerable<TMade> Of<T, TMade>(IEnumerable<T> items, Func<T, TMade> make)
    {
        var waiting = new Queue<Task<TMade>>();
        try
        {
            foreach (var item in items)
            {
                waiting.Enqueue(Task.Run(() => make(item)));
                if (waiting.Count > 2 * Environment.ProcessorCount)
                    yield return waiting.Dequeue().GetAwaiter().GetResult();
            }

            while (waiting.TryDequeue(out var made))
                yield return made.GetAwaiter().GetResult();
        }
        finally
        {
            foreach (var made in waiting)
                made.ContinueWith(_ => { }, TaskScheduler.Default).Wait();
        }
    }
}
