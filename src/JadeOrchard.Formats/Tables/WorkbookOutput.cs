using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace JadeOrchard.Formats.Tables;

/// <summary>A sheet of a workbook that is written.</summary>
/// <param name="Name">At most 31 characters, without : \ / ? * [ ].</param>
/// <param name="Columns">The header and the widths.</param>
/// <param name="Rows">Strings, numbers, dates or null, as many as there are columns.</param>
public sealed record OutputSheet(string Name, IReadOnlyList<OutputColumn> Columns, IEnumerable<object?[]> Rows);

/// <summary>Writes workbooks of several sheets (XLSX, ECMA-376): frozen headers with filters, widths, wrapped text, real numbers and dates, no formulas.</summary>
public static class WorkbookOutput
{
    private const uint HeaderStyle = 1, TextStyle = 2, NumberStyle = 3, DateStyle = 4;

    /// <param name="stream">Stays open.</param>
    /// <param name="sheets">At least one.</param>
    public static void Write(Stream stream, IReadOnlyList<OutputSheet> sheets)
    {
        // A package needs to seek, which an answer over HTTP cannot.
        using var memory = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(memory, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            workbook.AddNewPart<WorkbookStylesPart>().Stylesheet = Styles();
            var list = new Sheets();
            foreach (var (index, sheet) in sheets.Index())
            {
                var part = workbook.AddNewPart<WorksheetPart>();
                WriteSheet(part, sheet);
                list.Append(new Sheet { Id = workbook.GetIdOfPart(part), SheetId = (uint)index + 1, Name = sheet.Name });
            }

            workbook.Workbook = new Workbook(list);
        }

        memory.Position = 0;
        memory.CopyTo(stream);
    }

    private static void WriteSheet(WorksheetPart part, OutputSheet sheet)
    {
        using var writer = OpenXmlWriter.Create(part);
        writer.WriteStartElement(new Worksheet());
        writer.WriteElement(new SheetViews(new SheetView(new Pane { VerticalSplit = 1, TopLeftCell = "A2", ActivePane = PaneValues.BottomLeft, State = PaneStateValues.Frozen }) { WorkbookViewId = 0 }));
        writer.WriteElement(new Columns(sheet.Columns.Select((c, i) => new Column { Min = (uint)i + 1, Max = (uint)i + 1, Width = c.Width, CustomWidth = true })));
        writer.WriteStartElement(new SheetData());
        WriteRow(writer, sheet.Columns.Select(c => (object?)c.Name), HeaderStyle);
        var count = 1;
        foreach (var row in sheet.Rows)
        {
            WriteRow(writer, row, TextStyle);
            count++;
        }

        writer.WriteEndElement();
        writer.WriteElement(new AutoFilter { Reference = $"A1:{Letters(sheet.Columns.Count)}{count.ToString(CultureInfo.InvariantCulture)}" });
        writer.WriteEndElement();
    }

    private static void WriteRow(OpenXmlWriter writer, IEnumerable<object?> values, uint style)
    {
        writer.WriteStartElement(new Row());
        foreach (var value in values)
            writer.WriteElement(CellOf(value, style));
        writer.WriteEndElement();
    }

    private static Cell CellOf(object? value, uint style) => value switch
    {
        null => new Cell { StyleIndex = style },
        DateOnly day => new Cell(new CellValue(day.ToDateTime(TimeOnly.MinValue).ToOADate().ToString(CultureInfo.InvariantCulture))) { StyleIndex = DateStyle },
        bool flag => new Cell(new CellValue(flag ? "1" : "0")) { DataType = CellValues.Boolean, StyleIndex = style },
        sbyte or byte or short or ushort or int or uint or long or ulong or float or double or decimal =>
            new Cell(new CellValue(((IFormattable)value).ToString(null, CultureInfo.InvariantCulture))) { StyleIndex = NumberStyle },
        _ => new Cell(new InlineString(new Text(TableOutput.CellText(value.ToString() ?? "")) { Space = SpaceProcessingModeValues.Preserve })) { DataType = CellValues.InlineString, StyleIndex = style },
    };

    private static string Letters(int column) => column <= 26 ? ((char)('A' + column - 1)).ToString() : Letters((column - 1) / 26) + (char)('A' + ((column - 1) % 26));

    private static Stylesheet Styles()
    {
        var top = new Alignment { Vertical = VerticalAlignmentValues.Top, WrapText = true };
        CellFormat Format(uint number, uint font, bool wraps) => new() { NumberFormatId = number, FontId = font, FillId = 0, BorderId = 0, FormatId = 0, ApplyNumberFormat = true, ApplyFont = true, ApplyAlignment = true, Alignment = wraps ? (Alignment)top.CloneNode(true) : new Alignment { Vertical = VerticalAlignmentValues.Top } };
        return new Stylesheet(
            new NumberingFormats(new NumberingFormat { NumberFormatId = 164, FormatCode = "yyyy-mm-dd" }),
            new Fonts(new Font(new FontSize { Val = 11 }, new FontName { Val = "Calibri" }), new Font(new Bold(), new FontSize { Val = 11 }, new FontName { Val = "Calibri" })),
            new Fills(new Fill(new PatternFill { PatternType = PatternValues.None }), new Fill(new PatternFill { PatternType = PatternValues.Gray125 })),
            new Borders(new Border()),
            new CellStyleFormats(new CellFormat()),
            new CellFormats(Format(0, 0, false), Format(0, 1, true), Format(0, 0, true), Format(0, 0, false), Format(164, 0, false)));
    }
}
