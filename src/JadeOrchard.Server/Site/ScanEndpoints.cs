using System.Globalization;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Site;

/// <summary>A scan with what it has read and what changed.</summary>
/// <param name="Scan">Null as long as it has not begun.</param>
public sealed record ScanView(JobView Job, ScanRow? Scan, ScanCounts Counts, IReadOnlyDictionary<PageChangeKind, long> Changes);

/// <summary>Addresses pasted, a line each.</summary>
public sealed record PastePagesRequest(string Text);

/// <summary>What came of pasted addresses.</summary>
/// <param name="Rejected">Lines that are no address of the site, and why; the first of them.</param>
public sealed record PastePagesAnswer(int Added, int Known, int RejectedCount, IReadOnlyList<string> Rejected);

/// <summary>Reads the site.</summary>
public static class ScanEndpoints
{
    private const int ChangesShown = 500;
    private const int RejectedShown = 20;

    public static void MapScans(this RouteGroupBuilder api)
    {
        api.MapPost("/scans", Results<Accepted<JobView>, ProblemHttpResult> (Orchard orchard, JobRunner runner) =>
            {
                var (project, settings, running) = orchard.Database.Read(session => (
                    ProjectStore.Get(session), ProjectStore.Settings(session).Scan, JobStore.Newest(session, ScanJob.Name, 1).FirstOrDefault(j => j.State is JobState.Waiting or JobState.Running)));
                if (project.Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about.");
                if (running is not null)
                    return Problems.Conflict("A scan is under way already. Stop it first, or wait for it.");
                if (settings.StartUrl.Length > 0 && !new OwnSite(project.Host).Owns(UrlIdentity.HostOf(settings.StartUrl)))
                    return Problems.Invalid("startUrl", $"The start address {settings.StartUrl} is not of {project.Host}.");
                var id = runner.Add(ScanJob.Name, $"{(settings.Depth == ScanDepth.Full ? "Full" : "Light")} scan of {project.Host}", "{}");
                return TypedResults.Accepted($"/api/jobs/{id}", JobEndpoints.View(orchard.Database.Read(session => JobStore.Find(session, id))!, runner));
            })
            .WithName("startScan");

        api.MapGet("/scans", (Orchard orchard, JobRunner runner) => orchard.Database.Read(session => JobStore.Newest(session, ScanJob.Name, 10).Select(job =>
                new ScanView(JobEndpoints.View(job, runner), ScanStore.Find(session, job.Id), ScanStore.Counts(session, job.Id), ScanStore.ChangeCounts(session, job.Id))).ToList()))
            .WithName("scans");

        api.MapGet("/scans/{id:long}/changes", (long id, Orchard orchard) => orchard.Database.Read(session => ScanStore.Changes(session, id, ChangesShown))).WithName("pageChanges");

        api.MapGet("/scans/{id:long}/unread", (long id, Orchard orchard) => orchard.Database.Read(session => ScanStore.Unread(session, id, ChangesShown))).WithName("unreadUrls");

        api.MapGet("/scans/{id:long}/changes.csv", (long id, Orchard orchard) => Listing.Csv(
                "changes.csv",
                ["url", "change", "before", "after"],
                orchard.Database.Read(session => ScanStore.Changes(session, id, int.MaxValue)).Select(c => new object?[] { c.Url, c.Kind.ToString().ToLowerInvariant(), c.Before, c.After })))
            .ExcludeFromDescription();

        api.MapPost("/pages/paste", Results<Ok<PastePagesAnswer>, ProblemHttpResult> (PastePagesRequest request, Orchard orchard) =>
            {
                var site = new OwnSite(orchard.Database.Read(ProjectStore.Get).Host);
                if (site.Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about, so that its pages can be told from others.");
                var lines = request.Text.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0).Select(l => l.StartsWith('/') ? $"https://{site.Host}{l}" : l).Distinct().ToList();
                var good = lines.Where(l => UrlIdentity.TryOf(l, UrlFolds.All, out _) && site.Owns(UrlIdentity.HostOf(l))).ToList();
                if (good.Count == 0)
                    return Problems.Invalid("text", $"There is no address of {site.Host} in it. Write one a line.");
                var rejected = lines.Except(good).ToList();
                return TypedResults.Ok(orchard.Database.Write(
                    session =>
                    {
                        var added = good.Count(url =>
                        {
                            UrlIdentity.TryOf(url, UrlFolds.All, out var identity);
                            return PageStore.Import(session, identity, new SitePage(url));
                        });
                        ProjectStore.RaiseDataVersion(session);
                        orchard.AfterData(session);
                        return new PastePagesAnswer(added, good.Count - added, rejected.Count, [.. rejected.Take(RejectedShown).Select(r => $"{r}: is no address of {site.Host}.")]);
                    },
                    $"Paste {good.Count.ToString("N0", CultureInfo.InvariantCulture)} pages"));
            })
            .WithName("pastePages");
    }
}
