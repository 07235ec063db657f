using System.Globalization;
using JadeOrchard.Core.Plan;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Server.Imports;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Plan;

/// <summary>What a file would change of the steps.</summary>
/// <param name="Changes">Row by row what would be changed.</param>
/// <param name="Same">Rows that say what is there already.</param>
/// <param name="Rejected">Rows that cannot be taken, with the reason.</param>
public sealed record PlanImportView(IReadOnlyList<PlanImportChange> Changes, int Same, IReadOnlyList<RejectedRow> Rejected);

/// <summary>A step that a file changes.</summary>
/// <param name="Says">"status: to do → done; owner: none → Ada".</param>
public sealed record PlanImportChange(long Line, StepId StepId, string Url, string Says);

/// <summary>Applies a file to the steps.</summary>
/// <param name="UploadId">Of the file that was brought.</param>
/// <param name="Apply">False only to look.</param>
public sealed record PlanImportRequest(string UploadId, bool Apply = false);

/// <summary>Status, owner and due date of steps from the table that was exported, as a team changed it.</summary>
public static class PlanImport
{
    private const int MostRejected = 10_000;
    private const int LongestName = 200;

    public static void MapPlanImport(this RouteGroupBuilder api)
    {
        api.MapPost("/plan/import", Results<Ok<PlanImportView>, ProblemHttpResult> (PlanImportRequest request, Project project, Uploads uploads) =>
            {
                try
                {
                    PlanImportView view;
                    using (var file = uploads.Open(request.UploadId))
                    {
                        if (Columns.Of(file.Header) is not { } columns)
                            return Problems.Invalid("file", $"The file has no column Step with the numbers of the steps, and at least one of Status, Owner and Due. Its columns are: {string.Join(", ", file.Header)}.");
                        if (!request.Apply)
                            return TypedResults.Ok(project.Read(session => Read(session, file, columns, null, project.Now)));
                        view = project.Change<PlanImportView>("Import status, owners and due dates", session => Read(session, file, columns, session, project.Now)).Value!;
                    }

                    uploads.Delete(request.UploadId);
                    return TypedResults.Ok(view);
                }
                catch (TableFormatException e)
                {
                    return Problems.Invalid("uploadId", e.Message);
                }
            })
            .WithName("importPlan");

        // As long as the file has not been applied.
        api.MapGet("/plan/import/rejected.csv", IResult (string uploadId, Project project, Uploads uploads) =>
            {
                try
                {
                    using var file = uploads.Open(uploadId);
                    var rejected = Columns.Of(file.Header) is { } columns ? project.Read(session => Read(session, file, columns, null, project.Now)).Rejected : [];
                    return ImportEndpoints.RejectedCsv(rejected.Select(r => new object?[] { r.Line, r.Column, r.Reason, r.Value }));
                }
                catch (TableFormatException e)
                {
                    return Problems.Invalid("uploadId", e.Message);
                }
            })
            .WithName("rejectedPlanRowsCsv").ExcludeFromDescription();
    }

    private static PlanImportView Read(Session session, TableFile file, Columns columns, WriteSession? write, DateTimeOffset now)
    {
        var steps = StepStore.All(session).ToDictionary(s => s.Id);
        var (changes, rejected, same, seen) = (new List<PlanImportChange>(), new List<RejectedRow>(), 0, new HashSet<StepId>());
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is not { } cells)
            {
                if (row.Rejected is { } fault)
                    Reject(fault);
                continue;
            }

