using System.Collections.Immutable;
using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Plan;

/// <summary>A step of the plan as lists show it.</summary>
/// <param name="Place">Its place in the order of the work, from 1; null for what is done or dropped.</param>
/// <param name="What">What is done, in a word: "refresh".</param>
/// <param name="StatusName">"in progress"; what was done but not seen on the site says so.</param>
/// <param name="Clusters">Those that it is for, most gain first.</param>
/// <param name="Demand">Searches per month of the clusters; estimated.</param>
/// <param name="Gain">Clicks a month, for prioritising.</param>
/// <param name="GainSays">Its parts, in words; null where only the findings tell.</param>
/// <param name="HoursByHand">The planner said how long it takes.</param>
/// <param name="Season">When the clusters are searched for most, and by when it is to be done for it; null where they have no season, or it is not known.</param>
/// <param name="First">The Monday of the week in which the roadmap begins it; null where it has no place.</param>
/// <param name="Last">That of the week in which it ends.</param>
/// <param name="Worker">Who does it in the roadmap.</param>
/// <param name="Version">To be sent back with a change.</param>
public sealed record StepRow(
    StepId Id, int? Place, StepKind Kind, string What, StepStatus Status, string StatusName, PageId PageId, string Url, string? Title, bool IsPlanned, IReadOnlyList<StepCluster> Clusters, TopicId? TopicId,
    string? TopicName, long Demand, double Gain, string? GainSays, double Hours, bool HoursByHand, string Owner, DateOnly? Due, StepSeason? Season, DateOnly? Week, DateOnly? First, DateOnly? Last, string? Worker, bool IsLate, string Note,
    string Reason, IReadOnlyList<StepPartView> Parts, string MadeAt, string? DoneAt, string? CheckedAt, string Version)
{
    /// <summary>Searches for its main cluster month by month; null where too few months are known.</summary>
    public Season? Searched { get; init; }
}

/// <summary>The season of a step.</summary>
/// <param name="Cluster">Whose season comes first.</param>
/// <param name="Peak">The first day of the month in which it begins.</param>
/// <param name="Due">Eight weeks before, or today.</param>
public sealed record StepSeason(string Cluster, DateOnly Peak, DateOnly Due);

/// <summary>One thing that is to be done in a step.</summary>
/// <param name="Says">What is to be done, with the address of the other page in full.</param>
/// <param name="Because">What its finding says; empty where there is none.</param>
public sealed record StepPartView(StepPartId Id, StepKind Kind, string Says, string? OtherUrl, string? FindingKey, string Because, bool IsDone, bool? IsFound, string Found);

/// <summary>The plan as a whole: steps with what they could gain and take, in order, and week by week.</summary>
/// <param name="Rows">Those to do in their order, then what is done, live and dropped.</param>
/// <param name="Before">Steps that come before others.</param>
/// <param name="Roadmap">Of the rows that are to do, by their index.</param>
/// <param name="People">Whose weeks it fills.</param>
internal sealed record PlanBoard(ImmutableArray<StepRow> Rows, ImmutableArray<(StepId First, StepId Then)> Before, Roadmap Roadmap, IReadOnlyList<Person> People)
{
    /// <summary>The plan as a session sees it, with a roadmap from today on.</summary>
    public static PlanBoard Of(Project project, Session session)
    {
        var today = StepEndpoints.Today(project);
        PlanBoard Loaded() => Load(session, project.Snapshot(session), today);
        return session is WriteSession ? Loaded() : project.Boards.Of(session.Writes, today.ToString("O", CultureInfo.InvariantCulture), Loaded);
    }

