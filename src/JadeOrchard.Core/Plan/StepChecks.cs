using System.Globalization;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Core.Plan;

/// <summary>A page as the newest scan saw it.</summary>
/// <param name="IsScanned">A scan has been there.</param>
/// <param name="Status">HTTP status of the first answer; null where nobody knows.</param>
/// <param name="RedirectsTo">What the address where its redirects end is compared by; null for none.</param>
/// <param name="Indexable">"yes", or why not.</param>
/// <param name="Canonical">What its canonical is compared by; null for none.</param>
/// <param name="InSitemap">It is in a sitemap of the site; null where no sitemap was read.</param>
/// <param name="Headings">Its second and third headings, in order.</param>
/// <param name="Text">Its main text; null where it was not read.</param>
/// <param name="LinksTo">What the addresses that it links to are compared by; null where its links were not read.</param>
public sealed record SeenPage(
    string Identity, bool IsScanned, long? Status, string? RedirectsTo, string? Indexable, string? Canonical, bool? InSitemap, string? Title, string? H1, IReadOnlyList<string> Headings, string? Text, IReadOnlySet<string>? LinksTo);

/// <summary>Whether what a step asked for is on the site.</summary>
public static class StepChecks
{
    /// <summary>The share of a sentence's three-word runs that must be in a text for the sentence to count as there (from memory).</summary>
    private const double EnoughOfSentence = 0.6;

    /// <summary>Sentences that are kept to be looked for.</summary>
    private const int MostSentences = 60;

    private const int Run = 3;

    /// <summary>A heading counts as there where a heading of the page has this share of its words (from memory).</summary>
    private const double EnoughOfHeading = 0.6;

    /// <summary>Headings that are named where more are missing.</summary>
    private const int MostNamed = 3;

    /// <param name="kind">What was to be done.</param>
    /// <param name="page">The page that was worked on.</param>
    /// <param name="other">What the other page is compared by, and how it is shown; null for none.</param>
    /// <param name="before">What was there before: the title for a new one, the planned title for a page to write, the sentences that must not get lost for a merge.</param>
    /// <param name="isStillRaised">What the finding still says; null where it is resolved or there is none.</param>
    /// <param name="missingHeadings">Headings of the brief's outline that the page does not have (<see cref="MissingHeadings"/>); none where there is no brief.</param>
    /// <returns>Whether it was found, and what was.</returns>
    public static (bool IsFound, string Says) Of(StepKind kind, SeenPage page, (string Identity, string Url)? other, IReadOnlyList<string> before, string? isStillRaised, IReadOnlyList<string>? missingHeadings = null)
    {
        if (kind == StepKind.LeaveOut)
            return (true, "nothing to look for");
        if (!page.IsScanned)
            return (false, kind == StepKind.Write ? "the address was not found by a scan" : "the page was not read by a scan");
        var status = page.Status?.ToString(CultureInfo.InvariantCulture) ?? "unknown";
        switch (kind)
        {
            case StepKind.Redirect:
                return page.RedirectsTo is null ? (false, $"it does not redirect; it answers with status {status}")
                    : page.RedirectsTo == other?.Identity ? (true, $"redirects with status {status} to {other?.Url}")
                    : (false, $"it redirects with status {status}, but to {page.RedirectsTo}");
            case StepKind.Canonical:
                return page.Canonical is null ? (false, "it names no canonical")
                    : page.Canonical == other?.Identity ? (true, $"its canonical is {other?.Url}")
                    : (false, $"its canonical is {(page.Canonical == page.Identity ? "the page itself" : page.Canonical)}");
            case StepKind.RemoveFromIndex:
                return page.Status is 404 or 410 ? (true, $"it answers with status {status}")
                    : page.Indexable == "noindex" ? (true, "it says noindex")
                    : (false, page.Indexable == Indexability.Yes ? "it is still indexable" : $"it isn't indexable ({page.Indexable}), but it does not say noindex and is not gone");
        }

        if (page.Status is not null and not (>= 200 and < 300))
            return (false, page.RedirectsTo is null ? $"the page answers with status {status}" : $"the page redirects to {page.RedirectsTo}");
        switch (kind)
        {
            case StepKind.Write:
                if (before is [{ Length: > 0 } planned, ..] && !Has(page.Title, planned) && !Has(page.H1, planned))
                    return (false, $"the page is there, but neither title nor heading is “{planned}”; the title is “{page.Title}”");
                if (missingHeadings is { Count: > 0 })
                    return (false, $"the page is there, but {Missing(missingHeadings)}");
                return page.InSitemap == false ? (false, "the page is there, but in no sitemap")
                    : (true, page.InSitemap == true ? "the page is there and in the sitemap" : "the page is there; no sitemap was read");
            case StepKind.Retitle:
                return before is [var title, ..] && title == (page.Title ?? "") ? (false, $"the title is still “{page.Title}”")
                    : before is [_, var heading, ..] && heading.Length > 0 && heading == (page.H1 ?? "") ? (false, $"the title is “{page.Title}” now, but the heading is still “{page.H1}”")
                    : (true, $"the title is “{page.Title}” now");
            case StepKind.Link:
                return page.LinksTo is null ? (false, "its links were not read; a full scan reads them")
                    : other is { } target && page.LinksTo.Contains(target.Identity) ? (true, $"it links to {target.Url}")
                    : (false, $"it does not link to {other?.Url}");
            case StepKind.Merge:
                if (page.Text is null)
                    return (false, "its text was not read; a full scan reads it");
                var lost = Lost(before, page.Text);
                return before.Count > 0 && lost.Count * 2 > before.Count ? (false, $"{lost.Count} of {before.Count} passages are not there, such as “{lost[0]}”")
                    : (true, before.Count == 0 ? "the other page had nothing of its own" : lost.Count == 0 ? $"all {before.Count} passages are there" : $"{before.Count - lost.Count} of {before.Count} passages are there; lost: {string.Join(" ", lost.Select(l => $"“{l}”"))}");
            default:
                return missingHeadings is { Count: > 0 } ? (false, Missing(missingHeadings)) : isStillRaised is null ? (true, "nothing of it is found any more") : (false, $"still: {isStillRaised}");
        }
    }

