using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Refresh;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Storage.Keywords;

/// <summary>What came of capturing a keyword's results.</summary>
public enum CaptureState
{
    /// <summary>It has a result list.</summary>
    Captured,

    /// <summary>The search returned nothing.</summary>
    Empty,

    /// <summary>The last try failed, and there is no list.</summary>
    Failed,

    /// <summary>Nobody asked yet.</summary>
    None,

    /// <summary>Nobody asked, since its cluster is certain enough without its result list.</summary>
    Expected,
}

/// <summary>What captures are called.</summary>
public static class CaptureText
{
    public static string Name(CaptureState state) => state switch
    {
        CaptureState.Captured => "captured",
        CaptureState.Empty => "came back empty",
        CaptureState.Failed => "capture failed",
        CaptureState.Expected => "expected",
        _ => "not captured",
    };

    /// <summary>"whose capture failed", of keywords.</summary>
    public static string Phrase(CaptureState state) => state switch
    {
        CaptureState.Captured => "captured",
        CaptureState.Empty => "that came back empty",
        CaptureState.Failed => "whose capture failed",
        CaptureState.Expected => "expected without results",
        _ => "not captured",
    };
}

/// <summary>How far a keyword has come on the way to a page.</summary>
public enum KeywordState
{
    /// <summary>In no cluster, and not declined.</summary>
    Free,

    /// <summary>In a cluster.</summary>
    Clustered,

    /// <summary>In a cluster that has a page.</summary>
    Mapped,

    /// <summary>In a cluster that has no page.</summary>
    Unmapped,

    /// <summary>Not wanted by the planner.</summary>
    Declined,
}

