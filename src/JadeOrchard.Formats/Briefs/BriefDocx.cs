using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Wordprocessing;
using JadeOrchard.Core.Briefs;
using Checkbox = DocumentFormat.OpenXml.Office2010.Word;

namespace JadeOrchard.Formats.Briefs;

/// <summary>A brief as a document of a word processor (DOCX, ECMA-376): styles, numbered headings, tables, boxes that can be ticked, and the outline as headings to write under.</summary>
internal static class BriefDocx
{
    /// <summary>The width of the text on A4 with these margins, in twentieths of a point.</summary>
    private const int TextWidth = 11906 - (2 * Margin);

    private const int Margin = 1134;
    private const string Ink = "22302B", Quiet = "5C6A63", Rule = "DCDCCF", Jade = "0F6B53";
    private const int NumberedHeadings = 1, Bulleted = 2;

    public static void Write(Stream stream, Brief brief, BriefFor info)
    {
        // A package needs to seek, which an answer over HTTP cannot.
        using var memory = new MemoryStream();
        using (var document = WordprocessingDocument.Create(memory, WordprocessingDocumentType.Document))
        {
            document.PackageProperties.Title = BriefLayout.TitleOf(brief);
            document.PackageProperties.Creator = info.Site;
            var main = document.AddMainDocumentPart();
            main.AddNewPart<StyleDefinitionsPart>().Styles = Styles();
            main.AddNewPart<NumberingDefinitionsPart>().Numbering = Numberings();
            var body = new Body();
            foreach (var block in BriefLayout.Of(brief, info))
                body.Append(Elements(block));
            AddText(body, brief);
            body.Append(new SectionProperties(
                new PageSize { Width = 11906, Height = 16838 },
                new PageMargin { Top = Margin, Bottom = Margin, Left = Margin, Right = Margin, Header = 567, Footer = 567, Gutter = 0 }));
            main.Document = new Document(body);
        }

        memory.Position = 0;
        memory.CopyTo(stream);
    }

    /// <summary>The headings of the text on a new page, each with what it serves.</summary>
    private static void AddText(Body body, Brief brief)
    {
        var first = Styled("TextTitle", brief.Proposed(TitleKind.H1));
        first.ParagraphProperties!.Append(new PageBreakBefore());
        body.Append(first);
        foreach (var section in brief.Outline.Sections)
        {
            body.Append(Styled(section.Level == 3 ? "TextHeading2" : "TextHeading1", section.Heading));
            var serves = section.Keywords.Select(k => brief.Keywords[k].Phrase).Concat(section.Questions.Select(q => brief.Questions[q])).Concat(section.Terms.Select(t => brief.Terms[t].Text)).ToList();
            if (serves.Count > 0)
                body.Append(Styled("Hint", "For: " + string.Join("; ", serves)));
            body.Append(new Paragraph());
        }
    }

    private static IEnumerable<OpenXmlElement> Elements(BriefBlock block) => block switch
    {
        BriefBlock.Heading { Level: 1 } heading => [Styled("Title", heading.Text)],
        BriefBlock.Heading heading => [Styled("Heading1", heading.Text)],
        BriefBlock.Paragraph paragraph => [Styled(null, paragraph.Text)],
        BriefBlock.Bullets bullets => bullets.Items.Select(i => Styled("Listed", i)),
        BriefBlock.Checks checks => checks.Items.Select(Check),
        BriefBlock.Table table => [TableOf(table), new Paragraph(new ParagraphProperties(new SpacingBetweenLines { After = "0" }))],
        _ => [],
    };

    private static Paragraph Styled(string? style, string text) => new(
        style is null ? new ParagraphProperties() : new ParagraphProperties(new ParagraphStyleId { Val = style }),
        new Run(TextOf(text)));

    /// <summary>A box that a click ticks.</summary>
    private static Paragraph Check(string text) => new(
        new ParagraphProperties(new ParagraphStyleId { Val = "Check" }),
        new SdtRun(
            new SdtProperties(new Checkbox.SdtContentCheckBox(
                new Checkbox.Checked { Val = Checkbox.OnOffValues.Zero },
                new Checkbox.CheckedState { Font = "Segoe UI Symbol", Val = "2612" },
                new Checkbox.UncheckedState { Font = "Segoe UI Symbol", Val = "2610" })),
            new SdtContentRun(new Run(new RunProperties(new RunFonts { Ascii = "Segoe UI Symbol", HighAnsi = "Segoe UI Symbol", EastAsia = "Segoe UI Symbol" }), new Text("☐")))),
        new Run(TextOf(" " + text)));

