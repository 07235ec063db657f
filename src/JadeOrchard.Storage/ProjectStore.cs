using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Storage;

/// <summary>The project: one site in one market.</summary>
/// <param name="Name">What the planner calls it.</param>
/// <param name="Host">Host of the site; empty as long as none is given.</param>
/// <param name="Country">Two letters, ISO 3166-1.</param>
/// <param name="Language">Two letters, ISO 639-1.</param>
/// <param name="BrandTerms">Names of the brand beside the site's own.</param>
public sealed record ProjectProfile(string Name, string Host, string Country, string Language, IReadOnlyList<string> BrandTerms);

/// <summary>How keywords are read, the site is scanned and results are captured.</summary>
public sealed record ProjectSettings
{
    /// <summary>Brands and sellers of others, which can be left out of the keywords.</summary>
    public IReadOnlyList<string> OtherBrands { get; init; } = [];

    /// <summary>Brand terms that are brands although they are also what the site is about.</summary>
    public IReadOnlyList<string> ConfirmedBrands { get; init; } = [];

    /// <summary>Parameters that are dropped from addresses to compare them, beyond those that are known, see <see cref="Core.Site.TrackingParameters"/>.</summary>
    public IReadOnlyList<string> TrackingParameters { get; init; } = [];

    /// <summary>How closely linked the clusters of a topic are at least, 0 to 1: more makes more and smaller topics.</summary>
    public double TopicResolution { get; init; } = Core.Topics.Topics.Resolution;

    /// <summary>Rules that tell the intent of a phrase where no source says one; null for those of the language.</summary>
    public IReadOnlyList<IntentRule>? IntentRules { get; init; }

    /// <summary>Words by which a phrase asks; null for those of the language.</summary>
    public QuestionWords? Questions { get; init; }

    public ScanSettings Scan { get; init; } = new();

    public CaptureSettings Capture { get; init; } = new();

    public CurveSettings Curve { get; init; } = new();

    public PlanSettings Plan { get; init; } = new();

    public BriefSettings Briefs { get; init; } = new();
}

/// <summary>What all briefs share.</summary>
/// <param name="Notes">On tone and audience; a brief's own come instead of them.</param>
/// <param name="IgnoredTerms">Phrases that are no terms of any brief.</param>
/// <param name="Patterns">Of titles; null for the usual ones of the language.</param>
/// <param name="PricePerDraft">What the drafting service charges for a request, in the currency of captures.</param>
public sealed record BriefSettings(string Notes = "", IReadOnlyList<string>? IgnoredTerms = null, IReadOnlyList<TitlePattern>? Patterns = null, double PricePerDraft = 0.01)
{
    private const int MostTerms = 2_000, MostPatterns = 50, LongestNotes = 4_000;

    /// <returns>What is wrong; null where nothing is.</returns>
    public SettingFault? Fault() =>
        Notes.Length > LongestNotes ? new SettingFault("notes", $"Write at most {LongestNotes:N0} characters on tone and audience.")
        : IgnoredTerms?.Count > MostTerms ? new SettingFault("ignoredTerms", $"At most {MostTerms:N0} terms can be ignored.")
        : Patterns?.Count > MostPatterns ? new SettingFault("patterns", $"Write at most {MostPatterns} patterns of titles.")
        : Patterns?.FirstOrDefault(p => !p.Text.Contains("{primary}", StringComparison.Ordinal)) is { } without ? new SettingFault("patterns", $"The pattern “{without.Text}” does not say where the primary keyword goes. Write {{primary}} there.")
        : PricePerDraft is < 0 or > 1000 or double.NaN ? new SettingFault("pricePerDraft", "The price of a draft must be from 0 to 1,000.")
        : null;
}

/// <summary>What is wrong with a setting.</summary>
/// <param name="Field">As it is called in JSON.</param>
/// <param name="Says">What is wrong, and what to do.</param>
public sealed record SettingFault(string Field, string Says);

/// <summary>Who works on the plan, and how long steps take.</summary>
/// <param name="People">Those whose weeks the roadmap fills; none for a team of <see cref="TeamHours"/> a week.</param>
/// <param name="Effort">Hours by kind and words; null for the usual ones, see <see cref="EffortTable.DefaultRows"/>.</param>
/// <param name="Until">The last day of the roadmap; null for as long as it takes.</param>
public sealed record PlanSettings(IReadOnlyList<Person>? People = null, IReadOnlyList<EffortRow>? Effort = null, DateOnly? Until = null)
{
    /// <summary>Hours a week of a team whose people are not named (from memory: one full-time writer).</summary>
    public const double TeamHours = 30;

