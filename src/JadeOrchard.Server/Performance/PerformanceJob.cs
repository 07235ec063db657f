using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Performance;

/// <summary>The days whose search performance is to be read.</summary>
public sealed record PerformanceRange(DateOnly From, DateOnly To)
{
    /// <summary>How far back such services know anything (common practice).</summary>
    public const int Months = 16;

    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault(DateOnly today) =>
        From > To ? new SettingFault("to", "The last day comes before the first.")
        : From > today ? new SettingFault("from", "The first day is in the future.")
        : To.DayNumber - From.DayNumber > 366 * 5 ? new SettingFault("from", "Read at most five years at once.")
        : null;
}

/// <summary>Reads the site's search performance from the service, by query, page and day; what came is one undoable step.</summary>
/// <remarks>A month at a time, each kept by itself: what was read stays when it is stopped, and is not read again when it goes on after a kill.</remarks>
public sealed class PerformanceJob(Project project, OutsideServices services) : IJob
{
    public const string Name = "performance";
    private const int PageSize = 10_000;

    /// <summary>Rows of a month beyond are not asked for: a service that always has more would never come to an end.</summary>
    private const int MostOfMonth = 1_000_000;

    public string Kind => Name;

    public string Stage(JobRow job) => "refresh";

    public string Lane => Name;

    /// <summary>When a service that failed is asked again (from memory: services are rarely down for longer).</summary>
    private static readonly TimeSpan RetryAfter = TimeSpan.FromHours(1);

    public async Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        try
        {
            var said = await Read(job, progress, stop);
            project.ChangeInJob(null, session => Keep(session, null), CancellationToken.None);
            return said;
        }
        catch (ServiceException e)
        {
            var isDenied = e is DeniedServiceException;
            var trouble = new PerformanceTrouble(
                isDenied ? TroubleKind.Denied : TroubleKind.Failed, e.Message, project.Now.UtcDateTime.ToString("O"), job.Arguments, isDenied ? null : (project.Now + RetryAfter).UtcDateTime.ToString("O"));
            project.ChangeInJob(null, session => Keep(session, trouble), CancellationToken.None);
            throw;
        }
    }

    private static bool Keep(WriteSession session, PerformanceTrouble? trouble)
    {
        RefreshStore.SaveTrouble(session, trouble);
        return true;
    }

    private async Task<string> Read(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var range = JsonSerializer.Deserialize<PerformanceRange>(job.Arguments)!;
        var site = new OwnSite(project.Read(ProjectStore.Get).Host);
        if (site.Host.Length == 0)
            throw new ServiceException("Say first which site the project is about; its search performance is asked for by that.");
        long rows = 0, foreign = 0;
        var cut = 0;
        for (DateOnly from = range.From, next; from <= range.To; from = next)
        {
            var to = from.AddMonths(1).AddDays(-1) is var end && end < range.To ? end : range.To;
            progress(new JobProgress(from.DayNumber - range.From.DayNumber, range.To.DayNumber - range.From.DayNumber + 1, $"{from:MMMM yyyy}: {Number(rows)} rows so far"));
            var label = $"{site}, {from:yyyy-MM-dd} to {to:yyyy-MM-dd}";
            next = to.AddDays(1);
            if (project.Read(session => PerformanceStore.RowsOfService(session, label, job.CreatedAt)) is { } known)
            {
                rows += known;
                continue;
            }

            var month = await Month(site, from, to, stop);
            foreign += month.Foreign;
            cut += month.IsCut ? 1 : 0;
            if (month.Rows.Count > 0)
                rows += project.ChangeAsJob(job.Id, job.Label, session => Save(session, month.Rows, label));
        }

        return rows == 0
            ? $"The service has nothing of {site} for these days."
            : $"{Number(rows)} rows of search performance read{(foreign == 0 ? "" : $"; {Number(foreign)} about pages of other sites or with figures that cannot be were left out")}{(cut == 0 ? "" : $"; of {Number(cut)} {(cut == 1 ? "month" : "months")} only the first {Number(MostOfMonth)} rows were read")}.";
    }

    public string Kept(JobRow job) => job.StepId is null && project.Read(session => JobStore.Find(session, job.Id))?.StepId is null
        ? "Nothing was changed."
        : "The months that were read are kept and count.";

    private async Task<(List<(string Query, string Form, string Url, string Identity, PerformanceRow Row)> Rows, long Foreign, bool IsCut)> Month(OwnSite site, DateOnly from, DateOnly to, CancellationToken stop)
    {
        var rows = new List<(string, string, string, string, PerformanceRow)>();
        var (foreign, isAnyCut) = (0L, false);
        foreach (var host in site.Hosts)
        {
            var (others, isCut) = await Month(site, host, from, to, rows, stop);
            foreign += others;
            isAnyCut |= isCut;
        }

        return (rows, foreign, isAnyCut);
    }

    private async Task<(long Foreign, bool IsCut)> Month(
        OwnSite site, string host, DateOnly from, DateOnly to, List<(string Query, string Form, string Url, string Identity, PerformanceRow Row)> rows, CancellationToken stop)
    {
        var foreign = 0L;
        for (var offset = 0; ; offset += PageSize)
        {
            var answer = await services.Ask<PerformanceAnswer>(
                ServiceName.Performance,
                $"performance?site={Uri.EscapeDataString(host)}&from={from:yyyy-MM-dd}&to={to:yyyy-MM-dd}&dimensions=query,page,day&offset={offset}&limit={PageSize}",
                stop);
            foreach (var row in answer.Rows)
            {
                var form = KeywordNormalForm.Of(row.Query ?? "");
                if ((form.Length == 0 && !string.IsNullOrWhiteSpace(row.Query)) || row.Page is null || row.Day is null || !UrlIdentity.TryOf(row.Page, UrlFolds.All, out var identity) || !site.Owns(identity)
                    || row.Impressions <= 0 || row.Clicks < 0 || row.Clicks > row.Impressions || row.Position < 1)
                    foreign++;
                else
                    rows.Add((row.Query?.Trim() ?? "", form, row.Page, identity, row));
            }

            if (!answer.More || answer.Rows.Count == 0 || offset + PageSize >= MostOfMonth)
                return (foreign, answer.More && answer.Rows.Count > 0);
        }
    }

    private long Save(WriteSession session, List<(string Query, string Form, string Url, string Identity, PerformanceRow Row)> rows, string label)
    {
        using var writer = new PerformanceWriter(session, PerformanceOrigin.Service, label, project.Now);
        foreach (var (query, form, url, identity, row) in rows)
        {
            session.GiveWay();
            writer.Write(query, form, url, identity, row.Day!.Value, row.Clicks, row.Impressions, row.Position);
        }

        return writer.Finish();
    }

    private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);
}
