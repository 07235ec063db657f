using JadeOrchard.Core;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Tests;

/// <summary>Lists of keywords against sets, saved filters, and sources with what counts of them.</summary>
public sealed class ListStoreTests : WithClusters
{
    private ListId Make(string name, params long[] keywords) => Database.Write(s =>
    {
        var id = ListStore.Make(s, name, "", Now);
        ListStore.Add(s, id, new KeywordSelection(Ids(keywords)));
        return id;
    });

    private IEnumerable<long> Members(ListId id) => Database.Read(s => ListStore.Members(s, id)).Select(k => k.Value).Order();

    [Fact]
    public void AListAddsUpItsKeywordsAndIsFoundByName()
    {
        Keywords(5);
        var id = Make("Suits", 1, 3);
        Make("Áo dài 🛶");
        Assert.Equal([("Suits", 2L, 800L, 0L), ("Áo dài 🛶", 0, 0, 0)], Database.Read(ListStore.All).Select(l => (l.Name, l.Keywords, l.Demand, l.Captured)));
        Assert.Equal(id, Database.Read(s => ListStore.IdOf(s, "Suits")));
        // Names differ by more than their case.
        Assert.Equal(id, Database.Read(s => ListStore.IdOf(s, "suits")));
        Assert.Null(Database.Read(s => ListStore.IdOf(s, "suit")));
        Database.Write(s => ListStore.Rename(s, id, "Dry suits", "for spring"));
        Assert.Equal(("Dry suits", "for spring", 2L), Database.Read(s => ListStore.Find(s, id)) is { } row ? (row.Name, row.Notes, row.Keywords) : default);
    }

    [Fact]
    public void WhatIsThereAlreadyIsNotCountedAgain()
    {
        Keywords(5);
        var id = Make("Suits", 1, 3);
        Assert.Equal(1, Database.Write(s => ListStore.Add(s, id, new KeywordSelection(Ids(1, 2, 3)))));
        Assert.Equal(2, Database.Write(s => ListStore.Remove(s, id, new KeywordSelection(Ids(2, 3, 4)))));
        Assert.Equal([1], Members(id));
        Assert.Equal(4, Database.Write(s => ListStore.Add(s, id, new KeywordSelection())));
        Assert.Equal([1, 2, 3, 4, 5], Members(id));
    }

    [Theory]
    [InlineData(Combination.Union)]
    [InlineData(Combination.Subtract)]
    [InlineData(Combination.Intersect)]
    public void ListsAreCombinedAsSetsAre(Combination how)
    {
        Keywords(9);
        var random = new Random(7);
        for (var round = 0; round < 20; round++)
        {
            HashSet<long> a = [.. Draw()], b = [.. Draw()];
            var (first, second) = (Make($"a{round}", [.. a]), Make($"b{round}", [.. b]));
            var before = a.ToHashSet();
            if (how == Combination.Union)
                a.UnionWith(b);
            else if (how == Combination.Subtract)
                a.ExceptWith(b);
            else
                a.IntersectWith(b);
            Assert.Equal(Math.Abs(a.Count - before.Count), Database.Write(s => ListStore.Combine(s, first, second, how)));
            Assert.Equal(a.Order(), Members(first));
            Assert.Equal(b.Order(), Members(second));
        }

        IEnumerable<long> Draw() => Enumerable.Range(1, 9).Where(_ => random.Next(2) == 0).Select(k => (long)k);
    }

    [Fact]
    public void AListGoesWithoutItsKeywords()
    {
        Keywords(3);
        var (gone, stays) = (Make("gone", 1, 2), Make("stays", 2));
        Assert.Equal(["gone", "stays"], Database.Read(s => ListStore.Of(s, new KeywordId(2))).Select(l => l.Name));
        Database.Write(s => ListStore.Delete(s, gone));
        Assert.Equal([stays], Database.Read(ListStore.All).Select(l => l.Id));
        Assert.Empty(Members(gone));
        Assert.Equal(["stays"], Database.Read(s => ListStore.Of(s, new KeywordId(2))).Select(l => l.Name));
        Assert.Equal(3, Database.Read(KeywordStore.Count));
    }

    [Fact]
    public void AFilterSavedAgainIsTheSameAndOneThatIsNotThereIsNotDeleted()
    {
        Database.Write(s =>
        {
            ListStore.SaveFilter(s, "worth it", "minVolume=50");
            ListStore.SaveFilter(s, "asked", "isQuestion=true");
            ListStore.SaveFilter(s, "worth it", "minVolume=100");
        });
        var filters = Database.Read(ListStore.Filters);
        Assert.Equal([("asked", "isQuestion=true"), ("worth it", "minVolume=100")], filters.Select(f => (f.Name, f.Query)));
        Assert.Equal([true, false], new[] { 1, 2 }.Select(_ => Database.Write(s => ListStore.DeleteFilter(s, filters[0].Id))));
        Assert.Equal(["worth it"], Database.Read(ListStore.Filters).Select(f => f.Name));
    }

    [Fact]
    public void TheNewestSourceCountsUntilThePlannerChoosesAnother()
    {
        Keywords(1);
        var keyword = new KeywordId(1);
        var (older, newer) = (Says("ideas", 300, Now.AddDays(1)), Says("file", 500, Now.AddDays(2)));
        Assert.Equal(500, Volume());
        Database.Write(s => SourceStore.Choose(s, keyword, KeywordField.Volume, older));
        Assert.Equal(300, Volume());
        Assert.Equal(older, Database.Read(s => SourceStore.Choices(s, keyword))[KeywordField.Volume]);
        // What is said later leaves the choice alone.
        Says("rankings", 900, Now.AddDays(3));
        Assert.Equal(300, Volume());
        Database.Write(s => SourceStore.Choose(s, keyword, KeywordField.Volume, null));
        Assert.Equal(900, Volume());
        Assert.Empty(Database.Read(s => SourceStore.Choices(s, keyword)));
        Assert.Equal([900L, 500, 300, 100], Database.Read(s => SourceStore.Of(s, keyword)).Select(v => v.Volume!.Value));
        Assert.True(Database.Read(s => SourceStore.Knows(s, newer, keyword)));
        Assert.False(Database.Read(s => SourceStore.Knows(s, new SourceId(99), keyword)));

        SourceId Says(string label, long volume, DateTimeOffset at) => Database.Write(s =>
        {
            var source = SourceStore.Touch(s, SourceKind.File, label, at);
            using var writer = new KeywordStore.Writer(s, source, at);
            writer.Write(new Core.Keywords.Keyword("k1", "k1", volume, null));
            writer.Finish();
            return source;
        });

        long? Volume() => Database.Read(s => KeywordStore.Find(s, keyword))!.Volume;
    }

    [Fact]
    public void ASourceReadAgainIsTheSameSource()
    {
        Keywords(1);
        var (first, again, other) = Database.Write(s => (
            SourceStore.Touch(s, SourceKind.File, "test.csv", Now.AddHours(1)), SourceStore.Touch(s, SourceKind.File, "test.csv", Now.AddHours(2)), SourceStore.Touch(s, SourceKind.File, "other.csv", Now)));
        Assert.Equal(first, again);
        Assert.NotEqual(first, other);
        // One that says nothing is not listed.
        Assert.Equal([("test.csv", 1L)], Database.Read(SourceStore.All).Select(r => (r.Label, r.Keywords)));
    }
}