    private static Table TableOf(BriefBlock.Table table)
    {
        var shares = table.Columns.Sum(c => c.Share);
        var widths = table.Columns.Select(c => TextWidth * c.Share / shares).ToList();
        var made = new Table(
            new TableProperties(
                new TableStyle { Val = "Ruled" },
                new TableWidth { Width = TextWidth.ToString(CultureInfo.InvariantCulture), Type = TableWidthUnitValues.Dxa },
                new TableLayout { Type = TableLayoutValues.Fixed }),
            new TableGrid(widths.Select(w => new GridColumn { Width = w.ToString(CultureInfo.InvariantCulture) })));
        made.Append(RowOf(table, [.. table.Columns.Select(c => (object?)c.Name)], widths, isHeader: true));
        foreach (var row in table.Rows)
            made.Append(RowOf(table, row, widths, isHeader: false));
        return made;
    }

    private static TableRow RowOf(BriefBlock.Table table, object?[] values, List<int> widths, bool isHeader)
    {
        var row = new TableRow(isHeader ? new TableRowProperties(new CantSplit(), new TableHeader()) : new TableRowProperties(new CantSplit()));
        for (var i = 0; i < values.Length; i++)
        {
            var properties = new ParagraphProperties(new ParagraphStyleId { Val = isHeader ? "CellHeading" : "Cell" });
            if (table.Columns[i].IsNumeric)
                properties.Append(new Justification { Val = JustificationValues.Right });
            row.Append(new TableCell(
                new TableCellProperties(new TableCellWidth { Width = widths[i].ToString(CultureInfo.InvariantCulture), Type = TableWidthUnitValues.Dxa }),
                new Paragraph(properties, new Run(TextOf(BriefLayout.Text(values[i]))))));
        }

        return row;
    }

    /// <summary>Characters that XML cannot hold are left out.</summary>
    private static Text TextOf(string text) => new(new string([.. text.Where((c, i) => c is '\t' or '\n' or >= ' ' && c is not ('\uFFFE' or '\uFFFF') && (!char.IsSurrogate(c) || IsPaired(text, i)))])) { Space = SpaceProcessingModeValues.Preserve };

