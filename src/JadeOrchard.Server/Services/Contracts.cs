namespace JadeOrchard.Server.Services;

// What services are asked and answer, as docs/services.json says. Only what is used here.

public sealed record SearchRequest(string Query, string Country, string Language, int Depth);

public sealed record SearchResult(int Position, string Url, string? Title = null, string? Snippet = null);

public sealed record SearchAnswer(IReadOnlyList<SearchResult> Results, IReadOnlyList<string>? Questions = null, IReadOnlyList<string>? Related = null);

public sealed record SuggestionsAnswer(IReadOnlyList<string> Suggestions);

public sealed record ResearchedKeyword(string Keyword, long? Volume = null, double? Difficulty = null, double? Cpc = null, string? Intent = null, long? TitleMatches = null, IReadOnlyList<long>? MonthlyVolumes = null)
{
    /// <param name="today">Monthly volumes end with the month before this day.</param>
    /// <returns>The keyword; null where nothing that can be searched for is left of it. Numbers out of their range are unknown.</returns>
    public Core.Keywords.Keyword? ToKeyword(DateOnly today)
    {
        var form = Core.Keywords.KeywordNormalForm.Of(Keyword);
        return form.Length is 0 or > 500 ? null : new Core.Keywords.Keyword(
            Keyword.Trim(),
            form,
            Volume is >= 0 and <= Core.Keywords.Keyword.MostCounted ? Volume : null,
            Difficulty is >= 0 and <= 100 ? Difficulty : null,
            TitleMatches is >= 0 and <= Core.Keywords.Keyword.MostCounted ? TitleMatches : null,
            Intent is { Length: > 0 } && char.IsAsciiLetter(Intent[0]) && Enum.TryParse<Core.Keywords.Intent>(Intent, ignoreCase: true, out var intent) ? intent : null,
            Cpc is >= 0 and <= 1_000_000 ? Cpc : null,
            MonthlyVolumes is { } months ? Core.Keywords.MonthlyVolumes.Of(months, today) : null);
    }
}

public sealed record IdeasAnswer(long Total, IReadOnlyList<ResearchedKeyword> Ideas);

public sealed record NumbersRequest(IReadOnlyList<string> Keywords, string Country, string Language);

public sealed record NumbersAnswer(IReadOnlyList<ResearchedKeyword> Keywords);

public sealed record Ranking(ResearchedKeyword Keyword, string Url, int Position);

public sealed record RankingsAnswer(long Total, IReadOnlyList<Ranking> Rankings);

public sealed record PerformanceRow(string? Query, long Clicks, long Impressions, double Position, string? Page = null, DateOnly? Day = null);

public sealed record PerformanceAnswer(IReadOnlyList<PerformanceRow> Rows, bool More);

/// <param name="Kind">title, description, outline, introduction, answer or section.</param>
/// <param name="For">The question or heading that it is for; null for the page as a whole.</param>
/// <param name="Facts">What may be said, in sentences.</param>
public sealed record DraftRequest(
    string Kind, string Language, string Primary, IReadOnlyList<string> Keywords, IReadOnlyList<string> Questions, IReadOnlyList<string> Terms, IReadOnlyList<string> Sections, IReadOnlyList<string> Facts, string? For = null, string? Notes = null);

public sealed record DraftAnswer(IReadOnlyList<string> Alternatives);
