using System.Collections.Immutable;

namespace JadeOrchard.Core.Plan;

/// <summary>Somebody who works on steps.</summary>
/// <param name="Name">As owners are called.</param>
/// <param name="HoursPerWeek">From 0.</param>
/// <param name="DaysOff">Each takes a fifth of the hours of its week; Saturdays and Sundays take none.</param>
public sealed record Person(string Name, double HoursPerWeek, IReadOnlyList<DateOnly> DaysOff)
{
    /// <returns>Hours in the week that begins on a Monday.</returns>
    public double HoursIn(DateOnly monday)
    {
        var off = DaysOff.Where(d => d >= monday && d < monday.AddDays(5)).Distinct().Count();
        return HoursPerWeek * (5 - off) / 5;
    }
}

/// <summary>A step as far as the roadmap needs it.</summary>
/// <param name="Hours">More than 0.</param>
/// <param name="Gain">Clicks a month.</param>
/// <param name="Owner">A person's name; null or another name for whoever is free first.</param>
/// <param name="Due">A date that stays; null for none.</param>
/// <param name="Week">The Monday of the week that the planner chose; null for none.</param>
/// <param name="Season">When it has to be done because of a season: it keeps its place in the order, unless it would come too late; null for none.</param>
public sealed record RoadmapStep(double Hours, double Gain, string? Owner = null, DateOnly? Due = null, DateOnly? Week = null, DateOnly? Season = null);

/// <summary>A step's place in the roadmap.</summary>
/// <param name="Step">Index.</param>
/// <param name="Person">Index of who does it; -1 where nobody has hours for it.</param>
/// <param name="First">Monday of the week in which it begins; null where it does not fit before the end.</param>
/// <param name="Last">Monday of the week in which it ends.</param>
/// <param name="IsLate">It ends after its due date.</param>
public readonly record struct RoadmapPlace(int Step, int Person, DateOnly? First, DateOnly? Last, bool IsLate);

/// <summary>A step that a due date pushed back.</summary>
/// <param name="Step">Index of the step that begins later.</param>
/// <param name="Weeks">How many weeks later; 0 where it does not fit any more.</param>
public readonly record struct Displaced(int Step, int Weeks);

/// <summary>Steps week by week, as far as people's hours go.</summary>
/// <param name="Places">In the order of the steps as they were given.</param>
/// <param name="Displaced">For each step with a due date or a week of its own what had to give way for all of them, most weeks first.</param>
public sealed record Roadmap(ImmutableArray<RoadmapPlace> Places, ImmutableArray<Displaced> Displaced)
{
    /// <summary>The most weeks of a roadmap.</summary>
    public const int MostWeeks = 520;

    /// <summary>Hours less than this are no hours.</summary>
    private const double Tiny = 1e-9;

    /// <returns>The Monday of a day's week (ISO 8601).</returns>
    public static DateOnly MondayOf(DateOnly day) => day.AddDays(-(((int)day.DayOfWeek + 6) % 7));

    /// <summary>Fills weeks in order: each step goes into the first week in which it fits whole; one that is longer than any week takes what is free from week to week.</summary>
    /// <remarks>Fixed steps are placed first, so that they end in the week of their due date, or begin in the week given. Steps × weeks × people at most.</remarks>
    /// <param name="steps">The steps.</param>
    /// <param name="order">All of them, what is done first first.</param>
    /// <param name="before">Pairs: the first ends before the second begins, or in the same week.</param>
    /// <param name="people">At least one has hours, or nothing fits.</param>
    /// <param name="start">The first day; its week counts as a whole.</param>
    /// <param name="end">The last day; null for as long as it takes.</param>
    public static Roadmap Of(
        IReadOnlyList<RoadmapStep> steps, IReadOnlyList<int> order, IReadOnlyCollection<(int First, int Then)> before, IReadOnlyList<Person> people, DateOnly start, DateOnly? end)
    {
        var places = Fill(steps, order, before, people, start, end, keepsFixed: true);
        // What would miss its season is brought forward, which may make others miss theirs.
        while (true)
        {
            var missed = Enumerable.Range(0, steps.Count).Where(i => steps[i] is { Due: null, Week: null, Season: { } by } && (places[i].Last is not { } ends || ends > by)).ToHashSet();
            if (missed.Count == 0)
                break;
            steps = [.. steps.Select((s, i) => missed.Contains(i) ? s with { Due = s.Season } : s)];
            places = Fill(steps, order, before, people, start, end, keepsFixed: true);
        }

        if (steps.All(s => s.Due is null && s.Week is null))
            return new Roadmap(places, []);
        var free = Fill(steps, order, before, people, start, end, keepsFixed: false);
        var displaced = Enumerable.Range(0, steps.Count)
            .Where(i => steps[i] is { Due: null, Week: null } && free[i].First is { } then && (places[i].First is not { } now || now > then))
            .Select(i => new Displaced(i, places[i].First is { } now ? (now.DayNumber - free[i].First!.Value.DayNumber) / 7 : 0))
            .OrderByDescending(d => d.Weeks == 0).ThenByDescending(d => d.Weeks).ThenBy(d => d.Step);
        return new Roadmap(places, [.. displaced]);
    }