    private static bool IsPaired(string text, int i) =>
        (char.IsHighSurrogate(text[i]) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1])) || (char.IsLowSurrogate(text[i]) && i > 0 && char.IsHighSurrogate(text[i - 1]));

    private static Styles Styles()
    {
        var styles = new Styles(new DocDefaults(
            new RunPropertiesDefault(new RunPropertiesBaseStyle(new RunFonts { Ascii = "Calibri", HighAnsi = "Calibri", ComplexScript = "Calibri" }, new Color { Val = Ink }, new FontSize { Val = "22" })),
            new ParagraphPropertiesDefault(new ParagraphPropertiesBaseStyle(new SpacingBetweenLines { After = "120", Line = "264", LineRule = LineSpacingRuleValues.Auto }))));
        Add("Normal", "Normal", null, null, isDefault: true);
        Add("Title", "Title", 44, new ParagraphProperties(new SpacingBetweenLines { After = "200" }), isBold: true, font: "Georgia");
        Add("Heading1", "heading 1", 28, new ParagraphProperties(new KeepNext(), new NumberingProperties(new NumberingLevelReference { Val = 0 }, new NumberingId { Val = NumberedHeadings }), new SpacingBetweenLines { Before = "320", After = "100" }, new OutlineLevel { Val = 0 }), isBold: true, font: "Georgia");
        // The text itself: its headings are the page's own, without numbers, one level below those of the brief in the outline.
        Add("TextTitle", "Text title", 40, new ParagraphProperties(new KeepNext(), new SpacingBetweenLines { After = "200" }, new OutlineLevel { Val = 0 }), isBold: true, font: "Georgia");
        Add("TextHeading1", "heading 2", 28, new ParagraphProperties(new KeepNext(), new SpacingBetweenLines { Before = "280", After = "80" }, new OutlineLevel { Val = 1 }), isBold: true, font: "Georgia");
        Add("TextHeading2", "heading 3", 24, new ParagraphProperties(new KeepNext(), new SpacingBetweenLines { Before = "200", After = "60" }, new OutlineLevel { Val = 2 }), isBold: true, font: "Georgia");
        Add("Hint", "Hint", 19, new ParagraphProperties(new KeepNext()), colour: Quiet);
        Add("Listed", "List Bullet", null, new ParagraphProperties(new NumberingProperties(new NumberingLevelReference { Val = 0 }, new NumberingId { Val = Bulleted }), new SpacingBetweenLines { After = "60" }));
        Add("Check", "Check", null, new ParagraphProperties(new SpacingBetweenLines { After = "60" }, new Indentation { Left = "360", Hanging = "360" }));
        Add("Cell", "Cell", 19, new ParagraphProperties(new SpacingBetweenLines { After = "0", Line = "250", LineRule = LineSpacingRuleValues.Auto }));
        Add("CellHeading", "Cell heading", 19, new ParagraphProperties(new KeepNext(), new SpacingBetweenLines { After = "0" }), isBold: true, colour: Jade);
        styles.Append(new Style(
            new StyleName { Val = "Ruled" },
            new StyleTableProperties(
                new TableBorders(
                    new TopBorder { Val = BorderValues.Single, Size = 4, Color = Rule }, new BottomBorder { Val = BorderValues.Single, Size = 4, Color = Rule },
                    new InsideHorizontalBorder { Val = BorderValues.Single, Size = 4, Color = Rule }),
                new TableCellMarginDefault(new TopMargin { Width = "50", Type = TableWidthUnitValues.Dxa }, new TableCellLeftMargin { Width = 60, Type = TableWidthValues.Dxa }, new BottomMargin { Width = "50", Type = TableWidthUnitValues.Dxa }, new TableCellRightMargin { Width = 100, Type = TableWidthValues.Dxa })))
        { Type = StyleValues.Table, StyleId = "Ruled" });
        return styles;

        void Add(string id, string name, int? halfPoints, ParagraphProperties? paragraph, bool isBold = false, bool isDefault = false, string? font = null, string? colour = null)
        {
            var style = new Style(new StyleName { Val = name }) { Type = StyleValues.Paragraph, StyleId = id, Default = isDefault ? true : null };
            if (!isDefault)
                style.Append(new BasedOn { Val = "Normal" });
            if (paragraph is not null)
                style.Append(new StyleParagraphProperties(paragraph.ChildElements.Select(c => c.CloneNode(true))));
            var run = new StyleRunProperties();
            if (font is not null)
                run.Append(new RunFonts { Ascii = font, HighAnsi = font });
            if (isBold)
                run.Append(new Bold());
            if (colour is not null)
                run.Append(new Color { Val = colour });
            if (halfPoints is { } size)
                run.Append(new FontSize { Val = size.ToString(CultureInfo.InvariantCulture) });
            if (run.HasChildren)
                style.Append(run);
            styles.Append(style);
        }
    }

    private static Numbering Numberings() => new(
        new AbstractNum(
            new MultiLevelType { Val = MultiLevelValues.Multilevel },
            new Level(new StartNumberingValue { Val = 1 }, new NumberingFormat { Val = NumberFormatValues.Decimal }, new ParagraphStyleIdInLevel { Val = "Heading1" }, new LevelText { Val = "%1" }, new LevelJustification { Val = LevelJustificationValues.Left }, new PreviousParagraphProperties(new Indentation { Left = "567", Hanging = "567" })) { LevelIndex = 0 })
        { AbstractNumberId = NumberedHeadings },
        new AbstractNum(
            new MultiLevelType { Val = MultiLevelValues.HybridMultilevel },
            new Level(new StartNumberingValue { Val = 1 }, new NumberingFormat { Val = NumberFormatValues.Bullet }, new LevelText { Val = "•" }, new LevelJustification { Val = LevelJustificationValues.Left }, new PreviousParagraphProperties(new Indentation { Left = "360", Hanging = "360" })) { LevelIndex = 0 })
        { AbstractNumberId = Bulleted },
        new NumberingInstance(new AbstractNumId { Val = NumberedHeadings }) { NumberID = NumberedHeadings },
        new NumberingInstance(new AbstractNumId { Val = Bulleted }) { NumberID = Bulleted });
}
