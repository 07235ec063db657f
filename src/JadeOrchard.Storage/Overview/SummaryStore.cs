using System.Text.Json;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Overview;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Storage.Overview;

/// <summary>How the rows of each list are spread: what a pane shows where nothing is selected.</summary>
public static class SummaryStore
{
    private const string Searches = "searches a month";
    private const string Clicks = "clicks a month";

    public static ListSummary Keywords(Session session) => new(
    [
        new Distribution("Results", Searches, Shares(
            session, $"coalesce(k.capture_state, iif({StagedStore.IsExpected}, 'expected', 'none'))", "coalesce(k.volume, 0)", "keyword k", v => CaptureText.Name(Enum.Parse<CaptureState>(v!, true)), "capture")),
        new Distribution("Intent", Searches, Shares(session, "coalesce(k.intent, k.told_intent, 'unknown')", "coalesce(k.volume, 0)", "keyword k", v => v == "unknown" ? "not known" : v ?? "", "intents")),
        Banded(session, "Volume, estimated", Searches, Bands.Volume, "k.volume", "coalesce(k.volume, 0)", "keyword k"),
    ]);

    public static ListSummary Pages(Session session) => new(
    [
        new Distribution("State", Clicks, Shares(
            session, "case when g.kind = 'planned' then 'planned' when g.gone_since is not null then 'gone' else coalesce(g.indexable, 'existing') end", "g.clicks", "page g where g.tracked = 0",
            v => v == "yes" ? "indexable" : v ?? "existing",
            v => v switch { "planned" => Only("kind", v), "gone" => Only("isGone", "true"), "yes" => Only("indexable", "true"), _ => Nothing })),
        new Distribution("Cluster", Clicks, Shares(
            session, "iif(exists (select 1 from assignment a where a.page_id = g.page_id), 'true', 'false')", "g.clicks", "page g where g.tracked = 0",
            v => v == "true" ? "with a cluster" : "without a cluster", "hasCluster")),
        Banded(session, "Words", Clicks, Bands.Words, "g.words", "g.clicks", "page g where g.tracked = 0"),
        new Distribution("Largest folders", Clicks, Folders(session)),
    ]);

    public static ListSummary Clusters(Session session) => new(
    [
        new Distribution("Coverage", Searches, Shares(session, "c.coverage", "c.demand", "cluster c", v => v ?? "", "mark", Enum.GetValues<Coverage>().Select(c => c.Stored()))),
        Banded(session, "Keywords in a cluster", Searches, Bands.Size, "c.size", "c.demand", "cluster c"),
        Banded(session, "Demand", Searches, Bands.Demand, "c.demand", "c.demand", "cluster c"),
        new Distribution("Quality", Searches, Shares(
            session, "iif(c.size = 1, 'alone', iif(c.weak_members > 0, 'weak', 'sound'))", "c.demand", "cluster c",
            v => v switch { "alone" => "of one keyword", "weak" => "with weak members", _ => "without weak members" }, _ => Nothing)),
    ]);

    /// <summary>The clusters by what is decided of them and how strong their suggestions are.</summary>
    public static ListSummary PageMap(Session session) => new(
    [
        new Distribution("Decided", Searches, Shares(
            session, "iif(a.page_id is not null, 'assigned', iif(n.cluster_id is not null, 'declined', 'open'))", "c.demand",
            "cluster c left join assignment a on a.cluster_id = c.cluster_id left join cluster_decline n on n.cluster_id = c.cluster_id",
            v => v == "open" ? "to decide" : v ?? "", v => v == "open" ? Only("decided", "false") : Nothing)),
        new Distribution("Suggestions for those to decide", Searches, Shares(
            session, "coalesce(s.verdict, 'none')", "c.demand",
            "cluster c left join suggestion s on s.cluster_id = c.cluster_id where not exists (select 1 from assignment a where a.cluster_id = c.cluster_id) and not exists (select 1 from cluster_decline n where n.cluster_id = c.cluster_id)",
            v => v ?? "none", v => new Dictionary<string, string> { ["decided"] = "false", ["verdict"] = v ?? "none" }, Enum.GetValues<Verdict>().Select(v => v.Stored()))),
    ]);