    private static ImmutableArray<RoadmapPlace> Fill(
        IReadOnlyList<RoadmapStep> steps, IReadOnlyList<int> order, IReadOnlyCollection<(int First, int Then)> before, IReadOnlyList<Person> people, DateOnly start, DateOnly? end, bool keepsFixed)
    {
        var monday = MondayOf(start);
        var weeks = end is { } last ? Math.Clamp(((MondayOf(last).DayNumber - monday.DayNumber) / 7) + 1, 0, MostWeeks) : MostWeeks;
        var hours = people.Select(p => new Hours(p, monday, weeks)).ToArray();
        var byName = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var p = 0; p < people.Count; p++)
            byName.TryAdd(people[p].Name, p);
        var needs = before.ToLookup(b => b.Then, b => b.First);
        var places = new RoadmapPlace[steps.Count];
        var isPlaced = new bool[steps.Count];
        if (keepsFixed)
        {
            foreach (var i in order.Where(i => steps[i].Due is not null || steps[i].Week is not null))
                Place(i, steps[i].Week is { } given ? (given.DayNumber - monday.DayNumber) / 7 : null, steps[i].Due is { } due ? (MondayOf(due).DayNumber - monday.DayNumber) / 7 : null);
        }

        foreach (var i in order.Where(i => !isPlaced[i]))
            Place(i, null, null);
        return [.. places];

        void Place(int i, int? given, int? due)
        {
            var earliest = 0;
            foreach (var first in needs[i])
            {
                if (isPlaced[first] && places[first].Last is { } ends)
                    earliest = Math.Max(earliest, (ends.DayNumber - monday.DayNumber) / 7);
                else if (isPlaced[first])
                    earliest = weeks;
            }

            IEnumerable<int> candidates = steps[i].Owner is { } owner && byName.TryGetValue(owner, out var own) ? [own] : Enumerable.Range(0, people.Count);
            var (best, person) = (default((int First, int Last)?), -1);
            foreach (var p in candidates)
            {
                var found = given is { } week ? hours[p].From(Math.Max(0, week), steps[i].Hours)
                    : due is { } end ? hours[p].Until(end, earliest, steps[i].Hours) ?? hours[p].From(earliest, steps[i].Hours)
                    : hours[p].From(earliest, steps[i].Hours);
                if (found is { } f && (best is not { } b || Compare(f, b, due) is var by && (by < 0 || (by == 0 && hours[p].FreeIn(f.Last) > hours[person].FreeIn(b.Last)))))
                    (best, person) = (f, p);
            }

            isPlaced[i] = true;
            if (best is not { } place)
            {
                places[i] = new RoadmapPlace(i, -1, null, null, steps[i].Due is not null);
                return;
            }

            hours[person].Take(place, steps[i].Hours);
            var (from, to) = (monday.AddDays(7 * place.First), monday.AddDays(7 * place.Last));
            places[i] = new RoadmapPlace(i, person, from, to, steps[i].Due is { } date && to > date);
        }
    }

    /// <summary>The earlier end is better, and before a due date the later beginning.</summary>
    private static int Compare((int First, int Last) a, (int First, int Last) b, int? due) =>
        due is { } by && a.Last <= by && b.Last <= by ? b.First.CompareTo(a.First) : a.Last.CompareTo(b.Last);

    /// <summary>The free hours of one person.</summary>
    private sealed class Hours
    {
        private readonly double[] _free;
        private readonly double _most;
        private int _full;

        public Hours(Person person, DateOnly monday, int weeks)
        {
            var off = person.DaysOff.Where(d => d.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday)).Distinct().CountBy(MondayOf).ToDictionary();
            _free = [.. Enumerable.Range(0, weeks).Select(w => person.HoursPerWeek * (5 - off.GetValueOrDefault(monday.AddDays(7 * w))) / 5)];
            _most = person.HoursPerWeek;
        }

        /// <returns>The first weeks, from a given one, with enough free hours.</returns>
        public (int First, int Last)? From(int week, double hours)
        {
            while (_full < _free.Length && _free[_full] <= Tiny)
                _full++;
            for (var w = Math.Max(week, _full); w < _free.Length; w++)
            {
                if (_free[w] + Tiny >= hours)
                    return (w, w);
                if (hours > _most && _free[w] > Tiny && Through(w, hours) is { } last)
                    return (w, last);
            }

            return null;
        }

        /// <returns>The last weeks, up to a given one, with enough free hours.</returns>
        public (int First, int Last)? Until(int week, int earliest, double hours)
        {
            for (var w = Math.Min(week, _free.Length - 1); w >= Math.Max(0, earliest); w--)
            {
                if (_free[w] + Tiny >= hours)
                    return (w, w);
                if (hours > _most && _free[w] > Tiny && Through(w, hours) is { } last && last <= week)
                    return (w, last);
            }

            return null;
        }

        public double FreeIn(int week) => _free[week];

        public void Take((int First, int Last) weeks, double hours)
        {
            for (var w = weeks.First; w <= weeks.Last; w++)
            {
                var taken = Math.Min(_free[w], hours);
                _free[w] -= taken;
                hours -= taken;
            }
        }

        private int? Through(int first, double hours)
        {
            for (var w = first; w < _free.Length; w++)
            {
                hours -= _free[w];
                if (hours <= Tiny)
                    return w;
            }

            return null;
        }
    }
}
