using System.Collections.Immutable;
using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Briefs;

/// <summary>A page that ranks, as far as it was read.</summary>
/// <param name="Page">Its words; its address and title alone where it was not read.</param>
/// <param name="Position">Its best position.</param>
/// <param name="Lists">In how many lists of the keywords it stands.</param>
/// <param name="IsRead">Its text is known.</param>
/// <param name="Fault">Why reading it failed, in words; null if it was read or not fetched yet.</param>
public sealed record RankedPage(PageText Page, int Position, int Lists, bool IsRead, string? Fault = null);

/// <summary>What a brief is made from.</summary>
/// <param name="Keywords">Of the page, the primary first.</param>
/// <param name="Url">Of the page, also of one that is planned.</param>
/// <param name="Own">The page as it is; null where it is to be written.</param>
/// <param name="Ranking">The pages that rank, those of most lists and best positions first; ours left out.</param>
/// <param name="All">All pages that were read.</param>
/// <param name="Terms">Of the ranking pages.</param>
/// <param name="Asked">Questions that people ask besides the keywords.</param>
/// <param name="OwnPositions">For each keyword where our page stands; 0 where it does not.</param>
/// <param name="Today">To tell which pages are old; null where that is not told.</param>
/// <param name="IsElsewhere">Whether a phrase, in its normal form, is a keyword of another cluster, whose page answers it; null where there are no others.</param>
public sealed record BriefFacts(
    IReadOnlyList<Keyword> Keywords, string Url, PageText? Own, IReadOnlyList<RankedPage> Ranking, IReadOnlyList<PageText> All, IReadOnlyList<Term> Terms, IReadOnlyList<string> Asked,
    IReadOnlyList<int> OwnPositions, IReadOnlyList<BriefLink> LinksTo, IReadOnlyList<BriefLink> LinksFrom, DateOnly? Today = null, Func<string, bool>? IsElsewhere = null)
{
    /// <summary>What is to be done for queries of the page's search performance; those to mention, answer or give a section are among the keywords.</summary>
    public IReadOnlyList<(QueryWork Work, string Query)> Work { get; init; } = [];
}

/// <summary>Makes briefs by rules, the same from the same facts (DESIGN.md 4.13 to 4.16).</summary>
/// <param name="analysis">For the language; used by nobody else meanwhile.</param>
/// <param name="language">Two letters, ISO 639-1.</param>
/// <param name="siteEnding">How titles of the site end: " | Fenwater".</param>
/// <param name="patterns">Of titles; null for the usual ones.</param>
public sealed class BriefMaker(TextAnalysis analysis, string language, string siteEnding, IReadOnlyList<TitlePattern>? patterns = null)
{
    /// <summary>Questions of a brief; more are no brief.</summary>
    private const int MostQuestions = 12;

    /// <summary>Pages that must have a heading for its question to be asked of the writer.</summary>
    private const int FewestAsking = 2;

    /// <summary>Keywords that are to appear in the opening beside the primary.</summary>
    private const int InOpening = 2;

    /// <summary>A page with less than this share of the median words is short.</summary>
    private const double ShortShare = 0.5;

    /// <summary>A page that mentions less than this share of the keywords is off topic.</summary>
    private const double OffTopicShare = 0.2;

    /// <summary>A page that says its last change was longer ago is old (from memory).</summary>
    private const int OldAfterMonths = 24;

    /// <summary>Ranking pages of different hosts that must refer to a page for it to be a source.</summary>
    private const int FewestReferring = 2;

    private const int MostSources = 5, MostImages = 6;

    private readonly Questions _questions = Core.Keywords.Questions.Of(language);

