using System.Collections.Concurrent;
using System.Globalization;
using JadeOrchard.Server.Overview;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Projects;

/// <summary>Where a project stands among the others.</summary>
public enum ProjectState
{
    /// <summary>It is worked on.</summary>
    Active,

    /// <summary>It is put away: nothing of it runs, and it is not opened.</summary>
    Archived,

    /// <summary>It is in the trash.</summary>
    Deleted,
}

/// <summary>A project of the list.</summary>
/// <param name="Id">Its name in addresses and on disk.</param>
/// <param name="Name">What the planner calls it; empty where nobody named it.</param>
/// <param name="Host">Host of the site; empty as long as none is given.</param>
/// <param name="Stage">The last stage of the track that has begun; null where none has, or the project is not open.</param>
/// <param name="StageSays">The counts of that stage, in words.</param>
/// <param name="Keywords">Null where the project is not open.</param>
/// <param name="ChangedAt">When its file was last changed, in UTC.</param>
/// <param name="Bytes">Of its file.</param>
/// <param name="Jobs">Jobs that wait or run.</param>
/// <param name="DeletedAt">In UTC; null where it is not in the trash.</param>
/// <param name="GoneAt">When the trash lets go of it.</param>
/// <param name="Fault">Why it cannot be opened; null where nothing is known to be wrong.</param>
public sealed record ProjectEntry(
    string Id, ProjectState State, string Name, string Host, string Country, string Language, string? Stage, string? StageSays, long? Keywords, DateTime ChangedAt, long Bytes, int Jobs, DateTime? DeletedAt, DateTime? GoneAt, string? Fault);

/// <summary>The projects of a data folder: each is opened when it is asked for, and closed while its file is moved or replaced.</summary>
public sealed partial class ProjectList(DataFolder data, IServiceProvider shared, IConfiguration configuration, TimeProvider clock, ILogger<ProjectList> log) : IHostedService
{
    /// <summary>So long the trash keeps a project.</summary>
    public static readonly TimeSpan TrashKeeps = TimeSpan.FromDays(30);

    private const string TrashTime = "yyyyMMdd'T'HHmmss'Z'";
    private readonly ConcurrentDictionary<string, Slot> _slots = new(StringComparer.Ordinal);
    private readonly Lock _naming = new();
    private bool _warmsUp;

    /// <summary>A project's place: whoever opens, closes or moves it takes turns.</summary>
    private sealed class Slot
    {
        public SemaphoreSlim Turn { get; } = new(1, 1);

        public OpenProject? Open { get; set; }

        /// <summary>Why it could not be opened the last time.</summary>
        public string? Fault { get; set; }
    }

    /// <returns>The ids of the projects that are worked on, in order.</returns>
    public IReadOnlyList<string> Active => Ids(data.Active);

    private static string[] Ids(string folder) =>
        [.. Directory.EnumerateDirectories(folder).Where(f => File.Exists(FileIn(f))).Select(f => Path.GetFileName(f)).Where(id => ProjectNames.IsOne(id.Split('~')[0])).Order(StringComparer.Ordinal)];

    private static string FileIn(string folder) => Path.Combine(folder, DataFolder.ProjectFileName);

    private static bool Has(string folder, string id) => ProjectNames.IsOne(id.Split('~')[0]) && id.All(c => c is not ('/' or '.' or '\\')) && File.Exists(FileIn(Path.Combine(folder, id)));

    /// <returns>The folder of a project in any state; null where there is none of this id.</returns>
    private (string Folder, ProjectState State)? Find(string id) =>
        Has(data.Active, id) ? (Path.Combine(data.Active, id), ProjectState.Active)
        : Has(data.Archived, id) ? (Path.Combine(data.Archived, id), ProjectState.Archived)
        : Has(data.Trash, id) ? (Path.Combine(data.Trash, id), ProjectState.Deleted)
        : null;