    private static PlanBoard Load(Session session, ProjectSnapshot snapshot, DateOnly today)
    {
        var settings = ProjectStore.Settings(session).Plan;
        var (steps, effort, people) = (StepStore.All(session), settings.Efforts(), settings.Workers());
        var facts = new PlanFacts(session, snapshot, steps);
        var drafts = steps.Select(s => facts.Draft(s, effort, today)).ToList();
        List<int> open = [.. Enumerable.Range(0, steps.Count).Where(i => steps[i].Status.IsOpen())];
        var before = PlanParts.Before(
            [.. open.Select(i => (IReadOnlyList<PlanPart<PageId, ClusterId>>)[.. steps[i].Parts.Select(p => new PlanPart<PageId, ClusterId>(p.Kind, steps[i].PageId, p.OtherPageId, p.ClusterId, ""))])],
            facts.PillarPage);
        var order = StepOrder.Of([.. open.Select(i => drafts[i].Gain / drafts[i].Hours)], before);
        var roadmap = Roadmap.Of(
            [.. open.Select(i => new RoadmapStep(drafts[i].Hours, drafts[i].Gain, steps[i].Owner.Length == 0 ? null : steps[i].Owner, steps[i].Due, steps[i].Week, drafts[i].Season?.Due))], order, before, people, today, settings.Until);
        var rows = ImmutableArray.CreateBuilder<StepRow>(steps.Count);
        for (var place = 0; place < order.Length; place++)
        {
            var at = roadmap.Places[order[place]];
            rows.Add(drafts[open[order[place]]] with { Place = place + 1, First = at.First, Last = at.Last, Worker = at.Person >= 0 ? people[at.Person].Name : null, IsLate = at.IsLate });
        }

        // By index of the rows.
        var placeOf = order.Select((step, place) => (step, place)).ToDictionary(o => o.step, o => o.place);
        rows.AddRange(Enumerable.Range(0, steps.Count).Where(i => !steps[i].Status.IsOpen()).Select(i => drafts[i]).OrderBy(s => s.Status).ThenByDescending(s => s.DoneAt, StringComparer.Ordinal));
        return new PlanBoard(
            rows.ToImmutable(),
            [.. before.Select(b => (steps[open[b.First]].Id, steps[open[b.Then]].Id))],
            new Roadmap(
                [.. order.Select((step, place) => roadmap.Places[step] with { Step = place })],
                [.. roadmap.Displaced.Select(d => d with { Step = placeOf[d.Step] })]),
            people);
    }

    /// <summary>What the steps' clusters and pages say, read in one go.</summary>
    private sealed class PlanFacts
    {
        private readonly ProjectSnapshot _snapshot;
        private readonly Dictionary<ClusterId, StepClusterFacts> _clusters;
        private readonly ILookup<PageId, ClusterId> _clustersOfPage;
        private readonly Dictionary<ClusterId, ClusterId> _pillars;
        private readonly Dictionary<ClusterId, PageId> _pageOf;
        private readonly BrandTerms _brands;
        private readonly Medians _medians;

        public PlanFacts(Session session, ProjectSnapshot snapshot, IReadOnlyList<StoredStep> steps)
        {
            _snapshot = snapshot;
            _medians = Medians.Of(snapshot.Keywords);
            _brands = ProjectStore.Brands(session);
            var assigned = StepStore.Assignments(session);
            var pages = steps.Select(s => s.PageId).ToHashSet();
            _clustersOfPage = assigned.Where(a => pages.Contains(a.Page)).ToLookup(a => a.Page, a => a.Cluster);
            _pageOf = assigned.ToDictionary(a => a.Cluster, a => a.Page);
            HashSet<ClusterId> wanted = [.. _clustersOfPage.SelectMany(c => c), .. steps.SelectMany(s => s.Parts).Select(p => p.ClusterId).OfType<ClusterId>()];
            _pillars = Storage.Topics.TopicStore.Pillars(session, wanted);
            _clusters = StepStore.Clusters(session, wanted).ToDictionary(c => c.Cluster.Id);
        }

        public PageId? PillarPage(ClusterId cluster) => _pillars.TryGetValue(cluster, out var pillar) && pillar != cluster && _pageOf.TryGetValue(pillar, out var page) ? page : null;

