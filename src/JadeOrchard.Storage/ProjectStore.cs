using JadeOrchard.Core.Clusters;

namespace JadeOrchard.Storage;

/// <summary>The project: one site in one market.</summary>
/// <param name="Name">What the planner calls it.</param>
/// <param name="Host">Host of the site; empty as long as none is given.</param>
/// <param name="Country">Two letters, ISO 3166-1.</param>
/// <param name="Language">Two letters, ISO 639-1.</param>
/// <param name="BrandTerms">Names of the brand beside the site's own.</param>
public sealed record Project(string Name, string Host, string Country, string Language, IReadOnlyList<string> BrandTerms);

/// <summary>Reads and writes the project itself and how it is grouped.</summary>
public static class ProjectStore
{
    public static Project Get(Session session) => session.First(
        "select name, host, country, language, brand_terms from project",
        r => new Project(r.GetString(0), r.GetString(1), r.GetString(2), r.GetString(3),
            r.GetString(4).Split('\n', StringSplitOptions.RemoveEmptyEntries)))!;

    public static void Save(Session session, Project project) => session.Execute(
        """
        update project
        set name = @name, host = @host, country = @country, language = @language, brand_terms = @brands
        """,
        ("name", project.Name), ("host", project.Host), ("country", project.Country), ("language", project.Language),
        ("brands", string.Join('\n', project.BrandTerms)));

    /// <summary>Grows whenever keywords, results or pages change; what was computed from an older one is stale.</summary>
    public static long DataVersion(Session session) => session.Count("select data_version from project");

    public static void RaiseDataVersion(Session session) => session.Execute("update project set data_version = data_version + 1");

    public static ClusterSettings Grouping(Session session) => session.First(
        "select depth, min_overlap, linking_rule from grouping",
        r => new ClusterSettings(r.GetInt32(0), r.GetInt32(1), r.Enum<LinkingRule>(2)))!;

    /// <returns>When the clusters were made, ISO 8601 in UTC; null where they never were.</returns>
    public static string? GroupedAt(Session session) => session.Scalar("select grouped_at from grouping") as string;

    public static void SaveGrouping(Session session, ClusterSettings settings, DateTimeOffset now) => session.Execute(
        """
        update grouping
        set depth = @depth, min_overlap = @overlap, linking_rule = @rule, grouped_at = @now
        """,
        ("depth", settings.Depth), ("overlap", settings.MinOverlap), ("rule", settings.Rule.Stored()), ("now", now.UtcDateTime.ToString("O")));
}
