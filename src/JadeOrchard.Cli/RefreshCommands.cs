using System.Globalization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on pages that are there: their queries, which fade, and whether changes helped.</summary>
internal static class RefreshCommands
{
    private const string Separator = " | ";

    /// <summary>Pages younger than this are too new to judge (DESIGN.md 4.17).</summary>
    private const int NewDays = 28;

    /// <summary>The queries of pages with what stands out about them.</summary>
    public static string Refresh(string performance, string pages, string host, string language, string[] brandNames, string? from, string? to, string output, string? rejects)
    {
        var site = SiteCommands.SiteOf(host);
        var inputs = new Inputs(rawUrls: false, language: language);
        var known = inputs.ReadSite(pages, null, site);
        var daily = inputs.ReadDaily(performance, site);
        if (daily.Days == 0)
            throw new TableFormatException($"{performance}: there is no row of {site.Host} in it.");
        var last = Day(to, "--to") ?? daily.Last;
        var first = Day(from, "--from") ?? last.AddDays(1 - Fading.Days);
        if (first > last)
            throw new TableFormatException($"The period ends on {last:yyyy-MM-dd}, before it begins on {first:yyyy-MM-dd}.");
        var days = last.DayNumber - first.DayNumber + 1;
        var now = daily.Sums(first, last);
        // The days before tell what is new and what rises, where all of them are known.
        var before = first.AddDays(-days) >= daily.First ? daily.Sums(first.AddDays(-days), first.AddDays(-1)) : null;
        string[] names = [site.BrandName, .. brandNames];
        var brands = new BrandTerms(names.Where(n => n.Length > 0));
        var questions = Questions.Of(language);
        var curve = CurveFit.Of(
            now.Where(s => s.Value.Impressions > 0 && !brands.IsBrandQuery(daily.Forms[s.Key.Query])).GroupBy(s => s.Key.Query).Select(g => new QueryFigures(
                g.Sum(s => s.Value.Position * s.Value.Impressions) / g.Sum(s => s.Value.Impressions), g.Sum(s => s.Value.Clicks), g.Sum(s => s.Value.Impressions))),
            ClickCurve.Default).Curve;
        // A query is that page's which gets most of its clicks, then most of its impressions.
        var homes = now.GroupBy(s => s.Key.Query).ToDictionary(g => g.Key, g => g.OrderByDescending(s => s.Value.Clicks).ThenByDescending(s => s.Value.Impressions).ThenBy(s => daily.Identities[s.Key.Page], StringComparer.Ordinal).First().Key.Page);
        var rows = new List<object?[]>();
        using var analysis = new TextAnalysis(language);
        var indexOf = known.Pages.Select((p, i) => (Identity: UrlIdentity.TryOf(p.Url, UrlFolds.All, out var identity) ? identity : p.Url, Index: i)).DistinctBy(p => p.Identity).ToDictionary(p => p.Identity, p => p.Index, StringComparer.Ordinal);
        foreach (var page in now.Keys.Select(k => k.Page).Distinct().OrderBy(p => daily.Identities[p], StringComparer.Ordinal))
        {
            SitePage? own = indexOf.TryGetValue(daily.Identities[page], out var at) ? known.Pages[at] : null;
            // Without a text nothing can be said of what it mentions.
            var placement = own is null || known.Texts[at] is null ? null : new Placement(BriefCommands.OwnText(own, known.Texts[at]), [], analysis, language);
            // Shown for the first time within a month, though the file goes back further.
            var isTooNew = last.DayNumber - daily.FirstDayOf(page) < NewDays && daily.FirstDayOf(page) - daily.First.DayNumber >= NewDays;
            foreach (var ((_, query), span) in now.Where(s => s.Key.Page == page && s.Value.Impressions > 0 && daily.Forms[s.Key.Query].Length > 0).OrderByDescending(s => s.Value.Impressions).ThenBy(s => daily.Forms[s.Key.Query], StringComparer.Ordinal))
            {
                var form = daily.Forms[query];
                int? mentions = placement?.Of(form).Where(p => p.Place is TextPlace.Title or TextPlace.H1 or TextPlace.H2 or TextPlace.Body).Sum(p => p.Count);
                var isSilent = isTooNew || brands.IsBrandQuery(form);
                var marks = isSilent ? [] : QueryMarks.Of(span, before is null ? null : before.GetValueOrDefault((page, query)), mentions, questions.IsQuestion(KeywordWords.Padded(form)), homes[query] != page, curve);
                rows.Add(
                [
                    daily.Urls[page], daily.Queries[query], span.Clicks, span.Impressions, Math.Round(span.Position, 2), Math.Round(span.Impressions * curve.At(span.Position), 2), mentions,
                    string.Join(Separator, marks.Select(QueryMarks.NameOf)), isSilent ? 0 : Math.Round(QueryMarks.AtStake(span, curve), 2),
                ]);
            }
        }

        Output.Write(output, ["page", "query", "clicks", "impressions", "position", "expected_clicks", "mentions", "marks", "at_stake"], rows);
        return $"{Count(rows.Count, "query", "queries")} of pages from {first:yyyy-MM-dd} to {last:yyyy-MM-dd}, {rows.Count(r => (string)r[7]! != "")} with a mark.{Output.Rejects(inputs, rejects)}";
    }

