using CsCheck;
using JadeOrchard.Core;

namespace JadeOrchard.Storage.Tests;

/// <summary>Rows that go in several at a time are those that were given, on a real file.</summary>
public sealed class RowBufferTests : WithDatabase
{
    [Fact]
    public void EveryRowArrivesHoweverManyGoInAtOnce() => Gen.Select(Gen.Int[0, 40], Gen.Int[1, 9], Gen.Int[1, 7]).Sample(
        (count, atOnce, shareEvery) =>
        {
            var rows = Database.Change(null, session =>
            {
                session.Execute("create temp table if not exists some (day integer, place integer, cluster integer, text text); delete from temp.some;");
                using (var buffer = new RowBuffer(session, "insert or fail into temp.some (day, place, cluster, text)", atOnce, 2, "@s0", "@s1 + 1"))
                {
                    for (var i = 0; i < count; i++)
                    {
                        // Each run of rows shares its values.
                        if (i % shareEvery == 0)
                            buffer.Share(new JobId(i / shareEvery), i / shareEvery);
                        buffer.Add(i % 3 == 0 ? null : new ClusterId(i), i % 2 == 0 ? "é🛶" : null);
                    }
                }

                return session.List(
                    "select day, place, cluster, text from temp.some order by rowid", r => (r.GetInt64(0), r.GetInt64(1), r.IdOrNull<ClusterId>(2), r.TextOrNull(3)));
            });
            Assert.Equal(
                Enumerable.Range(0, count).Select(i => ((long)(i / shareEvery), (long)(i / shareEvery) + 1, i % 3 == 0 ? (ClusterId?)null : new ClusterId(i), i % 2 == 0 ? "é🛶" : null)),
                rows);
        },
        iter: 60,
        threads: 1);

    [Fact]
    public void IndexesThatWereDroppedAreMadeAgain()
    {
        string[] Indexes() => [.. Database.Read(s => s.List("select name || coalesce(sql, '') from sqlite_master where type = 'index' order by name", r => r.GetString(0)))];
        var before = Indexes();
        var within = 0;
        Database.Change(null, session =>
        {
            session.WithoutIndexes("finding", () => within = (int)session.Count("select count(*) from sqlite_master where type = 'index' and tbl_name = 'finding' and sql is not null"));
            return 0;
        });
        Assert.Equal(0, within);
        Assert.Equal(before, Indexes());
        Assert.Contains(before, i => i.StartsWith("finding_by_stake", StringComparison.Ordinal));
    }
}
