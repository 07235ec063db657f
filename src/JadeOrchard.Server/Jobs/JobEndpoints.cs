using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>A job as it stands now.</summary>
/// <param name="Progress">Null where it does not run.</param>
public sealed record JobView(long Id, string Kind, string Label, JobState State, string Message, string CreatedAt, JobProgress? Progress);

/// <summary>Long work: how far it is, and a way to stop it.</summary>
public static class JobEndpoints
{
    public static void MapJobs(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/active", (Orchard orchard, JobRunner runner) => orchard.Database.Read(session =>
                runner.Active.Select(id => JobStore.Find(session, id)).OfType<JobRow>().Select(job => View(job, runner)).ToList()))
            .WithName("activeJobs");

        api.MapGet("/jobs/{id:long}", Results<Ok<JobView>, ProblemHttpResult> (long id, Orchard orchard, JobRunner runner) =>
                orchard.Database.Read(session => JobStore.Find(session, id)) is { } job
                    ? TypedResults.Ok(View(job, runner))
                    : Problems.NotFound($"There is no job {id}."))
            .WithName("job");

        api.MapPost("/jobs/{id:long}/stop", (long id, JobRunner runner) =>
            {
                runner.Stop(id);
                return TypedResults.NoContent();
            })
            .WithName("stopJob");
    }

    public static JobView View(JobRow job, JobRunner runner) =>
        new(job.Id, job.Kind, job.Label, job.State, job.Message, job.CreatedAt, runner.ProgressOf(job.Id));
}
