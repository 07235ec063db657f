using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;
using JadeOrchard.Server.Briefs;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Services;
using JadeOrchard.Server.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Topics;

/// <summary>Which rivals' pages rank for a topic, and what they are about that the site's are not.</summary>
public static class TopicIdeasReader
{
    /// <summary>Rivals' pages that are read for a topic.</summary>
    public const int PagesRead = 40;

    private const int IdeasShown = 40;

    /// <returns>Identities of the rivals' pages, those that searchers are led to most first.</returns>
    public static IReadOnlyList<string> Ranking(Session session, ProjectSnapshot snapshot, TopicId topicId) =>
        [.. snapshot.Rivals([.. TopicStore.Keywords(session, topicId).Select(id => snapshot.IndexOfKeyword[id])], PagesRead).Select(r => snapshot.UrlIdentities[r.Url])];

    /// <returns>Null where there is no such topic.</returns>
    public static IdeasView? Ideas(Session session, ProjectSnapshot snapshot, TopicId topicId)
    {
        if (TopicStore.Find(session, topicId) is not { } topic)
            return null;
        var ranking = Ranking(session, snapshot, topicId);
        var read = RivalPageStore.All(session);
        var here = ranking.Where(read.ContainsKey).Select(i => read[i]).ToList();
        var isHere = ranking.ToHashSet(StringComparer.Ordinal);
        var own = TopicStore.OwnHeadings(session, topicId);
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        var ideas = TopicIdeas.Of(
            [.. here.Where(p => p.Fault is null).Select(Headed)],
            [.. own.SelectMany(p => p), topic.Name, topic.PillarName],
            [.. read.Values.Where(p => p.Fault is null && !isHere.Contains(p.Identity)).OrderBy(p => p.Identity, StringComparer.Ordinal).Select(Headed)],
            analysis,
            IdeasShown);
        return new IdeasView(ranking.Count, here.Count, here.Count(p => p.Fault is not null), own.Count,
        [
            .. ideas.Select(idea =>
            {
                var (demand, cluster) = TopicStore.KnownOf(session, idea.VariantKey);
                return new IdeaView(
                    idea.Phrase, demand, cluster, idea.Pages, idea.Sites,
                    idea.Examples);
            }).OrderByDescending(i => i.Sites).ThenByDescending(i => i.Demand ?? 0),
        ]);
    }

    private static HeadedPage Headed(ReadPage page) => new(UrlIdentity.HostOf(page.Identity), page.Url, page.Title is { } title ? [title, .. page.Headings] : page.Headings);
}

/// <summary>Reads the headings of the rivals' pages that rank for a topic, as politely as the own site's.</summary>
public sealed class ReadRivalsJob(Project project) : IJob
{
    public const string Name = "read-rivals";

    /// <summary>Pages that were read more lately are not read again.</summary>
    private static readonly TimeSpan Fresh = TimeSpan.FromDays(30);

    public string Kind => Name;

    public string Stage(JobRow job) => "clusters";

    public string Lane => ScanJob.Name;

    /// <summary>What is read stays, so that going on is beginning again.</summary>
    public bool CanResume => true;

    public static string Arguments(TopicId topicId) => JsonSerializer.Serialize(topicId);

    /// <summary>For one cluster instead of a topic.</summary>
    public static string Arguments(ClusterId clusterId) => JsonSerializer.Serialize(new OfCluster(clusterId));

    private sealed record OfCluster(ClusterId ClusterId);

    public async Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var (settings, wanted) = project.Read((session, snapshot) =>
        {
            var ranking = job.Arguments.StartsWith('{')
                ? BriefReader.Ranking(session, snapshot, JsonSerializer.Deserialize<OfCluster>(job.Arguments)!.ClusterId)
                : TopicIdeasReader.Ranking(session, snapshot, JsonSerializer.Deserialize<TopicId>(job.Arguments));
            return (ProjectStore.Settings(session).Scan, Unread(session, ranking, project.Now));
        });
        using var fetcher = new PageFetcher(settings);
        using var robots = new RobotsReader(fetcher, _ => { });
        using var pace = new Pace(settings.RatePerSecond);
        var (done, failed) = (0, 0);
        await Parallel.ForEachAsync(wanted, new ParallelOptions { MaxDegreeOfParallelism = settings.AtOnce, CancellationToken = stop }, async (identity, token) =>
        {
            var page = await Read(fetcher, robots, pace, identity, token);
            project.ChangeInJob(
                null,
                session =>
                {
                    RivalPageStore.Save(session, page, project.Now);
                    return 0;
                },
                token);
            if (page.Fault is not null)
                Interlocked.Increment(ref failed);
            progress(new JobProgress(Interlocked.Increment(ref done), wanted.Count, "Reading pages of others"));
        });
        return wanted.Count == 0 ? "All of its ranking pages were read lately."
            : string.Create(CultureInfo.InvariantCulture, $"{wanted.Count - failed} pages of others read") + (failed == 0 ? "." : $"; {failed} could not be.");
    }

    /// <returns>Those of some pages that were not read lately.</returns>
    internal static List<string> Unread(Session session, IEnumerable<string> identities, DateTimeOffset now)
    {
        var fresh = RivalPageStore.ReadSince(session, now - Fresh);
        return [.. identities.Where(i => !fresh.Contains(i))];
    }

    private static async Task<ReadPage> Read(PageFetcher fetcher, RobotsReader robots, Pace pace, string identity, CancellationToken stop)
    {
        var (text, fault) = await PageTextReader.Read(fetcher, robots, pace, new Uri(identity), stop);
        return text is null
            ? new ReadPage(identity, identity, null, [], fault)
            : new ReadPage(identity, text.Url!, text.Title, [.. text.H1.Take(1), .. text.H2.Where(h => h.Level == 2).Concat(text.H2.Where(h => h.Level == 3)).Select(h => h.Text)], null, text);
    }
}
