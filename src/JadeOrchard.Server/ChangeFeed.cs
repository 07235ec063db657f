using System.Text.Json;
using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>A change, as all windows are told of it.</summary>
/// <param name="Areas">What it touched, in camel case.</param>
/// <param name="Says">What was done; empty for what has no name.</param>
/// <param name="Author">By whom; empty where nobody has to sign in.</param>
/// <param name="Window">The window in which it was done, as that calls itself; empty for none.</param>
public sealed record ChangeTold(IReadOnlyList<string> Areas, string Says, string Author, string Window);

/// <summary>Tells the windows of a project what was changed in another one.</summary>
public sealed class ChangeFeed
{
    /// <summary>The header by which a window says which one it is.</summary>
    public const string WindowHeader = "Jade-Window";

    private const int LongestWindow = 64;

    /// <summary>At most this many changes are queued for a window; beyond that it is told once that everything may have changed.</summary>
    private const int MostWaiting = 100;

    private readonly Lock _lock = new();
    private readonly List<Listening> _listeners = [];

    /// <summary>Tells what a request has changed.</summary>
    public void Tell(HttpContext context, IEnumerable<Area> areas, string? says)
    {
        var window = context.Request.Headers[WindowHeader].ToString();
        var told = new ChangeTold(Names(areas), says ?? "", Author.Current, window.Length <= LongestWindow ? window : "");
        lock (_lock)
        {
            foreach (var listener in _listeners)
                listener.Add(told);
        }
    }

    /// <summary>Listens from now on, until what is returned is disposed.</summary>
    public Listening Listen()
    {
        var listening = new Listening(this);
        lock (_lock)
            _listeners.Add(listening);
        return listening;
    }

    /// <summary>Areas as headers and events write them.</summary>
    internal static IReadOnlyList<string> Names(IEnumerable<Area> areas) => [.. areas.Select(a => JsonNamingPolicy.CamelCase.ConvertName(a.ToString()))];

    /// <summary>One window that listens.</summary>
    public sealed class Listening : IDisposable
    {
        private readonly ChangeFeed _feed;
        private readonly List<ChangeTold> _waiting = [];
        private TaskCompletionSource _news = New();

        internal Listening(ChangeFeed feed) => _feed = feed;

        /// <summary>Ends when there is something to take.</summary>
        public Task News
        {
            get
            {
                lock (_feed._lock)
                    return _news.Task;
            }
        }

        /// <returns>The changes since the last call, in order.</returns>
        public IReadOnlyList<ChangeTold> Take()
        {
            lock (_feed._lock)
            {
                ChangeTold[] told = [.. _waiting];
                _waiting.Clear();
                if (_news.Task.IsCompleted)
                    _news = New();
                return told;
            }
        }

        public void Dispose()
        {
            lock (_feed._lock)
                _feed._listeners.Remove(this);
        }

        internal void Add(ChangeTold told)
        {
            if (_waiting.Count == MostWaiting)
            {
                _waiting.Clear();
                told = new ChangeTold(Names(Enum.GetValues<Area>()), "", "", "");
            }

            _waiting.Add(told);
            _news.TrySetResult();
        }

        private static TaskCompletionSource New() => new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