    private string NewId(params ReadOnlySpan<string> names) =>
        ProjectNames.Free(ProjectNames.Of(names), id => Directory.Exists(Path.Combine(data.Active, id)) || Directory.Exists(Path.Combine(data.Archived, id)));

    /// <summary>Makes the first project where there is none, and opens the only one, so that the first request does not wait for it.</summary>
    /// <param name="firstId">What the first project is called.</param>
    /// <returns>The project that was made, or the only one; null where there are several, or it cannot be opened.</returns>
    public async Task<OpenProject?> Begin(string firstId)
    {
        EmptyTrash();
        var active = Active;
        var isNew = active.Count == 0 && Ids(data.Archived).Length == 0;
        if (!isNew && active.Count != 1)
            return null;
        var id = isNew ? firstId : active[0];
        var slot = _slots.GetOrAdd(id, _ => new Slot());
        try
        {
            return slot.Open = await OpenNow(id, slot);
        }
        catch (StartException)
        {
            return null;
        }
    }

    /// <summary>From now on what the first change needs is loaded beside the first requests of a project; the others are opened as well, so that their jobs and schedules go on.</summary>
    public async Task Listening(CancellationToken stop)
    {
        _warmsUp = true;
        foreach (var id in Active)
        {
            if (stop.IsCancellationRequested)
                return;
            try
            {
                using var visit = await Enter(id, stop, isBackground: Active.Count > 1);
            }
            catch (StartException e)
            {
                CannotOpen(e.Message);
            }
        }
    }

    /// <returns>The project for a request, which it has to leave; null where there is none of this id that is worked on.</returns>
    /// <exception cref="StartException">It cannot be opened; the message says why.</exception>
    public async Task<OpenProject.Visit?> Enter(string id, CancellationToken stop, bool isBackground = false)
    {
        if (!Has(data.Active, id))
            return null;
        var slot = _slots.GetOrAdd(id, _ => new Slot());
        await slot.Turn.WaitAsync(stop);
        try
        {
            if (!Has(data.Active, id))
                return null;
            slot.Open ??= await OpenNow(id, slot);
            if (_warmsUp && !isBackground)
                slot.Open.WarmUp();
            return slot.Open.Enter();
        }
        finally
        {
            slot.Turn.Release();
        }
    }

    /// <returns>All projects: those that are worked on first, by name.</returns>
    public IReadOnlyList<ProjectEntry> All()
    {
        EmptyTrash();
        return
        [
            .. Of(data.Active, ProjectState.Active),
            .. Of(data.Archived, ProjectState.Archived),
            .. Of(data.Trash, ProjectState.Deleted),
        ];

        IEnumerable<ProjectEntry> Of(string folder, ProjectState state) =>
            Ids(folder).Select(id => Entry(id, Path.Combine(folder, id), state)).OfType<ProjectEntry>().OrderBy(p => p.Name.Length == 0).ThenBy(p => p.Name, StringComparer.OrdinalIgnoreCase).ThenBy(p => p.Id, StringComparer.Ordinal);
    }

    /// <returns>One of them; null where there is none of this id.</returns>
    public ProjectEntry? One(string id) => Find(id) is var (folder, state) ? Entry(id, folder, state) : null;

    /// <summary>Makes a project.</summary>
    /// <param name="profile">Its site and market.</param>
    /// <param name="fill">What is put into it; null for nothing.</param>
    public async Task<ProjectEntry> Create(ProjectProfile profile, Action<WriteSession>? fill = null)
    {
        string id;
        lock (_naming)
        {
            id = NewId(profile.Name, profile.Host);
            PrivateFiles.MakeFolder(Path.Combine(data.Active, id));
        }

        var slot = _slots.GetOrAdd(id, _ => new Slot());
        await slot.Turn.WaitAsync();
        try
        {
            slot.Open ??= await OpenNow(id, slot);
            slot.Open.Project.Change(null, (WriteSession session) =>
            {
                ProjectStore.Save(session, profile);
                fill?.Invoke(session);
            });
        }
        finally
        {
            slot.Turn.Release();
        }

        return One(id)!;
    }

