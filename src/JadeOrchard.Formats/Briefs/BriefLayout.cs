using System.Globalization;
using JadeOrchard.Core.Briefs;

namespace JadeOrchard.Formats.Briefs;

/// <summary>A part of a brief as every written form shows it.</summary>
public abstract record BriefBlock
{
    /// <param name="Level">From 1.</param>
    public sealed record Heading(int Level, string Text) : BriefBlock;

    public sealed record Paragraph(string Text) : BriefBlock;

    /// <param name="Rows">Strings, numbers or null, as many as there are columns.</param>
    public sealed record Table(IReadOnlyList<BriefColumn> Columns, IReadOnlyList<object?[]> Rows) : BriefBlock;

    public sealed record Bullets(IReadOnlyList<string> Items) : BriefBlock;

    /// <summary>To be checked off.</summary>
    public sealed record Checks(IReadOnlyList<string> Items) : BriefBlock;
}

/// <summary>A column of a table in a brief.</summary>
/// <param name="Share">Of the width, relative to the others.</param>
public sealed record BriefColumn(string Name, int Share, bool IsNumeric = false);

/// <summary>Who gets a brief and by when, and what goes for all of them.</summary>
/// <param name="Site">The name of the site.</param>
/// <param name="Writer">Empty for nobody yet.</param>
/// <param name="Notes">On tone and audience; empty for none.</param>
public sealed record BriefFor(string Site, string Writer = "", DateOnly? Due = null, string Notes = "");

