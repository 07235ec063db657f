using CsCheck;
using JadeOrchard.Core;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;
using JadeOrchard.Tests;

namespace JadeOrchard.Storage.Tests;

/// <summary>Sources, sieves, lists, variants and the steps that undo them, on real files.</summary>
public sealed class KeywordStoreTests : WithDatabase
{
    private static readonly DateTimeOffset Monday = new(2026, 11, 23, 9, 0, 0, TimeSpan.Zero);
    [Fact]
    public void AKeywordKeepsWhatEverySourceSaidAndTheNewestIsInForce()
    {
        Say("old.csv", Monday, new Keyword("Sea kayak", "sea kayak", 100, 40));
        Say("new.csv", Monday.AddDays(1), new Keyword("sea kayak", "sea kayak", 300));
        var row = Assert.Single(List());
        Assert.Equal(("Sea kayak", 300L, 40d, 2L), (row.Phrase, row.Volume, row.Difficulty, row.Sources));
        var said = Database.Read(s => SourceStore.Of(s, row.Id));
        Assert.Equal([("new.csv", 300L), ("old.csv", 100L)], said.Select(v => (v.Label, v.Volume!.Value)));
    }

    [Fact]
    public void TheChosenSourceStaysInForceWhenANewerOneSpeaks()
    {
        Say("a.csv", Monday, new Keyword("kayak", "kayak", 100));
        Say("b.csv", Monday.AddDays(1), new Keyword("kayak", "kayak", 200));
        var id = List()[0].Id;
        Database.Write(s => SourceStore.Choose(s, id, KeywordField.Volume, SourceOf("a.csv")));
        Assert.Equal(100, List()[0].Volume);
        Say("c.csv", Monday.AddDays(2), new Keyword("kayak", "kayak", 900, 5));
        Assert.Equal((100L, 5d), (List()[0].Volume, List()[0].Difficulty));
        Database.Write(s => SourceStore.Choose(s, id, KeywordField.Volume, null));
        Assert.Equal(900, List()[0].Volume);
    }

    [Fact]
    public void AnImportIsUndoneAndRedoneAsOneStep()
    {
        Say("a.csv", Monday, new Keyword("kayak", "kayak", 100));
        Database.Write(s => Write(s, "b.csv", Monday.AddDays(1), new Keyword("kayak", "kayak", 200), new Keyword("canoe", "canoe", 50)), "Import of b.csv");
        Assert.Equal(2, List().Count);
        Assert.Equal("Import of b.csv", Database.Write(UndoLog.Undo));
        Assert.Equal(("kayak", 100L, 1L), (List().Single().Phrase, List().Single().Volume, List().Single().Sources));
        Database.Write(UndoLog.Redo);
        Assert.Equal([200L, 50L], List().Select(k => k.Volume!.Value));
    }

    [Fact]
    public void TheTallyOfAListFollowsEveryWrite()
    {
        ListTally Tally(long? least = null) => Database.Read(s => KeywordStore.List(s, new ListQuery(Limit: 1), new KeywordFilter(MinVolume: least))).Tally;
        Say("a.csv", Monday, new Keyword("kayak", "kayak", 100));
        Assert.Equal((1L, 100L), (Tally().Rows, Tally().Demand));
        Assert.Equal(0, Tally(101).Rows);
        Database.Write(s => Write(s, "b.csv", Monday.AddDays(1), new Keyword("kayak", "kayak", 200), new Keyword("canoe", "canoe", 50)), "Import of b.csv");
        Assert.Equal((2L, 250L), (Tally().Rows, Tally().Demand));
        Assert.Equal(1, Tally(101).Rows);
        Database.Write(UndoLog.Undo);
        Assert.Equal((1L, 100L), (Tally().Rows, Tally().Demand));
        Assert.Throws<InvalidOperationException>(() => Database.Write(s =>
        {
            Write(s, "c.csv", Monday.AddDays(2), new Keyword("raft", "raft", 7));
            throw new InvalidOperationException();
        }));
        Assert.Equal((1L, 100L), (Tally().Rows, Tally().Demand));
        // More different questions than are kept.
        for (var least = 0; least < 200; least++)
            Assert.Equal(least <= 100 ? 1 : 0, Tally(least).Rows);
    }

