using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Topics;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Topics;

/// <summary>A topic with its clusters, the pillar first, then by demand.</summary>
/// <param name="Clusters">The first of them.</param>
/// <param name="MoreClusters">How many are not among them.</param>
/// <param name="Links">Which of them belong together, each pair both ways, the heaviest first.</param>
public sealed record TopicDetail(
    TopicRow Topic, IReadOnlyList<ClusterRow> Clusters, long MoreClusters, IReadOnlyList<TopicLink> Links, IReadOnlyList<SupportLink> Support, IReadOnlyList<Subtopic> Subtopics);

/// <summary>Edits a topic; what is null stays.</summary>
/// <param name="Name">Empty to call it by its pillar again.</param>
/// <param name="Version">That of the row that was shown; null not to look whether it was changed meanwhile.</param>
public sealed record TopicChange(string? Name = null, ClusterId? PillarId = null, string? Version = null);

/// <summary>Puts clusters into a topic.</summary>
/// <param name="TopicId">Null for a new one.</param>
public sealed record TopicMove(IReadOnlyList<ClusterId> ClusterIds, TopicId? TopicId = null);

/// <summary>The topic that clusters were put into.</summary>
public sealed record TopicMoved(TopicId TopicId);

/// <summary>A subtopic that has no keyword yet.</summary>
public sealed record SubtopicRequest(string Phrase, string Note = "");

/// <summary>What rivals' pages in a topic are about that the site's are not.</summary>
/// <param name="Ranking">Rivals' pages that rank for the topic and are worth reading, as many as are read.</param>
/// <param name="Read">How many of them were read.</param>
/// <param name="Failed">How many of them could not be.</param>
public sealed record IdeasView(int Ranking, int Read, int Failed, int OwnPages, IReadOnlyList<IdeaView> Ideas);

/// <summary>Something that rivals write about.</summary>
/// <param name="Demand">Searches per month of the keyword that says it; null where none is known.</param>
/// <param name="ClusterId">The cluster that keyword is in.</param>
/// <param name="Pages">Rivals' pages that have it in a heading.</param>
/// <param name="Sites">Of how many sites these are.</param>
/// <param name="Examples">Headings with their pages.</param>
public sealed record IdeaView(string Phrase, long? Demand, ClusterId? ClusterId, int Pages, int Sites, IReadOnlyList<IdeaExample> Examples);

/// <summary>Topics: the outline, edits, and ideas.</summary>
public static class TopicEndpoints
{
    private const int ClustersShown = 500;
    private const int Longest = 200;

