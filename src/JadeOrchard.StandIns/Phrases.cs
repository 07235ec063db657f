using System.Globalization;

namespace JadeOrchard.StandIns;

/// <summary>Turns the patterns of a scenario into what people type and write.</summary>
internal static class Phrases
{
    private static readonly string[] HeadEnds = [" for ", " with "];

    /// <summary>A search: "the" in front is not typed, and what is doubled is typed once.</summary>
    public static string Keyword(string pattern, ScenarioCluster cluster)
    {
        var phrase = string.Format(CultureInfo.InvariantCulture, pattern, cluster.About, cluster.Versus);
        if (phrase.StartsWith("the ", StringComparison.Ordinal))
            phrase = phrase[4..];
        var words = phrase.Split(' ');
        return string.Join(' ', words.Where((w, i) => i == 0 || words[i - 1] != w));
    }

    /// <summary>A title as a rival writes it.</summary>
    public static string Title(string pattern, ScenarioCluster cluster, string rival) =>
        Sentence(Filled(pattern, cluster.About, cluster.Versus ?? "", rival));

    /// <summary>A path as a rival has it.</summary>
    public static string Path(string pattern, ScenarioCluster cluster) =>
        Filled(pattern, Slug(cluster.About), Slug(cluster.Versus ?? ""), "").Replace("{many}", Slug(Plural(cluster.About)), StringComparison.Ordinal);

    public static string Slug(string text) => text.Replace(' ', '-').ToLowerInvariant();

    /// <summary>"kayak seat for bad back" becomes "kayak seats for bad back".</summary>
    public static string Plural(string phrase)
    {
        var at = HeadEnds.Select(w => phrase.IndexOf(w, StringComparison.Ordinal)).Where(i => i > 0).DefaultIfEmpty(phrase.Length).Min();
        var head = phrase[..at];
        return (head.EndsWith('s') ? head : head.EndsWith('x') ? head + "es" : head + "s") + phrase[at..];
    }

    /// <summary>"blue-cove" is called "Blue Cove".</summary>
    public static string RivalName(string rival) =>
        CultureInfo.InvariantCulture.TextInfo.ToTitleCase(rival.Replace('-', ' '));

    public static string Sentence(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string Filled(string pattern, string about, string versus, string rival) => pattern
        .Replace("{many}", Plural(about), StringComparison.Ordinal)
        .Replace("{0}", about, StringComparison.Ordinal)
        .Replace("{1}", versus, StringComparison.Ordinal)
        .Replace("{rival}", rival, StringComparison.Ordinal);
}
