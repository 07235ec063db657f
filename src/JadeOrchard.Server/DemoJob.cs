using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>Where the files of the demo lie; null where the program was started without them.</summary>
public sealed record DemoFiles(string? Folder)
{
    /// <returns>Whether the demo can be loaded: its files are there, and the project is empty.</returns>
    public bool CanLoad(Session session) => Folder is not null && Directory.Exists(Folder) && KeywordStore.Count(session) == 0 && PageStore.Count(session) == 0;
}

/// <summary>Fills an empty project with the demo, then reads its site where the services answer.</summary>
/// <remarks>It does not stop halfway: half a demo is of no use.</remarks>
public sealed class DemoJob(DemoFiles files, IServiceProvider services, IConfiguration configuration) : IJob
{
    public const string Name = "demo";

    public string Kind => Name;

    public string Stage(JobRow job) => "";

    public Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        progress(new JobProgress(0, 0, "Importing, grouping and mapping the demo"));
        if (files.Folder is null || !Demo.Load(files.Folder, services))
            return Task.FromResult("The project has keywords already, and was left as it is.");
        if (configuration["services"] is { Length: > 0 } address)
            _ = Demo.ReadSite(address, services.GetRequiredService<JobRunner>(), CancellationToken.None);
        return Task.FromResult("The demo is loaded.");
    }
}
