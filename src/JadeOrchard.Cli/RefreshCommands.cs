using System.Globalization;
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

    /// <summary>The queries of pages with what stands out about them.</summary>
    public static string Refresh(string performance, string pages, string host, string language, string[] brandNames, string? from, string? to, string output, string? rejects)
    {
        var site = SiteCommands.SiteOf(host);
        var inputs = new Inputs(rawUrls: false, language: language);
        var known = inputs.ReadSite(pages, null, site);
        var named = inputs.ReadDaily(performance, site);
        var daily = named.Daily;
        if (daily.Days == 0)
            throw new TableFormatException($"{performance}: there is no row of {site.Host} in it.");
        var last = Day(to, "--to") ?? daily.Last;
        var first = Day(from, "--from") ?? last.AddDays(1 - Fading.Days);
        if (first > last)
            throw new TableFormatException($"The period ends on {last:yyyy-MM-dd}, before it begins on {first:yyyy-MM-dd}.");
        // The days before tell what is new and what rises, where all of them are known.
        var period = QueryPeriod.Of(daily.First, first, last, yearBefore: false);
        string[] names = [site.BrandName, .. brandNames];
        var brands = new BrandTerms(names.Where(n => n.Length > 0));
        bool[] isBrand = [.. named.Forms.Select(brands.IsBrandQuery)];
        var questions = Questions.Of(language);
        bool[] isQuestion = [.. named.Forms.Select(f => questions.IsQuestion(KeywordWords.Padded(f)))];
        var spans = Enumerable.Range(0, daily.PairCount).Select(pair => (Page: daily.PageOf(pair), Query: daily.QueryOf(pair), Span: daily.Sum(pair, first, last))).Where(s => s.Span.Impressions > 0).ToList();
        var curve = CurveFit.Of(
            spans.Where(s => !isBrand[s.Query]).GroupBy(s => s.Query).Select(g => new QueryFigures(
                g.Sum(s => s.Span.Position * s.Span.Impressions) / g.Sum(s => s.Span.Impressions), g.Sum(s => s.Span.Clicks), g.Sum(s => s.Span.Impressions))),
            ClickCurve.Default).Curve;
        // A query is that page's which gets most of its clicks, then most of its impressions.
        var homes = spans.GroupBy(s => s.Query).ToDictionary(g => g.Key, g => g.OrderByDescending(s => s.Span.Clicks).ThenByDescending(s => s.Span.Impressions).ThenBy(s => named.Identities[s.Page], StringComparer.Ordinal).First().Page);
        using var analysis = new TextAnalysis(language);
        var indexOf = known.Pages.Select((p, i) => (Identity: UrlIdentity.TryOf(p.Url, UrlFolds.All, out var identity) ? identity : p.Url, Index: i)).DistinctBy(p => p.Identity).ToDictionary(p => p.Identity, p => p.Index, StringComparer.Ordinal);
        int?[] mentions = new int?[daily.PairCount];
        Parallel.For(0, daily.PageCount, page =>
        {
            // Without a text nothing can be said of what it mentions.
            if (!indexOf.TryGetValue(named.Identities[page], out var at) || known.Texts[at] is not { } text)
                return;
            var words = new PageMentions(BriefCommands.OwnText(known.Pages[at], text), analysis, language);
            for (var pair = daily.PairsOf(page).Start.Value; pair < daily.PairsOf(page).End.Value; pair++)
                mentions[pair] = words.Of(named.Forms[daily.QueryOf(pair)]).Count;
        });
        var facts = new QueryFacts
        {
            Mentions = pair => mentions[pair],
            IsBrand = query => isBrand[query],
            IsQuestion = query => isQuestion[query],
            IsAnonymous = query => named.Forms[query].Length == 0,
        };
        var rows = QueryTable.Of(daily, period, facts, curve).Select(r => r.With(isIrrelevant: false, homes[daily.QueryOf(r.Pair)] != daily.PageOf(r.Pair)))
            .OrderBy(r => named.Identities[daily.PageOf(r.Pair)], StringComparer.Ordinal).ThenByDescending(r => r.Now.Impressions).ThenBy(r => named.Forms[daily.QueryOf(r.Pair)], StringComparer.Ordinal)
            .Select(r => new object?[]
            {
                named.Urls[daily.PageOf(r.Pair)], named.Queries[daily.QueryOf(r.Pair)], r.Now.Clicks, r.Now.Impressions, Math.Round(r.Now.Position, 2), Math.Round(r.Expected, 2), r.Mentions,
                string.Join(Separator, QueryMarks.NamesOf(r.Marks)), Math.Round(r.AtStake, 2),
            }).ToList();
        Output.Write(output, ["page", "query", "clicks", "impressions", "position", "expected_clicks", "mentions", "marks", "at_stake"], rows);
        return $"{Count(rows.Count, "query", "queries")} of pages from {first:yyyy-MM-dd} to {last:yyyy-MM-dd}, {rows.Count(r => (string)r[7]! != "")} with a mark.{Output.Rejects(inputs, rejects)}";
    }

    /// <summary>Pages that lose clicks, and through what.</summary>
    public static string FadingPages(string performance, string pages, string host, string language, string output, string? rejects)
    {
        var site = SiteCommands.SiteOf(host);
        var inputs = new Inputs(rawUrls: false, language: language);
        inputs.ReadSite(pages, null, site);
        var named = inputs.ReadDaily(performance, site);
        var daily = named.Daily;
        var fading = Fading.Of(daily.ClicksByPage, daily.First);
        var rows = fading.Select(f =>
        {
            var shift = FadingCauses.Of(daily, f.Page, ClickCurve.Default).Sum;
            return new object?[]
            {
                named.Urls[f.Page], f.Since.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), f.Before, f.Now, Math.Round(f.Course, 4), Math.Round(f.P, 8),
                Math.Round(shift.ByPosition, 2), Math.Round(shift.BySearches, 2), Math.Round(shift.ByClickRate, 2),
            };
        }).ToList();

        Output.Write(output, ["page", "since", "clicks_before", "clicks_now", "site_course", "p", "by_position", "by_searches", "by_click_rate"], rows);
        return (daily.Days < 2 * Fading.Days ? $"{daily.Days} days are too few: {2 * Fading.Days} are needed, and a year to leave out the season." : $"{fading.Count} of {Count(named.Urls.Count, "page", "pages")} fade, compared with the same days {(daily.Days >= Fading.Days + Fading.Year ? "a year" : "four weeks")} before.")
            + Output.Rejects(inputs, rejects);
    }

    /// <summary>Whether changes of pages helped.</summary>
    public static string Effect(string performance, string changes, string language, string output, string? rejects)
    {
        var inputs = new Inputs(rawUrls: false, language: language);
        var named = inputs.ReadDaily(performance, new OwnSite(null));
        var daily = named.Daily;
        long[][] clicks = [.. daily.ClicksByPage];
        var made = ReadChanges(changes);
        var rows = new List<object?[]>();
        foreach (var (url, day) in made)
        {
            var page = UrlIdentity.TryOf(url, UrlFolds.All, out var identity) ? named.PageOf(identity) : null;
            // Pages that changed within the days that are looked at are no measure.
            var others = made.Where(c => Math.Abs(c.Day.DayNumber - day.DayNumber) < ChangeEffect.DaysBefore).Select(c => UrlIdentity.TryOf(c.Url, UrlFolds.All, out var other) ? named.PageOf(other) : null).OfType<int>().ToHashSet();
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