    /// <summary>Makes a project of a file, which becomes a part of it: what was under way in it does not go on, and links for writers do not work.</summary>
    /// <param name="file">A sound project file, which is moved.</param>
    /// <param name="name">What the project is called; null for its own name.</param>
    public async Task<ProjectEntry> Adopt(string file, string? name)
    {
        ProjectFile.Detach(file, keepsKeys: true);
        var facts = ProjectFile.Facts(file);
        string id;
        lock (_naming)
        {
            id = NewId(name ?? "", facts?.Name ?? "", facts?.Host ?? "");
            var folder = Path.Combine(data.Active, id);
            PrivateFiles.MakeFolder(folder);
            File.Move(file, FileIn(folder));
        }

        using var visit = await Enter(id, CancellationToken.None);
        if (name is not null)
            visit!.Open.Project.Change(null, (WriteSession session) => ProjectStore.Save(session, ProjectStore.Get(session) with { Name = name }));
        return One(id)!;
    }

    /// <summary>Copies the file of a project, whoever works on it, to a file that is nobody's yet.</summary>
    /// <returns>The copy; null where there is no such project.</returns>
    public string? Copy(string id)
    {
        if (Find(id) is not var (folder, _))
            return null;
        var copy = NewFile();
        ProjectFile.Copy(FileIn(folder), copy);
        return copy;
    }

    /// <returns>A file that only this user can read, for a copy or what is brought.</returns>
    public string NewFile()
    {
        var file = Path.Combine(data.Trash, "." + Guid.NewGuid().ToString("N"));
        PrivateFiles.Open(file, FileMode.CreateNew).Dispose();
        return file;
    }

    /// <summary>Puts a project away, or back among those that are worked on.</summary>
    /// <returns>The project as it is then; null where there is none of this id.</returns>
    public Task<ProjectEntry?> Archive(string id) => Move(id, _ => Path.Combine(data.Archived, id));

    /// <summary>Takes a project back from the archive or the trash.</summary>
    public Task<ProjectEntry?> TakeBack(string id) => Move(id, state => state == ProjectState.Active ? null : Path.Combine(data.Active, state == ProjectState.Deleted ? NewId(id.Split('~')[0]) : id));

    /// <summary>Puts a project into the trash; one that is there is deleted for good.</summary>
    /// <returns>False where there is none of this id.</returns>
    public async Task<bool> Delete(string id)
    {
        if (Find(id) is var (folder, state) && state == ProjectState.Deleted)
        {
            Directory.Delete(folder, recursive: true);
            return true;
        }

        return await Move(id, _ => Path.Combine(data.Trash, $"{id}~{clock.GetUtcNow().UtcDateTime.ToString(TrashTime, CultureInfo.InvariantCulture)}")) is not null;
    }

    /// <summary>Works on the file of a project that is worked on, while nobody has it open.</summary>
    /// <exception cref="RefusedException">Somebody uses it for too long.</exception>
    public async Task<T> WhileClosed<T>(string id, Func<string, T> work)
    {
        var slot = _slots.GetOrAdd(id, _ => new Slot());
        await slot.Turn.WaitAsync();
        try
        {
            if (slot.Open is { } open)
            {
                try
                {
                    await open.Close(OpenProject.Patience);
                }
                catch (TimeoutException)
                {
                    throw new RefusedException(Problems.Conflict("Somebody is using the project right now. Try again in a moment."));
                }

                slot.Open = null;
            }

            slot.Fault = null;
            return work(FileIn(Path.Combine(data.Active, id)));
        }
        finally
        {
            slot.Turn.Release();
        }
    }

    /// <returns>The file of a project in any state; null where there is none of this id.</returns>
    public string? FileOf(string id) => Find(id) is var (folder, _) ? FileIn(folder) : null;

