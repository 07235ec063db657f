using System.Text.Json;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Imports;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.PageMap;
using JadeOrchard.Server.Performance;
using JadeOrchard.Server.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.PageMap;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server;

/// <summary>Fills a new project from the files of a folder, the way a planner would: import, group, accept what is clear.</summary>
public static class Demo
{
    /// <summary>Clusters below this demand are left undecided, so that there is something to do.</summary>
    private const long MapFromDemand = 700;

    /// <summary>Seconds that the services get to start.</summary>
    private const int Patience = 60;

    /// <summary>Pages that are planned already; few, since what is planned is no hole any more.</summary>
    private const int PlannedPages = 1;

    /// <summary>Gives a project that has no services yet those of an address; sites under .example are reached there as well.</summary>
    public static void UseServices(string address, Project project) => project.Change(null, (WriteSession session) =>
    {
        if (ServiceStore.All(session).Any(s => s.Address.Length > 0))
            return;
        foreach (var name in Enum.GetValues<ServiceName>())
            ServiceStore.Save(session, name, address, ServiceStore.DefaultHeader, null);
        var settings = ProjectStore.Settings(session);
        ProjectStore.SaveSettings(session, settings with { Scan = settings.Scan with { Gateway = address, RatePerSecond = 40, AtOnce = 4 }, Capture = settings.Capture with { RatePerSecond = 20 } });
    });

    /// <param name="folder">Holds pages.csv, keywords.csv and results.csv.</param>
    /// <param name="services">The running application's.</param>
    /// <returns>False where the project has data already and was left as it is.</returns>
    public static bool Load(string folder, IServiceProvider services)
    {
        var project = services.GetRequiredService<Project>();
        var uploads = services.GetRequiredService<Uploads>();
        if (project.Read(KeywordStore.Count) > 0)
            return false;
        project.Change(null, (WriteSession session) => ProjectStore.Save(session, new ProjectProfile("Fenwater", "fenwater.example", "GB", "en", [])));
        var import = services.GetServices<IJob>().Single(j => j.Kind == ImportJob.Name);
        foreach (var (kind, name) in new[] { (TableKind.Pages, "pages.csv"), (TableKind.Keywords, "keywords.csv"), (TableKind.Results, "results.csv") })
        {
            using var stream = File.OpenRead(Path.Combine(folder, name));
            var upload = uploads.SaveAsync(stream, CancellationToken.None).GetAwaiter().GetResult();
            Dictionary<string, int> columns;
            using (var file = uploads.Open(upload))
                columns = ColumnMapping.ByName(kind, file.Header).ToDictionary();
            var job = project.Change<JobRow>(null, session =>
            {
                var id = JobStore.Add(session, ImportJob.Name, $"Importing {name}", JsonSerializer.Serialize(new ImportArguments(upload, name, kind, columns)), project.Now);
                JobStore.SetState(session, id, JobState.Done, "", project.Now);
                return JobStore.Find(session, id)!;
            }).Value!;
            var message = import.RunAsync(job, _ => { }, CancellationToken.None).GetAwaiter().GetResult();
            import.Ended(job);
            project.Change(null, (WriteSession session) => JobStore.SetState(session, job.Id, JobState.Done, message, project.Now));
        }

        project.Change(null, (WriteSession session) =>
        {
            var settings = ProjectStore.Settings(session);
            ProjectStore.SaveSettings(session, settings with { Scan = settings.Scan with { Depth = ScanDepth.Full } });
        });
        RegroupJob.Regroup(project, new ClusterSettings());
        PageMapEndpoints.AcceptClear(project, MapFromDemand);
        Assign(Path.Combine(folder, "mapped.csv"), project);
        foreach (var cluster in project.Read(session => FindingStore.List(
            session, new ListQuery(Sort: "demand", Descending: true, Offset: 4, Limit: PlannedPages), new FindingFilter(FindingKind.Uncovered)).Rows))
            PageMapEndpoints.PlanProposed(project, cluster.ClusterId!.Value);
        return true;
    }

    /// <summary>Gives clusters the pages that a file names: keyword, page.</summary>
    private static void Assign(string path, Project project)
    {
        using var file = TableFile.Open(path);
        foreach (var (_, row) in file.Rows())
        {
            if (row.Value is not [var keyword, var url])
                continue;
            project.Change("Assign a page", (WriteSession session) =>
            {
                if (ClusterStore.OfKeyword(session, KeywordNormalForm.Of(keyword)) is { } cluster
                    && UrlIdentity.TryOf(url, UrlFolds.All, out var identity) && PageStore.FindByIdentity(session, identity) is { } page)
                    PageMapStore.Assign(session, cluster, page.Id, project.Now);
            });
        }
    }

    /// <summary>Reads the site and its search performance as soon as the services answer, or not at all where they do not.</summary>
    public static async Task ReadSite(string services, JobRunner runner, CancellationToken stop)
    {
        using var http = new HttpClient { Timeout = TimeSpan.FromSeconds(2) };
        for (var i = 0; i < Patience && !stop.IsCancellationRequested; i++)
        {
            try
            {
                using var answer = await http.GetAsync(services, stop);
                runner.Add(ScanJob.Name, "Full scan of fenwater.example", "{}");
                var today = DateOnly.FromDateTime(DateTime.UtcNow);
                PerformanceEndpoints.Start(new PerformanceRange(today.AddMonths(-PerformanceRange.Months), today), runner);
                return;
            }
            catch (Exception e) when (e is HttpRequestException or OperationCanceledException)
            {
                await Task.Delay(1_000, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
    }
}