    public static void MapTopics(this RouteGroupBuilder api)
    {
        api.MapGet("/topics", ([AsParameters] Listing listing, Project project) =>
                project.Read(session => TopicStore.List(session, listing.ToQuery())))
            .WithName("topics");

        api.MapGet("/topics.csv", ([AsParameters] Listing listing, Project project) => Listing.Csv(
                "topics.csv",
                ["topic", "pillar", "clusters", "keywords", "expected", "demand", "covered_demand", "planned_demand", "contested_demand", "at_stake", "subtopics_waiting"],
                project.Read(session => TopicStore.List(session, listing.ToExport())).Rows.Select(t => new object?[]
                    { t.Name, t.PillarName, t.Clusters, t.Keywords, t.Expected, t.Demand, t.CoveredDemand, t.PlannedDemand, t.ContestedDemand, Math.Round(t.AtStake, 1), t.Waiting })))
            .ExcludeFromDescription();

        api.MapGet("/topics/{id:long}", Results<Ok<TopicDetail>, ProblemHttpResult> (TopicId id, Project project) => project.Read<Results<Ok<TopicDetail>, ProblemHttpResult>>(session =>
            {
                if (TopicStore.Find(session, id) is not { } topic)
                    return Missing(id);
                var page = ClusterStore.List(session, new ListQuery(Limit: ClustersShown), new ClusterFilter(TopicId: id));
                var pillar = page.Rows.FirstOrDefault(c => c.Id == topic.PillarId) ?? ClusterStore.Find(session, topic.PillarId)!;
                return TypedResults.Ok(new TopicDetail(
                    topic,
                    [pillar, .. page.Rows.Where(c => c.Id != pillar.Id)],
                    Math.Max(0, page.Tally.Rows - page.Rows.Count),
                    TopicStore.Links(session, id),
                    TopicStore.Support(session, id),
                    TopicStore.Subtopics(session, id)));
            }))
            .WithName("topic");

        api.MapPut("/topics/{id:long}", Results<NoContent, ProblemHttpResult> (TopicId id, TopicChange request, Project project) =>
            {
                if (request.Name?.Length > Longest)
                    return Problems.Invalid("name", $"A name may have {Longest} characters.");
                return Change(project, id, request.Name is not null ? "Rename a topic" : "Choose the pillar", request.Version, session =>
                {
                    if (request.PillarId is { } pillar)
                    {
                        if (TopicStore.OfCluster(session, pillar) != id)
                            return Problems.Invalid("pillarId", "That cluster is not in the topic. Move it there first.");
                        TopicStore.ChoosePillar(session, id, pillar);
                    }

                    if (request.Name is not null)
                        TopicStore.Rename(session, id, request.Name.ReplaceLineEndings(" "));
                    return null;
                });
            })
            .WithName("changeTopic");

        api.MapPost("/topics/move", Results<Ok<TopicMoved>, ProblemHttpResult> (TopicMove request, Project project) =>
            {
                if (request.ClusterIds.Count == 0)
                    return Problems.Invalid("clusterIds", "Choose the clusters to move.");
                return project.Change<TopicMoved>("Move clusters to a topic", session =>
                {
                    if (request.TopicId is { } to && TopicStore.Find(session, to) is null)
                        return Missing(to);
                    var known = ClusterStore.All(session, request.ClusterIds.ToHashSet()).Select(c => c.Id).ToHashSet();
                    if (request.ClusterIds.Where(c => !known.Contains(c)).Take(1).ToList() is [var gone])
                        return Problems.NotFound($"There is no cluster {gone}. It may have gone in a re-grouping or a merge.");
                    return new TopicMoved(TopicStore.Move(session, request.ClusterIds, request.TopicId));
                }).ToOk();
            })
            .WithName("moveToTopic");

        api.MapGet("/topics/resolutions", (Project project) => project.Read(TopicPreview.Resolutions)).WithName("topicResolutions");
        api.MapGet("/topics/themes", (Project project) => project.Read(TopicPreview.Themes)).WithName("themes");

        api.MapPost("/topics/gather", Results<NoContent, ProblemHttpResult> (double? resolution, Project project) =>
            {
                if (resolution is not (null or (> 0 and <= 1)))
                    return Problems.Invalid("resolution", "The resolution must be above 0 and at most 1.");
                if (!project.Read(ClusterStore.HasAny))
                    return Problems.Conflict("There are no clusters yet. Group the keywords first.");
                project.Change("Rebuild topics", (WriteSession session) =>
                {
                    if (resolution is { } chosen)
                        ProjectStore.SaveSettings(session, ProjectStore.Settings(session) with { TopicResolution = chosen });
                    session.Touch(Data.TopicsRebuild);
                });
                return TypedResults.NoContent();
            })
            .WithName("gatherTopics");

        api.MapPost("/topics/{id:long}/subtopics", Results<NoContent, ProblemHttpResult> (TopicId id, SubtopicRequest request, Project project) =>
            {
                if (request.Phrase.Length > Longest || KeywordNormalForm.Of(request.Phrase).Length == 0)
                    return Problems.Invalid("phrase", $"Write what the subtopic is about, in up to {Longest} characters.");
                if (request.Note.Length > 1_000)
                    return Problems.Invalid("note", "A note may have 1,000 characters.");
                return Change(project, id, "Add a subtopic", null, session => TopicStore.AddSubtopic(session, id, request.Phrase, request.Note, project.Now) is { } known
                    ? Problems.Conflict($"'{request.Phrase.Trim()}' is a subtopic already, of {(known == id ? "this topic" : $"'{TopicStore.Find(session, known)?.Name}'")}.")
                    : null);
            })
            .WithName("addSubtopic");

        api.MapDelete("/topics/subtopics/{id:long}", Results<NoContent, ProblemHttpResult> (SubtopicId id, Project project) =>
                project.Change("Delete a subtopic", session => TopicStore.RemoveSubtopic(session, id) ? null : Problems.NotFound($"There is no subtopic {id}.")) is { } problem ? problem : TypedResults.NoContent())
            .WithName("removeSubtopic");

        api.MapGet("/topics/{id:long}/ideas", Results<Ok<IdeasView>, ProblemHttpResult> (TopicId id, Project project) =>
                project.Read((session, snapshot) => TopicIdeasReader.Ideas(session, snapshot, id)) is { } view ? TypedResults.Ok(view) : Missing(id))
            .WithName("topicIdeas");

        api.MapPost("/topics/{id:long}/read", Results<Accepted<JobView>, ProblemHttpResult> (TopicId id, Project project, JobRunner runner) =>
            {
                if (project.Read(session => TopicStore.Find(session, id)) is not { } topic)
                    return Missing(id);
                return JobEndpoints.Accepted(runner.Add(ReadRivalsJob.Name, $"Reading rivals' pages on {topic.Name}", ReadRivalsJob.Arguments(id)));
            })
            .WithName("readRivals");
    }

    private static ProblemHttpResult Missing(TopicId id) => Problems.NotFound($"There is no topic {id}. It may be gone since topics were rebuilt.");

    private static Results<NoContent, ProblemHttpResult> Change(Project project, TopicId id, string label, string? version, Func<WriteSession, ProblemHttpResult?> change) =>
        project.Change(label, session =>
        {
            if (TopicStore.Find(session, id) is not { } now)
                return Missing(id);
            Project.RefuseStale(session, Thing.Topic(id), now.Version, version);
            return change(session);
        }) is { } problem ? problem : TypedResults.NoContent();
}
