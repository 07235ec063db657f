using System.Diagnostics;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Refresh;

/// <summary>What changes of pages did, measured once and kept until search performance or the changes around them are others.</summary>
public sealed class ChangeEffects
{
    private readonly Lock _lock = new();
    private readonly Dictionary<(int Page, int Day, ulong Near), ChangeEffect> _known = [];
    private readonly KeptAnswers<List<ChangeSet>> _sets = new(1);
    private string _image = "";
    private long[][] _clicks = [];

    /// <summary>A list waits for so long at most, and comes with what has been measured by then.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(1.5);

    internal ChangeBoard Board(Session session, ProjectSnapshot snapshot, QueryImages images)
    {
        var sets = _sets.Of(session.Writes, "", () => ChangeSet.Of(ChangeStore.All(session)).Where(s => snapshot.IndexOfPage.ContainsKey(s.PageId)).ToList());
        var image = PerformanceStore.Days(session) == 0 ? null : images.Image(session, snapshot);
        return new ChangeBoard(this, snapshot, image, sets);
    }

    /// <returns>For each set its effect; null for those that were not reached in time.</returns>
    internal ChangeEffect?[] Of(QueryImage image, IReadOnlyList<(int Page, int Day, IReadOnlySet<int> Near)> changes)
    {
        lock (_lock)
        {
            ReadClicks(image);
            var effects = new ChangeEffect?[changes.Count];
            var missing = new List<int>();
            var hashes = new Dictionary<IReadOnlySet<int>, ulong>(ReferenceEqualityComparer.Instance);
            ulong[] keys = [.. changes.Select(c => hashes.TryGetValue(c.Near, out var hash) ? hash : hashes[c.Near] = XxHash64.HashToUInt64(MemoryMarshal.AsBytes(c.Near.Order().ToArray().AsSpan())))];
            for (var i = 0; i < effects.Length; i++)
            {
                if (_known.TryGetValue((changes[i].Page, changes[i].Day, keys[i]), out var known))
                    effects[i] = known;
                else
                    missing.Add(i);
            }

            var clock = Stopwatch.StartNew();
            Parallel.ForEach(missing, (i, state) =>
            {
                if (clock.Elapsed > Patience)
                    state.Stop();
                else
                    effects[i] = ChangeEffect.Of(_clicks, changes[i].Page, changes[i].Day, changes[i].Near);
            });
            foreach (var i in missing)
            {
                if (effects[i] is { } effect)
                    _known[(changes[i].Page, changes[i].Day, keys[i])] = effect;
            }

            return effects;
        }
    }

    /// <returns>What a page would have got without its change.</returns>
    internal double[]? CourseOf(QueryImage image, int page, int day, IReadOnlySet<int> near)
    {
        lock (_lock)
        {
            ReadClicks(image);
            return ChangeEffect.CourseOf(_clicks, page, day, near);
        }
    }

    private void ReadClicks(QueryImage image)
    {
        if (_image == image.Key)
            return;
        _known.Clear();
        // Most pages have hardly any clicks, and are no measure of others.
        var none = new long[image.Daily.Days];
        _clicks = [.. image.Daily.ClicksByPage.Select(c => c.All(d => d == 0) ? none : c)];
        _image = image.Key;
    }
}

/// <summary>All changes of pages, with what they did.</summary>
internal sealed class ChangeBoard
{
    private readonly ChangeEffects _effects;
    private readonly QueryImage? _image;
    private readonly IReadOnlyList<(int Page, int Day, IReadOnlySet<int> Near)> _changes;

    public ChangeBoard(ChangeEffects effects, ProjectSnapshot snapshot, QueryImage? image, IReadOnlyList<ChangeSet> sets)
    {
        (_effects, _image, Snapshot, Sets) = (effects, image, snapshot, sets);
        var near = ChangeSet.Near(sets, p => snapshot.IndexOfPage.GetValueOrDefault(p, -1));
        _changes = image is null ? [] : [.. sets.Select((s, i) => (snapshot.IndexOfPage[s.PageId], s.Day.DayNumber - image.Daily.First.DayNumber, near[i]))];
        Effects = image is null ? new ChangeEffect?[sets.Count] : effects.Of(image, _changes);
    }

    public ProjectSnapshot Snapshot { get; }

    /// <summary>The newest first.</summary>
    public IReadOnlyList<ChangeSet> Sets { get; }

    /// <summary>By set; null where nothing is known of it, or not yet.</summary>
    public ChangeEffect?[] Effects { get; }

    public bool HasPerformance => _image is not null;

    /// <summary>Some effects were not measured in time; asked again, they are there soon.</summary>
    public bool IsMeasuring => _image is not null && Effects.Any(e => e is null);

    /// <returns>What the page got in the 28 days before a change, and in as many after it as are known, at most 28.</returns>
    public (QuerySpan Before, QuerySpan After)? Spans(int set)
    {
        if (_image is not { Daily: var daily })
            return null;
        var day = Sets[set].Day;
        return (Sum(day.AddDays(-Fading.Days), day.AddDays(-1)), Sum(day, day.AddDays(Fading.Days - 1)));

        QuerySpan Sum(DateOnly from, DateOnly to)
        {
            var (clicks, impressions, weighted) = (0L, 0L, 0.0);
            for (var pair = daily.PairsOf(_changes[set].Page).Start.Value; pair < daily.PairsOf(_changes[set].Page).End.Value; pair++)
            {
                var span = daily.Sum(pair, from, to);
                (clicks, impressions, weighted) = (clicks + span.Clicks, impressions + span.Impressions, weighted + (span.Position * span.Impressions));
            }

            return new QuerySpan(clicks, impressions, impressions == 0 ? 0 : weighted / impressions);
        }
    }

    /// <returns>Day by day around a change what the page got, and what it would have got without it.</returns>
    public IEnumerable<(DateOnly Day, long? Clicks, double? Expected)> Course(int set)
    {
        if (_image is not { Daily: var daily })
            yield break;
        var (page, day, near) = _changes[set];
        if (day < 0)
            yield break;
        var expected = _effects.CourseOf(_image, page, day, near);
        var days = daily.DaysOfPage(page);
        for (var at = Math.Max(0, day - ChangeEffect.DaysBefore); at < Math.Min(days.Length, day + Fading.Days); at++)
        {
            var date = daily.First.AddDays(at);
            var index = at - day + ChangeEffect.DaysBefore;
            yield return (date, days[at]?.Clicks ?? (daily.HasDay(date) ? 0 : null), expected is not null && index >= 0 && index < expected.Length ? expected[index] : null);
        }
    }
}