    private const int MostPeople = 200;
    private const int MostDaysOff = 1_000;

    /// <returns>Those who work; a team where nobody is named.</returns>
    public IReadOnlyList<Person> Workers() => People is { Count: > 0 } ? People : [new Person("team", TeamHours, [])];

    public EffortTable Efforts() => Effort is null ? EffortTable.Default : new EffortTable(Effort);

    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault() =>
        People?.Count > MostPeople ? new SettingFault("people", $"A plan can have {MostPeople} people.")
        : People?.FirstOrDefault(p => string.IsNullOrWhiteSpace(p.Name) || p.Name.Length > 200) is not null ? new SettingFault("people", "Each person needs a name of at most 200 characters.")
        : People?.GroupBy(p => p.Name.Trim(), StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1) is { } twice ? new SettingFault("people", $"'{twice.Key}' is there twice.")
        : People?.FirstOrDefault(p => p.HoursPerWeek is not (>= 0 and <= 168)) is { } tireless ? new SettingFault("people", $"The weekly hours of {tireless.Name} must be from 0 to 168.")
        : People?.FirstOrDefault(p => p.DaysOff.Count > MostDaysOff) is { } away ? new SettingFault("people", $"{away.Name} can have {MostDaysOff} days off.")
        : Effort is not null && EffortTable.Fault(Effort) is { } fault ? new SettingFault("effort", fault)
        : null;
}

/// <summary>Which share of clicks a position is expected to bring.</summary>
/// <param name="Values">As entered; null for the default. See <see cref="ClickCurve.ValueCount"/>.</param>
/// <param name="IsFitted">The site's own search performance tells, where there is enough of it.</param>
public sealed record CurveSettings(IReadOnlyList<double>? Values = null, bool IsFitted = true)
{
    public ClickCurve ByHand() => Values is null ? ClickCurve.Default : ClickCurve.Of(Values);

    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault() => Values is not null && ClickCurve.Fault(Values) is { } fault ? new SettingFault("values", fault) : null;
}

/// <summary>How much a scan reads of each page.</summary>
public enum ScanDepth
{
    /// <summary>Title, description, canonical, robots, H1 to H3.</summary>
    Light,

    /// <summary>Main text, word count, internal links with anchor texts, dates as well.</summary>
    Full,
}

/// <summary>How a scan finds pages.</summary>
public enum FindBy
{
    /// <summary>Sitemaps; links where there is none.</summary>
    SitemapElseLinks,

    /// <summary>Sitemaps and links.</summary>
    SitemapAndLinks,

    /// <summary>Links alone.</summary>
    Links,
}

/// <summary>How the site is scanned.</summary>
/// <param name="StartUrl">Where to begin; empty for "https://" and the host.</param>
/// <param name="Gateway">An address through which some sites are reached instead of by their names; empty for none.</param>
/// <param name="GatewayFor">The domain whose sites are reached so: "example".</param>
/// <param name="AllowPrivate">Loopback and private addresses may be read.</param>
/// <param name="RatePerSecond">Requests a second at most.</param>
/// <param name="AtOnce">Requests at once at most.</param>
/// <param name="MaxPages">Pages at most.</param>
public sealed record ScanSettings(
    string StartUrl = "", string Gateway = "", string GatewayFor = "example", bool AllowPrivate = false, double RatePerSecond = 4, int AtOnce = 2, int MaxPages = 20_000,
    ScanDepth Depth = ScanDepth.Light, FindBy FindBy = FindBy.SitemapElseLinks)
{
    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault() =>
        StartUrl.Length > 0 && !UrlIdentity.TryOf(StartUrl, UrlFolds.None, out _) ? new SettingFault("startUrl", $"'{StartUrl}' is no http or https address.")
        : Gateway.Length > 0 && !(Uri.TryCreate(Gateway, UriKind.Absolute, out var gateway) && gateway.Scheme is "http" or "https") ? new SettingFault("gateway", $"'{Gateway}' is no http or https address.")
        : RatePerSecond is < 0.05 or > 1000 ? new SettingFault("ratePerSecond", "Requests a second must be from 0.05 to 1,000.")
        : AtOnce is < 1 or > 32 ? new SettingFault("atOnce", "Requests at once must be from 1 to 32.")
        : MaxPages is < 1 or > 1_000_000 ? new SettingFault("maxPages", "Pages must be from 1 to 1,000,000.")
        : null;
}