    [Fact]
    public void UndoneResultListsComeBackWithTheirResultsAndAreForgottenWhenTheyCannot()
    {
        Results("first", ("kayak", 1, "https://a.example/"), ("kayak", 2, "https://b.example/"));
        Results("second", ("kayak", 1, "https://c.example/"));
        Assert.Equal(["https://c.example/"], ListOf("kayak"));
        Database.Write(UndoLog.Undo);
        Assert.Equal(["https://a.example/", "https://b.example/"], ListOf("kayak"));
        Database.Write(UndoLog.Redo);
        Assert.Equal(["https://c.example/"], ListOf("kayak"));
        Database.Write(UndoLog.Undo);
        Database.Write(s => ListStore.Make(s, "x", "", Monday), "a new step");
        Assert.Equal(1, Database.Read(s => s.Count("select count(*) from result_part")));
    }

    /// <summary>The rows that an import adds are recorded as ranges, so it must be told apart what was there before.</summary>
    [Fact]
    public void AnImportOfResultsIsUndoneAndRedoneToTheRow() => Gen.Select(
        Gen.Int[0, 11].Array[0, 12], Gen.Int[0, 11].Array[1, 12], Gen.Bool.Array[12]).Sample(
        (before, added, failed) =>
        {
            using var database = Database.Open(EmptyProject.In(Folder, Guid.NewGuid() + ".db"));
            database.Write(s => Write(s, "a.csv", Monday, [.. before.Select(k => new Keyword($"k{k}", $"k{k}", k))]));
            database.Write(s => WriteResults(s, "older", Monday.AddDays(-1), [.. before.Where(k => k % 3 == 0).Select(k => ($"k{k}", k + 1, "https://old.example/"))]));
            database.Write(s => s.Execute($"insert into capture_failure select keyword_id, 'slow' from keyword where keyword_id in ({string.Join(",", failed.Select((f, i) => f ? i : -1))})"));
            var first = State(database);
            database.Write(s => WriteResults(s, "newer", Monday, [.. added.Select((k, i) => ($"k{k}", i + 1, $"https://a.example/{i % 5}"))]), "Import");
            var second = State(database);
            for (var round = 0; round < 2; round++)
            {
                Assert.Equal("Import", database.Write(UndoLog.Undo));
                Assert.Equal(first, State(database));
                Assert.Equal("Import", database.Write(UndoLog.Redo));
                Assert.Equal(second, State(database));
            }
        },
        iter: 30);

    [Fact]
    public void WhatFollowsAWriterThatWasNotFinishedIsRecordedAgain()
    {
        Database.Write(
            s =>
            {
                using var writer = new KeywordStore.Writer(s, SourceStore.Touch(s, SourceKind.File, "a.csv", Monday), Monday);
                writer.Write(new Keyword("kayak", "kayak"));
            },
            "forgotten");
        Database.Write(s => s.Execute("insert into result_list (keyword_id, captured_on, captured_at, origin) values (1, 5, '', 'import')"), "straight in");
        Database.Write(UndoLog.Undo);
        Assert.Equal(0, Database.Read(s => s.Count("select count(*) from result_list")));
    }

    [Fact]
    public void AStepOfSeveralTransactionsIsUndoneWholeAndNotWhileItIsOpen()
    {
        var job = Database.Write(s => Jobs.JobStore.Add(s, "capture", "Capture", "{}", Monday));
        for (var i = 0; i < 3; i++)
            Database.Change("Capture", s => Write(s, "x", Monday, new Keyword($"k{i}", $"k{i}")), job);
        Database.Write(s => ListStore.Make(s, "after", "", Monday), "Make a list");
        Assert.Equal("Make a list", Database.Write(UndoLog.Undo));
        Assert.Throws<StepUnderWayException>(() => Database.Write(UndoLog.Undo));
        Assert.Equal(3, List().Count);
        Database.Write(s => UndoLog.Close(s, job, "Capture of 3"));
        Assert.Equal("Capture of 3", Database.Write(UndoLog.Undo));
        Assert.Empty(List());
        Assert.Equal("Capture of 3", Database.Write(UndoLog.Redo));
        Assert.Equal(3, List().Count);
    }

