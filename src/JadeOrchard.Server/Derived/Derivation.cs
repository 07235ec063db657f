using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Server.Derived;

/// <summary>One run of the chain: what was touched, and what the steps share.</summary>
internal sealed class Derivation(WriteSession session, Project project, Workspace workspace)
{
    private Board? _board;

    public WriteSession Session => session;

    /// <summary>What was touched since the step ran last.</summary>
    public Touched Touched { get; set; } = new();

    /// <summary>All that was touched since the chain began, or began again.</summary>
    public Touched Pass { get; private set; } = new();

    /// <summary>Goes through the steps once more, after others wrote.</summary>
    public void BeginAgain() => (Pass, _board) = (new Touched(), null);

    public Project Project => project;

    public DateTimeOffset Now => project.Now;

    /// <summary>What changed of findings, for what counts them.</summary>
    public FindingChanges FindingChanges { get; } = new();

    /// <summary>The image of keywords, results, pages and performance, as this change left them.</summary>
    public ProjectSnapshot Snapshot => project.Snapshot(session);

    /// <summary>Null where a step has to look at everything; else the clusters that were touched in a way.</summary>
    public IReadOnlySet<ClusterId>? ClustersTouched(Data kinds)
    {
        if (Touched.Any(kinds & (Data.Image | Data.Grouping)))
            return null;
        var ids = new HashSet<ClusterId>();
        foreach (var kind in new[] { Data.Clusters, Data.PageMap, Data.Topics, Data.Suggestions, Data.Findings, Data.ClusterFacts })
        {
            if (!kinds.HasFlag(kind) || !Touched.Any(kind))
                continue;
            if (Touched.Ids<ClusterId>(kind) is not { } some)
                return null;
            ids.UnionWith(some);
        }

        return ids;
    }

    /// <summary>The clusters as this change left them, in memory; null before the first grouping.</summary>
    public Board? Board => _board ??= workspace.Of(session, this);

    public bool HasBoard => _board is not null;

    /// <summary>Preloads, so the next edit is fast.</summary>
    public void Prepare() => Board?.Prepare(session);
}

/// <summary>What makes steps incremental, kept from one change to the next. Belongs to the writer alone.</summary>
internal sealed class Workspace
{
    private Board? _board;

    /// <summary>Forgets everything, after a change that was rolled back.</summary>
    public void Clear() => _board = null;

    public Board? Of(WriteSession session, Derivation derivation)
    {
        if (!Board.HasClusters(session))
            return _board = null;
        if (_board is { } kept && kept.Apply(session, derivation))
            return kept;
        _board = null;
        return _board = Board.Load(session, derivation.Snapshot);
    }
}