/// <summary>How result lists are captured.</summary>
/// <param name="Depth">Results of a list.</param>
/// <param name="PricePerRequest">What the search service charges for a list.</param>
/// <param name="Currency">Three letters, ISO 4217.</param>
/// <param name="RatePerSecond">Requests a second at most.</param>
/// <param name="AtOnce">Requests at once at most.</param>
/// <param name="FreshDays">Lists younger than this are not captured again unless asked.</param>
/// <param name="RecaptureDays">Lists are captured again automatically after this many days; 0 for never.</param>
/// <param name="RecaptureListId">Of the keywords of this list; null for all that were captured.</param>
/// <param name="MonthlyBudget">What captures of a month may cost before the schedule waits for the next month, in <paramref name="Currency"/>.</param>
public sealed record CaptureSettings(
    int Depth = 10, double PricePerRequest = 0.002, string Currency = "EUR", double RatePerSecond = 10, int AtOnce = 4, int FreshDays = 30, int RecaptureDays = 0, ListId? RecaptureListId = null, double MonthlyBudget = 10)
{
    /// <returns>What is wrong and with which field; null where nothing is.</returns>
    public SettingFault? Fault() =>
        Depth is < 1 or > 100 ? new SettingFault("depth", "Results of a list must be from 1 to 100.")
        : PricePerRequest is < 0 or > 1000 ? new SettingFault("pricePerRequest", "The price of a request must be from 0 to 1,000.")
        : Currency.Length != 3 || !Currency.All(char.IsAsciiLetterUpper) ? new SettingFault("currency", $"'{Currency}' is no currency. Write its three letters, such as EUR.")
        : RatePerSecond is < 0.05 or > 1000 ? new SettingFault("ratePerSecond", "Requests a second must be from 0.05 to 1,000.")
        : AtOnce is < 1 or > 32 ? new SettingFault("atOnce", "Requests at once must be from 1 to 32.")
        : FreshDays is < 0 or > 3650 ? new SettingFault("freshDays", "Days must be from 0 to 3,650.")
        : RecaptureDays is < 0 or > 365 ? new SettingFault("recaptureDays", "Days between two captures must be from 1 to 365, or 0 for never.")
        : MonthlyBudget is < 0 or > 1_000_000 || double.IsNaN(MonthlyBudget) ? new SettingFault("monthlyBudget", "The budget of a month must be from 0 to 1,000,000.")
        : null;
}

