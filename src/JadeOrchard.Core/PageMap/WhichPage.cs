using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.PageMap;

/// <summary>A page that a phrase is for.</summary>
/// <param name="Evidence">What speaks for it.</param>
/// <param name="Facts">In words.</param>
public sealed record PageForPhrase(PageEvidence Evidence, IReadOnlyList<string> Facts);

/// <summary>Which pages of the site any phrase is for, captured or not: by their words, by search performance and by results where there are any.</summary>
public static class WhichPage
{
    /// <param name="keyword">The phrase, as one of <paramref name="keywords"/>.</param>
    /// <param name="keywords">What the candidates speak of.</param>
    /// <param name="candidates">Of the site.</param>
    /// <param name="pages">The pages of the site.</param>
    /// <param name="text">Their words.</param>
    /// <param name="performance">The site's search performance.</param>
    /// <param name="analysis">For the language of the project.</param>
    /// <returns>The strongest first; none where no page is at least doubtful.</returns>
    public static IReadOnlyList<PageForPhrase> Of(
        int keyword, IReadOnlyList<Keyword> keywords, PageCandidates candidates, IReadOnlyList<SitePage> pages, SiteText text, SearchPerformance performance, TextAnalysis analysis) =>
    [
        .. candidates.Of(new Cluster(keyword, [keyword])).Where(e => e.Strength >= PageSuggestions.DoubtfulStrength).Select(e =>
        {
            var figures = performance.Of(keyword).ToArray().FirstOrDefault(f => f.Page == e.Page);
            return new PageForPhrase(
                e,
                [
                    .. new[]
                    {
                        pages[e.Page].Title is { } title ? $"title: {title}" : null,
                        figures.Impressions > 0 ? string.Create(CultureInfo.InvariantCulture, $"{figures.Clicks} clicks of {figures.Impressions} impressions, average position {figures.Position:0.#}") : null,
                        text.Mentions(e.Page, keyword) ? "mentions it" : $"does not say {string.Join(", ", text.Missing(e.Page, keywords[keyword], analysis))}",
                    }.OfType<string>(),
                ]);
        }),
    ];
}
