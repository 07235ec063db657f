using System.Text.Json;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Imports;

/// <summary>A file that was brought, before it is imported.</summary>
/// <param name="LooksLike">What it seems to be about; empty where its header does not tell.</param>
/// <param name="Says">What kind of file it is, in words.</param>
/// <param name="Sample">Its first rows.</param>
/// <param name="Columns">For each kind what was recognised: a column's name and its place.</param>
/// <param name="Remembered">Kinds for which columns were mapped for such a header before, and are again.</param>
public sealed record UploadView(
    string UploadId, string FileName, IReadOnlyList<TableKind> LooksLike, string Says, IReadOnlyList<string> Header,
    IReadOnlyList<IReadOnlyList<string>> Sample, IReadOnlyDictionary<TableKind, Dictionary<string, int>> Columns, IReadOnlyList<TableKind> Remembered);

/// <summary>A column that a kind of table can have.</summary>
public sealed record ColumnView(string Name, bool IsRequired, string Says);

/// <summary>Imports a file that was brought.</summary>
public sealed record ImportRequest(string UploadId, string FileName, TableKind Kind, Dictionary<string, int> Columns);

/// <summary>Files in: bring, look, map columns, import; and what was rejected.</summary>
public static class ImportEndpoints
{
    private const int SampleRows = 5;
    private const int RejectedShown = 200;

    public static void MapImports(this RouteGroupBuilder api)
    {
        api.MapPost("/uploads", async Task<Results<Ok<UploadView>, ProblemHttpResult>> (string fileName, HttpRequest request, Uploads uploads, Project project, CancellationToken stop) =>
            {
                if (request.ContentType?.StartsWith("application/octet-stream", StringComparison.OrdinalIgnoreCase) != true)
                    return BadRequests.Says(StatusCodes.Status415UnsupportedMediaType);
                var id = await uploads.SaveAsync(request.Body, stop);
                try
                {
                    return TypedResults.Ok(View(id, fileName, uploads, project));
                }
                catch (TableFormatException e)
                {
                    uploads.Delete(id);
                    return Problems.Invalid("file", e.Message);
                }
            })
            .Accepts<byte[]>("application/octet-stream")
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(Uploads.MostBytes))
            .WithName("upload");

        api.MapGet("/imports/columns", () => Enum.GetValues<TableKind>().ToDictionary(
                kind => kind, kind => TableColumns.Of(kind).Select(c => new ColumnView(c.Name, c.IsRequired, c.Says)).ToList()))
            .WithName("importColumns");

        api.MapPost("/imports", Results<Accepted<JobView>, ProblemHttpResult> (ImportRequest request, Project project, Uploads uploads, JobRunner runner) =>
            {
                try
                {
                    using var file = uploads.Open(request.UploadId);
                    var mapping = ColumnMapping.ByHand(request.Kind, request.Columns);
                    if (mapping.Missing is [var missing, ..])
                        return Problems.Invalid("columns", $"Map a {missing} column (required).");
                    if (request.Columns.FirstOrDefault(c => c.Value >= file.Header.Count) is { Key: not null } beyond)
                        return Problems.Invalid("columns", $"The file has no column {beyond.Value + 1}, which {beyond.Key} was to be read from.");
                    if (request.Kind is TableKind.Pages or TableKind.Performance && project.Read(ProjectStore.Get).Host.Length == 0)
                        return Problems.Conflict("Say first which site the project is about, so that its pages can be told from others.");
                    project.Change(null, (WriteSession session) => MappingStore.Save(session, file.Header, KindName(request.Kind), request.Columns));
                }
                catch (TableFormatException e)
                {
                    return Problems.Invalid("uploadId", e.Message);
                }

                return JobEndpoints.Accepted(runner.Add(ImportJob.Name, $"Importing {request.FileName}",
                    JsonSerializer.Serialize(new ImportArguments(request.UploadId, request.FileName, request.Kind, request.Columns))));
            })
            .WithName("import");

        api.MapGet("/imports", (Project project) => project.Read(JobStore.Imports)).WithName("imports");

        api.MapGet("/imports/{id:long}/rejected", (JobId id, Project project) =>
                project.Read(session => JobStore.Rejected(session, id, RejectedShown)))
            .WithName("rejectedRows");

        api.MapGet("/imports/{id:long}/rejected.csv", (JobId id, Project project) =>
                RejectedCsv(project.Read(session => JobStore.Rejected(session, id, int.MaxValue)).Select(r => new object?[] { r.Line, r.Column, r.Reason, r.Value })))
            .WithName("rejectedRowsCsv").ExcludeFromDescription();
    }

    /// <summary>Rows that were not taken: line, column, reason, value.</summary>
    internal static IResult RejectedCsv(IEnumerable<object?[]> rows) => Listing.Csv("rejected.csv", ["line", "column", "reason", "value"], rows);

    private static UploadView View(string id, string fileName, Uploads uploads, Project project)
    {
        using var file = uploads.Open(id);
        var sample = file.Rows().Where(r => r.Row.Value is not null).Take(SampleRows).Select(r => (IReadOnlyList<string>)r.Row.Value!).ToList();
        var kinds = Enum.GetValues<TableKind>();
        var remembered = project.Read(session => kinds.ToDictionary(k => k, k => MappingStore.Find(session, file.Header, KindName(k))));
        return new UploadView(
            id,
            fileName,
            TableColumns.KindOf(file.Header) is { } kind ? [kind] : [],
            file.Says,
            file.Header,
            sample,
            kinds.ToDictionary(k => k, k => remembered[k] ?? ColumnMapping.ByName(k, file.Header).ToDictionary()),
            [.. kinds.Where(k => remembered[k] is { } known && !known.OrderBy(c => c.Key, StringComparer.Ordinal).SequenceEqual(ColumnMapping.ByName(k, file.Header).ToDictionary().OrderBy(c => c.Key, StringComparer.Ordinal)))]);
    }

    private static string KindName(TableKind kind) => kind.ToString().ToLowerInvariant();
}