    /// <summary>An edit between two parts of a job may change the same rows, so the parts are undone in the order in which they were made.</summary>
    [Fact]
    public void AnEditOfTheSameRowInTheMiddleOfAJobPartsItsStep()
    {
        var job = Database.Write(s => Jobs.JobStore.Add(s, "capture", "Capture", "{}", Monday));
        Database.Change("Capture", s => Write(s, "a", Monday, new Keyword("kayak", "kayak", 1)), job);
        Database.Write(s => ListStore.Make(s, "another row", "", Monday), "Make a list");
        Database.Change("Capture", s => Write(s, "a", Monday, new Keyword("canoe", "canoe", 1)), job);
        Assert.Equal(["Make a list", "Capture"], Database.Read(s => UndoLog.History(s)).Select(s => s.Label));
        Database.Write(s => Write(s, "b", Monday, new Keyword("kayak", "kayak", 2)), "Edit");
        Database.Change("Capture", s => Write(s, "c", Monday, new Keyword("kayak", "kayak", 3)), job);
        Database.Write(s => UndoLog.Close(s, job, "Capture"));
        long? Volume() => List().SingleOrDefault(k => k.Phrase == "kayak")?.Volume;
        Assert.Equal("Capture (part 2 of 2)", Database.Write(UndoLog.Undo));
        Assert.Equal(2, Volume());
        Assert.Equal("Edit", Database.Write(UndoLog.Undo));
        Assert.Equal(1, Volume());
        Assert.Equal("Make a list", Database.Write(UndoLog.Undo));
        Assert.Equal("Capture (part 1 of 2)", Database.Write(UndoLog.Undo));
        Assert.Empty(List());
        for (var i = 0; i < 4; i++)
            Database.Write(UndoLog.Redo);
        Assert.Equal(3, Volume());
    }

    /// <summary>Later pages are read from the end of the list, so they must be the same rows in the same order.</summary>
    [Theory]
    [InlineData("volume")]
    [InlineData("phrase")]
    [InlineData("difficulty")]
    [InlineData("titleCompetition")]
    [InlineData("clusterName")]
    [InlineData(null)]
    public void ThePagesOfAListAreTheWholeList(string? sort)
    {
        var random = new Random(3);
        Say("a.csv", Monday, [.. Enumerable.Range(0, 2_300).Select(i => new Keyword(
            $"K{random.Next(900)} {i}", $"k {i}", random.Next(3) == 0 ? null : random.Next(20), random.Next(3) == 0 ? null : random.Next(9), random.Next(50)))]);
        foreach (var descending in new[] { false, true })
        {
            var filter = new KeywordFilter(MaxDifficulty: descending ? 7 : null);
            var whole = Database.Read(s => KeywordStore.List(s, new ListQuery(null, sort, descending, 0, 10_000), filter));
            var paged = Enumerable.Range(0, 8).SelectMany(p => Database.Read(s => KeywordStore.List(s, new ListQuery(null, sort, descending, p * 300, 300), filter)).Rows);
            Assert.Equal(whole.Tally.Rows, whole.Rows.Count);
            Assert.Equal(whole.Rows.Select(r => r.Id), paged.Select(r => r.Id));
        }
    }