/// <summary>The contents of a brief, in order, shared by all of its file formats.</summary>
public static class BriefLayout
{
    /// <returns>The blocks before the text; the first is the heading of the whole.</returns>
    public static IReadOnlyList<BriefBlock> Of(Brief brief, BriefFor info)
    {
        var blocks = new List<BriefBlock>
        {
            new BriefBlock.Heading(1, TitleOf(brief)),
            new BriefBlock.Table([new("What", 8), new("As planned", 34)],
            [
                .. new (string Name, string Value)[]
                {
                    ("Site", info.Site),
                    ("Page", brief.Url + (brief.IsNew ? " (new)" : " (to refresh)")),
                    ("Kind of page", brief.PageType),
                    ("Searcher", brief.Wants),
                    ("Words", brief.Words is { } w ? $"{Number(w.Words)}; half of the {w.Pages} ranking pages that were read have {Number(w.Low)} to {Number(w.High)}" : ""),
                    ("Writer", info.Writer),
                    ("Due", info.Due?.ToString("d MMMM yyyy", CultureInfo.InvariantCulture) ?? ""),
                    ("Tone and audience", info.Notes),
                    ("Tags", brief.Tags),
                }.Where(r => r.Value.Length > 0).Select(r => new object?[] { r.Name, r.Value }),
            ]),
        };
        blocks.Add(new BriefBlock.Heading(2, "Title, description and main heading"));
        blocks.Add(new BriefBlock.Table(
            [new("For", 9), new("Text", 27), new("Characters", 8, true), new("Pixels", 6, true)],
            [.. brief.Titles.GroupBy(t => t.Kind).SelectMany(g => g.Select((t, i) => new object?[] { i == 0 ? NameOf(t.Kind) : "or", t.Text, t.Characters, t.Kind == TitleKind.H1 ? null : Math.Round(t.Pixels) }))]));
        Section("Keywords", new BriefBlock.Table(
            [new("Keyword", 12), new("Volume, est.", 6, true), new("Difficulty", 7, true), new("Intent", 9), new("Where it goes", 12), .. (brief.IsNew ? [] : new BriefColumn[] { new("On the page now", 9) })],
            [
                .. brief.Keywords.Select(k => (object?[])
                [
                    k.Phrase + (k.IsPrimary ? " (primary)" : ""), k.Volume, k.Difficulty, k.Intent?.ToString().ToLowerInvariant() ?? "", string.Join(", ", k.Places), .. brief.IsNew ? [] : new object?[] { k.Ours.Length == 0 ? "nowhere" : string.Join(", ", k.Ours) },
                ]),
            ]));
        Section("Outline", new BriefBlock.Table(
            [new("Section", 12), new("Ranking pages", 7, true), new("Keywords", 11), new("Questions", 10), new("Terms", 9)],
            [
                .. brief.Outline.Sections.Select((s, i) => new object?[]
                {
                    (s.Level == 3 ? "– " : "") + s.Heading + MarkOf(brief, i), s.Pages, Join(s.Keywords.Select(k => brief.Keywords[k].Phrase)), Join(s.Questions.Select(q => brief.Questions[q])), Join(s.Terms.Select(t => brief.Terms[t].Text)),
                }),
            ]));
        if (brief.Questions.Length > 0)
            Section("Questions to answer", new BriefBlock.Bullets(brief.Questions));
        if (brief.Terms.Length > 0)
        {
            Section("Terms that ranking pages share", new BriefBlock.Table(
                [new("Term", 10), new("Why", 18), new("Uses on them", 7, true), .. (brief.IsNew ? [] : new BriefColumn[] { new("On ours", 6, true) })],
                [.. brief.Terms.Select(t => (object?[])[t.Text, t.Reason, t.Count, .. brief.IsNew ? [] : new object?[] { t.Ours }])]));
        }

        foreach (var (heading, items) in new[] { ("Keep", brief.Keep), ("Change", brief.Change), ("Add", brief.Add) })
        {
            if (items.Length > 0)
                Section(heading, new BriefBlock.Bullets(items));
        }

        if (brief.LinksTo.Length + brief.LinksFrom.Length > 0)
        {
            Section("Links", new BriefBlock.Table(
                [new("Direction", 7), new("Page", 22), new("On the words", 14)],
                [.. brief.LinksTo.Select(l => new object?[] { "to", l.Url, l.Words }), .. brief.LinksFrom.Select(l => new object?[] { "from", l.Url, l.Words })]));
        }

        if (brief.Sources.Count > 0)
            Section("Sources to refer to", new BriefBlock.Table([new("Page", 24), new("Why", 18)], [.. brief.Sources.Select(s => new object?[] { s.Url, s.Words })]));
        if (brief.Images.Count > 0)
            Section("What images of ranking pages show", new BriefBlock.Bullets([.. brief.Images]));
        if (brief.Written.Count > 0)
            Section("Texts to begin with", new BriefBlock.Table([new("For", 12), new("Text, drafted and accepted", 32)], [.. brief.Written.Select(w => new object?[] { w.For.Length > 0 ? w.For : w.Kind.ToString(), w.Text })]));
        if (brief.Ranking.Length > 0)
        {
            Section("Pages that rank", new BriefBlock.Table(
                [new("Page", 16), new("Title", 13), new("Best position", 8, true), new("Lists", 6, true), new("Words", 6, true), new("Weak", 10)],
                [.. brief.Ranking.Select(r => new object?[] { r.Url, r.Title ?? "", r.Position, r.Lists, r.Words == 0 ? null : r.Words, r.Words == 0 ? r.Fault ?? "was not read" : string.Join("; ", r.Weak) })]));
        }

        Section("Before it is sent back", new BriefBlock.Checks(brief.Checklist));
        return blocks;

        void Section(string heading, BriefBlock block)
        {
            blocks.Add(new BriefBlock.Heading(2, heading));
            blocks.Add(block);
        }
    }

    /// <summary>"Brief: kayak dry suit".</summary>
    public static string TitleOf(Brief brief) => $"Brief: {brief.Primary}";

    /// <summary>A number for readers, "1,450".</summary>
    internal static string Text(object? value) => value switch
    {
        null => "",
        double d => d.ToString("#,0.##", CultureInfo.InvariantCulture),
        IFormattable number => number.ToString("N0", CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "",
    };

    private static string MarkOf(Brief brief, int section) =>
        brief.Outline.Lacking.Contains(section) ? " (missing on ours)" : brief.Outline.Sections[section].IsOnlyOurs ? " (only ours)" : brief.Outline.Sections[section].Pages == 0 ? " (on none of them)" : "";

    private static string NameOf(TitleKind kind) => kind switch { TitleKind.Title => "Title", TitleKind.Description => "Description", _ => "H1" };

    private static string Join(IEnumerable<string> parts) => string.Join("; ", parts);

    private static string Number(int value) => value.ToString("N0", CultureInfo.InvariantCulture);
}