/// <summary>Which keywords are wanted; conditions that are null do not count, all others must hold.</summary>
/// <param name="MinVolume">Searches per month at least.</param>
/// <param name="MinTitleCompetition">Title matches ÷ volume at least.</param>
/// <param name="WordsIn">Words or phrases separated by commas; whole words.</param>
/// <param name="AllWordsIn">All of them must stand there; else any.</param>
/// <param name="WordsOut">Words or phrases separated by commas, none of which may occur.</param>
/// <param name="WithoutBrands">Brands and sellers of the project's list are out.</param>
/// <param name="OwnBrand">Only those with, or without, the own brand's name.</param>
/// <param name="Questions">Only those that ask, or do not ask, something.</param>
/// <param name="MinWords">Number of words at least.</param>
/// <param name="Intents">Intents separated by commas; "unknown" for those without.</param>
/// <param name="SourceId">Only those that this source said something of.</param>
/// <param name="SourceKind">Only those that a source of this kind said something of.</param>
/// <param name="ListId">Only those of this list.</param>
/// <param name="NotListId">None of this list.</param>
/// <param name="Capture">What came of capturing.</param>
/// <param name="Progress">How far on the way to a page.</param>
/// <param name="ClusterId">Only those of this cluster.</param>
/// <param name="VariantKey">Only these close variants.</param>
/// <param name="Trend">Only those that rise, fall, or do neither.</param>
/// <param name="PeakMonth">Only those that peak in this month, 1 to 12; 0 for those that peak at all.</param>
public sealed record KeywordFilter(
    long? MinVolume = null,
    long? MaxVolume = null,
    double? MinDifficulty = null,
    double? MaxDifficulty = null,
    double? MinCpc = null,
    double? MaxCpc = null,
    long? MinTitleMatches = null,
    long? MaxTitleMatches = null,
    double? MinTitleCompetition = null,
    double? MaxTitleCompetition = null,
    string? WordsIn = null,
    bool? AllWordsIn = null,
    string? WordsOut = null,
    bool? WithoutBrands = null,
    bool? OwnBrand = null,
    bool? Questions = null,
    int? MinWords = null,
    int? MaxWords = null,
    string? Intents = null,
    SourceId? SourceId = null,
    SourceKind? SourceKind = null,
    ListId? ListId = null,
    ListId? NotListId = null,
    CaptureState? Capture = null,
    KeywordState? Progress = null,
    ClusterId? ClusterId = null,
    string? VariantKey = null,
    Direction? Trend = null,
    int? PeakMonth = null)
{
    /// <summary>Title matches ÷ volume, as <see cref="TitleCompetition"/> says.</summary>
    internal const string CompetitionOf = "iif(k.volume > 0, cast(k.title_matches as real) / k.volume, null)";

    /// <summary>As SQL on "keyword k"; every value is a parameter.</summary>
    internal (List<string> Conditions, List<(string Name, object? Value)> Parameters) ToSql()
    {
        var conditions = new List<string>();
        var parameters = new List<(string, object?)>();
        AtLeast("k.volume", MinVolume, MaxVolume);
        AtLeast("k.difficulty", MinDifficulty, MaxDifficulty);
        AtLeast("k.cpc", MinCpc, MaxCpc);
        AtLeast("k.title_matches", MinTitleMatches, MaxTitleMatches);
        AtLeast(CompetitionOf, MinTitleCompetition, MaxTitleCompetition);
        AtLeast("k.word_count", MinWords, MaxWords);
        var wanted = Words(WordsIn);
        if (wanted.Count > 0)
            conditions.Add("(" + string.Join(AllWordsIn == true ? " and " : " or ", wanted.Select(w => $"instr(k.words, {Value(w)}) > 0")) + ")");
        foreach (var word in Words(WordsOut))
            conditions.Add($"instr(k.words, {Value(word)}) = 0");
        if (WithoutBrands == true)
            conditions.Add("k.brand <> 'other'");
        if (OwnBrand is { } own)
            conditions.Add(own ? "k.brand = 'own'" : "k.brand <> 'own'");
        if (Questions is { } questions)
            conditions.Add(questions ? "k.is_question = 1" : "k.is_question = 0");
        if (!string.IsNullOrWhiteSpace(Intents))
        {
            var intents = Intents.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(i => i.ToLowerInvariant()).ToList();
            conditions.Add($"coalesce(k.intent, k.told_intent, 'unknown') in ({string.Join(", ", intents.Select(Value))})");
        }

        if (SourceId is not null)
            conditions.Add($"k.keyword_id in (select v.keyword_id from keyword_value v where v.source_id = {Value(SourceId)})");
        if (SourceKind is { } kind)
            conditions.Add($"k.keyword_id in (select v.keyword_id from source s join keyword_value v on v.source_id = s.source_id where s.kind = {Value(kind.Stored())})");
        if (ListId is not null)
            conditions.Add($"k.keyword_id in (select l.keyword_id from list_member l where l.list_id = {Value(ListId)})");
        if (NotListId is not null)
            conditions.Add($"k.keyword_id not in (select l.keyword_id from list_member l where l.list_id = {Value(NotListId)})");
        if (Capture is { } capture)
        {
            conditions.Add(capture switch
            {
                CaptureState.None => $"k.capture_state is null and not {StagedStore.IsExpected}",
                CaptureState.Expected => $"k.capture_state is null and {StagedStore.IsExpected}",
                _ => $"k.capture_state = {Value(capture.Stored())}",
            });
        }
        if (Progress is { } progress)
        {
            const string mapped = "select m.keyword_id from assignment a cross join cluster_member m on m.cluster_id = a.cluster_id";
            conditions.Add(progress switch
            {
                KeywordState.Free => "not exists (select 1 from cluster_member m where m.keyword_id = k.keyword_id) and not exists (select 1 from declined d where d.keyword_id = k.keyword_id)",
                KeywordState.Declined => "exists (select 1 from declined d where d.keyword_id = k.keyword_id)",
                KeywordState.Clustered => "exists (select 1 from cluster_member m where m.keyword_id = k.keyword_id)",
                KeywordState.Mapped => $"k.keyword_id in ({mapped})",
                _ => $"exists (select 1 from cluster_member m where m.keyword_id = k.keyword_id) and k.keyword_id not in ({mapped})",
            });
        }

        if (ClusterId is not null)
        {
            var cluster = Value(ClusterId);
            conditions.Add($"k.keyword_id in (select keyword_id from cluster_member where cluster_id = {cluster} union all select keyword_id from cluster_expected where cluster_id = {cluster})");
        }

        if (VariantKey is not null)
            conditions.Add($"k.variant_key = {Value(VariantKey)}");
        conditions.AddRange(SeasonStore.Conditions("keyword_season", "keyword_id", "k.keyword_id", Trend, PeakMonth));
        return (conditions, parameters);

        string Value(object? value)
        {
            var name = "f" + parameters.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
            parameters.Add((name, value));
            return "@" + name;
        }

        void AtLeast(string expression, object? least, object? most)
        {
            if (least is not null)
                conditions.Add($"{expression} >= {Value(least)}");
            if (most is not null)
                conditions.Add($"{expression} <= {Value(most)}");
        }
    }

    private static List<string> Words(string? text) =>
    [
        .. (text ?? "").Split([',', '\n'], StringSplitOptions.RemoveEmptyEntries)
            .Select(w => KeywordWords.Padded(KeywordNormalForm.Of(w)))
            .Where(w => w.Length > 1),
    ];
}

/// <summary>Keywords chosen one by one, or all that a filter lets through.</summary>
/// <param name="Ids">The keywords; null for those of the filter.</param>
/// <param name="Filter">Counts where there are no ids; null for all.</param>
/// <param name="Search">Text that must be in the phrase, with the filter.</param>
public sealed record KeywordSelection(IReadOnlyList<KeywordId>? Ids = null, KeywordFilter? Filter = null, string? Search = null);
