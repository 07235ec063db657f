namespace JadeOrchard.Storage;

/// <summary>Kinds of data that derived data follow from. What an id means stands beside each.</summary>
[Flags]
public enum Data
{
    None = 0,

    /// <summary>Site, market, brand terms, rules of intent, click curve. No ids.</summary>
    Project = 1 << 0,

    /// <summary>Depth, minimum overlap, linking rule, excluded hosts. No ids.</summary>
    Grouping = 1 << 1,

    /// <summary>Keywords that came, went or have other numbers, by keyword.</summary>
    Keywords = 1 << 2,

    /// <summary>Result lists and failed captures, by keyword.</summary>
    Results = 1 << 3,

    /// <summary>Pages of the site, by page. A planned page is none of the site's yet: see <see cref="PageMap"/>.</summary>
    Pages = 1 << 4,

    /// <summary>Search performance. No ids.</summary>
    Performance = 1 << 5,

    /// <summary>Members and primaries of clusters, by cluster.</summary>
    Clusters = 1 << 6,

    /// <summary>Pages of clusters, and clusters that are to have none, by cluster.</summary>
    PageMap = 1 << 7,

    /// <summary>Topics and pillars, by cluster.</summary>
    Topics = 1 << 8,

    /// <summary>What the planner decided of findings, by decision.</summary>
    Decisions = 1 << 9,

    /// <summary>Deliberate pairs, by page.</summary>
    Pairs = 1 << 10,

    /// <summary>Results, pages as they were read, or search performance newer than before: what was resolved may be open again. No ids.</summary>
    Evidence = 1 << 11,

    /// <summary>Derived: how well keywords fit their clusters. No ids.</summary>
    Fits = 1 << 12,

    /// <summary>Derived: suggested pages, by cluster.</summary>
    Suggestions = 1 << 13,

    /// <summary>Derived: findings, by cluster.</summary>
    Findings = 1 << 14,

    /// <summary>Derived: demand and coverage of clusters, by cluster.</summary>
    ClusterFacts = 1 << 15,

    /// <summary>Topics are to be rebuilt. No ids.</summary>
    TopicsRebuild = 1 << 16,

    /// <summary>When findings were first seen and went away, as an undo brought it back, by row.</summary>
    FindingsSeen = 1 << 17,

    /// <summary>Derived: which brand terms are also what the site is about. No ids.</summary>
    Brands = 1 << 18,

    /// <summary>Keywords that are or are not expected in a cluster any more, since others speak for them, they came into a cluster, or were declined, by keyword.</summary>
    Expected = 1 << 19,

    /// <summary>Derived: expected members of clusters, by cluster.</summary>
    ExpectedMembers = 1 << 20,

    /// <summary>All that the image of keywords, results, pages and performance in memory is made of.</summary>
    Image = Project | Brands | Keywords | Results | Pages | Performance,
}

/// <summary>What a change touched, by kind and, where it is told, by id.</summary>
public sealed class Touched
{
    private readonly Dictionary<Data, HashSet<long>?> _ids = [];

    /// <summary>Nothing was touched.</summary>
    public bool IsEmpty => _ids.Count == 0;

    /// <summary>All kinds that were touched.</summary>
    public Data Kinds { get; private set; }

    /// <returns>True where at least one of the kinds was touched.</returns>
    public bool Any(Data kinds) => (Kinds & kinds) != 0;

    /// <returns>True where all of a kind may have changed.</returns>
    public bool IsAll(Data kind) => _ids.TryGetValue(kind, out var ids) && ids is null;

    /// <returns>The ids of a kind that were touched; empty where none were. Null where all may have changed.</returns>
    public HashSet<TId>? Ids<TId>(Data kind)
        where TId : struct, IId<TId> => !_ids.TryGetValue(kind, out var ids) ? [] : ids is null ? null : [.. ids.Select(TId.Of)];

    /// <summary>Adds what something else touched.</summary>
    public void Add(Touched other)
    {
        Kinds |= other.Kinds;
        foreach (var (kind, ids) in other._ids)
        {
            if (ids is null)
                _ids[kind] = null;
            else if (!_ids.TryGetValue(kind, out var known))
                _ids[kind] = [.. ids];
            else
                known?.UnionWith(ids);
        }
    }

    internal void AddAll(Data kind)
    {
        Kinds |= kind;
        _ids[kind] = null;
    }

    internal void Add(Data kind, long id)
    {
        Kinds |= kind;
        if (!_ids.TryGetValue(kind, out var known))
            _ids[kind] = known = [];
        known?.Add(id);
    }
}
