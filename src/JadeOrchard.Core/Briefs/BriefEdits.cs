using System.Collections.Immutable;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Briefs;

/// <summary>A section as the planner has it: what it serves by the words themselves, so that it holds when the facts are updated.</summary>
public sealed record EditedSection(int Level, string Heading, IReadOnlyList<string> Keywords, IReadOnlyList<string> Questions, IReadOnlyList<string> Terms);

/// <summary>A keyword that the planner added to a brief.</summary>
public sealed record AddedKeyword(string Phrase, long? Volume = null, double? Difficulty = null, Intent? Intent = null);

/// <summary>What a text of the drafting service is for.</summary>
public enum DraftKind
{
    Title,
    Description,
    Outline,
    Introduction,

    /// <summary>To a question.</summary>
    Answer,

    /// <summary>The text of a section.</summary>
    Section,
}

/// <summary>A text that the drafting service wrote.</summary>
/// <param name="For">The question or heading that it is for; empty for the page as a whole.</param>
/// <param name="Text">Of an outline one heading a line.</param>
/// <param name="IsAccepted">The planner took it; as long as not, it is in no file.</param>
public sealed record WrittenText(DraftKind Kind, string For, string Text, bool IsAccepted);

/// <summary>What a planner made of a brief; null for what stays as it was proposed.</summary>
/// <param name="Words">The target.</param>
/// <param name="Without">Keywords that are taken out.</param>
/// <param name="With">Keywords that are added, behind the others.</param>
/// <param name="Written">Texts of the drafting service, accepted or to be decided on.</param>
public sealed record BriefEdits(
    string? Title = null, string? Description = null, string? H1 = null, int? Words = null, string? PageType = null, IReadOnlyList<EditedSection>? Outline = null, IReadOnlyList<string>? Without = null,
    IReadOnlyList<AddedKeyword>? With = null, IReadOnlyList<WrittenText>? Written = null)
{
    /// <summary>How many things were changed.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public int Count => new object?[] { Title, Description, H1, Words, PageType, Outline, Without is { Count: > 0 } ? Without : null, With is { Count: > 0 } ? With : null, Written is { Count: > 0 } ? Written : null }.Count(e => e is not null);

    /// <returns>The brief with these changes. Keywords, questions and terms that are gone are passed over; new ones are served by nothing yet.</returns>
    public Brief Apply(Brief proposal)
    {
        var own = proposal.Keywords.Select(k => k.Phrase).ToHashSet(StringComparer.Ordinal);
        if (With is { Count: > 0 })
            proposal = proposal with { Keywords = [.. proposal.Keywords, .. With.Where(w => own.Add(w.Phrase)).Select(w => new BriefKeyword(w.Phrase, w.Volume, w.Difficulty, w.Intent, false, ["text"], []))] };
        var kept = Enumerable.Range(0, proposal.Keywords.Length).Where(k => k == 0 || Without?.Contains(proposal.Keywords[k].Phrase) != true).ToList();
        var place = kept.Select((k, i) => (k, i)).ToDictionary(k => k.k, k => k.i);
        ImmutableArray<int> Moved(IEnumerable<int> keywords) => [.. keywords.Where(place.ContainsKey).Select(k => place[k])];
        var outline = Outline is null
            ? proposal.Outline with { Sections = [.. proposal.Outline.Sections.Select(s => s with { Keywords = Moved(s.Keywords) })] }
            : OutlineOf(proposal, [.. kept.Select(k => proposal.Keywords[k].Phrase)], Outline);
        var brief = proposal with
        {
            Keywords = [.. kept.Select(k => proposal.Keywords[k])],
            Titles = [.. proposal.Titles.Select(t => t with { Covers = Moved(t.Covers) })],
            Outline = outline,
            PageType = PageType ?? proposal.PageType,
            Tags = string.Join(", ", kept.Select(k => proposal.Keywords[k].Phrase)),
            Written = [.. Written?.Where(w => w.IsAccepted) ?? []],
            Words = Words is { } words ? (proposal.Words ?? new WordTarget(words, words, words, 0)) with { Words = words } : proposal.Words,
        };
        return brief with { Titles = [.. Chosen(brief, TitleKind.Title, Title), .. Chosen(brief, TitleKind.H1, H1), .. Chosen(brief, TitleKind.Description, Description)] };
    }

    private static IEnumerable<TitleText> Chosen(Brief brief, TitleKind kind, string? text)
    {
        var proposed = brief.Titles.Where(t => t.Kind == kind);
        if (text is null)
            return proposed;
        var own = proposed.FirstOrDefault(t => t.Text == text) ?? new TitleText(
            kind, text, new System.Globalization.StringInfo(text).LengthInTextElements, Math.Round(FontWidths.Of(text, kind == TitleKind.Description ? FontWidths.DescriptionSize : FontWidths.TitleSize), 1), []);
        return proposed.Where(t => t.Text != text).Prepend(own);
    }

    private static Outline OutlineOf(Brief proposal, ImmutableArray<string> keywords, IReadOnlyList<EditedSection> sections)
    {
        ImmutableArray<string> terms = [.. proposal.Terms.Select(t => t.Text)];
        static ImmutableArray<int> IndexesOf(IEnumerable<string> wanted, ImmutableArray<string> of) => [.. wanted.Select(w => of.IndexOf(w)).Where(i => i >= 0).Distinct()];
        var made = sections.Select(s =>
        {
            var before = proposal.Outline.Sections.FirstOrDefault(p => p.Heading == s.Heading);
            return new OutlineSection(s.Level, s.Heading, before?.Pages ?? 0, before?.IsOurs ?? false, IndexesOf(s.Keywords, keywords), IndexesOf(s.Questions, proposal.Questions), IndexesOf(s.Terms, terms)) { On = before?.On ?? [] };
        }).ToImmutableArray();
        var lacking = proposal.Outline.Lacking.Select(i => proposal.Outline.Sections[i].Heading).ToHashSet(StringComparer.Ordinal);
        return new Outline(made, [.. Enumerable.Range(0, made.Length).Where(i => lacking.Contains(made[i].Heading))]);
    }
}