    public Task StartAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    public async Task StopAsync(CancellationToken cancellationToken)
    {
        foreach (var slot in _slots.Values)
        {
            await slot.Turn.WaitAsync(cancellationToken);
            try
            {
                if (slot.Open is { } open)
                    await open.Close(OpenProject.Patience);
                slot.Open = null;
            }
            catch (TimeoutException)
            {
                // What was answered is written; the rest ends with the program.
            }
            finally
            {
                slot.Turn.Release();
            }
        }
    }

    private async Task<OpenProject> OpenNow(string id, Slot slot)
    {
        try
        {
            var open = await OpenProject.Open(Path.Combine(data.Active, id), shared);
            slot.Fault = null;
            if (configuration["services"] is { Length: > 0 } services)
                Demo.UseServices(services, open.Project);
            return open;
        }
        catch (StartException e)
        {
            slot.Fault = e.Message;
            throw;
        }
    }

    private async Task<ProjectEntry?> Move(string id, Func<ProjectState, string?> to)
    {
        if (Find(id) is not var (folder, state))
            return null;
        if (to(state) is not { } target)
            return One(id);
        if (state == ProjectState.Active)
            return await WhileClosed(id, _ => InPlace());
        return InPlace();

        ProjectEntry? InPlace()
        {
            if (Directory.Exists(target))
                throw new RefusedException(Problems.Conflict("There is a project of this name already. Rename the folder of one of them."));
            Directory.Move(folder, target);
            return One(Path.GetFileName(target));
        }
    }

    private ProjectEntry? Entry(string id, string folder, ProjectState state)
    {
        var file = FileIn(folder);
        try
        {
            var slot = state == ProjectState.Active ? _slots.GetValueOrDefault(id) : null;
            var open = slot?.Open;
            var profile = open?.Project.Read(ProjectStore.Get);
            var facts = profile is null ? ProjectFile.Facts(file) : null;
            var track = open?.Project.Read(OverviewEndpoints.TrackOf).LastOrDefault(s => s.Share > 0);
            var deleted = state == ProjectState.Deleted ? DeletedAt(id) : null;
            return new ProjectEntry(
                id, state, profile?.Name ?? facts?.Name ?? "", profile?.Host ?? facts?.Host ?? "", profile?.Country ?? facts?.Country ?? "", profile?.Language ?? facts?.Language ?? "",
                track?.Stage, track?.Says, open?.Project.Read(Storage.Keywords.KeywordStore.Count),
                Beside(file).Max(File.GetLastWriteTimeUtc), Beside(file).Sum(f => new FileInfo(f).Length),
                open?.Services.GetRequiredService<Jobs.JobRunner>().Active.Count ?? 0, deleted, deleted + TrashKeeps,
                slot?.Fault ?? (open is null && facts is null ? "This is no file of a project, or it is damaged." : null));
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException)
        {
            // It was moved or closed meanwhile.
            return null;
        }
    }

    /// <returns>The file, and what was changed of it and is not moved into it yet.</returns>
    private static IEnumerable<string> Beside(string file) => new[] { file, file + "-wal" }.Where(File.Exists);

    private static DateTime? DeletedAt(string id) =>
        id.Split('~') is [_, var time] && DateTime.TryParseExact(time, TrashTime, CultureInfo.InvariantCulture, DateTimeStyles.AdjustToUniversal | DateTimeStyles.AssumeUniversal, out var at) ? at : null;

    /// <summary>Deletes for good what has been in the trash for too long, and what a kill left half made.</summary>
    private void EmptyTrash()
    {
        var now = clock.GetUtcNow().UtcDateTime;
        foreach (var folder in Directory.EnumerateDirectories(data.Trash).Where(f => DeletedAt(Path.GetFileName(f)) is { } at && now - at > TrashKeeps))
            Directory.Delete(folder, recursive: true);
        foreach (var file in Directory.EnumerateFiles(data.Trash, ".*").Where(f => now - File.GetLastWriteTimeUtc(f) > TimeSpan.FromDays(1)))
            File.Delete(file);
    }

    [LoggerMessage(LogLevel.Error, "{Fault}")]
    private partial void CannotOpen(string fault);
}
