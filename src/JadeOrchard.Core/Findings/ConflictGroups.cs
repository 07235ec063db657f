namespace JadeOrchard.Core.Findings;

/// <summary>Which conflicts are one: those about the same pages, or about some of the pages of a larger one.</summary>
/// <remarks>Cost: for each set of pages the sets that have its rarest page.</remarks>
internal sealed class ConflictGroups
{
    private readonly Dictionary<string, (int[] Pages, int Count)> _sets = new(StringComparer.Ordinal);
    private Dictionary<string, string> _leads = new(StringComparer.Ordinal);
    private bool _isCurrent = true;

    /// <summary>The name of a set of pages.</summary>
    /// <param name="pages">Ascending, each once.</param>
    public static string Name(IEnumerable<int> pages) => string.Join(':', pages);

    public void Clear()
    {
        _sets.Clear();
        _isCurrent = false;
    }

    public void Add(int[] pages)
    {
        var name = Name(pages);
        var count = _sets.TryGetValue(name, out var known) ? known.Count : 0;
        _sets[name] = (pages, count + 1);
        _isCurrent &= count > 0;
    }

    public void Remove(int[] pages)
    {
        var name = Name(pages);
        var known = _sets[name];
        if (known.Count > 1)
        {
            _sets[name] = known with { Count = known.Count - 1 };
            return;
        }

        _sets.Remove(name);
        _isCurrent = false;
    }

    /// <returns>The name of the set that a set belongs to: itself, or the smallest that is part of no other and has all its pages (the first by name among equals).</returns>
    public string LeadOf(string name)
    {
        Update();
        return _leads[name];
    }

    /// <returns>The sets that belong to another one than before, with the one before; to be called after all were added and removed.</returns>
    public IReadOnlyList<(string Set, string Before)> Moved()
    {
        if (_isCurrent)
            return [];
        var before = _leads;
        Update();
        return [.. before.Where(b => _leads.TryGetValue(b.Key, out var now) && now != b.Value).Select(b => (b.Key, b.Value))];
    }

    private void Update()
    {
        if (_isCurrent)
            return;
        _isCurrent = true;
        _leads = new Dictionary<string, string>(StringComparer.Ordinal);
        var having = new Dictionary<int, List<(string Name, HashSet<int> Pages)>>();
        foreach (var (name, (pages, _)) in _sets.OrderByDescending(s => s.Value.Pages.Length).ThenBy(s => s.Key, StringComparer.Ordinal))
        {
            var around = pages.Select(p => having.GetValueOrDefault(p, [])).MinBy(h => h.Count)!
                .Where(h => h.Pages.Count > pages.Length && pages.All(h.Pages.Contains))
                .OrderBy(h => h.Pages.Count).ThenBy(h => h.Name, StringComparer.Ordinal)
                .Select(h => h.Name).FirstOrDefault();
            _leads[name] = around ?? name;
            if (around is not null)
                continue;
            var set = pages.ToHashSet();
            foreach (var page in pages)
            {
                if (!having.TryGetValue(page, out var with))
                    having[page] = with = [];
                with.Add((name, set));
            }
        }
    }
}
