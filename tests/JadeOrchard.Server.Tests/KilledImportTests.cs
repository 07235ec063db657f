using System.Globalization;
using System.Text;

namespace JadeOrchard.Server.Tests;

/// <summary>The program killed in the middle of work that is written in one go.</summary>
public sealed class KilledImportTests : IDisposable
{
    private readonly ServerProcess _server = new();

    public void Dispose() => _server.Dispose();

    /// <summary>Imports and groupings are begun again by themselves, and come to what they would have come to.</summary>
    [Fact]
    public async Task AKillInTheMiddleOfImportsAndGroupingsChangesNothingInTheEnd()
    {
        const int lists = 3_000;
        await _server.Start();
        for (var round = 1; round <= 2; round++)
        {
            var rows = new StringBuilder("keyword,position,url,captured_at\n");
            for (var k = 0; k < lists; k++)
            {
                for (var i = 1; i <= 10; i++)
                    rows.Append(CultureInfo.InvariantCulture, $"kayak subject {k},{i},https://h{(k / 8 * 12) + ((k + i) % 12)}.example/,2026-10-0{round}\n");
            }

            var import = await _server.Import("results", rows.ToString());
            await _server.KilledAfter(import, 150 * round);
            Assert.Equal(("done", $"30,000 results in {lists:N0} result lists"), (Text(import = await _server.Ended(import), "state"), Text(import, "message").Split(';')[0].TrimEnd('.')));
            var grouping = await _server.Post("clusters/regroup", new { depth = 10, minOverlap = 4, rule = "primary" });
            await _server.KilledAfter(grouping, 100 * round);
            Assert.Equal(("done", "375 clusters."), (Text(grouping = await _server.Ended(grouping), "state"), Text(grouping, "message")));
            var tally = (await _server.Get("keywords?limit=0&capture=captured")).GetProperty("tally");
            Assert.Equal(lists, tally.GetProperty("rows").GetInt64());
            Assert.Equal(round, (await _server.Get("keywords/1/results")).GetProperty("lists").GetArrayLength());
        }
    }
}
