using System.Collections.Immutable;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>A suggestion for the cluster of a slot.</summary>
/// <param name="Page">Index of the suggested page; null for none.</param>
/// <param name="Strength">0 to 100, of the suggested page; of the strongest one where none is suggested.</param>
/// <param name="LostTo">The slot whose cluster got this cluster's strongest page instead; null where none did.</param>
public readonly record struct SlotSuggestion(int? Page, Verdict Verdict, double Strength, int? LostTo);

/// <summary>The suggested pages of all clusters, each page for one cluster at most; after a change only what it touches is computed again.</summary>
/// <remarks>
/// Total strength is the greatest there can be. Strengths count to the millionth, and among equals a hash of the primary's normal form and the page's
/// address decides, so that the assignment is unique and depends on neither the order of clusters nor that of changes. About 250 bytes a cluster.
/// </remarks>
public sealed class SuggestionTable
{
    private const int HashBits = 24;

    private readonly ClusterTable _clusters;
    private readonly IReadOnlyList<Keyword> _keywords;
    private readonly PageCandidates _evidence;
    private readonly ulong[] _pageHashes;
    private readonly DynamicAssignment _assignment;
    private readonly List<CandidateStrength[]> _candidates = [];
    private readonly List<int>?[] _slotsWith;
    private readonly List<SlotSuggestion> _told = [];

    /// <param name="clusters">The clusters, changed by their owner.</param>
    /// <param name="keywords">Their keywords.</param>
    /// <param name="pages">The pages of the site.</param>
    /// <param name="evidence">Which pages are candidates for a cluster.</param>
    public SuggestionTable(ClusterTable clusters, IReadOnlyList<Keyword> keywords, IReadOnlyList<SitePage> pages, PageCandidates evidence)
    {
        (_clusters, _keywords, _evidence) = (clusters, keywords, evidence);
        _pageHashes = [.. pages.Select(p => Hash(p.Url))];
        _assignment = new DynamicAssignment(pages.Count);
        _slotsWith = new List<int>?[pages.Count];
    }

    /// <summary>The candidates of the clusters that were looked at last, strongest first.</summary>
    public Dictionary<int, ImmutableArray<PageEvidence>> Looked { get; } = [];

    /// <summary>Computes the suggestions of all clusters.</summary>
    public void Rebuild()
    {
        var slots = _clusters.InOrder();
        Look(slots);
        foreach (var slot in slots)
            IsNews(slot);
    }

    /// <summary>Takes over what became of clusters.</summary>
    /// <returns>The changed clusters, gone ones included, and all others whose suggestion is another now.</returns>
    public IReadOnlyCollection<int> Update(IReadOnlyList<ClusterChange> changes)
    {
        var pages = new HashSet<int>();
        foreach (var change in changes)
        {
            pages.UnionWith(CandidatesOf(change.Slot).Select(c => c.Page));
            if (change.After is null)
                Put(change.Slot, []);
        }

        Look([.. changes.Where(c => c.After is not null).OrderBy(c => _clusters.RankOf(c.Slot)).Select(c => c.Slot)]);
        var changed = changes.Select(c => c.Slot).ToHashSet();
        var touched = new HashSet<int>(changed);
        // A page with another owner matters to all clusters that it is a candidate for.
        foreach (var row in _assignment.Changed)
        {
            touched.Add(row);
            foreach (var candidate in CandidatesOf(row))
                touched.UnionWith(SlotsWith(candidate.Page));
        }

        foreach (var page in pages)
            touched.UnionWith(SlotsWith(page));
        _assignment.Changed.Clear();
        touched.RemoveWhere(slot => !IsNews(slot) && !changed.Contains(slot));
        return touched;
    }

    /// <returns>True where a suggestion is another than when this was asked last.</returns>
    private bool IsNews(int slot)
    {
        while (_told.Count <= slot)
            _told.Add(default);
        var (before, now) = (_told[slot], Of(slot));
        _told[slot] = now;
        return before != now;
    }

    /// <returns>What is suggested for a cluster.</returns>
    public SlotSuggestion Of(int slot)
    {
        var ranked = CandidatesOf(slot);
        var page = _assignment.ColumnOf(slot);
        int? lostTo = ranked.Length > 0 && ranked[0].Page != page && ranked[0].IsPossible && _assignment.RowOf(ranked[0].Page) is var winner and >= 0 ? winner : null;
        if (page < 0)
            return new SlotSuggestion(null, Verdict.None, ranked.Length > 0 ? ranked[0].Strength : 0, lostTo);
        var chosen = ranked[Array.FindIndex(ranked, e => e.Page == page)].Strength;
        return new SlotSuggestion(page, PageSuggestions.IsClear(ranked, page, chosen, p => _assignment.RowOf(p) >= 0) ? Verdict.Clear : Verdict.Doubtful, chosen, lostTo);
    }

    /// <returns>How a cluster counts as long as nothing is decided.</returns>
    /// <param name="slot">Its slot.</param>
    /// <param name="isTaken">True for a page that serves, or is suggested for, some cluster.</param>
    public MappedPage Undecided(int slot, Func<int, bool> isTaken) =>
        PageSuggestions.Undecided(CandidatesOf(slot), _assignment.ColumnOf(slot) is var page and >= 0 ? page : null, isTaken);

    /// <returns>The slots of the clusters that a page is a candidate for.</returns>
    public IReadOnlyList<int> SlotsWith(int page) => _slotsWith[page] ?? [];

    private CandidateStrength[] CandidatesOf(int slot) => slot < _candidates.Count ? _candidates[slot] : [];

    private void Look(int[] slots)
    {
        Looked.Clear();
        var found = new ImmutableArray<PageEvidence>[slots.Length];
        Parallel.For(0, slots.Length, i => found[i] = _evidence.Of(_clusters[slots[i]]!));
        for (var i = 0; i < slots.Length; i++)
        {
            Looked[slots[i]] = found[i];
            Put(slots[i], [.. found[i].Select(CandidateStrength.Of)]);
        }
    }

    private void Put(int slot, CandidateStrength[] candidates)
    {
        while (_candidates.Count <= slot)
            _candidates.Add([]);
        foreach (var candidate in _candidates[slot])
            _slotsWith[candidate.Page]!.Remove(slot);
        _candidates[slot] = candidates;
        foreach (var candidate in candidates)
            (_slotsWith[candidate.Page] ??= []).Add(slot);
        var hash = candidates.Length == 0 ? 0 : Hash(_keywords[_clusters[slot]!.Primary].NormalForm);
        _assignment.Set(slot, [.. candidates.Where(c => c.IsPossible).Select(c => (c.Page, Worth(c.Strength, hash, c.Page)))]);
    }

    private long Worth(double strength, ulong hash, int page) =>
        ((long)Math.Round(strength * 1e6) << HashBits) | (long)(XxHash64.HashToUInt64(MemoryMarshal.AsBytes<ulong>([hash, _pageHashes[page]])) >> (64 - HashBits));

    private static ulong Hash(string text) => XxHash64.HashToUInt64(MemoryMarshal.AsBytes(text.AsSpan()));
}
