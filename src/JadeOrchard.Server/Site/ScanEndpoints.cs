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
        api.MapPost("/scans", Results<Accepted<JobView>, ProblemHttpResult> (Project project, JobRunner runner) =>
            {
                var (profile, settings, running) = project.Read(session => (
                    ProjectStore.Get(session), ProjectStore.Settings(session).Scan, JobStore.Newest(session, ScanJob.Name, 1).FirstOrDefault(j => j.State is JobState.Waiting or JobState.Running)));
                if (profile.Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about.");
                if (running is not null)
                    return Problems.Conflict("A scan is under way already. Stop it first, or wait for it.");
                if (settings.StartUrl.Length > 0 && !new OwnSite(profile.Host).OwnsHost(UrlIdentity.HostOf(settings.StartUrl)))
                    return Problems.Invalid("startUrl", $"The start address {settings.StartUrl} is not of {profile.Host}.");
                return JobEndpoints.Accepted(runner.Add(ScanJob.Name, $"{(settings.Depth == ScanDepth.Full ? "Full" : "Light")} scan of {profile.Host}", "{}"));
            })
            .WithName("startScan");

        api.MapGet("/scans", (Project project, JobRunner runner) => project.Read(session => JobStore.Newest(session, ScanJob.Name, 10).Select(job =>
                new ScanView(runner.View(job), ScanStore.Find(session, job.Id), ScanStore.Counts(session, job.Id), ScanStore.ChangeCounts(session, job.Id))).ToList()))
            .WithName("scans");

        api.MapGet("/scans/{id:long}/changes", (JobId id, Project project) => project.Read(session => ScanStore.Changes(session, id, ChangesShown))).WithName("pageChanges");

        api.MapGet("/scans/{id:long}/unread", (JobId id, Project project) => project.Read(session => ScanStore.Unread(session, id, ChangesShown))).WithName("unreadUrls");

        api.MapGet("/scans/{id:long}/changes.csv", (JobId id, Project project) => Listing.Csv(
                "changes.csv",
                ["url", "change", "before", "after"],
                project.Read(session => ScanStore.Changes(session, id, int.MaxValue)).Select(c => new object?[] { c.Url, c.Kind.ToString().ToLowerInvariant(), c.Before, c.After })))
            .ExcludeFromDescription();

        api.MapPost("/pages/paste", Results<Ok<PastePagesAnswer>, ProblemHttpResult> (PastePagesRequest request, Project project) =>
            {
                var site = new OwnSite(project.Read(ProjectStore.Get).Host);
                if (site.Host.Length == 0)
                    return Problems.Conflict("Say first which site the project is about, so that its pages can be told from others.");
                var lines = request.Text.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0).Select(l => l.StartsWith('/') ? site.UrlOf(l) : l).Distinct().ToList();
                var good = lines.Where(l => UrlIdentity.TryOf(l, UrlFolds.All, out _) && site.Owns(l)).ToList();
                if (good.Count == 0)
                    return Problems.Invalid("text", $"There is no address of {site} in it. Write one a line.");
                var rejected = lines.Except(good).ToList();
                return project.Change<PastePagesAnswer>(
                    good.Count == 1 ? "Paste a page" : $"Paste {good.Count.ToString("N0", CultureInfo.InvariantCulture)} pages",
                    session =>
                    {
                        var added = good.Count(url =>
                        {
                            UrlIdentity.TryOf(url, UrlFolds.All, out var identity);
                            return PageStore.Import(session, identity, new SitePage(url));
                        });
                        return new PastePagesAnswer(added, good.Count - added, rejected.Count, [.. rejected.Take(RejectedShown).Select(r => $"{r}: is no address of {site}.")]);
                    }).ToOk();
            })
            .WithName("pastePages");
    }
}
