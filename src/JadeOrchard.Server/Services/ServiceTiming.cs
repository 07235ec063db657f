namespace JadeOrchard.Server.Services;

/// <summary>How patient requests to services are. Tests are less so.</summary>
/// <param name="Attempt">One try may take this long.</param>
/// <param name="Tries">Tries in all.</param>
/// <param name="FirstWait">Before the second try; doubled each time, with some chance in it.</param>
/// <param name="LongestWait">No wait is longer, whatever a service asks for.</param>
/// <param name="FailuresInARow">Failures in a row after which the service is left alone.</param>
public sealed record ServiceTiming(TimeSpan Attempt, int Tries, TimeSpan FirstWait, TimeSpan LongestWait, int FailuresInARow)
{
    public static ServiceTiming Default { get; } = new(TimeSpan.FromSeconds(30), 5, TimeSpan.FromSeconds(1), TimeSpan.FromMinutes(2), 8);
}
