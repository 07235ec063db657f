using JadeOrchard.Core;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Tests;

/// <summary>Briefs with their texts, links and history; which page a cluster has; and what planners say of queries and changes.</summary>
public sealed class BriefStoreTests : WithClusters
{
    private static readonly ClusterId First = new(1), Second = new(2);

    public BriefStoreTests()
    {
        Keywords(4);
        Group([1, 2], [3, 4]);
    }

    private static Brief Proposal(string wants = "They want to compare.") =>
        new("https://fenwater.example/a", true, wants, "guide", [new BriefKeyword("k1", null, null, null, true, [], [])], [], null, new Outline([], []), [], [], [], [], [], [], [], [], "k1, k2");

    private BriefId Save(ClusterId cluster, Brief? proposal = null, DateOnly? due = null, int hours = 0) =>
        Database.Write(s => BriefStore.Save(s, cluster, proposal ?? Proposal(), "Ada", due, Now.AddHours(hours)));

    private StoredBrief Find(BriefId id) => Database.Read(s => BriefStore.Find(s, id))!;

    [Fact]
    public void ANewProposalKeepsTheEditsAndTheOneThatWasSeen()
    {
        var id = Save(First);
        Database.Write(s => BriefStore.Change(s, Find(id) with { Edits = new BriefEdits(Title: "Suits"), State = BriefState.Sent, Notes = "short" }));
        Assert.Equal(id, Save(First, Proposal("They want to buy."), hours: 1));
        var made = Find(id);
        Assert.Equal(("They want to buy.", "They want to compare.", "Suits", BriefState.Sent, "short", "Ada"), (made.Proposal.Wants, made.Previous?.Wants, made.Edits.Title, made.State, made.Notes, made.Writer));
        // What was seen last stays beside the newest, however often it is made again.
        Save(First, Proposal("They want to hire."), hours: 2);
        Assert.Equal(("They want to hire.", "They want to compare."), (Find(id).Proposal.Wants, Find(id).Previous?.Wants));
        Database.Write(s => BriefStore.Change(s, Find(id) with { Previous = null }));
        Assert.Null(Find(id).Previous);
        // The same proposal again is no newer one.
        Save(First, Proposal("They want to hire."), hours: 3);
        Assert.Null(Find(id).Previous);
    }

    [Fact]
    public void TheVersionChangesWithWhatThePlannerChanges()
    {
        var id = Save(First);
        var before = Find(id);
        Assert.Equal(before.Version, Find(id).Version);
        foreach (var change in new[] { before with { Writer = "Grace" }, before with { Due = new DateOnly(2026, 12, 1) }, before with { State = BriefState.Done }, before with { Edits = new BriefEdits(Words: 900) } })
        {
            Database.Write(s => BriefStore.Change(s, change));
            Assert.NotEqual(before.Version, Find(id).Version);
        }
    }

    [Fact]
    public void TheNextThatIsDueComesFirstAndThoseWithoutADayLast()
    {
        Group([1], [2], [3], [4]);
        Save(new ClusterId(3));
        Save(new ClusterId(4), due: new DateOnly(2026, 12, 24));
        Save(new ClusterId(5), due: new DateOnly(2026, 12, 1));
        Assert.Equal([5L, 4, 3], Database.Read(BriefStore.All).Select(b => b.ClusterId.Value));
        Database.Write(s =>
        {
            foreach (var (brief, state) in BriefStore.All(s).Zip([BriefState.Draft, BriefState.Returned, BriefState.Done]))
                BriefStore.Change(s, brief with { State = state });
        });
        Assert.Equal((3, 2), Database.Read(BriefStore.Counts));
    }

    [Fact]
    public void ABriefGoesWithItsHistoryItsTextsAndItsLink()
    {
        var (id, other) = (Save(First), Save(Second));
        Database.Write(s =>
        {
            foreach (var brief in new[] { id, other })
            {
                BriefStore.Note(s, brief, "made", Now);
                BriefStore.Note(s, brief, "sent", Now);
                BriefStore.AddText(s, new BriefText(default, brief, "draft", "Suits", "", "# Suits \ud83d\udef6", 1, "", ""), Now);
                BriefStore.SaveLink(s, $"token{brief}", brief, Now.AddDays(30), Now);
            }
        });
        Assert.Equal(["sent", "made"], Database.Read(s => BriefStore.Entries(s, id)).Select(e => e.Says));
        var text = Assert.Single(Database.Read(s => BriefStore.Texts(s, id)));
        Assert.Equal(("", "# Suits \ud83d\udef6"), (text.Content, Database.Read(s => BriefStore.Text(s, text.Id))!.Content));
        Database.Write(s => BriefStore.Delete(s, id));
        Assert.Null(Database.Read(s => BriefStore.Find(s, id)));
        Assert.Empty(Database.Read(s => BriefStore.Entries(s, id)));
        Assert.Null(Database.Read(s => BriefStore.Text(s, text.Id)));
        Assert.Null(Database.Read(s => BriefStore.Link(s, $"token{id}", Now)));
        Assert.NotNull(Database.Read(s => BriefStore.Link(s, $"token{other}", Now)));
        Assert.Equal(2, Database.Read(s => BriefStore.Entries(s, other)).Count);
    }

