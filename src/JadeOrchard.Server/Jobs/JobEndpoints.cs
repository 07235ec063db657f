using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using JadeOrchard.Server.Team;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>A job as it stands now.</summary>
/// <param name="Stage">The path of the stage that shows what it brings; empty where none does.</param>
/// <param name="Progress">Null where it does not run.</param>
/// <param name="CanResume">It was stopped or paused or failed, and can go on where it was.</param>
/// <param name="Author">Who began it; empty where nobody has to sign in.</param>
public sealed record JobView(JobId Id, string Kind, string Stage, string Label, JobState State, string Message, string CreatedAt, JobProgress? Progress, bool CanResume, string Author);

/// <summary>How many jobs have ended since the start, and those that wait or run.</summary>
public sealed record JobsTold(long Ended, IReadOnlyList<JobView> Jobs);

/// <summary>Long work: how far it is, and a way to stop it and to go on.</summary>
public static class JobEndpoints
{
    /// <summary>Changes that follow each other more quickly are told together.</summary>
    private static readonly TimeSpan BetweenTellings = TimeSpan.FromMilliseconds(200);

    /// <summary>So often it is looked whether whoever listens may still do so.</summary>
    private static readonly TimeSpan BetweenLooks = TimeSpan.FromSeconds(20);

    public static void MapJobs(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/active", (JobRunner runner) => runner.Active).WithName("activeJobs");

        // Server-sent events (WHATWG HTML, 9.2): the jobs that wait or run, whenever something about them changes, and each change of the project.
        api.MapGet("/jobs/events", (HttpContext context, JobRunner runner, ChangeFeed changes, IHostApplicationLifetime lifetime, CancellationToken gone) =>
                TypedResults.ServerSentEvents(Events(context, runner, changes, lifetime.ApplicationStopping, gone)))
            .WithName("jobEvents").ExcludeFromDescription();

        api.MapGet("/jobs/{id:long}", Results<Ok<JobView>, ProblemHttpResult> (JobId id, Project project, JobRunner runner) =>
                project.Read(session => JobStore.Find(session, id)) is { } job ? TypedResults.Ok(runner.View(job)) : NoJob(id))
            .WithName("job");

        api.MapPost("/jobs/{id:long}/stop", Results<NoContent, ProblemHttpResult> (JobId id, Project project, JobRunner runner) =>
            {
                if (project.Read(session => JobStore.Find(session, id)) is null)
                    return NoJob(id);
                runner.Stop(id);
                return TypedResults.NoContent();
            })
            .WithName("stopJob");

        api.MapPost("/jobs/{id:long}/resume", Results<Accepted<JobView>, ProblemHttpResult> (JobId id, Project project, JobRunner runner) =>
                project.Read(session => JobStore.Find(session, id)) is null ? NoJob(id)
                : runner.Resume(id) is { } fault ? Problems.Conflict(fault) : Accepted(runner.View(project.Read(session => JobStore.Find(session, id))!)))
            .WithName("resumeJob");
    }

    /// <summary>202 with a job that was begun.</summary>
    public static Accepted<JobView> Accepted(JobView job) => TypedResults.Accepted($"/api/jobs/{job.Id}", job);

    private static ProblemHttpResult NoJob(JobId id) => Problems.NotFound($"There is no job {id}.");

    private static async IAsyncEnumerable<SseItem<object>> Events(
        HttpContext context, JobRunner runner, ChangeFeed feed, CancellationToken ending, [EnumeratorCancellation] CancellationToken gone)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(ending, gone);
        using var changes = feed.Listen();
        var next = Task.CompletedTask;
        while (!either.IsCancellationRequested && context.IsStillSignedIn())
        {
            if (next.IsCompleted)
            {
                // Taken first: what changes while this is told is told next.
                next = runner.NextChange;
                yield return new SseItem<object>(new JobsTold(runner.Ended, runner.Active), "jobs");
            }

            foreach (var change in changes.Take())
                yield return new SseItem<object>(change, "change");
            await Task.Delay(BetweenTellings, either.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            await ((Task)Task.WhenAny(next, changes.News)).WaitAsync(BetweenLooks, either.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