    public Brief Of(BriefFacts facts)
    {
        var read = facts.Ranking.Where(r => r.IsRead).ToList();
        var words = WordTarget.Of(read.Select(r => r.Page.Words));
        var questions = QuestionsOf(facts, read);
        var outline = Outline.Of(facts.Keywords, questions, facts.Terms, [.. read.Select(r => r.Page)], facts.Own, facts.All, analysis, language);
        var titles = new Titles(analysis, language, siteEnding, patterns).Of(facts.Keywords);
        var own = facts.Own is null ? null : new Placement(facts.Own, [], analysis, language);
        var ranking = facts.Ranking.Select(r => RankingOf(r, facts, words, questions)).ToImmutableArray();
        // Sections name the pages that were read; the brief names all that rank.
        int[] places = [.. Enumerable.Range(0, facts.Ranking.Count).Where(r => facts.Ranking[r].IsRead)];
        outline = outline with { Sections = [.. outline.Sections.Select(s => s with { On = [.. s.On.Select(p => places[p])] })] };
        ImmutableArray<BriefKeyword> keywords = [.. facts.Keywords.Select((k, i) => new BriefKeyword(k.Phrase, k.Volume, k.Difficulty, k.Intent, i == 0, PlacesOf(i, titles, outline), own is null ? [] : [.. own.Of(k.Phrase).Select(p => NameOf(p.Place))]))];
        ImmutableArray<BriefTerm> terms = [.. facts.Terms.Select(t => new BriefTerm(t.Text, t.Pages, t.Count, own?.Of(t.Text).Where(p => p.Place is TextPlace.Body or TextPlace.H1 or TextPlace.H2).Sum(p => p.Count) ?? 0, ReasonOf(t, read.Count)))];
        return new Brief(
            facts.Url, facts.Own is null, WantsOf(facts, ranking, questions), PageTypeOf(facts, ranking), keywords, titles, words, outline, questions, terms, [.. facts.LinksTo], [.. facts.LinksFrom],
            KeepOf(facts, outline), own is null ? [] : [.. ChangeOf(facts, words), .. WorkOf(facts)], own is null ? [] : AddOf(facts, keywords, terms, outline, questions, own),
            ranking, string.Join(", ", facts.Keywords.Select(k => k.Phrase)))
        {
            OwnPage = facts.Own is null ? null : RankingOf(new RankedPage(facts.Own, facts.OwnPositions.Where(p => p > 0).DefaultIfEmpty(0).Min(), facts.OwnPositions.Count(p => p > 0), true), facts, words, questions),
            Sources = SourcesOf(read),
            Images = ImagesOf(read, facts.Keywords),
        };
    }

    /// <returns>Pages of other sites that ranking pages of several hosts link to, those of most hosts first.</returns>
    private static List<BriefLink> SourcesOf(List<RankedPage> read) =>
    [
        .. read.SelectMany(r => (r.Page.Facts?.LinksOut ?? []).Select(url => (Url: url, Host: UrlIdentity.HostOf(r.Page.Url ?? "")))).Distinct().GroupBy(l => l.Url, StringComparer.Ordinal)
            .Select(g => (Url: g.Key, Hosts: g.Select(l => l.Host).Distinct(StringComparer.Ordinal).Count())).Where(g => g.Hosts >= FewestReferring).OrderByDescending(g => g.Hosts).ThenBy(g => g.Url, StringComparer.Ordinal)
            .Take(MostSources).Select(g => new BriefLink(g.Url, $"{g.Hosts} sites that rank refer to it")),
    ];