    /// <param name="wanted">Headings of an outline.</param>
    /// <param name="there">Those of the page, the main one too.</param>
    /// <param name="analysis">For the language; used by nobody else meanwhile.</param>
    /// <returns>The wanted headings of which no heading of the page has most words, by their stems.</returns>
    public static IReadOnlyList<string> MissingHeadings(IEnumerable<string> wanted, IEnumerable<string> there, TextAnalysis analysis)
    {
        HashSet<string> StemsOf(string heading) => analysis.Stems(KeywordNormalForm.Of(heading)).ToHashSet(StringComparer.Ordinal);
        List<HashSet<string>> on = [.. there.Select(StemsOf)];
        return [.. wanted.Where(w => StemsOf(w) is { Count: > 0 } stems && !on.Any(h => stems.Count(h.Contains) >= EnoughOfHeading * stems.Count))];
    }

    private static string Missing(IReadOnlyList<string> headings) =>
        $"{(headings.Count == 1 ? "a heading of the brief is" : $"{headings.Count} headings of the brief are")} missing: {string.Join(", ", headings.Take(MostNamed).Select(h => $"“{h}”"))}{(headings.Count > MostNamed ? ", …" : "")}";

    /// <returns>The sentences of a text that another one does not have, in order.</returns>
    public static IReadOnlyList<string> OnlyIn(string text, string other) => [.. Lost([.. Sentences(text)], other).Take(MostSentences)];

    /// <returns>Those of some sentences that a text does not have.</returns>
    private static List<string> Lost(IReadOnlyList<string> sentences, string text)
    {
        var runs = Runs(text).ToHashSet(StringComparer.Ordinal);
        return [.. sentences.Where(s => Runs(s).ToList() is { Count: > 0 } own && own.Count(runs.Contains) < EnoughOfSentence * own.Count)];
    }

    private static IEnumerable<string> Sentences(string text) =>
        text.Split(['.', '!', '?', '\n', '。', '！', '？'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Where(s => s.Length >= 20).Select(s => s.Length > 300 ? s[..300] : s).Distinct(StringComparer.Ordinal);

    private static IEnumerable<string> Runs(string text)
    {
        var words = string.Concat(text.ToLowerInvariant().Select(c => char.IsLetterOrDigit(c) ? c : ' ')).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        for (var i = 0; i + Run <= words.Length; i++)
            yield return string.Join(' ', words, i, Run);
    }

    private static bool Has(string? text, string wanted) => text is not null && text.Contains(wanted, StringComparison.OrdinalIgnoreCase);
}
