using System.Collections.Immutable;

namespace JadeOrchard.Core.Clusters;

/// <summary>Keywords that one page can win together.</summary>
/// <param name="Primary">Index of the primary keyword.</param>
/// <param name="Members">Indexes of all its keywords in keyword order; the primary is the first.</param>
public sealed record Cluster(int Primary, ImmutableArray<int> Members);