/// <summary>Reads and writes the project itself and how it is grouped.</summary>
public static class ProjectStore
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) } };

    public static ProjectProfile Get(Session session) => session.First(
        "select name, host, country, language, brand_terms from project",
        r => new ProjectProfile(r.GetString(0), r.GetString(1), r.GetString(2), r.GetString(3),
            r.GetString(4).Split('\n', StringSplitOptions.RemoveEmptyEntries)))!;

    public static void Save(WriteSession session, ProjectProfile project)
    {
        session.Execute(
            """
            update project
            set name = @name, host = @host, country = @country, language = @language, brand_terms = @brands
            """,
            ("name", project.Name), ("host", project.Host), ("country", project.Country), ("language", project.Language),
            ("brands", string.Join('\n', project.BrandTerms)));
        session.Touch(Data.Project);
    }

    public static ProjectSettings Settings(Session session) =>
        JsonSerializer.Deserialize<ProjectSettings>((string)session.Scalar("select settings from project")!, Json)!;

    public static void SaveSettings(WriteSession session, ProjectSettings settings)
    {
        var before = Settings(session);
        session.Execute("update project set settings = @settings", ("settings", JsonSerializer.Serialize(settings, Json)));
        // How the site is scanned, results are captured and topics are made changes no number of what is there.
        if (JsonSerializer.Serialize(before with { Scan = settings.Scan, Capture = settings.Capture, TopicResolution = settings.TopicResolution, Plan = settings.Plan }, Json) != JsonSerializer.Serialize(settings, Json))
            session.Touch(Data.Project);
    }

    /// <summary>What the project drops from addresses to compare them.</summary>
    public static TrackingParameters Tracking(Session session) => new(Settings(session).TrackingParameters);

    /// <summary>A reader of keywords by the settings of the project.</summary>
    public static KeywordReader Reader(Session session)
    {
        var (project, settings) = (Get(session), Settings(session));
        return new KeywordReader(project.Language, settings.IntentRules, settings.Questions, BrandNames(session), settings.OtherBrands);
    }

    /// <summary>Words by which a phrase asks, the project's own or those of its language.</summary>
    public static QuestionWords Questions(Session session) => Settings(session).Questions ?? LanguageWords.Of(Get(session).Language).Questions;

    /// <summary>Searches for the site itself: by its own name and the brand terms of the project.</summary>
    public static BrandTerms Brands(Session session) => new(BrandNames(session));

    /// <returns>The site's own name and the brand terms, whatever else they mean.</returns>
    public static IReadOnlyList<string> AllBrandNames(Session session) => Get(session) is var project && new OwnSite(project.Host).BrandName is { Length: > 0 } name
        ? [name, .. project.BrandTerms]
        : project.BrandTerms;

    /// <returns>Those of them that are no subject of the site, or that the planner confirmed.</returns>
    public static IReadOnlyList<string> BrandNames(Session session)
    {
        var confirmed = Settings(session).ConfirmedBrands;
        var subjects = SubjectBrands(session).Select(s => s.Term).Except(confirmed, StringComparer.OrdinalIgnoreCase).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return [.. AllBrandNames(session).Where(b => !subjects.Contains(b))];
    }

    /// <returns>Brand terms that are also what the site is about.</returns>
    public static IReadOnlyList<SubjectBrand> SubjectBrands(Session session) =>
        session.List("select term, share from subject_brand order by share desc, term", r => new SubjectBrand(r.GetString(0), r.GetDouble(1)));

    /// <returns>Whether they are others than before.</returns>
    public static bool SaveSubjectBrands(WriteSession session, IReadOnlyList<SubjectBrand> brands)
    {
        if (SubjectBrands(session).ToHashSet().SetEquals(brands))
            return false;
        session.Execute("delete from subject_brand");
        foreach (var (term, share) in brands)
            session.Execute("insert into subject_brand (term, share) values (@term, @share)", ("term", term), ("share", share));
        return true;
    }

    /// <returns>What tells this project from all others.</returns>
    public static string Identity(Session session) => (string)session.Scalar("select identity from data_state")!;

    /// <summary>Grows whenever keywords, results, pages or search performance change, and tells which image in memory is of these data.</summary>
    public static long ImageVersion(Session session) => session.Count("select version from data_state");

    public static void RaiseImageVersion(WriteSession session) => session.Execute("update data_state set version = version + 1");

    /// <summary>Which rules derived data were computed by.</summary>
    public static long DerivedVersion(Session session) => session.Count("select derived_version from data_state");

    public static void SetDerivedVersion(WriteSession session, long version) => session.Execute("update data_state set derived_version = @version", ("version", version));

    /// <summary>Grows with newer results, pages as they were read, or search performance, after which what was resolved may be open again.</summary>
    public static void RaiseEvidenceVersion(WriteSession session) => session.Execute("update evidence set version = version + 1");

    public static ClusterSettings Grouping(Session session) => session.First(
        "select depth, min_overlap, linking_rule, smallest, left_out_hosts, coalesce(per_host, 0), coalesce(short_lists, 0), hysteresis from grouping",
        r => new ClusterSettings(r.GetInt32(0), r.GetInt32(1), r.Enum<LinkingRule>(2), r.GetInt32(3), r.GetString(4).Split('\n', StringSplitOptions.RemoveEmptyEntries), r.GetInt32(5), r.GetInt32(6) == 1,
            r.IntOrNull(7) ?? new ClusterSettings().Hysteresis))!;

    /// <returns>The list that was grouped; null for all keywords, or where it is gone.</returns>
    public static ListId? GroupedList(Session session) => session.IdOrNull<ListId>("select l.list_id from grouping g join list l on l.list_id = g.list_id");

    /// <returns>When the clusters were made, ISO 8601 in UTC; null where they never were.</returns>
    public static string? GroupedAt(Session session) => session.Scalar("select grouped_at from grouping") as string;

    /// <param name="session">The transaction.</param>
    /// <param name="settings">How it was grouped.</param>
    /// <param name="listId">The list that was; null for all keywords.</param>
    /// <param name="now">When.</param>
    public static void SaveGrouping(WriteSession session, ClusterSettings settings, ListId? listId, DateTimeOffset now)
    {
        session.Execute(
            """
            update grouping
            set depth = @depth, min_overlap = @overlap, linking_rule = @rule, smallest = @smallest, left_out_hosts = @hosts, per_host = @per_host, short_lists = @short, hysteresis = @hysteresis, list_id = @list, grouped_at = @now
            """,
            ("depth", settings.Depth), ("overlap", settings.MinOverlap), ("rule", settings.Rule.Stored()), ("smallest", settings.Smallest),
            ("hosts", string.Join('\n', settings.LeftOutHosts)), ("per_host", (long)settings.PerHost), ("short", settings.ShortLists ? 1L : 0L), ("hysteresis", (long)settings.Hysteresis), ("list", listId), ("now", now.UtcDateTime.ToString("O")));
        session.Touch(Data.Grouping);
    }
}
