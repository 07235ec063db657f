using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Imports;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Keywords;
using JadeOrchard.Server.Performance;
using JadeOrchard.Server.Refresh;
using JadeOrchard.Server.Results;
using JadeOrchard.Server.Services;
using JadeOrchard.Server.Site;
using JadeOrchard.Server.Topics;

namespace JadeOrchard.Server.Projects;

/// <summary>A project that is open, with all that works on it: nothing of it is shared with other projects but the clock, the log and the settings of the program.</summary>
public sealed class OpenProject : IDisposable
{
    /// <summary>For so long it is waited that requests come to their end before a project is closed.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);

    private readonly ServiceProvider _own;
    private readonly HashSet<Type> _types;
    private readonly ProjectFolder _folder;
    private volatile CancellationTokenSource _closing = new();
    private readonly Lock _lock = new();
    private int _visits;
    private TaskCompletionSource? _left;
    private bool _isWarm;

    private OpenProject(ProjectFolder folder, IServiceProvider shared)
    {
        _folder = folder;
        var services = new ServiceCollection();
        Add(services, folder);
        _types = [.. services.Select(s => s.ServiceType)];
        services.AddSingleton(shared.GetRequiredService<ILoggerFactory>());
        services.AddSingleton(typeof(ILogger<>), typeof(Logger<>));
        services.AddSingleton(shared.GetRequiredService<TimeProvider>());
        services.AddSingleton(shared.GetRequiredService<ServiceTiming>());
        services.AddSingleton(shared.GetRequiredService<DemoFolder>());
        services.AddSingleton(shared.GetRequiredService<IConfiguration>());
        _own = services.BuildServiceProvider();
    }

    /// <summary>What works on this project.</summary>
    public IServiceProvider Services => _own;

    public Project Project => _own.GetRequiredService<Project>();

    /// <summary>The project's file.</summary>
    public string File => _folder.File;

    /// <summary>Says what works on each project. The program itself has none of it; it only has to know that these are no parts of a request.</summary>
    public static void Describe(IServiceCollection services)
    {
        var own = new ServiceCollection();
        Add(own, null);
        foreach (var type in own.Select(s => s.ServiceType).Distinct().Where(type => type != typeof(IHostedService) && services.All(s => s.ServiceType != type)))
            services.AddTransient(type, _ => throw new InvalidOperationException($"{type.Name} belongs to a project, and none is named."));
    }

    /// <summary>Opens the project of a folder, makes it where it is missing, and goes on with its jobs.</summary>
    /// <exception cref="StartException">It cannot be used; the message says why.</exception>
    public static async Task<OpenProject> Open(string path, IServiceProvider shared)
    {
        var folder = ProjectFolder.Open(path, shared.GetRequiredService<TimeProvider>());
        var project = new OpenProject(folder, shared);
        try
        {
            foreach (var service in project._own.GetServices<IHostedService>())
                await service.StartAsync(CancellationToken.None);
            return project;
        }
        catch
        {
            await project.End();
            throw;
        }
    }

    /// <summary>Loads what the first change needs, beside the first requests; only once.</summary>
    public void WarmUp()
    {
        lock (_lock)
        {
            if (_isWarm)
                return;
            _isWarm = true;
        }

        _ = Task.Run(() => _own.GetRequiredService<Warming>().Run(_closing.Token));
    }

    /// <summary>A request works on the project until it disposes of what this returns.</summary>
    public Visit Enter()
    {
        lock (_lock)
            _visits++;
        return new Visit(this);
    }

    /// <summary>Ends it: requests that wait for news are ended, others come to their end, and jobs put down their work, to be taken up when it is opened again.</summary>
    /// <param name="patience">How long requests have for that, see <see cref="Patience"/>.</param>
    /// <exception cref="TimeoutException">A request takes too long. It is open as it was.</exception>
    public async Task Close(TimeSpan patience)
    {
        await _closing.CancelAsync();
        Task left;
        lock (_lock)
            left = _visits == 0 ? Task.CompletedTask : (_left = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;
        try
        {
            await left.WaitAsync(patience);
        }
        catch (TimeoutException)
        {
            // Requests that come from now on are not about to be ended.
            _closing = new CancellationTokenSource();
            throw;
        }

        await End();
    }

    public void Dispose() => _closing.Dispose();

    private async Task End()
    {
        foreach (var service in _own.GetServices<IHostedService>().Reverse())
            await service.StopAsync(CancellationToken.None);
        await _own.DisposeAsync();
        _folder.Dispose();
        Dispose();
    }

    private static void Add(IServiceCollection services, ProjectFolder? folder)
    {
        // There is none where the parts are only described.
        services.AddSingleton(_ => folder!);
        services.AddSingleton(_ => folder!.Database);
        services.AddSingleton(_ => new Uploads(Path.Combine(folder!.Path, "uploads")));
        services.AddSingleton<Project>();
        services.AddSingleton<ChangeFeed>();
        services.AddSingleton<GroupingPreview>();
        services.AddSingleton<Warming>();
        services.AddSingleton<QueryImages>();
        services.AddSingleton<ChangeEffects>();
        services.AddSingleton<Drifts>();
        services.AddSingleton<IJob, ImportJob>();
        services.AddSingleton<IJob, RegroupJob>();
        services.AddSingleton<IJob, ScanJob>();
        services.AddSingleton<IJob, ReadRivalsJob>();
        services.AddSingleton<IJob, CaptureJob>();
        services.AddSingleton<IJob, GatherJob>();
        services.AddSingleton<IJob, PerformanceJob>();
        services.AddSingleton<IJob, DemoJob>();
        services.AddSingleton<OutsideServices>();
        services.AddSingleton<JobRunner>();
        services.AddSingleton<IHostedService>(own => own.GetRequiredService<JobRunner>());
        services.AddSingleton<IHostedService, PerformanceRetry>();
        services.AddSingleton<IHostedService, RecaptureSchedule>();
        services.AddSingleton<IHostedService, BackupSchedule>();
    }

    /// <summary>A request that works on a project.</summary>
    public sealed class Visit(OpenProject open) : IDisposable
    {
        private bool _hasLeft;

        public OpenProject Open => open;

        /// <summary>The project is about to be closed.</summary>
        public CancellationToken Closing => open._closing.Token;

        /// <summary>What belongs to the project, and else what the program has.</summary>
        public IServiceProvider Of(IServiceProvider request) => new Parts(open, request);

        public void Dispose()
        {
            lock (open._lock)
            {
                if (_hasLeft)
                    return;
                _hasLeft = true;
                if (--open._visits == 0)
                    open._left?.TrySetResult();
            }
        }
    }

    private sealed class Parts(OpenProject open, IServiceProvider request) : IServiceProvider
    {
        public object? GetService(Type serviceType) =>
            open._types.Contains(serviceType is { IsGenericType: true } && serviceType.GetGenericTypeDefinition() == typeof(IEnumerable<>) ? serviceType.GenericTypeArguments[0] : serviceType)
                ? open._own.GetService(serviceType)
                : request.GetService(serviceType);
    }
}
