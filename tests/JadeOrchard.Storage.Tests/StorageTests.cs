using JadeOrchard.Core;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;
using JadeOrchard.Tests;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage.Tests;

/// <summary>On real files: what the stores promise.</summary>
public sealed class StorageTests : WithDatabase
{
    private static readonly DateOnly Today = new(2026, 11, 24);
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);
    [Fact]
    public void ImportingAgainUpdatesRatherThanDoubles()
    {
        Keywords(new Keyword("Sea Kayak", "sea kayak", 100, 40));
        Keywords(new Keyword("sea kayak", "sea kayak", 200));
        var row = Assert.Single(List().Rows);
        Assert.Equal(("Sea Kayak", 200L, 40d), (row.Phrase, row.Volume, row.Difficulty));
    }

    [Fact]
    public void AListImportedAgainReplacesThatOfItsDay()
    {
        Results(("kayak", 1, "https://a.example/"), ("kayak", 2, "https://b.example/"));
        Results(("kayak", 1, "https://c.example/"));
        Assert.Equal(["https://c.example/"], ListOf("kayak").Select(r => r.Url));
    }

    [Fact]
    public void TheNewestListIsShownWhateverTheOrderOfImports()
    {
        Results(Today, ("kayak", 1, "https://new.example/"));
        Results(Today.AddDays(-9), ("kayak", 1, "https://old.example/"));
        Assert.Equal(["https://new.example/"], ListOf("kayak").Select(r => r.Url));
        var newest = Database.Read(s => ResultStore.Newest(s, KeywordStore.All(s).Ids));
        Assert.Equal("https://new.example", newest.Identities[newest.Lists.Urls(0)[0]]);
    }

    [Fact]
    public void ResultsOfUnknownKeywordsBringThemIn()
    {
        Results(("canoe", 1, "https://a.example/"));
        var row = Assert.Single(List().Rows);
        Assert.Equal(("canoe", null, Today), (row.Phrase, row.Volume, row.CapturedOn));
    }

    [Fact]
    public void AWriteThatFailsLeavesNothing()
    {
        Assert.Throws<InvalidOperationException>(() => Database.Write(session =>
        {
            using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "test.csv", Now), Now);
            writer.Write(new Keyword("kayak", "kayak"));
            throw new InvalidOperationException();
        }));
        Assert.Empty(List().Rows);
    }

    [Fact]
    public void WhatWasCommittedIsThereAfterTheFileIsOpenedAgain()
    {
        Keywords(new Keyword("kayak", "kayak", 5));
        using var again = Database.Open(Path.Combine(Folder, "project.db"));
        Assert.Equal(1, again.Read(s => s.Count("select count(*) from keyword")));
    }

    [Fact]
    public void ANewerDatabaseIsLeftAlone()
    {
        Database.Write(s => s.Execute("pragma user_version = 999"));
        Assert.Throws<NewerDatabaseException>(() => Database.Open(Path.Combine(Folder, "project.db")));
    }

    [Fact]
    public void TheDatabaseItselfRefusesASecondPage()
    {
        var (cluster, page) = ClusterWithPage();
        var other = Page("https://f.example/other");
        Assert.Throws<SqliteException>(() => Database.Write(s =>
            s.Execute("insert into assignment values (@c, @p, '')", ("c", cluster), ("p", other))));
        Assert.Equal(page, Cluster(cluster).PageId);
    }

    [Fact]
    public void AssigningAnotherPageTakesThePlaceOfTheFirst()
    {
        var (cluster, _) = ClusterWithPage();
        var other = Page("https://f.example/other");
        Database.Write(s => PageMapStore.Assign(s, cluster, other, DateTimeOffset.UnixEpoch));
        Assert.Equal(other, Cluster(cluster).PageId);
    }

    [Fact]
    public void UndoAndRedoBringBackEveryStep()
    {
        var (cluster, page) = ClusterWithPage();
        Database.Write(s => PageMapStore.Unassign(s, cluster), "clear");
        Database.Write(
            s => PageMapStore.Assign(s, cluster, PageStore.Plan(s, "https://f.example/new", "https://f.example/new", "New"), DateTimeOffset.UnixEpoch), "plan");
        Assert.Equal(PageKind.Planned, Cluster(cluster).PageKind);

        Assert.Equal("plan", Database.Write(UndoLog.Undo));
        Assert.Null(Cluster(cluster).PageId);
        Assert.Equal(1, Database.Read(s => s.Count("select count(*) from page")));
        Assert.Equal("clear", Database.Write(UndoLog.Undo));
        Assert.Equal(page, Cluster(cluster).PageId);
        Assert.Null(Database.Write(UndoLog.Undo));

        Assert.Equal("clear", Database.Write(UndoLog.Redo));
        Assert.Equal("plan", Database.Write(UndoLog.Redo));
        Assert.Equal("https://f.example/new", Cluster(cluster).PageUrl);
        Assert.Equal(("plan", null), Next());
    }

    [Fact]
    public void ANewStepForgetsWhatWasUndone()
    {
        var (cluster, page) = ClusterWithPage();
        Database.Write(s => PageMapStore.Unassign(s, cluster), "clear");
        Database.Write(UndoLog.Undo);
        // The page that it has anyway: nothing is changed, so what was undone can still be redone.
        Database.Write(s => PageMapStore.Assign(s, cluster, page, DateTimeOffset.UtcNow), "assign");
        Assert.Equal((null, "clear"), Next());
        var other = Page("https://f.example/other");
        Database.Write(s => PageMapStore.Assign(s, cluster, other, DateTimeOffset.UtcNow), "assign");
        Assert.Equal(("assign", null), Next());
    }

    [Fact]
    public void ReplacingAGroupingIsUndoneWithItsAssignments()
    {
        var (cluster, page) = ClusterWithPage();
        Keywords(new Keyword("canoe", "canoe"));
        Database.Write(s => ClusterStore.Replace(s, [new GroupedCluster(default, new KeywordId(2), [new KeywordId(2)])]), "regroup");
        Assert.Null(Database.Read(s => ClusterStore.Find(s, cluster)));
        Database.Write(UndoLog.Undo);
        Assert.Equal(page, Cluster(cluster).PageId);
        Assert.Equal(cluster, Database.Read(ClusterStore.Memberships)[new KeywordId(1)]);
        Assert.Single(Database.Read(ClusterStore.Memberships));
    }

    [Fact]
    public void APlannedPageThatIsImportedBecomesExistingAndKeepsItsCluster()
    {
        var (cluster, _) = ClusterWithPage();
        Database.Write(s => PageMapStore.Assign(s, cluster, PageStore.Plan(s, "https://f.example/new", "https://f.example/new", "Working"), DateTimeOffset.UtcNow));
        Database.Write(s => PageStore.Import(s, "https://f.example/new", new SitePage("https://www.f.example/new", "Written")));
        Database.Write(s => ClusterStore.RefreshCoverage(s, null, Today));
        var row = Cluster(cluster);
        Assert.Equal((PageKind.Existing, "Written"), (row.PageKind, row.PageTitle));
        Assert.Equal(Coverage.Covered, row.Mark);
    }

    [Fact]
    public void OwnPagesAreTakenInFromResults()
    {
        Results(("kayak", 1, "https://www.f.example/a"), ("kayak", 2, "https://shop.f.example/b"), ("kayak", 3, "https://xf.example/c"));
        Database.Write(s => PageStore.AdoptFromResults(s, new OwnSite("f.example")));
        Assert.Equal(
            ["https://shop.f.example/b", "https://www.f.example/a"],
            Database.Read(s => PageStore.List(s, new ListQuery(Sort: "url"), new PageFilter())).Rows.Select(p => p.Url));
    }

    [Fact]
    public void DecisionsSurviveComputingAgainAndOpenAgainWhenTheCauseReturns()
    {
        var (cluster, page) = ClusterWithPage();
        var finding = Uncovered(cluster, page, 5);
        void Compute(params ComputedFinding[] findings) => Database.Write(s =>
        {
            var changes = new FindingChanges();
            ComputedFindings.Save(s, null, findings, DateTimeOffset.UtcNow, changes);
            ComputedFindings.Settle(s, changes, null, true, new HashSet<FindingSeenId>(), DateTimeOffset.UnixEpoch);
            FindingCounts.Refresh(s, changes, null);
        });
        void Decide(FindingState state) => Database.Write(s =>
        {
            FindingDecisions.Decide(s, ["uncovered:1"], state, "", DateTimeOffset.UtcNow);
            ComputedFindings.Settle(s, new FindingChanges(), null, true, new HashSet<FindingSeenId>(), DateTimeOffset.UnixEpoch);
        });
        FindingState State() => Database.Read(s => FindingStore.Find(s, "uncovered:1"))!.State;

        Compute(finding);
        Assert.Equal(FindingState.Open, State());
        Decide(FindingState.Accepted);
        Compute(Uncovered(cluster, page, 7));
        Assert.Equal(FindingState.Accepted, State());
        Assert.Equal(7, Database.Read(s => FindingStore.Find(s, "uncovered:1"))!.AtStake);

        Decide(FindingState.Resolved);
        Compute(finding);
        Assert.Equal(FindingState.Resolved, State());
        Database.Write(ProjectStore.RaiseEvidenceVersion);
        Compute(finding);
        Assert.Equal(FindingState.Open, State());
        Compute();
        Assert.Equal(FindingState.Resolved, State());
        Compute(finding);
        Assert.Equal(FindingState.Open, State());
        Assert.Equal("kayak", Assert.Single(Assert.Single(Database.Read(s => FindingStore.SignsOf(s, "uncovered:1", 5))).Facts).Keyword);
    }

    [Fact]
    public void CandidatesOfAnOlderProjectAreKeptWithTheirSuggestion()   // migration 9
    {
        var (cluster, page) = (new ClusterId(1), new PageId(7));
        using var newer = Newer(
            8,
            """
            insert into page (page_id, identity, url, kind, source) values (7, 'a', 'a', 'existing', 'scan');
            insert into suggestion (cluster_id, page_id, verdict, strength) values (1, 7, 'clear', 80), (999, null, 'none', 0);
            insert into page_candidate (cluster_id, place, page_id, results, performance, text, named, strength) values (1, 1, 7, null, 0.25, 1, 0, 12.5), (1, 0, 7, 0.1, null, null, 1, 80);
            """);
        Assert.Equal(
            [(page, 0.1, null, null, 80), (page, (double?)null, 0.25, (double?)1, 12.5)],
            newer.Read(s => PageMapStore.Candidates(s, cluster)).Select(c => (c.PageId, c.Results, c.Performance, c.Text, c.Strength)));
        Assert.Empty(newer.Read(s => PageMapStore.Candidates(s, new ClusterId(999))));
    }

    [Fact]
    public void ResultsOfAnOlderProjectAreKeptInTheirLists()   // migration 10
    {
        using var newer = Newer(
            9,
            """
            insert into keyword (keyword_id, phrase, normal_form, words, word_count, is_question, brand, variant_key) values (1, 'kayak', 'kayak', 'kayak', 1, 0, 'none', 'kayak');
            insert into result_list (list_id, keyword_id, captured_on, captured_at, origin) values (5, 1, 740000, '2027-01-25', 'import'), (6, 1, 739999, '2027-01-24', 'import');
            insert into url (url_id, identity, host) values (1, 'a.example/', 'a.example'), (2, 'b.example/', 'b.example');
            insert into result (list_id, url_id, position, url, title, snippet) values
              (5, 2, 4, 'https://b.example/', 'Says "B", äöü', null), (6, 1, 1, 'https://a.example/', null, 'only A'), (5, 1, 2, 'https://a.example/', null, null), (5, 1, 9, 'http://a.example', null, null);
            """);
        Assert.Equal(
            [("https://a.example/", 2, null, null), ("https://b.example/", 4, "Says \"B\", äöü", (string?)null)],
            newer.Read(s => ResultStore.Results(s, new ResultListId(5))).Select(r => (r.Url, r.Position, r.Title, r.Snippet)));
        Assert.Equal("only A", Assert.Single(newer.Read(s => ResultStore.Results(s, new ResultListId(6)))).Snippet);
        Assert.Equal([2, 1], newer.Read(s => ResultStore.Lists(s, new KeywordId(1))).Select(l => l.Results));
    }

    /// <summary>A project of an older shape, opened as one of the newest.</summary>
    private Database Newer(int shape, string rows)
    {
        var path = Path.Combine(Folder, "older.db");
        using (var connection = new SqliteConnection($"Data Source={path};Pooling=False"))
        {
            connection.Open();
            Migrations.Apply(connection, shape);
            using var command = connection.CreateCommand();
            command.CommandText = rows;
            command.ExecuteNonQuery();
        }

        return Database.Open(path);
    }

    [Fact]
    public void ManyFindingsAreSavedAsFewAre()
    {
        ComputedFinding Of(int i, double stake) => new(
            $"page-gap:{i}", FindingKind.PageGap, IsPlanned: false,
            new FindingContent([new StoredStake(new ClusterId(1 + (i % 9)), stake)], [new PageId(i)], null, null, stake, 0.5, [new StoredSign(SignKind.Absent, new ClusterId(1 + (i % 9)), null, new PageId(i), [], stake, [])]));
        var (before, after) = (Enumerable.Range(0, 1_500).Select(i => Of(i, i % 7)).ToList(), Enumerable.Range(700, 1_500).Select(i => Of(i, i % 5)).ToList());
        List<string> Saved(int portion)
        {
            using var database = Database.Open(EmptyProject.In(Folder, $"{portion}.db"));
            foreach (var (findings, all) in new[] { (before, 1_500), (after, 2_200) })
            {
                database.Write(s =>
                {
                    var changes = new FindingChanges();
                    if (portion == 0)
                        ComputedFindings.Save(s, null, findings, Now, changes);
                    else
                    {
                        foreach (var some in Enumerable.Range(0, all).Select(i => $"page-gap:{i}").Chunk(portion))
                            ComputedFindings.Save(s, some, [.. findings.Where(f => some.Contains(f.Key))], Now, changes);
                    }

                    ComputedFindings.Settle(s, changes, null, true, new HashSet<FindingSeenId>(), DateTimeOffset.UnixEpoch);
                    FindingCounts.Refresh(s, changes, null);
                });
            }

            return database.Read(s => s.List(
                """
                select f.finding_key || ' ' || f.at_stake || ' ' || f.counted || ' ' || f.present || ' ' || f.state || ' ' || f.content || ' ' || e.went_away
                  || (select group_concat(x.cluster_id || '=' || x.at_stake || '/' || x.counts) from finding_cluster x where x.finding_id = f.finding_id)
                  || (select group_concat(x.page_id || '@' || x.place) from finding_page x where x.finding_id = f.finding_id)
                from finding f join finding_seen e on e.finding_key = f.finding_key
                order by 1
                """,
                r => r.GetString(0)));
        }

        var few = Saved(portion: 100);
        Assert.Equal(1_500, few.Count(f => f.Contains(" open ", StringComparison.Ordinal)));
        Assert.Equal(few, Saved(portion: 0));
    }

    /// <summary>A cluster's clicks count once, in the largest finding about it that is to do.</summary>
    [Fact]
    public void NoSumCountsTheClicksOfAClusterTwice()
    {
        var (cluster, page) = ClusterWithPage();
        ComputedFinding conflict = new(
            "conflict:1:2", FindingKind.Conflict, IsPlanned: false,
            new FindingContent([new StoredStake(cluster, 8), new StoredStake(new ClusterId(99), 3)], [page], null, null, 11, 0.5, [new StoredSign(SignKind.RivalsInResults, cluster, null, page, [], 11, [])]));
        void Compute(FindingState decided) => Database.Write(s =>
        {
            var changes = new FindingChanges();
            FindingDecisions.Decide(s, ["conflict:1:2"], decided, "fine", Now);
            ComputedFindings.Save(s, null, [conflict, Uncovered(cluster, page, 5)], Now, changes);
            ComputedFindings.Settle(s, changes, null, true, new HashSet<FindingSeenId>(), DateTimeOffset.UnixEpoch);
            FindingCounts.Refresh(s, changes, null);
        });
        double Sum() => Database.Read(s => FindingStore.List(s, new ListQuery(), new FindingFilter())).Tally.AtStake;
        Compute(FindingState.Open);
        Assert.Equal((11, 8), (Sum(), Cluster(cluster).AtStake));
        Compute(FindingState.Dismissed);
        Assert.Equal((5, 5), (Sum(), Cluster(cluster).AtStake));
    }

    [Fact]
    public void DecisionsOfFormerFindingsAreCarriedOver()   // migration 12
    {
        using var database = Newer(11,
            """
            insert into finding (finding_id, finding_key, kind, cluster_id, page_id, other_page_id, at_stake, facts, present, state) values
              (1, 'rivals-in-results:4:2:9', 'rivalsinresults', 4, 9, 2, 5, '[]', 1, 'dismissed'), (2, 'split-traffic:4:2:9', 'splittraffic', 4, 9, 2, 5, '[]', 1, 'open'),
              (3, 'no-page:5', 'nopage', 5, null, null, 5, '[]', 1, 'accepted'), (4, 'orphan:7', 'orphan', null, 7, null, 0, '[]', 1, 'dismissed'), (5, 'orphan:8', 'orphan', null, 8, null, 0, '[]', 1, 'open');
            insert into finding_seen (finding_key, first_found_at) select finding_key, '2026-0' || finding_id || '-01T00:00:00Z' from finding;
            insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at, assignee, note) values
              ('rivals-in-results:4:2:9', 'dismissed', 'both are wanted', 0, 0, '2026-05-01', 'Ann', ''), ('no-page:5', 'accepted', '', 0, 0, '2026-05-02', '', 'in spring'),
              ('orphan:7', 'dismissed', 'an archive', 0, 0, '2026-05-03', '', '');
            insert into plan_step (finding_key, remedy, page_id, other_page_id, note, decided_at) values ('rivals-in-results:4:2:9', 'merge', 9, 2, '', '2026-05-01');
            """);
        PageId two = new(2), nine = new(9);
        ClusterId four = new(4), five = new(5);
        ComputedFinding Of(string key, FindingKind kind, ClusterId[] clusters, PageId[] pages, params StoredSign[] signs) =>
            new(key, kind, IsPlanned: false, new FindingContent([.. clusters.Select(c => new StoredStake(c, 1))], pages, null, null, 1, 0.5, signs));
        database.Write(s =>
        {
            var changes = new FindingChanges();
            ComputedFindings.Save(
                s,
                null,
                [
                    Of("conflict:2:9", FindingKind.Conflict, [four], [nine, two],
                        new StoredSign(SignKind.RivalsInResults, four, null, nine, [two], 1, []), new StoredSign(SignKind.SplitTraffic, four, null, nine, [two], 1, [])),
                    Of("uncovered:5", FindingKind.Uncovered, [five], [], new StoredSign(SignKind.NoPage, five, null, null, [], 1, [])),
                    // Only one page of the folder was dismissed.
                    Of("idle-pages:%2Fa%2F", FindingKind.IdlePages, [], [new(7), new(8)],
                        new StoredSign(SignKind.Orphan, null, null, new(7), [], 0, []), new StoredSign(SignKind.Orphan, null, null, new(8), [], 0, [])),
                ],
                Now, changes);
            ComputedFindings.Settle(s, changes, null, true, new HashSet<FindingSeenId>(), DateTimeOffset.UnixEpoch);
        });
        FindingRow Row(string key) => database.Read(s => FindingStore.Find(s, key))!;
        Assert.Equal((FindingState.Dismissed, "both are wanted", "Ann", Remedy.Merge), (Row("conflict:2:9").State, Row("conflict:2:9").Reason, Row("conflict:2:9").Assignee, Row("conflict:2:9").Remedy));
        Assert.StartsWith("2026-01", Row("conflict:2:9").FirstFoundAt, StringComparison.Ordinal);
        Assert.Equal((FindingState.Accepted, "in spring"), (Row("uncovered:5").State, Row("uncovered:5").Note));
        Assert.Equal(FindingState.Open, Row("idle-pages:%2Fa%2F").State);
    }

    private static ComputedFinding Uncovered(ClusterId cluster, PageId page, double stake) => new(
        "uncovered:1", FindingKind.Uncovered, IsPlanned: false,
        new FindingContent(
            [new StoredStake(cluster, stake)], [page], new KeywordId(1), null, stake, 0.5,
            [new StoredSign(SignKind.NoPage, cluster, null, null, [], stake, [new StoredFact(new KeywordId(1), 0, 0, stake)])]));

    [Fact]
    public void TheDatabaseRefusesADismissalWithoutAReason() => Assert.Throws<SqliteException>(() =>
        Database.Write(s => FindingDecisions.Decide(s, ["uncovered:1"], FindingState.Dismissed, " ", DateTimeOffset.UtcNow)));

    [Fact]
    public void ListsSortFilterSearchAndPageWithATallyOfAllThatFits()
    {
        Keywords([.. Enumerable.Range(0, 250).Select(i => new Keyword($"kayak {i:D3}", $"kayak {i:D3}", i % 50 == 0 ? null : i, i % 100, null, i % 2 == 0 ? Intent.Commercial : null))]);
        Keywords(new Keyword("100% canoe_", "100% canoe_", 7));

        var page = Database.Read(s => KeywordStore.List(s, new ListQuery("kayak", "volume", true, 100, 50), new KeywordFilter()));
        Assert.Equal(50, page.Rows.Count);
        Assert.Equal(250, page.Tally.Rows);
        Assert.Equal(page.Rows.Select(r => r.Volume).OrderDescending(), page.Rows.Select(r => r.Volume));
        Assert.Equal(Enumerable.Range(0, 250).Where(i => i % 50 != 0).Sum(), page.Tally.Demand);

        var last = Database.Read(s => KeywordStore.List(s, new ListQuery(null, "volume", false, 246, 50), new KeywordFilter())).Rows;
        Assert.All(last, r => Assert.Null(r.Volume));
        Assert.Equal("100% canoe_", Assert.Single(Database.Read(s => KeywordStore.List(s, new ListQuery("0% canoe_"), new KeywordFilter())).Rows).Phrase);
        Assert.Equal(125, Database.Read(s => KeywordStore.List(s, new ListQuery(), new KeywordFilter(Intents: "commercial"))).Tally.Rows);
        var odd = Database.Read(s => KeywordStore.List(s, new ListQuery(null, "'; drop table keyword; --"), new KeywordFilter(MinVolume: 240)));
        Assert.Equal(10, odd.Tally.Rows);
    }

    [Fact]
    public void HostileTextIsKeptAsItIs()
    {
        const string phrase = "'; drop table keyword; -- \"\0\u202e🛶";
        Keywords(new Keyword(phrase, "x"));
        Assert.Equal(phrase, Assert.Single(List().Rows).Phrase);
    }

    private ListPage<KeywordRow> List() => Database.Read(s => KeywordStore.List(s, new ListQuery(), new KeywordFilter()));

    [Fact]
    public void TheLogIsMovedIntoTheFileWhileItIsOpen()
    {
        var file = new FileInfo(Path.Combine(Folder, "project.db"));
        var before = file.Length;
        for (var i = 0; i < 32; i++)
            Database.Write(s => PageStore.Import(s, $"https://f.example/{i}", new SitePage($"https://f.example/{i}", "Title"), new string('a', 100_000)));
        Assert.True(SpinWait.SpinUntil(
            () =>
            {
                file.Refresh();
                return file.Length > before + 1_000_000;
            },
            TimeSpan.FromSeconds(20)));
    }

    [Fact]
    public void TheFirstGroupingIsUndoneAndRedoneAsAWhole()
    {
        Keywords(new Keyword("kayak", "kayak", 100), new Keyword("canoe", "canoe", 50), new Keyword("paddle", "paddle", 10));
        GroupedCluster[] grouping = [new(default, new KeywordId(1), [new KeywordId(1), new KeywordId(3)]), new(default, new KeywordId(2), [new KeywordId(2)])];
        Database.Write(s => ClusterStore.Replace(s, grouping), "Regroup");
        Database.Write(s => Topics.TopicStore.Replace(s, [new Topics.GatheredTopic(default, new ClusterId(1), [new ClusterId(1), new ClusterId(2)])]), "Rebuild topics");
        var (clusters, members, topics) = (Database.Read(s => ClusterStore.All(s)), Database.Read(ClusterStore.Memberships), Database.Read(Topics.TopicStore.OfClusters));
        Assert.Equal([new TopicId(1), new TopicId(1)], topics.Values.Select(t => t.TopicId!.Value));

        Database.Write(UndoLog.Undo);
        Assert.All(Database.Read(Topics.TopicStore.OfClusters).Values, t => Assert.Null(t.TopicId));
        Assert.Equal(0, Database.Read(Topics.TopicStore.Count));
        Database.Write(UndoLog.Undo);
        Assert.Empty(Database.Read(s => ClusterStore.All(s)));
        Assert.Empty(Database.Read(ClusterStore.Memberships));

        Database.Write(UndoLog.Redo);
        Database.Write(UndoLog.Redo);
        Assert.Equal(clusters, Database.Read(s => ClusterStore.All(s)));
        Assert.Equal(members, Database.Read(ClusterStore.Memberships));
        Assert.Equal(topics, Database.Read(Topics.TopicStore.OfClusters));
    }

    private ClusterRow Cluster(ClusterId id) => Database.Read(s => ClusterStore.Find(s, id))!;

    private IReadOnlyList<ResultRow> ListOf(string keyword) => Database.Read(s =>
        ResultStore.ListOf(s, s.Id<KeywordId>("select keyword_id from keyword where normal_form = @form", ("form", keyword))));

    private PageId Page(string url) => Database.Write(s =>
    {
        PageStore.Import(s, url, new SitePage(url, "Title"));
        return PageStore.FindByIdentity(s, url)!.Id;
    });

    private (ClusterId Cluster, PageId Page) ClusterWithPage()
    {
        Keywords(new Keyword("kayak", "kayak", 100));
        Database.Write(s => ClusterStore.Replace(s, [new GroupedCluster(default, new KeywordId(1), [new KeywordId(1)])]));
        var cluster = Database.Read(ClusterStore.Memberships)[new KeywordId(1)];
        var page = Page("https://f.example/kayaks");
        Database.Write(s => PageMapStore.Assign(s, cluster, page, DateTimeOffset.UnixEpoch));
        return (cluster, page);
    }

    private void Keywords(params Keyword[] keywords) => Database.Write(session =>
    {
        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "test.csv", Now), Now);
        foreach (var keyword in keywords)
            writer.Write(keyword);
        writer.Finish();
    });

    private (string? Undo, string? Redo) Next()
    {
        var (undo, redo) = Database.Read(UndoLog.Next);
        return (undo?.Label, redo?.Label);
    }

    private void Results(params (string Keyword, int Position, string Url)[] results) => Results(null, results);

    private void Results(DateOnly? day, params (string Keyword, int Position, string Url)[] results) => Database.Write(session =>
    {
        using var writer = new ResultStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "results.csv", Now), Now);
        foreach (var (keyword, position, url) in results)
        {
            UrlIdentity.TryOf(url, UrlFolds.All, out var identity);
            writer.Write(new CapturedResult(keyword, keyword, position, url, identity, null, null, day));
        }

        writer.Finish();
    });
}
