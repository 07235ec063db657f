using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>A keyword of a brief, the primary first.</summary>
/// <param name="Places">Where it is to appear: "title", "H1", a heading in quotes, "opening", "text".</param>
/// <param name="Ours">Where our page has it now; empty where there is no page, or it nowhere has it.</param>
public sealed record BriefKeyword(string Phrase, long? Volume, double? Difficulty, Intent? Intent, bool IsPrimary, ImmutableArray<string> Places, ImmutableArray<string> Ours);

/// <summary>A term of a brief, with why it is asked for.</summary>
/// <param name="Ours">How often our page has it.</param>
public sealed record BriefTerm(string Text, int Pages, int Count, int Ours, string Reason);

/// <summary>A page that ranks for the keywords.</summary>
/// <param name="Position">The best one in the lists.</param>
/// <param name="Lists">In how many lists of the keywords it stands.</param>
/// <param name="Words">Of its main text; 0 where it was not read.</param>
/// <param name="Type">What kind of page it is, in a word; empty where nothing tells.</param>
/// <param name="Weak">What is weak about it, as facts; empty where nothing is.</param>
public sealed record BriefRanking(string Url, string? Title, int Position, int Lists, int Words, int Headings, string Type, ImmutableArray<string> Weak)
{
    /// <summary>The meta description; null where there is none, or it was not read.</summary>
    public string? Description { get; init; }

    /// <summary>The main heading; null where there is none.</summary>
    public string? H1 { get; init; }

    /// <summary>Second and third headings, in order.</summary>
    public IReadOnlyList<PageHeading> Outline { get; init; } = [];

    /// <summary>Null where they were not read.</summary>
    public PageFacts? Facts { get; init; }

    /// <summary>Questions of the brief that it answers, by index.</summary>
    public IReadOnlyList<int> Answers { get; init; } = [];

    /// <summary>Why it couldn't be read, in words; null where it was, or nobody tried.</summary>
    public string? Fault { get; init; }
}

/// <summary>A link that is to be set.</summary>
/// <param name="Url">The other page.</param>
/// <param name="Words">The words to link.</param>
public sealed record BriefLink(string Url, string Words);

/// <summary>All that a writer needs for one page, with the reason next to everything that is asked.</summary>
/// <param name="Wants">What the searcher wants, in one sentence made from facts.</param>
/// <param name="PageType">What kind of page it should be, in a word.</param>
/// <param name="Titles">Alternatives of title, description and main heading, the proposed one of each first.</param>
/// <param name="Questions">To answer.</param>
/// <param name="Keep">What a page that is refreshed must keep; empty for a new page, as <paramref name="Change"/> and <paramref name="Add"/>.</param>
/// <param name="Tags">The keywords as tags: one line, separated by commas.</param>
public sealed record Brief(
    string Url, bool IsNew, string Wants, string PageType, ImmutableArray<BriefKeyword> Keywords, ImmutableArray<TitleText> Titles, WordTarget? Words, Outline Outline, ImmutableArray<string> Questions,
    ImmutableArray<BriefTerm> Terms, ImmutableArray<BriefLink> LinksTo, ImmutableArray<BriefLink> LinksFrom, ImmutableArray<string> Keep, ImmutableArray<string> Change, ImmutableArray<string> Add,
    ImmutableArray<BriefRanking> Ranking, string Tags)
{
    /// <summary>Our page beside those that rank; null for a new one.</summary>
    public BriefRanking? OwnPage { get; init; }

    /// <summary>Pages of others that several ranking pages refer to, with how many do.</summary>
    public IReadOnlyList<BriefLink> Sources { get; init; } = [];

    /// <summary>What images of ranking pages show, as their descriptions say.</summary>
    public IReadOnlyList<string> Images { get; init; } = [];

    /// <summary>Texts to begin with that the planner accepted from the drafting service.</summary>
    public IReadOnlyList<WrittenText> Written { get; init; } = [];

    /// <summary>The keyword that the page is for.</summary>
    public string Primary => Keywords[0].Phrase;

    /// <returns>The proposed text of a kind; empty where there is none.</returns>
    public string Proposed(TitleKind kind) => Titles.FirstOrDefault(t => t.Kind == kind)?.Text ?? "";

    /// <summary>What the writer checks off before the text is sent back.</summary>
    public ImmutableArray<string> Checklist =>
    [
        $"The title says “{Primary}” and fits {JadeOrchard.Core.Briefs.Titles.MostTitle} characters.",
        $"The main heading and the first {PageText.OpeningWords} words say “{Primary}”.",
        .. Keywords.Length > 1 ? [$"Each of the {Keywords.Length} keywords has its place; none is forced in."] : ImmutableArray<string>.Empty,
        .. Questions.Length > 0 ? [$"{(Questions.Length == 1 ? "The question is" : $"All {Questions.Length} questions are")} answered in a sentence or two before the details."] : ImmutableArray<string>.Empty,
        .. LinksTo.Length > 0 ? [$"{(LinksTo.Length == 1 ? "The link is" : $"All {LinksTo.Length} links are")} set, on words that say what the page is about."] : ImmutableArray<string>.Empty,
        "Every number and date has a source.",
        "Images have descriptions that say what they show.",
    ];
}
