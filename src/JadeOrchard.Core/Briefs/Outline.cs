using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>A section of an outline.</summary>
/// <param name="Level">2, or 3 for one that belongs to the section before it.</param>
/// <param name="Heading">As most ranking pages have it, or as the keyword that it is made for.</param>
/// <param name="Pages">Ranking pages that have it; 0 where it is made for what none of them has.</param>
/// <param name="IsOurs">Our page has it already.</param>
/// <param name="Keywords">Keywords that it serves, by index.</param>
/// <param name="Questions">Questions that it answers, by index.</param>
/// <param name="Terms">Terms that belong there, by index.</param>
public sealed record OutlineSection(int Level, string Heading, int Pages, bool IsOurs, ImmutableArray<int> Keywords, ImmutableArray<int> Questions, ImmutableArray<int> Terms)
{
    /// <summary>The ranking pages that have it, by index.</summary>
    public IReadOnlyList<int> On { get; init; } = [];

    /// <summary>No ranking page has it, but ours.</summary>
    public bool IsOnlyOurs => IsOurs && Pages == 0;
}

/// <summary>An outline that is proposed for a page (DESIGN.md 4.15).</summary>
/// <param name="Sections">In the order in which ranking pages have them.</param>
/// <param name="Lacking">Sections, by index, that all ranking pages have and ours has not; none where we have no page yet.</param>
public sealed record Outline(ImmutableArray<OutlineSection> Sections, ImmutableArray<int> Lacking)
{
    /// <summary>Ranking pages that must have a heading for it to be a section.</summary>
    private const int FewestPages = 2;

    /// <summary>Sections that ranking pages give.</summary>
    private const int MostFromPages = 12;

    /// <summary>Sections that only our page has; of its third headings none.</summary>
    private const int MostOnlyOurs = 6;

    /// <summary>Sections that are made for keywords which no other serves.</summary>
    private const int MostFromKeywords = 4;

    /// <summary>Headings are one where they share this much of their stems (common practice).</summary>
    private const double Alike = 0.5;

    /// <summary>Headings on most pages of a host are its furniture, where at least this many were read.</summary>
    private const int FewestOfHost = 3;

    /// <summary>Of a host of which this many pages were read, headings on a tenth of them are.</summary>
    private const int ManyOfHost = 50;