    public static ListSummary Findings(Session session) => new(
    [
        new Distribution("Open, by kind", Clicks, Shares(
            session, "f.kind", "f.at_stake", "finding f where f.state = 'open'", v => FindingText.Heading(Enum.Parse<FindingKind>(v!, true)),
            v => Only("kind", JsonNamingPolicy.CamelCase.ConvertName(Enum.Parse<FindingKind>(v!, true).ToString())))),
        new Distribution("State", Clicks, Shares(session, "f.state", "f.at_stake", "finding f", v => v ?? "", "state")),
        new Distribution("Assignee of those to do", Clicks, Shares(
            session, "coalesce(nullif(d.assignee, ''), '')", "f.at_stake", $"finding f left join finding_decision d on d.finding_key = f.finding_key where {Storage.Findings.FindingCounts.ToDo}",
            v => string.IsNullOrEmpty(v) ? "nobody" : v, "assignee")),
    ]);

    public static ListSummary Briefs(Session session) => new(
    [
        new Distribution("State", "", Shares(session, "b.state", "0", "brief b", v => v ?? "", "state")),
        new Distribution("Writer", "", Shares(session, "b.writer", "0", "brief b", v => string.IsNullOrEmpty(v) ? "nobody" : v, "writer")),
    ]);

    private static IReadOnlyList<DistributionShare> Shares(
        Session session, string value, string worth, string from, Func<string?, string> says, string filter, IEnumerable<string>? order = null) =>
        Shares(session, value, worth, from, says, v => string.IsNullOrEmpty(v) ? Nothing : Only(filter, v), order);

    /// <summary>Rows by a value, most first, or in an order.</summary>
    private static IReadOnlyList<DistributionShare> Shares(
        Session session, string value, string worth, string from, Func<string?, string> says, Func<string?, IReadOnlyDictionary<string, string>> filter, IEnumerable<string>? order = null)
    {
        List<string?> places = [.. order ?? []];
        var rows = session.List(
            $"select {value} as value, count(*), sum({worth}) from {from} group by 1 order by 2 desc, 1 limit {MostShares}", r => (Value: r.TextOrNull(0), Count: r.GetInt64(1), Worth: r.GetDouble(2)));
        return [.. rows.OrderBy(r => places.IndexOf(r.Value)).Select(r => new DistributionShare(says(r.Value), r.Count, r.Worth, filter(r.Value)))];
    }

    private static Distribution Banded(Session session, string title, string unit, Bands bands, string column, string worth, string from)
    {
        var band = $"case when {column} is null then -1 {string.Concat(bands.From.Skip(1).Select((at, i) => $"when {column} < {at} then {i} "))}else {bands.From.Count - 1} end";
        var rows = session.List($"select {band}, count(*), sum({worth}) from {from} group by 1 order by 1", r => (Band: r.GetInt32(0), Count: r.GetInt64(1), Worth: r.GetDouble(2)));
        return new Distribution(title, unit,
        [
            .. rows.OrderBy(r => r.Band < 0).ThenBy(r => r.Band)
                .Select(r => new DistributionShare(r.Band < 0 ? "unknown" : bands.Says(r.Band), r.Count, r.Worth, r.Band < 0 ? Nothing : bands.Filter(r.Band))),
        ]);
    }

    /// <summary>Pages by the first folder of their path.</summary>
    private static IReadOnlyList<DistributionShare> Folders(Session session)
    {
        const string end = $"instr(substr({PageStore.PathOf}, 2), '/')";
        return Shares(
            session, $"iif({end} = 0, '/', substr({PageStore.PathOf}, 1, {end} + 1))", "g.clicks", "page g where g.tracked = 0", v => v ?? "/",
            v => v is null or "/" ? Nothing : Only("path", v));
    }

    private static readonly IReadOnlyDictionary<string, string> Nothing = new Dictionary<string, string>();

    private static Dictionary<string, string> Only(string name, string value) => new Dictionary<string, string> { [name] = value };

    /// <summary>More values than this are not shown.</summary>
    private const int MostShares = 8;
}
