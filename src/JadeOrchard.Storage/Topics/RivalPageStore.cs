using System.Text.Json;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Topics;

/// <summary>The headings of a page of another site.</summary>
/// <param name="Identity">See UrlIdentity.</param>
/// <param name="Headings">H1 to H3, in the order of the page.</param>
/// <param name="Fault">Why nothing could be read, in words; null where something was.</param>
/// <param name="Text">The page for its words; null where it was read before these were kept, or could not be.</param>
public sealed record ReadPage(string Identity, string Url, string? Title, IReadOnlyList<string> Headings, string? Fault, PageText? Text = null);

/// <summary>What was read of rivals' pages; no part of the undo, since it is not the planner's work.</summary>
public static class RivalPageStore
{
    public static Dictionary<string, ReadPage> All(Session session) => session.List(
        "select identity, url, title, headings, fault from rival_page",
        r => new ReadPage(r.GetString(0), r.GetString(1), r.TextOrNull(2), r.GetString(3).Split('\n', StringSplitOptions.RemoveEmptyEntries), r.TextOrNull(4)))
        .ToDictionary(p => p.Identity, StringComparer.Ordinal);

    /// <returns>Pages with their words, by identity.</returns>
    public static Dictionary<string, PageText> Texts(Session session) => session.List(
        "select identity, content from rival_page where content is not null order by identity", r => (Identity: r.GetString(0), Text: JsonSerializer.Deserialize<PageText>(r.GetString(1))!)).ToDictionary(p => p.Identity, p => p.Text, StringComparer.Ordinal);

    /// <returns>The reason, by identity, for each page that couldn't be read.</returns>
    public static Dictionary<string, string> Faults(Session session) =>
        session.List("select identity, fault from rival_page where fault is not null", r => (Identity: r.GetString(0), Fault: r.GetString(1))).ToDictionary(p => p.Identity, p => p.Fault, StringComparer.Ordinal);

    /// <returns>The identities of pages that were read whole at a moment or later, or could not be.</returns>
    public static HashSet<string> ReadSince(Session session, DateTimeOffset since) =>
        [.. session.List("select identity from rival_page where read_at >= @since and (content is not null or fault is not null)", r => r.GetString(0), ("since", SourceStore.Iso(since)))];

    public static void Save(WriteSession session, ReadPage page, DateTimeOffset now) => session.Execute(
        "insert or replace into rival_page (identity, url, title, headings, fault, content, read_at) values (@identity, @url, @title, @headings, @fault, @content, @now)",
        ("identity", page.Identity), ("url", page.Url), ("title", page.Title), ("headings", string.Join('\n', page.Headings.Select(h => h.ReplaceLineEndings(" ")))),
        ("fault", page.Fault), ("content", page.Text is null ? null : JsonSerializer.Serialize(page.Text)), ("now", SourceStore.Iso(now)));
}