    /// <param name="keywords">Of the page, the primary first.</param>
    /// <param name="questions">To answer, most asked first.</param>
    /// <param name="terms">Of the ranking pages.</param>
    /// <param name="ranking">The ranking pages, the strongest first.</param>
    /// <param name="own">Our page; null where there is none yet.</param>
    /// <param name="all">All pages that were read, by which the headings of a host's furniture are told.</param>
    /// <param name="analysis">For the language; used by nobody else meanwhile.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <param name="questionsHeading">Of the section for questions that no other answers.</param>
    public static Outline Of(
        IReadOnlyList<Keyword> keywords, IReadOnlyList<string> questions, IReadOnlyList<Term> terms, IReadOnlyList<PageText> ranking, PageText? own, IReadOnlyList<PageText> all, TextAnalysis analysis,
        string language = "en", string questionsHeading = "Questions")
    {
        // Words by which people ask, and those that only join others, tell no sections apart.
        var small = FunctionWords.Words(language).Concat(LanguageWords.Has(language) ? LanguageWords.Of(language).Questions.All : []).SelectMany(analysis.Stems).ToHashSet(StringComparer.Ordinal);
        HashSet<string> StemsOf(string text) => analysis.Stems(KeywordNormalForm.Of(text)).ToHashSet(StringComparer.Ordinal) is var stems && stems.Except(small).ToHashSet(StringComparer.Ordinal) is { Count: > 0 } telling ? telling : stems;
        var subject = keywords.Count == 0 ? [] : StemsOf(keywords[0].NormalForm);
        // Where somebody is or buys asks for no section.
        var qualifiers = FunctionWords.PureQualifiers.SelectMany(StemsOf).ToHashSet(StringComparer.Ordinal);
        // What a heading says beyond the subject; of one that says only the subject, that.
        HashSet<string> Says(string text)
        {
            var stems = StemsOf(text);
            var beyond = stems.Except(subject).ToHashSet(StringComparer.Ordinal);
            return beyond.Count == 0 ? stems : beyond;
        }

        var furniture = Furniture(all);
        var groups = new List<Group>();
        for (var p = 0; p <= ranking.Count; p++)
        {
            var page = p < ranking.Count ? ranking[p] : own;
            if (page is null)
                continue;
            var headings = page.H2.Where(h => !furniture.Contains((HostOf(page), h.Text))).ToList();
            for (var i = 0; i < headings.Count; i++)
            {
                var says = Says(headings[i].Text);
                if (says.Count == 0)
                    continue;
                var group = groups.Where(g => g.Likeness(says) >= Alike).MaxBy(g => g.Likeness(says));
                if (group is null)
                    groups.Add(group = new Group());
                group.Add(headings[i], says, p < ranking.Count ? p : null, (i + 0.5) / headings.Count);
            }
        }

        var least = Math.Min(FewestPages, ranking.Count);
        var shared = groups.Where(g => g.Pages.Count > 0 && (g.IsOurs || g.Pages.Count >= least)).OrderByDescending(g => g.Pages.Count).Take(MostFromPages);
        var kept = shared.Concat(groups.Where(g => g.IsOurs && g.Pages.Count == 0 && g.Level == 2).OrderBy(g => g.Place).Take(MostOnlyOurs))
            .OrderBy(g => g.Place).ThenByDescending(g => g.Pages.Count).ThenBy(g => g.Heading, StringComparer.Ordinal).ToList();
        var sections = kept.Select(g => new Draft(g.Level, g.Heading, [.. g.Pages.Order()], g.IsOurs, g.Stems)).ToList();

        // A keyword that says no more than the primary is served by the page as a whole.
        var unserved = new List<(int Keyword, HashSet<string> Stems)>();
        for (var k = 1; k < keywords.Count; k++)
        {
            var beyond = StemsOf(keywords[k].NormalForm).Except(subject).Except(qualifiers).ToHashSet(StringComparer.Ordinal);
            if (beyond.Count == 0 || questions.Any(q => KeywordNormalForm.Of(q) == keywords[k].NormalForm))
                continue;
            if (Best(sections, beyond) is { } section)
                section.Keywords.Add(k);
            else
                unserved.Add((k, beyond));
        }

        var made = 0;
        while (unserved.Count > 0 && made++ < MostFromKeywords)
        {
            // Those that say the same, with the most searched for at their head.
            var first = unserved.OrderByDescending(u => keywords[u.Keyword].Volume ?? 0).ThenBy(u => u.Keyword).First();
            var together = unserved.Where(u => u.Stems.IsSubsetOf(first.Stems) || first.Stems.IsSubsetOf(u.Stems)).ToList();
            var section = new Draft(2, Titles.Capital(keywords[first.Keyword].Phrase), [], false, first.Stems);
            section.Keywords.AddRange(together.Select(t => t.Keyword));
            sections.Add(section);
            unserved.RemoveAll(together.Contains);
        }

        var open = new List<int>();
        for (var q = 0; q < questions.Count; q++)
        {
            if (Best(sections, Says(questions[q])) is { } section)
                section.Questions.Add(q);
            else
                open.Add(q);
        }

        if (open.Count > 0)
        {
            var section = new Draft(2, questionsHeading, [], false, []);
            section.Questions.AddRange(open);
            sections.Add(section);
        }

        for (var t = 0; t < terms.Count; t++)
            Best(sections, Says(terms[t].Text))?.Terms.Add(t);
        // A third heading needs a second one before it.
        var hasSecond = false;
        var outline = ImmutableArray.CreateBuilder<OutlineSection>(sections.Count);
        foreach (var section in sections)
        {
            var level = hasSecond ? section.Level : 2;
            hasSecond = true;
            outline.Add(new OutlineSection(level, section.Heading, section.On.Length, section.IsOurs, [.. section.Keywords], [.. section.Questions], [.. section.Terms]) { On = section.On });
        }

        return new Outline(outline.ToImmutable(), own is null || ranking.Count < FewestPages ? [] : [.. Enumerable.Range(0, outline.Count).Where(i => outline[i].Pages == ranking.Count && !outline[i].IsOurs)]);
    }

