using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>Where the files of the demo lie; null where the program was started without them.</summary>
public sealed record DemoFolder(string? Path)
{
    /// <returns>Whether the demo can be loaded: its files are there, and the project is empty.</returns>
    public bool CanLoad(Session session) => Path is not null && Directory.Exists(Path) && KeywordStore.Count(session) == 0 && PageStore.Count(session) == 0;
}

/// <summary>Fills an empty project with the demo, then reads its site where the services answer.</summary>
/// <remarks>It does not stop halfway: half a demo is of no use.</remarks>
public sealed class DemoJob(DemoFolder demo, IServiceProvider services, IConfiguration configuration) : IJob
{
    public const string Name = "demo";

    public string Kind => Name;

    public string Stage(JobRow job) => "";

    public Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        progress(new JobProgress(0, 0, "Importing, grouping and mapping the demo"));
        if (demo.Path is null || !Demo.Load(demo.Path, services))
            return Task.FromResult("The project has keywords already, and was left as it is.");
        if (configuration["services"] is { Length: > 0 } address)
            _ = Demo.ReadSite(address, services.GetRequiredService<JobRunner>(), CancellationToken.None);
        return Task.FromResult("The demo is loaded.");
    }
}
