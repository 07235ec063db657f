using System.Diagnostics;

namespace JadeOrchard.Formats.Site;

/// <summary>A page that cannot be read within the bounds that are set for all.</summary>
public sealed class UnreadablePageException(string message, Exception? cause = null) : Exception(message, cause);

/// <summary>Bounds what reading one page may take, and ends it where it is to stop.</summary>
internal sealed class Effort(CancellationToken stop)
{
    private const int MostSteps = 5_000_000;
    private const int StepsPerLook = 256;
    private static readonly TimeSpan MostTime = TimeSpan.FromSeconds(10);
    private readonly long _began = Stopwatch.GetTimestamp();
    private int _steps;

    /// <summary>To be called for each element that is made, and each node that is looked at.</summary>
    /// <exception cref="UnreadablePageException">It takes too much.</exception>
    /// <exception cref="OperationCanceledException">It is to stop.</exception>
    public void Spend()
    {
        if (++_steps % StepsPerLook != 0)
            return;
        stop.ThrowIfCancellationRequested();
        if (_steps > MostSteps)
            throw new UnreadablePageException("has more elements than can be read");
        if (Stopwatch.GetElapsedTime(_began) > MostTime)
            throw new UnreadablePageException($"takes longer than {MostTime.TotalSeconds:0} seconds to read");
    }
}