    [Fact]
    public void SievesCombine()
    {
        Say("a.csv", Monday,
            new Keyword("best sea kayak", "best sea kayak", 500, 30, 50, Intent.Commercial, 0.4),
            new Keyword("sea kayak", "sea kayak", 900, 60, 2000),
            new Keyword("how to roll a kayak", "how to roll a kayak", 200, 10, 300),
            new Keyword("kayaks for sale", "kayaks for sale", 0, null, 7),
            new Keyword("acme kayak", "acme kayak", 40));
        Database.Write(s =>
        {
            ProjectStore.SaveSettings(s, ProjectStore.Settings(s) with { OtherBrands = ["Acme"] });
            using var reader = ProjectStore.Reader(s);
            KeywordStore.RefreshReadings(s, reader);
        });
        Assert.Equal(["sea kayak", "best sea kayak"], Sift(new(WordsIn: "sea")));
        Assert.Equal(["sea kayak", "best sea kayak", "how to roll a kayak", "acme kayak"], Sift(new(WordsIn: "kayak")));
        Assert.Equal(["best sea kayak"], Sift(new(WordsIn: "best, sea kayak", AllWordsIn: true)));
        Assert.Equal(["how to roll a kayak", "acme kayak", "kayaks for sale"], Sift(new(WordsOut: "sea")));
        Assert.Equal(["how to roll a kayak"], Sift(new(Questions: true)));
        Assert.DoesNotContain("acme kayak", Sift(new(WithoutBrands: true)));
        Assert.Equal(["best sea kayak"], Sift(new(MaxTitleCompetition: 0.25)));
        Assert.Equal(["sea kayak", "how to roll a kayak"], Sift(new(MinTitleCompetition: 1)));
        Assert.Equal(["best sea kayak", "how to roll a kayak"], Sift(new(MinVolume: 100, MaxDifficulty: 40)));
        Assert.Equal(["best sea kayak", "acme kayak"], Sift(new(Intents: "commercial")));
        Assert.Equal(["sea kayak"], Sift(new(Intents: "unknown")));
        Assert.Equal(["kayaks for sale"], Sift(new(Intents: "transactional")));
        Assert.Equal("for sale", List().Single(k => k.Phrase == "kayaks for sale").IntentToldBy);
        Assert.Equal(["how to roll a kayak"], Sift(new(MinWords: 4)));
        Assert.Empty(Sift(new(SourceId: new SourceId(99))));
        Assert.Equal(5, Sift(new(SourceKind: SourceKind.File, Capture: CaptureState.None, Progress: KeywordState.Free)).Count);
    }

    [Fact]
    public void WordsAreFoundAsWholeWordsWhateverTheyAre() =>
        Gen.Select(Gen.String[Gen.Char.AlphaNumeric, 1, 6].Array[1, 6], Gen.Int[0, 5], Gen.String[1, 12]).Sample((words, at, other) =>
        {
            var phrase = KeywordNormalForm.Of(string.Join(' ', words));
            var padded = KeywordWords.Padded(phrase);
            var word = KeywordNormalForm.Of(words[at % words.Length]);
            Assert.True(KeywordWords.Contain(padded, word));
            Assert.False(KeywordWords.Contain(padded, word + "zzzzzzz"));
            // Any text at all may be looked for.
            KeywordWords.Contain(padded, other);
        });

    [Fact]
    public void ListsAddSubtractAndIntersect()
    {
        Say("a.csv", Monday, [.. "abcdef".Select(c => new Keyword($"kayak {c}", $"kayak {c}", 10))]);
        var ids = List().ToDictionary(k => k.Phrase[^1], k => k.Id);
        var (first, second) = Database.Write(s => (ListStore.Make(s, "First", "notes", Monday), ListStore.Make(s, "Second", "", Monday)));
        Database.Write(s => ListStore.Add(s, first, new KeywordSelection([ids['a'], ids['b'], ids['c'], new KeywordId(999)])), "add");
        Database.Write(s => ListStore.Add(s, second, new KeywordSelection([ids['c'], ids['d']])), "add");
        string Members(ListId list) => string.Concat(Database.Read(s => KeywordStore.List(s, new ListQuery(Sort: "phrase"), new KeywordFilter(ListId: list))).Rows.Select(k => k.Phrase[^1]));

        Database.Write(s => ListStore.Combine(s, first, second, Combination.Union), "union");
        Assert.Equal("abcd", Members(first));
        Database.Write(s => ListStore.Combine(s, first, second, Combination.Subtract), "subtract");
        Assert.Equal("ab", Members(first));
        Database.Write(UndoLog.Undo);
        Database.Write(s => ListStore.Combine(s, first, second, Combination.Intersect), "intersect");
        Assert.Equal("cd", Members(first));
        Database.Write(s => ListStore.Delete(s, second), "delete");
        Assert.Equal(["First"], Database.Read(ListStore.All).Select(l => l.Name));
        Database.Write(UndoLog.Undo);
        Assert.Equal("cd", Members(second));
    }

