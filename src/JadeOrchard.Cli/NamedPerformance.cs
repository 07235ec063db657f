using JadeOrchard.Core.Performance;
using JadeOrchard.Formats.Performance;

namespace JadeOrchard.Cli;

/// <summary>Search performance of a file with the names of its pages and queries, by index.</summary>
internal sealed class NamedPerformance
{
    private readonly Dictionary<string, int> _pageOf = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> _queryOf = new(StringComparer.Ordinal);
    private readonly DailyPerformance.Builder _builder = new();
    private DailyPerformance? _daily;

    /// <summary>The pages as the file writes them first.</summary>
    public List<string> Urls { get; } = [];

    /// <summary>What pages are compared by.</summary>
    public List<string> Identities { get; } = [];

    /// <summary>Queries as the file first spells them; an empty one holds the anonymised queries.</summary>
    public List<string> Queries { get; } = [];

    /// <summary>Their normal forms.</summary>
    public List<string> Forms { get; } = [];

    /// <summary>All rows; none can be added once it was asked for.</summary>
    public DailyPerformance Daily => _daily ??= _builder.Build(Urls.Count);

    public void Add(PerformanceOnDay row)
    {
        if (!_pageOf.TryGetValue(row.Identity, out var page))
        {
            _pageOf[row.Identity] = page = Urls.Count;
            Urls.Add(row.Url);
            Identities.Add(row.Identity);
        }

        if (!_queryOf.TryGetValue(row.NormalForm, out var query))
        {
            _queryOf[row.NormalForm] = query = Queries.Count;
            Queries.Add(row.Query);
            Forms.Add(row.NormalForm);
        }

        _builder.Add(page, query, new DayFigures(row.Day.DayNumber, row.Clicks, row.Impressions, row.Position * row.Impressions));
    }

    /// <returns>The index of a page; null where the file has none.</returns>
    public int? PageOf(string identity) => _pageOf.TryGetValue(identity, out var page) ? page : null;
}
