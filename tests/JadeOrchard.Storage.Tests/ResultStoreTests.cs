using CsCheck;
using JadeOrchard.Core;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;
using JadeOrchard.Tests;

namespace JadeOrchard.Storage.Tests;

/// <summary>Result lists come back as they were written, in whichever order their rows came, on a real file.</summary>
public sealed class ResultStoreTests
{
    private static readonly DateTimeOffset Now = new(2027, 3, 1, 8, 0, 0, TimeSpan.Zero);

    private static readonly Gen<CapturedResult[]> SomeResults = Gen.Select(
            Gen.Int[0, 4], Gen.Int[1, 12], Gen.Int[0, 25], Gen.String.Null(), Gen.Int[0, 2],
            (keyword, position, url, title, day) => Result($"keyword {keyword}", position, UrlOf(url), title, new DateOnly(2027, 2, 1 + day)))
        .Array[0, 60];

    [Fact]
    public void ListsHoldEachUrlAtItsBestPosition() => SomeResults.Sample(results => Check(results), iter: 30, threads: 1);

    [Fact]
    public void AListMayBeLongAndItsRowsScattered()
    {
        var results = Enumerable.Range(1, 450).Select(i => Result("long", i, $"https://h{i}.example/", $"\"Title\" {i} \0 \ud800 é🛶", null)).ToList();
        Check([.. results, .. results.Take(40).Select(r => Result("other", r.Position, r.Url, null, null))]);
        Check([.. results.Take(40).SelectMany(r => new[] { r, Result("other", r.Position, r.Url, null, null) })]);
    }

    private static void Check(CapturedResult[] results)
    {
        var folder = Directory.CreateTempSubdirectory("jade-storage-").FullName;
        try
        {
            using var database = Database.Open(EmptyProject.In(folder));
            database.Write(session =>
            {
                using var writer = new ResultStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "results", Now), Now);
                foreach (var result in results)
                    writer.Write(result);
                writer.Finish();
            });
            database.Write(s => PageStore.AdoptFromResults(s, new OwnSite("own.example")));
            database.Write(s => PageStore.SaveStandings(s, 10, position => 1.0 / position));
            database.Read(session => Compare(session, results));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static int Compare(Session session, CapturedResult[] results)
    {
        var keywords = session.List("select keyword_id, normal_form from keyword order by keyword_id", r => (Id: r.Id<KeywordId>(0), Form: r.GetString(1)));
        var lists = results
            .GroupBy(r => (r.NormalForm, Day: r.CapturedOn ?? DateOnly.FromDateTime(Now.UtcDateTime)))
            .ToDictionary(l => l.Key, l => l.GroupBy(r => r.Identity).Select(u => (Identity: u.Key, Position: u.Min(r => r.Position))).OrderBy(u => u.Position).ThenBy(u => u.Identity, StringComparer.Ordinal).ToList());
        var newest = new Dictionary<string, List<(string Identity, int Position)>>();
        foreach (var (id, form) in keywords)
        {
            var infos = ResultStore.Lists(session, id);
            Assert.Equal(lists.Keys.Where(l => l.NormalForm == form).Select(l => l.Day).OrderDescending(), infos.Select(i => i.CapturedOn));
            foreach (var info in infos)
            {
                var stored = ResultStore.Results(session, info.ListId);
                Assert.Equal(lists[(form, info.CapturedOn)], stored.Select(r => (r.Identity, r.Position)));
                Assert.Equal(stored.Count, info.Results);
                // What is shown is what one of the rows said of this URL at this position; half a surrogate pair is no text.
                Assert.All(stored, r => Assert.Contains(results, g => g.NormalForm == form && (g.Identity, g.Position, g.Url, Text(g.Title)) == (r.Identity, r.Position, r.Url, r.Title)));
            }

            newest[form] = lists[(form, infos[0].CapturedOn)];
        }

        var (packed, identities) = ResultStore.Newest(session, [.. keywords.Select(k => k.Id)]);
        for (var k = 0; k < keywords.Count; k++)
        {
            Assert.Equal(newest[keywords[k].Form].Select(u => u.Identity), packed.Urls(k).ToArray().Select(u => identities[u]));
            Assert.Equal(newest[keywords[k].Form].Select(u => u.Position), packed.Positions(k).ToArray());
        }

        var own = results.Select(r => r.Identity).Where(i => new OwnSite("own.example").Owns(i)).Distinct().Order(StringComparer.Ordinal);
        var pages = session.List("select identity, seen_for, url from page order by identity", r => (Identity: r.GetString(0), Seen: r.GetInt32(1), Url: r.GetString(2)));
        Assert.Equal(own, pages.Select(p => p.Identity));
        Assert.All(pages, p => Assert.Equal(newest.Values.Count(l => l.Any(u => u.Identity == p.Identity && u.Position <= 10)), p.Seen));
        Assert.All(pages, p => Assert.Equal(results.Where(r => r.Identity == p.Identity).Select(r => r.Url).Order(StringComparer.Ordinal).First(), p.Url));

        // Of keywords captured on several days, the site's page that stood best on each.
        var best = ResultStore.BestOwnPages(session);
        var expected = lists.Where(l => lists.Keys.Count(o => o.NormalForm == l.Key.NormalForm) > 1)
            .Select(l => (l.Key, At: l.Value.Where(u => own.Contains(u.Identity)).Select(u => (int?)u.Position).FirstOrDefault()))
            .Where(l => l.At is not null)
            .OrderBy(l => keywords.FindIndex(k => k.Form == l.Key.NormalForm)).ThenBy(l => l.Key.Day);
        Assert.Equal(
            expected.Select(e => (e.Key.NormalForm, e.Key.Day, e.At!.Value)),
            best.Select(b => (Form: keywords.First(k => k.Id == b.KeywordId).Form, b.Day, lists[(keywords.First(k => k.Id == b.KeywordId).Form, b.Day)].First(u => u.Identity == b.PageIdentity).Position)));
        return 0;
    }

    /// <summary>Some of the site, one of them written in two ways, some of others.</summary>
    private static string UrlOf(int number) => number switch
    {
        < 4 => $"https://own.example/{number}",
        4 => "http://www.own.example/0/",
        < 7 => $"https://shop.own.example/{number}",
        _ => $"https://h{number % 3}.example/{number}",
    };

    private static CapturedResult Result(string keyword, int position, string url, string? title, DateOnly? day)
    {
        UrlIdentity.TryOf(url, UrlFolds.All, out var identity);
        return new CapturedResult(keyword, keyword, position, url, identity, title, title, day);
    }

    private static string? Text(string? given) => given is null ? null : System.Text.Encoding.UTF8.GetString(System.Text.Encoding.UTF8.GetBytes(given));
}