    [Fact]
    public void CloseVariantsAreMergedOnlyOnRequestAndTakenApartAgain()
    {
        Say("a.csv", Monday, new Keyword("kayak paddle", "kayak paddle", 900, 10), new Keyword("paddles for kayak", "paddles for kayak", 200, 12), new Keyword("canoe", "canoe", 5));
        var (groups, total) = Database.Read(s => KeywordStore.Variants(s, new ListQuery(), new KeywordFilter()));
        Assert.Equal(1, total);
        Assert.Equal(["kayak paddle", "paddles for kayak"], groups[0].Keywords.Select(k => k.Phrase));
        var list = Database.Write(s => ListStore.Make(s, "L", "", Monday));
        Database.Write(s => ListStore.Add(s, list, new KeywordSelection([groups[0].Keywords[1].Id])));

        Database.Write(s => KeywordStore.Merge(s, groups[0].Keywords[0].Id, [groups[0].Keywords[1].Id]), "Merge");
        Assert.Equal([("kayak paddle", 900L), ("canoe", 5L)], List().Select(k => (k.Phrase, k.Volume!.Value)));
        Assert.Equal(1, Database.Read(s => ListStore.Find(s, list))!.Keywords);
        // What is said of the variant from now on is said of the keyword, and does not put the keyword's own values out of force.
        Say("b.csv", Monday.AddDays(1), new Keyword("paddles for kayak", "paddles for kayak", 111));
        Assert.Equal([900L, 5L], List().Select(k => k.Volume!.Value));

        Database.Write(UndoLog.Undo);
        Assert.Equal(["kayak paddle", "paddles for kayak", "canoe"], List().Select(k => k.Phrase));
    }

    [Fact]
    public void AKeywordTakenOutLeavesNothingBehindAndComesBack()
    {
        Results("r", ("kayak", 1, "https://a.example/"), ("canoe", 1, "https://a.example/"));
        Database.Write(s => Clusters.ClusterStore.Replace(s, [new Clusters.GroupedCluster(default, new KeywordId(1), [new KeywordId(1), new KeywordId(2)])]));
        Database.Write(s => KeywordStore.Remove(s, new KeywordSelection([new KeywordId(1)])), "Take out");
        Assert.Equal(["canoe"], List().Select(k => k.Phrase));
        Assert.Equal(new KeywordId(2), Database.Read(s => Clusters.ClusterStore.All(s)).Single().PrimaryKeywordId);
        Database.Write(UndoLog.Undo);
        Assert.Equal(2, List().Count);
        Assert.Equal(["https://a.example/"], ListOf("kayak"));
        Assert.Equal(new KeywordId(1), Database.Read(s => Clusters.ClusterStore.All(s)).Single().PrimaryKeywordId);
    }

