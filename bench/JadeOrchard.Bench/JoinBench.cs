using System.Diagnostics;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Bench;

internal static class JoinBench
{
    public static void Try()
    {
        foreach (var (n, top, freq) in new[] { (100_000, 0.15, 0), (100_000, 0.02, 0), (100_000, 0.40, 0), (100_000, 0.15, 3), (100_000, 0.15, 6), (1_000_000, 0.15, 0) })
        {
            var lists = ListGenerator.Packed(ListGenerator.Lists(n, top, freq));
            foreach (var m in new[] { 3, 4 })
            {
                var best = double.MaxValue;
                var counts = default(JoinCounts);
                for (var i = 0; i < (freq == 6 ? 1 : 3); i++)
                {
                    var w = Stopwatch.StartNew();
                    OverlapJoin.Pairs(lists, m, out counts);
                    best = Math.Min(best, w.Elapsed.TotalSeconds);
                }

                Console.WriteLine($"{n} top {top} frequent {freq} m {m}: {best:0.000} s {counts} checked/found {(double)counts.Checked / counts.Found:0.00}");
            }
        }
    }
}