    /// <summary>Pages that lose clicks, and through what.</summary>
    public static string FadingPages(string performance, string pages, string host, string language, string output, string? rejects)
    {
        var site = SiteCommands.SiteOf(host);
        var inputs = new Inputs(rawUrls: false, language: language);
        inputs.ReadSite(pages, null, site);
        var daily = inputs.ReadDaily(performance, site);
        var clicks = daily.Clicks();
        var fading = Fading.Of(clicks, daily.First);
        var rows = new List<object?[]>();
        if (Fading.SpansOf(daily.Days) is var (then, now))
        {
            var curve = ClickCurve.Default;
            var (old, current) = (daily.Sums(daily.First.AddDays(then), daily.First.AddDays(then + Fading.Days - 1)), daily.Sums(daily.First.AddDays(now), daily.First.AddDays(now + Fading.Days - 1)));
            rows.AddRange(fading.Select(f =>
            {
                var shift = ClickShift.Sum(old.Keys.Concat(current.Keys).Where(k => k.Page == f.Page).Distinct().OrderBy(k => k.Query).Select(k => ClickShift.Of(old.GetValueOrDefault(k), current.GetValueOrDefault(k), p => Math.Max(1e-6, curve.At(p)))));
                return new object?[]
                {
                    daily.Urls[f.Page], f.Since.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), f.Before, f.Now, Math.Round(f.Course, 4), Math.Round(f.P, 8),
                    Math.Round(shift.ByPosition, 2), Math.Round(shift.BySearches, 2), Math.Round(shift.ByClickRate, 2),
                };
            }));
        }

        Output.Write(output, ["page", "since", "clicks_before", "clicks_now", "site_course", "p", "by_position", "by_searches", "by_click_rate"], rows);
        return (daily.Days < 2 * Fading.Days ? $"{daily.Days} days are too few: {2 * Fading.Days} are needed, and a year to leave out the season." : $"{fading.Count} of {Count(daily.Urls.Count, "page", "pages")} fade, compared with the same days {(daily.Days >= Fading.Days + Fading.Year ? "a year" : "four weeks")} before.")
            + Output.Rejects(inputs, rejects);
    }

    /// <summary>Whether changes of pages helped.</summary>
    public static string Effect(string performance, string changes, string language, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls: false, language: language);
        var daily = inputs.ReadDaily(performance, new OwnSite(null));
        var clicks = daily.Clicks();
        var made = ReadChanges(changes);
        var rows = new List<object?[]>();
        foreach (var (url, day) in made)
        {
            var page = UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? daily.PageOf(identity) : null;
            // Pages that changed within the days that are looked at are no measure.
            var others = made.Where(c => Math.Abs(c.Day.DayNumber - day.DayNumber) < ChangeEffect.DaysBefore).Select(c => UrlIdentity.TryOf(c.Url, UrlFolds.All, out var other) ? daily.PageOf(other) : null).OfType<int>().ToHashSet();
            var effect = page is null ? new ChangeEffect(EffectVerdict.TooLittleData, 0, 0, 0, 0, 0, 0) : ChangeEffect.Of(clicks, page.Value, day.DayNumber - daily.First.DayNumber, others);
            var isTold = effect.Verdict is EffectVerdict.Helped or EffectVerdict.Hurt or EffectVerdict.NoEffect;
            rows.Add(
            [
                url, day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                effect.Verdict switch { EffectVerdict.TooEarly => "too-early", EffectVerdict.TooLittleData => "too-little-data", EffectVerdict.NoEffect => "no-effect", var other => other.ToString().ToLowerInvariant() },
                isTold ? Math.Round(effect.Clicks, 2) : null, isTold ? Math.Round(effect.Low, 2) : null, isTold ? Math.Round(effect.High, 2) : null, effect.Controls,
            ]);
        }

        Output.Write(output, ["page", "date", "verdict", "clicks_effect", "low", "high", "controls"], rows);
        return $"{Count(rows.Count, "change", "changes")}: {string.Join(", ", rows.GroupBy(r => (string)r[2]!).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => $"{g.Count()} {g.Key}"))}.{Output.Rejects(inputs, rejects)}";
    }

    private static List<(string Url, DateOnly Day)> ReadChanges(string path)
    {
        using var file = DelimitedFile.Open(path);
        var header = file.Header.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var (page, date) = (header.IndexOf("page"), header.IndexOf("date"));
        if (page < 0 || date < 0)
            throw new TableFormatException($"{path}: the columns page and date are needed. The columns are: {string.Join(", ", file.Header)}.");
        var changes = new List<(string, DateOnly)>();
        foreach (var (line, row) in file.Rows())
        {
            if (row.Value is not { } fields)
                throw new TableFormatException($"{path}, line {line.ToString(CultureInfo.InvariantCulture)}: {row.Rejected?.Reason}");
            string Cell(int column) => column < fields.Length ? fields[column].Trim() : "";
            if (Cell(page).Length == 0)
                continue;
            if (!DateOnly.TryParseExact(Cell(date), "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
                throw new TableFormatException($"{path}, line {line.ToString(CultureInfo.InvariantCulture)}: “{Cell(date)}” is no day; write it like 2026-11-30.");
            changes.Add((Cell(page), day));
        }

        return changes;
    }

    private static DateOnly? Day(string? text, string option) => text is null ? null
        : DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : throw new TableFormatException($"{option} must be a day such as 2026-11-30, not '{text}'.");

    private static string Count(int count, string one, string many) => $"{count} {(count == 1 ? one : many)}";
}