    [Fact]
    public void APrimaryChosenAfterAChangeByHandIsTheOneThatAGroupingWouldTake() => Gen.Select(Gen.OneOf(Gen.Const("a"), Gen.Const("b"), Gen.Const("é"), Gen.Const("～"), Gen.Const("🛶")).Array[1, 4], Gen.Int[-1, 2]).Array[3, 8].Sample(
        drawn =>
        {
            using var database = Database.Open(EmptyProject.In(Folder, $"{Guid.NewGuid()}.db"));
            Keyword[] keywords = [.. drawn.Select(d => (Form: string.Concat(d.Item1), Volume: d.Item2)).DistinctBy(d => d.Form).Select(d => new Keyword(d.Form, d.Form, d.Volume < 0 ? null : d.Volume))];
            if (keywords.Length < 3)
                return;
            var ids = database.Write(s =>
            {
                using var writer = new KeywordStore.Writer(s, SourceStore.Touch(s, SourceKind.File, "a.csv", Monday), Monday);
                KeywordId[] written = [.. keywords.Select(k => writer.Write(k))];
                writer.Finish();
                return written;
            });
            var order = KeywordOrder.Of(keywords);
            database.Write(s => Clusters.ClusterStore.Replace(s, [new Clusters.GroupedCluster(default, ids[order[0]], ids)]));
            var made = database.Write(s => Clusters.ClusterStore.Move(s, [ids[order[0]], ids[order[^1]]], null));
            var primaries = database.Read(s => Clusters.ClusterStore.All(s)).ToDictionary(c => c.Id == made, c => c.PrimaryKeywordId);
            Assert.Equal(ids[order[0]], primaries[true]);
            Assert.Equal(ids[order[1]], primaries[false]);
        },
        iter: 30);

    [Fact]
    public void ACaptureAsksForNoFreshListAndGoesOnWhereItStopped()
    {
        Say("a.csv", Monday, new Keyword("a", "a", 30), new Keyword("b", "b", 20), new Keyword("c", "c", 10));
        Results("r", ("b", 1, "https://b.example/"));
        var today = new DateOnly(2026, 11, 24);
        var estimate = Database.Read(s => CaptureStore.Estimate(s, new KeywordSelection(), today, again: false));
        Assert.Equal(new CaptureEstimate(3, 1, 2), estimate);
        Assert.Equal(3, Database.Read(s => CaptureStore.Estimate(s, new KeywordSelection(), today, again: true)).ToAsk);
        var job = Database.Write(s =>
        {
            var id = Jobs.JobStore.Add(s, "capture", "Capture", "{}", Monday);
            CaptureStore.Begin(s, id, new KeywordSelection(), today, again: false, new Dictionary<KeywordId, double>());
            return id;
        });
        Assert.Equal(["a", "c"], Database.Read(s => CaptureStore.Waiting(s, job)).Select(i => i.Phrase));
        Database.Write(s => CaptureStore.SetState(s, job, new KeywordId(1), CaptureState.Failed, "status 500"));
        Database.Write(s => CaptureStore.MarkFailed(s, new KeywordId(1), "status 500"));
        Assert.Equal(["c"], Database.Read(s => CaptureStore.Waiting(s, job)).Select(i => i.Phrase));
        Assert.Equal((CaptureState.Failed, "status 500"), List().Where(k => k.Phrase == "a").Select(k => (k.Capture, k.CaptureNote!)).Single());
        Assert.Equal(new CaptureCounts(1, 0, 0, 1), Database.Read(s => CaptureStore.Counts(s, job)));
        Database.Write(s => CaptureStore.RetryFailed(s, job));
        Assert.Equal(2, Database.Read(s => CaptureStore.Waiting(s, job)).Count);
    }

    [Fact]
    public void WhatHasMostProbablyChangedIsCapturedFirst()
    {
        Say("a.csv", Monday, new Keyword("new", "new", 5), new Keyword("fast", "fast", 10), new Keyword("slow", "slow", 900), new Keyword("once", "once", 30), new Keyword("also once", "also once", 40));
        void Captured(int day, string keyword, int first) => Database.Write(
            s => WriteResults(s, $"{keyword}{day}", Monday.AddDays(day), [.. Enumerable.Range(first, 10).Select(u => (keyword, u - first + 1, $"https://site{u}.example/"))]), "capture");
        foreach (var day in new[] { 1, 15, 29 })
        {
            Captured(day, "fast", first: 100 + (day / 14 * 4));
            Captured(day, "slow", first: 0);
        }

        Captured(29, "once", first: 500);
        Captured(29, "also once", first: 600);
        var today = DateOnly.FromDateTime(Monday.UtcDateTime).AddDays(31);
        var repeats = Database.Read(s => ResultStore.Repeats(s, new KeywordSelection(), depth: 10));
        Assert.Equal([6, 6, 10, 10], repeats.Select(r => r.Kept).Order());
        Assert.All(repeats, r => Assert.Equal((14, 10), (r.Days, r.Compared)));
        var changed = Database.Read(s => CaptureStore.Changed(s, new KeywordSelection(), depth: 10, today));
        var job = Database.Write(s =>
        {
            var id = Jobs.JobStore.Add(s, "capture", "Capture", "{}", Monday);
            CaptureStore.Begin(s, id, new KeywordSelection(), today, again: true, changed, most: 4);
            return id;
        });
        // First what has no list, then by probability; volume decides among equals.
        Assert.Equal(["new", "fast", "also once", "once"], Database.Read(s => CaptureStore.Waiting(s, job)).Select(i => i.Phrase));
    }

