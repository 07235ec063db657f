using System.Collections.Immutable;

namespace JadeOrchard.Core.Findings;

/// <summary>What has to be looked at to see a sign: after a change only the scopes that it touches are looked at again.</summary>
internal enum ScopeKind
{
    /// <summary>The results, queries and page of one cluster.</summary>
    Cluster,

    /// <summary>Two clusters that overlap.</summary>
    Pair,

    /// <summary>The clusters, links and visits of one page.</summary>
    Page,

    /// <summary>The links between the page of a supporting cluster and that of its pillar.</summary>
    Support,

    /// <summary>The titles, headings and texts of a group of pages.</summary>
    Twins,
}

/// <param name="Kind">What is looked at.</param>
/// <param name="A">Index of the cluster or page.</param>
/// <param name="B">Index of the second cluster; 0 where there is none.</param>
internal readonly record struct SignScope(ScopeKind Kind, int A, int B = 0);

/// <summary>All signs by where they were seen, and the findings that they are of.</summary>
internal sealed class SignTable
{
    private readonly Dictionary<SignScope, Placed> _placed = [];
    private readonly Dictionary<FindingIdentity, HashSet<SignScope>> _scopes = [];
    private readonly ConflictGroups _conflicts = new();
    private readonly Dictionary<string, HashSet<SignScope>> _scopesOfSet = new(StringComparer.Ordinal);
    private readonly HashSet<FindingIdentity> _touched = [];
    private readonly HashSet<SignScope> _unplaced = [];

    /// <summary>What there are findings about; to be asked after <see cref="TakeTouched"/> or once all signs were put.</summary>
    public IReadOnlyCollection<FindingIdentity> Identities
    {
        get
        {
            TakeTouched();
            return _scopes.Keys;
        }
    }

    public void Clear()
    {
        _placed.Clear();
        _scopes.Clear();
        _conflicts.Clear();
        _scopesOfSet.Clear();
        _touched.Clear();
        _unplaced.Clear();
    }

    /// <summary>Puts what is seen somewhere now in the place of what was seen there.</summary>
    public void Put(SignScope scope, ImmutableArray<Sign> signs)
    {
        if (_placed.Remove(scope, out var before))
        {
            Unplace(scope, before.Identities);
            if (before.Conflict is { } set)
            {
                _conflicts.Remove(before.Pages);
                Drop(_scopesOfSet, set, scope);
            }
        }

        if (signs.IsEmpty)
            return;
        int[] pages = [.. signs.Where(s => s.Finding == FindingKind.Conflict).SelectMany(s => s.Pages).Distinct().Order()];
        var conflict = pages.Length == 0 ? null : ConflictGroups.Name(pages);
        if (conflict is not null)
        {
            _conflicts.Add(pages);
            Of(_scopesOfSet, conflict).Add(scope);
        }

        // Those of a conflict are placed once all conflicts are known.
        _placed[scope] = new Placed(signs, pages, conflict, Place(scope, [.. signs.Where(s => s.Finding != FindingKind.Conflict).Select(s => IdentityOf(s, scope)).Distinct()]));
        if (conflict is not null)
            _unplaced.Add(scope);
    }

    /// <summary>Has the findings that a scope has signs of made again.</summary>
    public void Touch(SignScope scope)
    {
        if (_placed.TryGetValue(scope, out var placed))
            _touched.UnionWith(placed.Identities);
    }

    /// <returns>The findings of which some signs were put, or belong to them or to another now, since this was asked last.</returns>
    public IReadOnlyCollection<FindingIdentity> TakeTouched()
    {
        foreach (var (set, _) in _conflicts.Moved())
            _unplaced.UnionWith(_scopesOfSet.GetValueOrDefault(set, []));
        foreach (var scope in _unplaced)
        {
            if (!_placed.TryGetValue(scope, out var placed) || placed.Conflict is not { } set)
                continue;
            FindingIdentity[] others = [.. placed.Identities.Where(i => i.Kind != FindingKind.Conflict)];
            Unplace(scope, placed.Identities);
            _placed[scope] = placed with { Identities = Place(scope, [new FindingIdentity(FindingKind.Conflict, _conflicts.LeadOf(set)), .. others]) };
        }

        _unplaced.Clear();
        FindingIdentity[] touched = [.. _touched];
        _touched.Clear();
        return touched;
    }

    /// <returns>The signs of a finding; none where nothing shows it.</returns>
    public IReadOnlyCollection<Sign> Of(FindingIdentity identity) =>
        [.. _scopes.GetValueOrDefault(identity, []).SelectMany(scope => _placed[scope].Signs.Where(s => IsOf(s, scope, identity)))];

    private static bool IsOf(Sign sign, SignScope scope, FindingIdentity identity) =>
        sign.Finding == identity.Kind && (identity.Kind == FindingKind.Conflict || IdentityOf(sign, scope) == identity);

    private static FindingIdentity IdentityOf(Sign sign, SignScope scope) => sign.Finding switch
    {
        FindingKind.Uncovered => FindingIdentity.At(FindingKind.Uncovered, sign.Cluster!.Value),
        FindingKind.PageGap => FindingIdentity.At(FindingKind.PageGap, sign.Page!.Value),
        FindingKind.MissingLinks => FindingIdentity.At(FindingKind.MissingLinks, sign.OtherCluster!.Value),
        FindingKind.Twins => FindingIdentity.At(FindingKind.Twins, scope.A),
        _ => new FindingIdentity(FindingKind.IdlePages, sign.Folder!),
    };

    private FindingIdentity[] Place(SignScope scope, FindingIdentity[] identities)
    {
        foreach (var identity in identities)
            Of(_scopes, identity).Add(scope);
        _touched.UnionWith(identities);
        return identities;
    }

    private void Unplace(SignScope scope, FindingIdentity[] identities)
    {
        foreach (var identity in identities)
            Drop(_scopes, identity, scope);
        _touched.UnionWith(identities);
    }

    private static HashSet<SignScope> Of<TKey>(Dictionary<TKey, HashSet<SignScope>> sets, TKey key)
        where TKey : notnull => sets.TryGetValue(key, out var known) ? known : sets[key] = [];

    private static void Drop<TKey>(Dictionary<TKey, HashSet<SignScope>> sets, TKey key, SignScope scope)
        where TKey : notnull
    {
        if (!sets.TryGetValue(key, out var set))
            return;
        set.Remove(scope);
        if (set.Count == 0)
            sets.Remove(key);
    }

    /// <param name="Pages">The pages of its conflict, ascending; none where there is none.</param>
    /// <param name="Conflict">The name of that set; null where there is none.</param>
    private readonly record struct Placed(ImmutableArray<Sign> Signs, int[] Pages, string? Conflict, FindingIdentity[] Identities);
}
