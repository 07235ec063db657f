using CsCheck;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Tests.Performance;

public sealed class PerformanceStoreTests : WithDatabase
{
    private static readonly DateOnly Day = new(2026, 10, 5);   // a Monday

    [Fact]
    public void QueriesAndAddressesThatAreTheSameAreSummedAndRowsThatAreThereTwiceCountOnce()
    {
        Bring(new("Dry suits?", "https://www.f.example/a", Day, 1, 10, 2), new("dry suits", "https://f.example/a", Day, 2, 30, 6), new("dry suits", "https://f.example/a", Day, 3, 30, 4));
        var pair = Assert.Single(Pairs());
        Assert.Equal((4, 40, ((10 * 2) + (30 * 4)) / 40.0), (pair.Clicks, pair.Impressions, pair.Position));
        Assert.Equal(2, Database.Read(PerformanceStore.Summary).Rows);
    }

    [Fact]
    public void TheNewestBatchCountsAndUndoBringsTheOldOneBack()
    {
        Bring(new Row("a", "https://f.example/a", Day, 5, 50, 3), new Row("a", "https://f.example/a", Day.AddDays(1), 5, 50, 3));
        Bring(new Row("a", "https://f.example/a", Day, 9, 90, 2));
        Assert.Equal((14, 140), (Pairs()[0].Clicks, Pairs()[0].Impressions));
        Database.Write(s =>
        {
            UndoLog.Undo(s);
            PerformanceStore.Refresh(s);
        });
        Assert.Equal((10, 100), (Pairs()[0].Clicks, Pairs()[0].Impressions));
        // Nothing can bring the second one back after something else was done: its rows go.
        Database.Write(s => PageStore.Plan(s, "https://f.example/p", "https://f.example/p", null), "Plan");
        Assert.Equal(2, Database.Read(s => s.Count("select sum(length(days)) / 28 from performance_days")));
    }

    [Fact]
    public void OnlyTheNewestDaysCount()
    {
        Bring(new Row("a", "https://f.example/a", Day, 1, 10, 3), new Row("a", "https://f.example/a", Day.AddDays(-89), 1, 10, 3), new Row("a", "https://f.example/a", Day.AddDays(-90), 1, 10, 3));
        Assert.Equal(20, Pairs().Single().Impressions);
        var summary = Database.Read(PerformanceStore.Summary);
        Assert.Equal((90, Day.AddDays(-90), Day.AddDays(-89), Day), (summary.Days, summary.FirstDay, summary.CountsFrom, summary.LastDay));
    }

    [Fact]
    public void PagesThatWereShownAreTakenInAndTheirWeeksAreTold()
    {
        Bring(new Row("a", "https://f.example/a", Day, 2, 10, 3), new Row("a", "https://f.example/b", Day.AddDays(7), 1, 10, 5), new Row("a", "https://f.example/a", Day.AddDays(13), 1, 10, 4), new Row("b", "https://f.example/c", Day, 0, 0, 0));
        Database.Write(s =>
        {
            PerformanceStore.Refresh(s);
            PerformanceStore.AdoptPages(s);
        });
        var pages = Database.Read(PageStore.Existing);
        Assert.Equal(["https://f.example/a", "https://f.example/b"], pages.Select(p => p.Identity).Order());
        Assert.Equal([(Day, "https://f.example/a"), (Day.AddDays(7), "https://f.example/a")], Database.Read(PerformanceStore.BestByWeek).Select(w => (w.Week, w.PageIdentity)));
        var weeks = Database.Read(s => PerformanceStore.Weeks(s, [.. pages.Select(p => p.Id)], null));
        Assert.Equal([(Day, 2L, 3.0), (Day.AddDays(7), 1L, 4.0), (Day.AddDays(7), 1L, 5.0)], weeks.Select(w => (w.Week, w.Clicks, w.Position!.Value)).Order());
        Assert.Equal([("a", 2L)], Database.Read(s => PerformanceStore.OfPage(s, pages.Single(p => p.Identity == "https://f.example/b").Id, 10)).Select(q => (q.Query, q.PagesShown)));
    }