    [Fact]
    public void ALinkWorksUntilItExpiresAndTheOneBeforeNoLonger()
    {
        var id = Save(First);
        Database.Write(s =>
        {
            BriefStore.SaveLink(s, "old", id, Now.AddDays(30), Now);
            BriefStore.SaveLink(s, "new", id, Now.AddDays(7), Now);
        });
        Assert.Null(Database.Read(s => BriefStore.Link(s, "old", Now)));
        Assert.Equal(id, Database.Read(s => BriefStore.Link(s, "new", Now.AddDays(7).AddSeconds(-1)))!.BriefId);
        Assert.Null(Database.Read(s => BriefStore.Link(s, "new", Now.AddDays(7))));
        Assert.Null(Database.Read(s => BriefStore.Link(s, id, Now.AddDays(7))));
        Assert.Equal("new", Database.Read(s => BriefStore.Link(s, id, Now))!.Token);
        Database.Write(s => BriefStore.DeleteLink(s, id));
        Assert.Null(Database.Read(s => BriefStore.Link(s, id, Now)));
    }

    [Fact]
    public void HeadingsOfATopicAreSavedOnceInTheirOrder()
    {
        var topic = new TopicId(7);
        Database.Write(s =>
        {
            foreach (var heading in new[] { "The relief zip", "Care", "The relief zip" })
                BriefStore.AddHeading(s, topic, heading);
            BriefStore.AddHeading(s, new TopicId(8), "Price");
        });
        Assert.Equal(["The relief zip", "Care"], Database.Read(s => BriefStore.Headings(s, topic)));
        Database.Write(s => BriefStore.DeleteHeading(s, topic, "The relief zip"));
        Assert.Equal(["Care"], Database.Read(s => BriefStore.Headings(s, topic)));
        Assert.Equal(["Price"], Database.Read(s => BriefStore.Headings(s, new TopicId(8))));
    }

    private PageId Plan(string path) => Database.Write(s =>
    {
        var url = $"https://fenwater.example/{path}";
        return PageStore.Plan(s, url, url, path);
    });

    [Fact]
    public void AClusterHasOnePageAndAPlannedOneGoesWithItsLastCluster()
    {
        var page = Plan("a");
        Database.Write(s =>
        {
            PageMapStore.Assign(s, First, page, Now);
            PageMapStore.Assign(s, Second, page, Now);
        });
        Assert.Equal((2, 2), Database.Read(PageMapStore.Counts));
        Database.Write(s => PageMapStore.Unassign(s, First));
        Assert.NotNull(Database.Read(s => PageStore.Find(s, page)));
        Database.Write(s => PageMapStore.Decline(s, Second, "we do not sell these", Now));
        Assert.Null(Database.Read(s => PageStore.Find(s, page)));
        Assert.Equal((0, 0), Database.Read(PageMapStore.Counts));
        Assert.Equal(["we do not sell these"], Declined());
        // Whoever gives it a page wants one.
        var other = Plan("b");
        Database.Write(s => PageMapStore.Assign(s, Second, other, Now));
        Assert.Empty(Declined());

        IReadOnlyList<string> Declined() => Database.Read(s => s.List("select reason from cluster_decline", r => r.GetString(0)));
    }

    [Fact]
    public void AQueryIsIrrelevantForAPageOrForAllUntilThatIsTakenBack()
    {
        var (page, other) = (new PageId(5), new PageId(6));
        Database.Write(s =>
        {
            IrrelevantStore.Add(s, "kayak clock", page, Now);
            IrrelevantStore.Add(s, "kayak clock", page, Now);
            IrrelevantStore.Add(s, "kayak clock", null, Now);
            IrrelevantStore.Add(s, "kayak toy", other, Now);
        });
        Assert.Equal([("kayak clock", page), ("kayak clock", null), ("kayak toy", (PageId?)other)], Database.Read(IrrelevantStore.All));
        Database.Write(s => IrrelevantStore.Remove(s, "kayak toy", page));
        Assert.Equal(3, Database.Read(IrrelevantStore.All).Count);
        Database.Write(s => IrrelevantStore.Remove(s, "kayak clock", page));
        Assert.Equal([("kayak toy", (PageId?)other)], Database.Read(IrrelevantStore.All));
    }

    [Fact]
    public void AChangeIsEnteredAndTakenBackOnce()
    {
        var page = Plan("a");
        var day = new DateOnly(2026, 9, 1);
        var id = Database.Write(s => ChangeStore.Enter(s, page, day, ChangeKind.Headings, "shorter", Now));
        Assert.Equal([new MadeChange(page, day, ChangeSource.Entered, ChangeKind.Headings, "", "shorter", EnteredId: id)], Database.Read(s => ChangeStore.All(s)));
        Assert.Equal([true, false], new[] { 1, 2 }.Select(_ => Database.Write(s => ChangeStore.Remove(s, id))));
        Assert.Empty(Database.Read(s => ChangeStore.All(s)));
    }
}