            string Cell(int column) => column >= 0 && column < cells.Length ? cells[column].Trim() : "";
            if (cells.All(string.IsNullOrWhiteSpace))
                continue;
            var number = Cell(columns.Step);
            if (!long.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var id) || !steps.TryGetValue(StepId.Of(id), out var step))
            {
                Reject(new RejectedRow(line, "Step", "There is no such step.", number));
                continue;
            }

            if (!seen.Add(step.Id))
            {
                Reject(new RejectedRow(line, "Step", "The step is in the file twice; the first row counts.", number));
                continue;
            }

            var change = new StepChange();
            if (columns.Status >= 0 && Cell(columns.Status) is { Length: > 0 } status && !IsStatusOf(step, status))
            {
                if (StepText.StatusOf(status) is not { } known)
                {
                    Reject(new RejectedRow(line, "Status", $"Is not a status. Use {string.Join(", ", Enum.GetValues<StepStatus>().Select(StepText.Name))}.", status));
                    continue;
                }

                if (known == StepStatus.Live && step.Status != StepStatus.Live)
                {
                    Reject(new RejectedRow(line, "Status", "A step goes live by itself, when a scan finds it. Use done.", status));
                    continue;
                }

                change = change with { Status = known, Reason = known == StepStatus.Dropped && step.Reason.Length == 0 ? "dropped in the spreadsheet" : null };
            }

            if (columns.Owner >= 0)
            {
                if (Cell(columns.Owner) is var owner && owner.Length > LongestName)
                {
                    Reject(new RejectedRow(line, "Owner", $"A name may have {LongestName} characters.", owner));
                    continue;
                }

                change = change with { Owner = owner };
            }

            if (columns.Due >= 0)
            {
                if (DayOf(Cell(columns.Due)) is not { } due)
                {
                    Reject(new RejectedRow(line, "Due", "Is not a date. Write it like 2026-11-30.", Cell(columns.Due)));
                    continue;
                }

                change = change with { Due = due };
            }

            var says = Says(step, change);
            if (says.Length == 0)
            {
                same++;
                continue;
            }

            changes.Add(new PlanImportChange(line, step.Id, step.PageUrl, says));
            if (write is not null)
                StepStore.Change(write, [step.Id], change, now);
        }

        return new PlanImportView(changes, same, rejected);

        void Reject(RejectedRow row)
        {
            if (rejected.Count < MostRejected)
                rejected.Add(row);
        }
    }

    private static bool IsStatusOf(StoredStep step, string text) => StepText.StatusOf(text) == step.Status || (step.Status == StepStatus.Done && text.Equals("done, not verified", StringComparison.OrdinalIgnoreCase));

    private static string Says(StoredStep step, StepChange change)
    {
        static string Or(string text) => text.Length == 0 ? "none" : text;
        var due = step.Due?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";
        return string.Join("; ", new[]
        {
            change.Status is { } status && status != step.Status ? $"status: {StepText.Name(step.Status)} → {StepText.Name(status)}" : null,
            change.Owner is { } owner && owner != step.Owner ? $"owner: {Or(step.Owner)} → {Or(owner)}" : null,
            change.Due is { } day && day != due ? $"due: {Or(due)} → {Or(day)}" : null,
        }.OfType<string>());
    }

    /// <returns>"2026-11-30", empty for an empty cell, null for what is not a date. A spreadsheet may keep a date as the number of its day.</returns>
    private static string? DayOf(string cell) =>
        cell.Length == 0 ? ""
        : DateOnly.TryParseExact(cell.Split('T', ' ')[0], ["yyyy-MM-dd", "yyyy/MM/dd", "dd.MM.yyyy", "d.M.yyyy"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
        : double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out var serial) && serial is > 20_000 and < 100_000 ? DateOnly.FromDateTime(DateTime.FromOADate(Math.Floor(serial))).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
        : null;

    private sealed record Columns(int Step, int Status, int Owner, int Due)
    {
        public static Columns? Of(IReadOnlyList<string> header)
        {
            List<string> names = [.. header.Select(h => h.Trim().ToLowerInvariant())];
            var columns = new Columns(names.IndexOf("step"), names.IndexOf("status"), names.IndexOf("owner"), names.IndexOf("due"));
            return columns.Step < 0 || columns is { Status: < 0, Owner: < 0, Due: < 0 } ? null : columns;
        }
    }
}
