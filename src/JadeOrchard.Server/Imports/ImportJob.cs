using System.Globalization;
using System.Text.Json;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Performance;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Imports;

/// <summary>What an import needs to begin, and to begin again after a restart.</summary>
/// <param name="Columns">For a column's name its place in the file, from 0.</param>
public sealed record ImportArguments(string UploadId, string FileName, TableKind Kind, Dictionary<string, int> Columns);

/// <summary>Brings a file in: good rows go in, the others are listed. All of it goes in, or nothing; others can write meanwhile.</summary>
public sealed class ImportJob(Project project, Uploads uploads) : IJob
{
    public const string Name = "import";
    private const int RowsPerReport = 5_000;

    /// <summary>More rejected rows than anybody would look at are counted alone.</summary>
    private const int MostRejected = 10_000;

    public string Kind => Name;

    public string Stage(JobRow job) => Of(job).Kind switch
    {
        TableKind.Keywords => "keywords",
        TableKind.Results => "results",
        TableKind.Performance => "refresh",
        _ => "site",
    };

    public Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop) => Task.FromResult(Run(job, progress, stop));

    private string Run(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var arguments = Of(job);
        // Where the program ended in the middle of it.
        project.TakeBack(job.Id);
        using (var file = uploads.Open(arguments.UploadId))
        {
            var mapping = ColumnMapping.ByHand(arguments.Kind, arguments.Columns);
            return project.ChangeGivingWay(job.Id, StepLabel(job), session =>
            {
                var import = new Import(session, file, mapping, project.Now, progress, stop);
                var said = arguments.Kind switch
                {
                    TableKind.Keywords => import.Keywords(arguments.FileName),
                    TableKind.Results => import.Results(arguments.FileName),
                    TableKind.Performance => import.Performance(arguments.FileName),
                    _ => import.Pages(),
                };
                JobStore.SaveImport(session, job.Id, arguments.Kind.ToString().ToLowerInvariant(), arguments.FileName, import.Added, import.Updated, import.RejectedCount,
                    import.Rejected.Select(r => new RejectedRowRow(r.Line, r.Column, r.Reason, r.Value)));
                progress(new JobProgress(file.Length, file.Length, "Updating clusters, suggestions and findings"));
                return JobStore.Done(session, job.Id, said, project.Now);
            }, stop);
        }
    }

    public void Started(IReadOnlyList<JobRow> unfinished) => uploads.DeleteExcept([.. unfinished.Select(UploadOf)]);

    public void Ended(JobRow job)
    {
        uploads.Delete(UploadOf(job));
        if (Of(job).Kind == TableKind.Results)
            ArrivedKeywords.Place(project);
    }

    public string StepLabel(JobRow job) => $"Import of {Of(job).FileName}";

    public bool IsAllOrNothing => true;

    private static string UploadOf(JobRow job) => Of(job).UploadId;

    private static ImportArguments Of(JobRow job) => JsonSerializer.Deserialize<ImportArguments>(job.Arguments)!;

    /// <summary>One import under way.</summary>
    private sealed class Import(WriteSession session, TableFile file, ColumnMapping mapping, DateTimeOffset now, Action<JobProgress> progress, CancellationToken stop)
    {
        public long Added { get; private set; }

        public long Updated { get; private set; }

        /// <summary>The first of them.</summary>
        public List<RejectedRow> Rejected { get; } = [];

        public long RejectedCount { get; private set; }

        public string Keywords(string fileName)
        {
            using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, fileName, now), now);
            var rows = 0L;
            foreach (var keyword in Good(KeywordTable.Read(file, mapping, ProjectStore.Get(session).Language, DateOnly.FromDateTime(now.UtcDateTime))))
            {
                writer.Write(keyword);
                rows++;
            }

            writer.Finish();
            Added = writer.NewKeywords;
            Updated = rows - Added;
            return Says($"{Number(Added)} new keywords, {Number(Updated)} updated");
        }

        public string Results(string fileName)
        {
            using var writer = new ResultStore.Writer(session, SourceStore.Touch(session, SourceKind.File, fileName, now), now);
            foreach (var result in Good(new ResultTable(UrlFolds.All, language: ProjectStore.Get(session).Language).Read(file, mapping)))
            {
                writer.Write(result);
                Added++;
            }

            foreach (var list in file is JsonResultFile json ? json.Phrases() : [])
            {
                var form = KeywordNormalForm.Of(list.Keyword, ProjectStore.Get(session).Language);
                if (form.Length == 0 || (!list.IsEmpty && list.Questions.Count + list.Related.Count == 0))
                    continue;
                DateOnly? day = DateTimeOffset.TryParse(list.CapturedAt, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var time) ? DateOnly.FromDateTime(time.UtcDateTime) : null;
                writer.WritePhrases(list.Keyword, form, day, PhraseKind.Question, list.Questions);
                writer.WritePhrases(list.Keyword, form, day, PhraseKind.Related, list.Related);
            }

            writer.Finish();
            return Says($"{Number(Added)} results in {Number(writer.Lists)} result lists"
                + (writer.NewKeywords > 0 ? $"; {Number(writer.NewKeywords)} keywords were not known and came in without a volume" : ""));
        }

        public string Pages()
        {
            var site = new OwnSite(ProjectStore.Get(session).Host);
            foreach (var page in Good(PageTable.Read(file, mapping, site)))
            {
                UrlIdentity.TryOf(page.Page.Url, UrlFolds.All, out var identity);
                if (PageStore.Import(session, identity, page.Page, page.Text))
                    Added++;
                else
                    Updated++;
            }

            return Says($"{Number(Added)} new pages, {Number(Updated)} updated");
        }

        public string Performance(string fileName)
        {
            using var writer = new PerformanceWriter(session, PerformanceOrigin.Import, fileName, now);
            foreach (var row in Good(new PerformanceTable(new OwnSite(ProjectStore.Get(session).Host), ProjectStore.Get(session).Language).Read(file, mapping)))
                writer.Write(row.Query, row.NormalForm, row.Url, row.Identity, row.Day, row.Clicks, row.Impressions, row.Position);
            Added = writer.Finish();
            return Says($"{Number(Added)} rows of search performance");
        }

        private IEnumerable<T> Good<T>(IEnumerable<TableRow<T>> rows)
            where T : class
        {
            var count = 0;
            foreach (var row in ReadAhead.Of(rows))
            {
                stop.ThrowIfCancellationRequested();
                session.GiveWay();
                if (++count % RowsPerReport == 0)
                    progress(new JobProgress(file.Position, file.Length, $"{Number(count)} rows read"));

                if (row.Value is { } value)
                    yield return value;
                else if (row.Rejected is { } rejected && ++RejectedCount <= MostRejected)
                    Rejected.Add(rejected);
            }
        }

        private string Says(string what) => what + (RejectedCount == 0 ? "."
            : $"; {Number(RejectedCount)} {(RejectedCount == 1 ? "row" : "rows")} rejected{(RejectedCount > MostRejected ? $", of which the first {Number(MostRejected)} are listed" : "")}.");

        private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);
    }
}
