using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Tests;

/// <summary>What hosts rank for: what was read last counts.</summary>
public sealed class RankingStoreTests : WithDatabase
{
    private static readonly DateTimeOffset Monday = new(2026, 11, 23, 8, 0, 0, TimeSpan.Zero);

    [Fact]
    public void ReadingAHostAgainReplacesItAndLeavesOthers()
    {
        Read("a.example", Monday, ("sea kayak", "https://a.example/1", 3), ("sea kayak", "https://a.example/2", 8), ("canoe", "https://a.example/3", 1));
        Read("b.example", Monday, ("canoe", "https://b.example/", 5));
        Assert.Equal([("a.example", 2L), ("b.example", 1)], Database.Read(RankingStore.Hosts).Select(h => (h.Host, h.Keywords)));
        Read("a.example", Monday.AddDays(1), ("paddle", "https://a.example/4", 2));
        Assert.Equal([("paddle", "a.example", 2), ("canoe", "b.example", 5)], Database.Read(RankingStore.Standings).OrderBy(s => s.Host).Select(s => (s.Keyword, s.Host, s.Position)));
        Read("b.example", Monday.AddDays(2));
        Assert.Equal("a.example", Assert.Single(Database.Read(RankingStore.Hosts)).Host);
    }

    [Fact]
    public void TheNewestSaysWhatIsKnownOfAKeyword()
    {
        void Say(string host, DateTimeOffset at, Keyword keyword) => Database.Write(s => RankingStore.Replace(s, host, [(keyword, $"https://{host}/", 1)], at));
        Say("b.example", Monday.AddDays(1), new Keyword("Sea Kayak", "sea kayak", 900, 40, 12, Intent.Commercial, 0.5));
        Say("a.example", Monday, new Keyword("sea kayak", "sea kayak", 100));
        Assert.Equal(new Keyword("Sea Kayak", "sea kayak", 900, 40, 12, Intent.Commercial, 0.5), Assert.Single(Database.Read(RankingStore.Keywords)).Value);
    }

    private void Read(string host, DateTimeOffset at, params (string Keyword, string Url, int Position)[] rows) => Database.Write(
        s => RankingStore.Replace(s, host, rows.Select(r => (new Keyword(r.Keyword, r.Keyword), r.Url, r.Position)), at));
}