        public StepRow Draft(StoredStep step, EffortTable effort, DateOnly today)
        {
            var (gains, apart) = (new Dictionary<ClusterId, double>(), 0.0);
            StepGain? gain = null;
            foreach (var part in step.Parts)
            {
                if (part.Kind is StepKind.Write or StepKind.Refresh)
                {
                    List<ClusterId> clusters = [.. _clustersOfPage[step.PageId].DefaultIfEmpty(part.ClusterId ?? default).Where(_clusters.ContainsKey)];
                    var keywords = clusters.Select(c => (Cluster: c, Keywords: KeywordsOf(c, step.PageId).ToList())).ToList();
                    gain = StepGain.Of(keywords.SelectMany(k => k.Keywords), _snapshot.Curve);
                    foreach (var (cluster, own) in keywords)
                        gains[cluster] = Math.Max(StepGain.Of(own, _snapshot.Curve).Clicks, gains.GetValueOrDefault(cluster));
                }
                else if (part.ClusterId is { } cluster && _clusters.ContainsKey(cluster))
                {
                    gains[cluster] = Math.Max(part.AtStake, gains.GetValueOrDefault(cluster));
                }
                else
                {
                    apart = Math.Max(apart, part.AtStake);
                }
            }

            List<StepClusterFacts> about = [.. gains.Keys.Concat(_clustersOfPage[step.PageId]).Distinct().Where(_clusters.ContainsKey).OrderByDescending(c => gains.GetValueOrDefault(c)).ThenBy(c => c).Select(c => _clusters[c])];
            var kind = StepText.Main(step.Parts.Select(p => p.Kind).DefaultIfEmpty(StepKind.LeaveOut));
            var isUnseen = step.Status == StepStatus.Done && step.Parts.Any(p => p.IsFound == false);
            return new StepRow(
                step.Id, null, kind, StepText.Name(kind), step.Status, isUnseen ? "done, not verified" : StepText.Name(step.Status), step.PageId, step.PageUrl, step.PageTitle, step.PageIsPlanned,
                [.. about.Select(a => a.Cluster)], about.Select(a => a.TopicId).FirstOrDefault(), about.Select(a => a.TopicName).FirstOrDefault(), about.Sum(a => a.Cluster.Demand),
                Math.Round(gains.OrderBy(g => g.Key).Sum(g => g.Value) + apart, 6), gain?.ToString(), step.Hours ?? effort.Of(step.Parts.Select(p => p.Kind).DefaultIfEmpty(StepKind.LeaveOut), step.PageIsPlanned ? null : step.Words),
                step.Hours is not null, step.Owner, step.Due, SeasonOf(about, today), step.Week, null, null, null, IsLate: false, step.Note, step.Reason,
                [.. step.Parts.Select(p => new StepPartView(p.Id, p.Kind, p.Line(p.OtherUrl), p.OtherUrl, p.FindingKey, p.Says, p.IsDone, p.IsFound, p.Found))],
                step.MadeAt, step.DoneAt, step.CheckedAt,
                RowVersions.Of(step))
            { Searched = about is [{ Season: { } searched }, ..] ? searched : null };
        }

        private static StepSeason? SeasonOf(IEnumerable<StepClusterFacts> clusters, DateOnly today) => clusters
            .Select(c => c.Season is { } season && MonthlyVolumes.NextPeak(season.Peaks, today) is { } next ? new StepSeason(c.Cluster.Name, next.Peak, next.Due) : null).OfType<StepSeason>()
            .OrderBy(s => s.Due).ThenBy(s => s.Peak).ThenBy(s => s.Cluster, StringComparer.Ordinal).FirstOrDefault();

        private IEnumerable<(Keyword, Keyword, int)> KeywordsOf(ClusterId cluster, PageId pageId)
        {
            var page = _snapshot.IndexOfPage.TryGetValue(pageId, out var index) ? index : -1;
            foreach (var id in _clusters[cluster].Keywords)
            {
                if (!_snapshot.IndexOfKeyword.TryGetValue(id, out var k) || _brands.IsBrandQuery(_snapshot.Keywords[k].NormalForm))
                    continue;
                var position = page < 0 || !_snapshot.Lists.IsCaptured(k) ? 0 : ResultsEvidence.Standings(k, _snapshot.Lists, _snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page).Position;
                yield return (_snapshot.Keywords[k], _medians.Fill(_snapshot.Keywords[k]), position);
            }
        }
    }
}