    [Fact]
    public void AScanThatIsRepeatedTellsWhatChanged()
    {
        var scan = Scan(1, Page("/a", "A"), Page("/b", "B"), Page("/c", "C"));
        Assert.Equal(3, Database.Read(s => ScanStore.ChangeCounts(s, scan))[PageChangeKind.New]);
        scan = Scan(2, Page("/a", "A"), Page("/b", "B, rewritten"), Page("/c", null, 404), Page("/d", "D"), Page("/e", null, 404));
        var changes = Database.Read(s => ScanStore.Changes(s, scan, 100)).Select(c => (c.Kind, c.Url, c.Before, c.After));
        Assert.Equal(
            [(PageChangeKind.Gone, "https://f.example/c", "C", null), (PageChangeKind.New, "https://f.example/d", null, "D"), (PageChangeKind.Title, "https://f.example/b", "B", "B, rewritten")],
            changes);
        var b = Database.Read(s => PageStore.FindByIdentity(s, "https://f.example/b"))!;
        Assert.Equal(["B, rewritten", "B"], Database.Read(s => ScanStore.Titles(s, b.Id)).Select(t => t.Title));
        Assert.Equal(1, Database.Read(s => PageStore.List(s, new ListQuery(), new PageFilter(IsGone: true))).Tally.Rows);
        Assert.Null(Database.Read(s => PageStore.FindByIdentity(s, "https://f.example/e")));
        // b and d link to a; a links to itself, which does not count.
        Assert.Equal(2, Database.Read(s => PageStore.FindByIdentity(s, "https://f.example/a"))!.LinksIn);
        Scan(3, Page("/c", "C"));
        Assert.Equal(PageChangeKind.Back, Database.Read(s => ScanStore.Changes(s, new JobId(3), 10))[0].Kind);
    }

    [Theory]
    [InlineData("/guides", 2)]
    [InlineData("*kayak*", 1)]
    [InlineData("/guides/[x]", 0)]
    [InlineData("/", 4)]
    public void PagesAreSiftedByPath(string path, int count)
    {
        Scan(1, Page("/guides/a", "A"), Page("/guides/sea-kayak", "B"), Page("/shop", "C"), Page("/", "Home"));
        Assert.Equal(count, Database.Read(s => PageStore.List(s, new ListQuery(), new PageFilter(Path: path))).Tally.Rows);
    }

    [Fact]
    public void AServiceKeyIsKeptAndNeverListed()
    {
        Database.Write(s => ServiceStore.Save(s, ServiceName.Search, "https://search.example", "X-Key", "secret"));
        var row = Database.Read(ServiceStore.All).Single(s => s.Name == ServiceName.Search);
        Assert.Equal(new ServiceRow(ServiceName.Search, "https://search.example", "X-Key", true), row);
        Assert.Equal("secret", Database.Read(s => ServiceStore.Key(s, ServiceName.Search)));
        Database.Write(s => ServiceStore.Save(s, ServiceName.Search, "https://search.example", "X-Key", null));
        Assert.Equal("secret", Database.Read(s => ServiceStore.Key(s, ServiceName.Search)));
        Database.Write(s => ServiceStore.Save(s, ServiceName.Search, "https://search.example", "X-Key", ""));
        Assert.Null(Database.Read(s => ServiceStore.Key(s, ServiceName.Search)));
    }

