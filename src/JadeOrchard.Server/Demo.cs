using System.Text.Json;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Imports;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.PageMap;
using JadeOrchard.Server.Refresh;
using JadeOrchard.Server.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;
using JadeOrchard.Storage.Jobs;
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
    public static void UseServices(string address, Orchard orchard) => orchard.Database.Write(session =>
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
        var orchard = services.GetRequiredService<Orchard>();
        var uploads = services.GetRequiredService<Uploads>();
        if (orchard.Database.Read(session => session.Count("select count(*) from keyword")) > 0)
            return false;
        orchard.Database.Write(session => ProjectStore.Save(session, new Project("Fenwater", "fenwater.example", "GB", "en", [])));
        var import = services.GetServices<IJob>().Single(j => j.Kind == ImportJob.Name);
        foreach (var (kind, name) in new[] { (TableKind.Pages, "pages.csv"), (TableKind.Keywords, "keywords.csv"), (TableKind.Results, "results.csv") })
        {
            using var stream = File.OpenRead(Path.Combine(folder, name));
            var upload = uploads.SaveAsync(stream, CancellationToken.None).GetAwaiter().GetResult();
            Dictionary<string, int> columns;
            using (var file = uploads.Open(upload))
                columns = ColumnMapping.ByName(kind, file.Header).ToDictionary();
            var job = orchard.Database.Write(session =>
            {
                var id = JobStore.Add(session, ImportJob.Name, $"Importing {name}", JsonSerializer.Serialize(new ImportArguments(upload, name, kind, columns)), orchard.Now);
                JobStore.SetState(session, id, JobState.Done, "", orchard.Now);
                return JobStore.Find(session, id)!;
            });
            var message = import.RunAsync(job, _ => { }, CancellationToken.None).GetAwaiter().GetResult();
            orchard.Database.Write(session => JobStore.SetState(session, job.Id, JobState.Done, message, orchard.Now));
        }

        orchard.Database.Write(session =>
        {
            var settings = ProjectStore.Settings(session);
            ProjectStore.SaveSettings(session, settings with { Scan = settings.Scan with { Depth = ScanDepth.Full } });
        });
        orchard.Regroup(new ClusterSettings());
        PageMapEndpoints.AcceptClear(orchard, MapFromDemand);
        Assign(Path.Combine(folder, "mapped.csv"), orchard);
        foreach (var cluster in orchard.Database.Read(session => FindingStore.List(
            session, new ListQuery(Sort: "demand", Descending: true, Offset: 4, Limit: PlannedPages), new FindingFilter(FindingKind.NoPage)).Rows))
            PageMapEndpoints.PlanProposed(orchard, cluster.ClusterId!.Value);
        return true;
    }

    /// <summary>Gives clusters the pages that a file names: keyword, page.</summary>
    private static void Assign(string path, Orchard orchard)
    {
        using var file = TableFile.Open(path);
        foreach (var (_, row) in file.Rows())
        {
            if (row.Value is not [var keyword, var url])
                continue;
            orchard.Database.Write(
                session =>
                {
                    var cluster = session.Count(
                        "select m.cluster_id from cluster_member m join keyword k on k.keyword_id = m.keyword_id where k.normal_form = @form", ("form", KeywordNormalForm.Of(keyword)));
                    if (cluster > 0 && UrlIdentity.TryOf(url, UrlFolds.All, out var identity) && PageStore.FindByIdentity(session, identity) is { } page)
                        PageMapStore.Assign(session, cluster, page.Id, orchard.Now);
                    orchard.AfterDecision(session);
                },
                "Assign a page");
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