    /// <returns>What no section serves yet: keywords beyond the primary's own words, questions and terms, by index.</returns>
    public (ImmutableArray<int> Keywords, ImmutableArray<int> Questions, ImmutableArray<int> Terms) Unserved(IReadOnlyList<Keyword> keywords, int questions, int terms, TextAnalysis analysis)
    {
        var whole = FunctionWords.PureQualifiers.SelectMany(analysis.Stems).Concat(keywords.Count == 0 ? [] : analysis.Stems(keywords[0].NormalForm)).ToHashSet(StringComparer.Ordinal);
        return (
            [.. Enumerable.Range(0, keywords.Count).Skip(1).Where(k => !analysis.Stems(keywords[k].NormalForm).All(whole.Contains)).Except(Sections.SelectMany(s => s.Keywords))],
            [.. Enumerable.Range(0, questions).Except(Sections.SelectMany(s => s.Questions))],
            [.. Enumerable.Range(0, terms).Except(Sections.SelectMany(s => s.Terms))]);
    }

    /// <returns>The section that says most of what is wanted: all of one or two words, else most of them; null where none does.</returns>
    private static Draft? Best(List<Draft> sections, HashSet<string> wanted)
    {
        var (best, most) = ((Draft?)null, 0.0);
        foreach (var section in sections)
        {
            var shared = wanted.Count(section.Stems.Contains) / (double)Math.Max(1, wanted.Count);
            if (shared > most)
                (best, most) = (section, shared);
        }

        return most > 0.5 ? best : null;
    }

    private static HashSet<(string Host, string Heading)> Furniture(IReadOnlyList<PageText> all) =>
    [
        .. all.GroupBy(HostOf, StringComparer.Ordinal).Where(g => g.Key.Length > 0 && g.Count() >= FewestOfHost)
            .SelectMany(g => g.SelectMany(p => p.H2.Select(h => h.Text).Distinct(StringComparer.Ordinal)).CountBy(h => h, StringComparer.Ordinal).Where(h => h.Value * 2 > g.Count() || (g.Count() >= ManyOfHost && h.Value * 10 > g.Count())).Select(h => (g.Key, h.Key))),
    ];

    private static string HostOf(PageText page) => Uri.TryCreate(page.Url, UriKind.Absolute, out var uri) ? uri.Host : "";

    /// <summary>Headings of several pages that say the same.</summary>
    private sealed class Group
    {
        private readonly Dictionary<string, int> _forms = new(StringComparer.Ordinal);
        private readonly List<double> _places = [];
        private readonly List<HashSet<string>> _stems = [];
        private int _levels;

        public HashSet<int> Pages { get; } = [];

        public bool IsOurs { get; private set; }

        public HashSet<string> Stems { get; } = new(StringComparer.Ordinal);

        public double Place => _places.Average();

        public int Level => _levels * 2 > _places.Count * 5 ? 3 : 2;

        public string Heading => _forms.OrderByDescending(f => f.Value).ThenBy(f => f.Key.Length).ThenBy(f => f.Key, StringComparer.Ordinal).First().Key;

        /// <summary>The greatest share of stems that it has in common with one of the headings (Jaccard).</summary>
        public double Likeness(HashSet<string> says) => _stems.Max(s => s.Count(says.Contains) is var shared ? shared / (double)(s.Count + says.Count - shared) : 0);

        public void Add(PageHeading heading, HashSet<string> says, int? page, double place)
        {
            _forms[heading.Text] = _forms.GetValueOrDefault(heading.Text) + 1;
            _places.Add(place);
            _levels += heading.Level;
            _stems.Add(says);
            Stems.UnionWith(says);
            if (page is { } ranking)
                Pages.Add(ranking);
            else
                IsOurs = true;
        }
    }

    private sealed record Draft(int Level, string Heading, int[] On, bool IsOurs, HashSet<string> Stems)
    {
        public List<int> Keywords { get; } = [];

        public List<int> Questions { get; } = [];

        public List<int> Terms { get; } = [];
    }
}
