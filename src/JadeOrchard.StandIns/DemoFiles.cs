using JadeOrchard.Formats.Tables;

namespace JadeOrchard.StandIns;

/// <summary>Writes a generated world as the files that a planner would bring, and the truth beside them.</summary>
public static class DemoFiles
{
    /// <summary>Between the two captures.</summary>
    private const int DaysBetween = 30;

    /// <param name="whole">The world.</param>
    /// <param name="folder">Made where it is not there.</param>
    /// <param name="withPerformance">Search performance of 16 months too: some 70 MB.</param>
    public static void Write(World whole, string folder, bool withPerformance = false)
    {
        var (scenario, world, texts) = (whole.Scenario, whole.Generated, whole.Texts);
        var pageOf = world.Corpus.ToDictionary(p => p.Url, StringComparer.Ordinal);
        var topics = world.Subjects.SelectMany(s => s.Phrases.Select(p => (Phrase: p, s.Topic))).DistinctBy(p => p.Phrase).ToDictionary(p => p.Phrase, p => scenario.Topics[p.Topic], StringComparer.Ordinal);
        var today = DateOnly.FromDateTime(DateTime.UtcNow);
        string OwnUrl(WorldSubject subject) => $"https://www.{scenario.Site.Host}{subject.Cluster.Page}";
        Directory.CreateDirectory(folder);
        Write(folder, "keywords.csv", ["keyword", "volume", "difficulty", "title_matches", "intent", "cpc", "monthly_volumes"],
            world.Keywords.Select(k => new object?[] { k.Phrase, k.Volume, k.Difficulty, k.TitleMatches, k.Intent?.ToString().ToLowerInvariant(), k.Cpc, Seasons.Of(k, topics.GetValueOrDefault(k.Phrase), today)?.Numbers }));
        Write(folder, "results.csv", ["keyword", "position", "url", "title", "snippet", "captured_at"],
            world.Earlier.Select(r => (Result: r, Day: scenario.CapturedOn.AddDays(-DaysBetween))).Concat(world.Results.Select(r => (Result: r, Day: scenario.CapturedOn)))
                .Select(r => new object?[] { r.Result.Keyword, r.Result.Position, r.Result.Url, r.Result.Title, pageOf.TryGetValue(r.Result.Url, out var page) ? texts.SnippetOf(page, r.Result.Keyword) : r.Result.Snippet, r.Day.ToString("yyyy-MM-dd", null) }));
        Write(folder, "pages.csv", ["url", "title", "h1", "description", "words", "h2", "language"],
            world.Pages.Select(p => new object?[] { p.Url, p.Title, p.H1, p.Description, p.Words, p.H2, p.Language }));
        // What a planner would read of the pages that rank, and what is to be found in them.
        var ranking = world.Results.Select(r => r.Url).Distinct().Where(pageOf.ContainsKey).Select(u => pageOf[u]).ToList();
        Write(folder, "texts.csv", ["url", "title", "headings", "text"], ranking.Select(p => texts.Of(p) is var t
            ? new object?[] { p.Url, p.Title, string.Join(" | ", t.Sections.Select(s => s.Heading).Prepend(p.Own?.H1 ?? p.Title)), t.Body }
            : []));
        Write(folder, "terms.csv", ["phrase", "term", "page", "on_page"], world.Subjects.SelectMany(s => scenario.Facts.GetValueOrDefault(scenario.Topics[s.Topic].Name, []).Select(f =>
        {
            var page = s.Cluster.Page is null ? null : pageOf.GetValueOrDefault(OwnUrl(s));
            return new object?[] { s.Phrases[0], f.Term, page?.Url, page is null ? "" : texts.FactsOf(page).Contains(f) ? "yes" : "no" };
        })));
        // What a reading of the ranking pages should ask for, and whether our page has it.
        Write(folder, "gaps.csv", ["phrase", "kind", "text", "page", "on_page"], world.Subjects.Where(s => s.Cluster.Page is not null && pageOf.ContainsKey(OwnUrl(s))).SelectMany(s =>
        {
            var page = pageOf[OwnUrl(s)];
            var told = texts.FactsOf(page).ToHashSet();
            return scenario.Facts.GetValueOrDefault(scenario.Topics[s.Topic].Name, []).SelectMany(f => new object?[]?[]
            {
                [s.Phrases[0], "section", f.Heading, page.Url, told.Contains(f) ? "yes" : "no"],
                f.Question is null ? null : [s.Phrases[0], "question", f.Question, page.Url, told.Contains(f) && CorpusText.Asks(page, f) ? "yes" : "no"],
            }.OfType<object?[]>());
        }));
        Write(folder, "mapped.csv", ["keyword", "page"], world.Mapped.Select(m => new object?[] { m.Key, m.Value }));
        Write(folder, "truth.csv", ["kind", "phrase", "page", "other_page", "planted", "why"],
            world.Truth.Select(t => new object?[] { t.Kind, t.Phrase, t.Page, t.OtherPage, t.IsDecoy ? "decoy" : "trouble", t.Why }));
        Write(folder, "performance-truth.csv", ["kind", "phrase", "page", "value", "planted", "why"], whole.Plants.Rows());
        if (!withPerformance)
            return;
        var last = scenario.CapturedOn.AddDays(-PerformancePlants.DaysBehind);
        Write(folder, "performance.csv", ["query", "page", "date", "clicks", "impressions", "position"],
            whole.Performance(last.AddMonths(-Services.Months), last).Select(p => new object?[] { p.Standing.Keyword.Phrase, p.Standing.Url, p.Day.ToString("yyyy-MM-dd", null), p.Clicks, p.Impressions, Math.Round(p.Position, 2) }));
    }

    private static void Write(string folder, string name, string[] columns, IEnumerable<object?[]> rows)
    {
        using var stream = File.Create(Path.Combine(folder, name));
        TableOutput.WriteCsv(stream, columns, rows, forSpreadsheets: false);
    }
}