    private static ScannedPage Page(string path, string? title, int status = 200)
    {
        UrlIdentity.TryOf("https://f.example" + path, UrlFolds.All, out var identity);
        return new ScannedPage("https://f.example" + path, identity, status, null, Indexability.Of(status, false, identity, null, null),
            title is null ? null : new PageContent(title, null, null, null, "Heading", null, null, "text", 1, [new PageLink("https://f.example/a", "to a")], null, null));
    }

    private JobId Scan(long number, params ScannedPage[] pages)
    {
        var now = Monday.AddDays(number);
        return Database.Write(s =>
        {
            var id = Jobs.JobStore.Add(s, "scan", "Scan", "{}", now);
            ScanStore.Begin(s, id, ScanDepth.Full, "https://f.example/", now);
            foreach (var page in pages)
                ScanStore.SavePage(s, id, page, ScanDepth.Full, now);
            ScanStore.Finish(s, id, ScanDepth.Full, now);
            return id;
        });
    }

    private List<string> Sift(KeywordFilter filter) => [.. Database.Read(s => KeywordStore.List(s, new ListQuery(), filter)).Rows.Select(k => k.Phrase)];

    private IReadOnlyList<KeywordRow> List() => Database.Read(s => KeywordStore.List(s, new ListQuery(), new KeywordFilter())).Rows;

    private SourceId SourceOf(string label) => Database.Read(SourceStore.All).Single(s => s.Label == label).Id;

    private List<string> ListOf(string keyword) => [.. Database.Read(s =>
        ResultStore.ListOf(s, s.Id<KeywordId>("select keyword_id from keyword where normal_form = @form", ("form", keyword)))).Select(r => r.Url)];

    private void Say(string source, DateTimeOffset when, params Keyword[] keywords) => Database.Write(s => Write(s, source, when, keywords));

    private static int Write(WriteSession session, string source, DateTimeOffset when, params Keyword[] keywords)
    {
        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, source, when), when);
        foreach (var keyword in keywords)
            writer.Write(keyword);
        writer.Finish();
        return keywords.Length;
    }

    private void Results(string label, params (string Keyword, int Position, string Url)[] results) =>
        Database.Write(session => WriteResults(session, label, Monday.AddDays(1), results), label);

    private static void WriteResults(WriteSession session, string label, DateTimeOffset now, params (string Keyword, int Position, string Url)[] results)
    {
        using var writer = new ResultStore.Writer(session, SourceStore.Touch(session, SourceKind.File, label, now), now);
        foreach (var (keyword, position, url) in results)
        {
            UrlIdentity.TryOf(url, UrlFolds.All, out var identity);
            writer.Write(new CapturedResult(keyword, keyword, position, url, identity, null, null, null));
        }

        writer.Finish();
    }

    /// <summary>All that a planner sees of keywords and results, as text.</summary>
    private static string State(Database database) => database.Read(s => string.Join('\n', new[]
    {
        "select phrase || ifnull(volume, '-') || ifnull(captured_on, '-') || ifnull(capture_state, '-') || ifnull(capture_note, '-') from keyword order by normal_form",
        "select k.normal_form || v.source_id || v.phrase || ifnull(v.volume, '-') from keyword_value v join keyword k using (keyword_id) order by 1",
    }.SelectMany(sql => s.List(sql, r => r.GetString(0)))
        .Concat(s.List("select k.normal_form, l.captured_on, l.list_id from result_list l join keyword k using (keyword_id) order by 1, 2", r => (Form: r.GetString(0), Day: r.GetInt32(1), Id: r.Id<ResultListId>(2)))
            .SelectMany(l => ResultStore.Results(s, l.Id).Select(r => $"{l.Form}{l.Day} {r.Position} {r.Identity} {r.Url} {r.Title} {r.Snippet}")))));
}