    /// <returns>What images show that are about the keywords, each once by its stems, those of most pages first.</returns>
    private List<string> ImagesOf(List<RankedPage> read, IReadOnlyList<Keyword> keywords)
    {
        var wanted = keywords.SelectMany(k => analysis.Stems(k.NormalForm)).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. read.SelectMany((r, page) => r.Page.Alts.Select(alt => (Alt: alt, Page: page, Key: StemsOf(alt)))).Where(a => a.Key.Length > 0 && a.Key.Split(' ').Any(wanted.Contains)).GroupBy(a => a.Key, StringComparer.Ordinal)
                .OrderByDescending(g => g.Select(a => a.Page).Distinct().Count()).ThenBy(g => g.Key, StringComparer.Ordinal).Take(MostImages).Select(g => g.First().Alt),
        ];
    }

    private static IEnumerable<string> WorkOf(BriefFacts facts) => facts.Work.Where(w => w.Work is not (QueryWork.Mention or QueryWork.Answer)).Select(w => $"{QueryWorkText.Says(w.Work, w.Query)}.").Distinct();

    /// <summary>What a kind of page is called.</summary>
    public static string TypeName(Intent intent) => intent switch
    {
        Intent.Informational => "guide",
        Intent.Commercial => "comparison",
        Intent.Transactional => "shop page",
        _ => "page about the site",
    };

    /// <returns>Keywords that ask, those that people ask besides, and questions that ranking pages answer under a heading; each once by its stems.</returns>
    private ImmutableArray<string> QuestionsOf(BriefFacts facts, List<RankedPage> read)
    {
        bool Asks(string keyword) => _questions.IsQuestion(KeywordWords.Padded(KeywordNormalForm.Of(keyword, language)));
        var headings = read.SelectMany(r => r.Page.H2.Select(h => (Heading: h.Text, Key: StemsOf(h.Text))).Where(h => h.Key.Length > 0 && h.Heading.TrimEnd() is [.., '?' or '？' or '؟']).DistinctBy(h => h.Key))
            .GroupBy(h => h.Key, StringComparer.Ordinal).Where(g => g.Count() >= FewestAsking).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).Select(g => g.First().Heading);
        var searched = facts.Keywords.Skip(1).Where(k => Asks(k.Phrase)).Select(k => k.Phrase);
        var seen = facts.Keywords.Count == 0 ? new HashSet<string>(StringComparer.Ordinal) : new HashSet<string>([StemsOf(facts.Keywords[0].Phrase)], StringComparer.Ordinal);
        return [.. searched.Concat(facts.Asked.Concat(headings).Where(q => facts.IsElsewhere?.Invoke(KeywordNormalForm.Of(q, language)) != true)).Where(q => seen.Add(StemsOf(q))).Select(q => Titles.Capital(q.Trim().TrimEnd('?', '？', '؟')) + "?").Take(MostQuestions)];
    }

    private string StemsOf(string text) => string.Join(' ', analysis.Stems(KeywordNormalForm.Of(text, language)).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal));

    private BriefRanking RankingOf(RankedPage ranked, BriefFacts facts, WordTarget? words, ImmutableArray<string> questions)
    {
        var (page, keywords, answers) = (ranked.Page, facts.Keywords, new List<int>());
        var weak = new List<string>();
        if (ranked.IsRead && words is not null && page.Words < ShortShare * words.Words)
            weak.Add($"short: {Number(page.Words)} words, half of them have {Number(words.Words)} or more");
        if (page.Facts?.LastChange is { } changed && facts.Today is { } today && changed < today.AddMonths(-OldAfterMonths))
            weak.Add($"old: last changed on {changed.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)}");
        if (ranked.IsRead && keywords.Count > 0)
        {
            var placement = new Placement(page, [], analysis, language);
            answers.AddRange(Enumerable.Range(0, questions.Length).Where(q => Answers(page, placement, questions[q])));
            var mentioned = keywords.Count(k => placement.Of(k.Phrase).Count > 0);
            if (mentioned < OffTopicShare * keywords.Count || placement.Of(keywords[0].Phrase).Count == 0)
                weak.Add($"off topic: mentions {mentioned} of {keywords.Count} keywords");
        }

        return new BriefRanking(
            page.Url ?? "", page.Title, ranked.Position, ranked.Lists, ranked.IsRead ? page.Words : 0, page.H2.Count,
            PagePurpose.Of(new SitePage(page.Url ?? "", page.Title, page.H1.Count > 0 ? page.H1[0] : null)) is { } purpose ? TypeName(purpose) : "", [.. weak])
        {
            Description = page.Description,
            H1 = page.H1.Count > 0 ? page.H1[0] : null,
            Outline = page.H2,
            Facts = page.Facts,
            Answers = answers,
            Fault = ranked.Fault,
        };
    }

    /// <summary>A page answers a question if one of its headings asks it, or a sentence has all of its words.</summary>
    private bool Answers(PageText page, Placement placement, string question) =>
        StemsOf(question) is { Length: > 0 } asked && (page.H2.Any(h => StemsOf(h.Text) == asked) || placement.Of(question.TrimEnd('?')).Any(p => p.Place is TextPlace.Body or TextPlace.H1 or TextPlace.H2));

    /// <summary>The type of most ranking pages that tell theirs; else that of the intent.</summary>
    private static string PageTypeOf(BriefFacts facts, ImmutableArray<BriefRanking> ranking) =>
        ranking.Where(r => r.Type.Length > 0).GroupBy(r => r.Type).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).FirstOrDefault() is { } most && most.Count() * 2 > ranking.Length
            ? most.Key
            : TypeName(facts.Keywords[0].Intent ?? Intent.Informational);

    private static string WantsOf(BriefFacts facts, ImmutableArray<BriefRanking> ranking, ImmutableArray<string> questions)
    {
        var intent = facts.Keywords.Where(k => k.Intent is not null).GroupBy(k => k.Intent!.Value).OrderByDescending(g => g.Sum(k => k.Volume ?? 1)).Select(g => (Intent?)g.Key).FirstOrDefault();
        var says = intent switch
        {
            Intent.Informational => $"Who searches for “{facts.Keywords[0].Phrase}” wants to know something",
            Intent.Commercial => $"Who searches for “{facts.Keywords[0].Phrase}” compares before buying",
            Intent.Transactional => $"Who searches for “{facts.Keywords[0].Phrase}” wants to buy",
            Intent.Navigational => $"Who searches for “{facts.Keywords[0].Phrase}” looks for a certain page",
            _ => $"What who searches for “{facts.Keywords[0].Phrase}” is after is not known",
        };
        var types = ranking.Where(r => r.Type.Length > 0).CountBy(r => r.Type).OrderByDescending(t => t.Value).ThenBy(t => t.Key, StringComparer.Ordinal).Take(2)
            .Select((t, i) => $"{t.Value}{(i == 0 ? $" of the {ranking.Length} ranking pages" : "")} {(t.Value == 1 ? $"is a {t.Key}" : $"are {Plural(t.Key)}")}");
        var facets = string.Join(", ", types);
        return $"{says}{(facets.Length > 0 ? $": {facets}" : "")}{(questions.Length > 0 ? $"; asked most: “{questions[0]}”" : "")}{(questions.Length > 0 ? "" : ".")}";
    }

    private static string Plural(string type) => type == TypeName(Intent.Navigational) ? "pages about the site" : type + "s";

    /// <summary>What a place is called.</summary>
    public static string NameOf(TextPlace place) => place switch
    {
        TextPlace.Title => "title",
        TextPlace.H1 => "H1",
        TextPlace.H2 => "a heading",
        TextPlace.Opening => "opening",
        TextPlace.Body => "text",
        TextPlace.Description => "description",
        TextPlace.Url => "address",
        TextPlace.Alt => "an image",
        _ => "a link to it",
    };

    private static ImmutableArray<string> PlacesOf(int keyword, ImmutableArray<TitleText> titles, Outline outline)
    {
        var places = new List<string>();
        if (titles.FirstOrDefault(t => t.Kind == TitleKind.Title)?.Covers.Contains(keyword) == true)
            places.Add("title");
        if (titles.FirstOrDefault(t => t.Kind == TitleKind.H1)?.Covers.Contains(keyword) == true)
            places.Add("H1");
        places.AddRange(outline.Sections.Where(s => s.Keywords.Contains(keyword)).Select(s => $"“{s.Heading}”"));
        if (keyword <= InOpening)
            places.Add("opening");
        if (places.Count == 0)
            places.Add("text");
        return [.. places];
    }

    private static string ReasonOf(Term term, int read) => term.Elsewhere == 0
        ? $"on {term.Pages} of {read} ranking pages and on no other page that was read"
        : $"on {term.Pages} of {read} ranking pages, and on {Number(term.Elsewhere)} {(term.Elsewhere == 1 ? "other" : "others")}";

    private static ImmutableArray<string> KeepOf(BriefFacts facts, Outline outline) => facts.Own is null ? [] :
    [
        .. facts.Keywords.Select((k, i) => (k.Phrase, Position: facts.OwnPositions[i])).Where(k => k.Position is > 0 and <= 10).OrderBy(k => k.Position).Select(k => $"What brings “{k.Phrase}” to position {k.Position}"),
        .. outline.Sections.Where(s => s.IsOurs && s.Pages > 0).Select(s => $"The section “{s.Heading}”, which {s.Pages} ranking {(s.Pages == 1 ? "page has" : "pages have")} too"),
        .. outline.Sections.Where(s => s.IsOnlyOurs).Select(s => $"The section “{s.Heading}”, which only this page has, if readers want it"),
    ];

    private ImmutableArray<string> ChangeOf(BriefFacts facts, WordTarget? words)
    {
        var own = facts.Own!;
        var (titles, change) = (new Titles(analysis, language, siteEnding, patterns), new List<string>());
        if (own.Title is null || !titles.Covered(facts.Keywords, own.Title).Contains(0))
            change.Add(own.Title is null ? "It has no title." : $"The title “{own.Title}” does not say “{facts.Keywords[0].Phrase}”.");
        if (own.H1.Count == 0 || !titles.Covered(facts.Keywords, own.H1[0]).Contains(0))
            change.Add(own.H1.Count == 0 ? "It has no main heading." : $"The main heading “{own.H1[0]}” does not say “{facts.Keywords[0].Phrase}”.");
        if (words is not null && (own.Words < words.Low || own.Words > words.High))
            change.Add($"It has {Number(own.Words)} words; half of the ranking pages have {Number(words.Low)} to {Number(words.High)}.");
        return [.. change];
    }

    private static ImmutableArray<string> AddOf(
        BriefFacts facts, ImmutableArray<BriefKeyword> keywords, ImmutableArray<BriefTerm> terms, Outline outline, ImmutableArray<string> questions, Placement own) =>
    [
        .. outline.Lacking.Select(i => $"The section “{outline.Sections[i].Heading}”, which all ranking pages have"),
        .. keywords.Where(k => k.Ours.Length == 0).Select(k => $"“{k.Phrase}”, which it does not mention{(own.Closest(k.Phrase) is { } passage ? $"; closest is: {passage}" : "")}"),
        .. questions.Where(q => facts.Own!.H2.All(h => KeywordNormalForm.Of(h.Text) != KeywordNormalForm.Of(q)) && own.Of(q).Count == 0).Select(q => $"An answer to “{q}”"),
        .. terms.Where(t => t.Ours == 0).Select(t => $"“{t.Text}”: {t.Reason}"),
    ];

    private static string Number(int count) => count.ToString("N0", CultureInfo.InvariantCulture);
}
