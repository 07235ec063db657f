using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Refresh;

/// <summary>Where a page mentions a query; several places may.</summary>
[Flags]
public enum MentionPlace
{
    None = 0,
    Title = 1 << 0,
    H1 = 1 << 1,

    /// <summary>Second and third headings.</summary>
    Headings = 1 << 2,

    /// <summary>The main text.</summary>
    Text = 1 << 3,
}

/// <summary>How often and where a page mentions a query.</summary>
/// <param name="Count">As a phrase; where it is nowhere one, as all its stems within a sentence or 10 words.</param>
public readonly record struct Mention(int Count, MentionPlace Places);

/// <summary>Looks for queries in the title, the headings and the main text of a page (DESIGN.md 4.17), as <see cref="Placement"/> does.</summary>
/// <param name="page">The page.</param>
/// <param name="analysis">For its language.</param>
/// <param name="language">Two letters, ISO 639-1.</param>
public sealed class PageMentions(PageText page, TextAnalysis analysis, string language)
{
    private readonly Placement _placement = new(page, [], analysis, language);

    /// <param name="query">In normal form.</param>
    public Mention Of(string query)
    {
        var (count, places) = (0, MentionPlace.None);
        foreach (var placed in _placement.Of(query))
        {
            var place = placed.Place switch
            {
                TextPlace.Title => MentionPlace.Title,
                TextPlace.H1 => MentionPlace.H1,
                TextPlace.H2 => MentionPlace.Headings,
                TextPlace.Body => MentionPlace.Text,
                _ => MentionPlace.None,
            };
            if (place == MentionPlace.None)
                continue;
            (count, places) = (count + placed.Count, places | place);
        }

        return new Mention(count, places);
    }
}
