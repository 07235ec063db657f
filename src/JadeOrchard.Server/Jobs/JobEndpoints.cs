using System.Runtime.CompilerServices;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>A job as it stands now.</summary>
/// <param name="Progress">Null where it does not run.</param>
/// <param name="CanResume">It was stopped or paused, and can go on where it was.</param>
public sealed record JobView(long Id, string Kind, string Label, JobState State, string Message, string CreatedAt, JobProgress? Progress, bool CanResume);

/// <summary>How many jobs have ended since the start, and those that wait or run.</summary>
public sealed record JobsTold(long Ended, IReadOnlyList<JobView> Jobs);

/// <summary>Long work: how far it is, and a way to stop it and to go on.</summary>
public static class JobEndpoints
{
    private static readonly TimeSpan BetweenLooks = TimeSpan.FromMilliseconds(250);

    public static void MapJobs(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/active", (Project project, JobRunner runner) => Active(project, runner)).WithName("activeJobs");

        // Server-sent events (WHATWG HTML, 9.2): the jobs that wait or run, whenever something about them changes.
        api.MapGet("/jobs/events", (Project project, JobRunner runner, IHostApplicationLifetime lifetime, CancellationToken gone) =>
                TypedResults.ServerSentEvents(Events(project, runner, lifetime.ApplicationStopping, gone), "jobs"))
            .WithName("jobEvents").ExcludeFromDescription();

        api.MapGet("/jobs/{id:long}", Results<Ok<JobView>, ProblemHttpResult> (long id, Project project, JobRunner runner) =>
                project.Read(session => JobStore.Find(session, id)) is { } job
                    ? TypedResults.Ok(View(job, runner))
                    : Problems.NotFound($"There is no job {id}."))
            .WithName("job");

        api.MapPost("/jobs/{id:long}/stop", (long id, JobRunner runner) =>
            {
                runner.Stop(id);
                return TypedResults.NoContent();
            })
            .WithName("stopJob");

        api.MapPost("/jobs/{id:long}/resume", Results<Accepted<JobView>, ProblemHttpResult> (long id, Project project, JobRunner runner) =>
                runner.Resume(id) is { } fault
                    ? Problems.Conflict(fault)
                    : TypedResults.Accepted($"/api/jobs/{id}", View(project.Read(session => JobStore.Find(session, id))!, runner)))
            .WithName("resumeJob");
    }

    public static JobView View(JobRow job, JobRunner runner) =>
        new(job.Id, job.Kind, job.Label, job.State, job.Message, job.CreatedAt, runner.ProgressOf(job.Id), runner.CanResume(job));

    private static List<JobView> Active(Project project, JobRunner runner) => runner.Active is [] ? [] : project.Read(session =>
        runner.Active.Select(id => JobStore.Find(session, id)).OfType<JobRow>().Select(job => View(job, runner)).ToList());

    private static async IAsyncEnumerable<JobsTold> Events(
        Project project, JobRunner runner, CancellationToken ending, [EnumeratorCancellation] CancellationToken gone)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(ending, gone);
        JobsTold? told = null;
        while (!either.IsCancellationRequested)
        {
            // Counted first: a job that ends meanwhile is told with the next look.
            var now = new JobsTold(runner.Ended, Active(project, runner));
            if (told is null || told.Ended != now.Ended || !told.Jobs.SequenceEqual(now.Jobs))
            {
                told = now;
                yield return now;
            }

            await Task.Delay(BetweenLooks, either.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