    [Fact]
    public void TheOrderOfRowsAndAnyUnicodeMakeNoDifference() => Gen.Select(Gen.String[Gen.Char[(char)1, (char)0xD7FF], 1, 8], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 5]).Array[1, 20].Sample(
        rows =>
        {
            // Each day, page and query as given once: the order decides which of two counts.
            var given = rows.Select(r => new Row("x" + r.Item1, $"https://f.example/{r.Item2}", Day.AddDays(r.Item3), r.Item4, r.Item4 + 1, 1 + r.Item2)).DistinctBy(r => (r.Query, r.Url, r.Day)).ToArray();
            Bring(given);
            var pairs = Pairs();
            Bring([.. given.Reverse()]);
            return pairs.SequenceEqual(Pairs());
        },
        iter: 30,
        threads: 1);

    [Fact]
    public void RowsThatDoNotFitInMemoryCountTheSame() => Gen.Select(Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 3], Gen.Int[0, 5]).Array[1, 30].Sample(
        rows =>
        {
            // Repeated rows and queries that are compared as the same are among them.
            Row[] given = [.. rows.Select((r, i) => new Row(i % 2 == 0 ? $"q{r.Item1}" : $"Q{r.Item1}", $"https://f.example/{r.Item2}", Day.AddDays(r.Item3), r.Item4, r.Item4 + 1, 1 + r.Item2))];
            Bring(given);
            var (pairs, brought) = (Pairs(), Database.Read(s => s.Count("select row_count from performance_batch order by batch_id desc")));
            Bring(3, given);
            return pairs.SequenceEqual(Pairs()) && brought == Database.Read(s => s.Count("select row_count from performance_batch order by batch_id desc"));
        },
        iter: 20,
        threads: 1);

    // SQLite FTS5's bm25() has the same saturation by k1 = 1.2 and b = 0.75; its inverse document frequency is another, so that of two texts for one word
    // only the ratio can be compared ("Full-text search extension", sqlite.org/fts5.html, section 5.1.1).
    [Fact]
    public void OccurrencesSaturateAsInTheSearchEngineOfTheDatabase()
    {
        string[] texts = ["kayak", "kayak kayak roof rack for a kayak", "a long text about a kayak and many other things that have nothing to do with it at all", "kayak kayak kayak kayak kayak kayak", "nothing of it", "sea"];
        var scores = Database.Write(session =>
        {
            session.Execute("create virtual table temp.text using fts5 (body)");
            foreach (var text in texts)
                session.Execute("insert into temp.text (body) values (@text)", ("text", text));
            return session.List("select rowid - 1, -bm25(text) from temp.text where text match 'kayak' order by rowid", r => (r.GetInt32(0), r.GetDouble(1)));
        });
        var lengths = texts.Select(t => t.Split(' ').Length).ToArray();
        double Ours(int text) => Core.PageMap.Bm25F.Saturated(
            texts[text].Split(' ').Count(w => w == "kayak") * Core.PageMap.Bm25F.Occurrence(1, lengths[text], lengths.Average()));
        Assert.Equal(4, scores.Count);
        Assert.All(scores, s => Assert.Equal(s.Item2 / scores[0].Item2, Ours(s.Item1) / Ours(scores[0].Item1), 9));
    }

    private sealed record Row(string Query, string Url, DateOnly Day, long Clicks, long Impressions, double Position);

    private void Bring(params Row[] rows) => Bring(1_000_000, rows);

    private void Bring(int mostHeld, Row[] rows) => Database.Write(
        session =>
        {
            using (var writer = new PerformanceWriter(session, PerformanceOrigin.Import, "rows", DateTimeOffset.UtcNow, mostHeld))
            {
                foreach (var row in rows)
                {
                    UrlIdentity.TryOf(row.Url, UrlFolds.All, out var identity);
                    writer.Write(row.Query, Core.Keywords.KeywordNormalForm.Of(row.Query), row.Url, identity, row.Day, row.Clicks, row.Impressions, row.Position);
                }

                writer.Finish();
            }

            PerformanceStore.Refresh(session);
        },
        "Import");

    private List<PerformancePair> Pairs() => Database.Read(session =>
    {
        var pairs = new List<PerformancePair>();
        PerformanceStore.EachPair(session, pairs.Add);
        return pairs;
    });
}
