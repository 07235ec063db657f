using System.Globalization;
using System.Text;
using System.Xml;
using DocumentFormat.OpenXml.Packaging;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads the first sheet of a workbook cell by cell (ECMA-376, part 1, section 18), so that a row takes what it holds and not what it could hold.</summary>
internal static class SheetReader
{
    /// <summary>Cells to the right are refused.</summary>
    public const int MostColumns = 1_000;

    private const int MostText = 1 << 20;
    private const long MostShared = 256L << 20;
    private static readonly DateTime Epoch = new(1899, 12, 30);

    private static readonly XmlReaderSettings Settings = new() { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, IgnoreComments = true, IgnoreProcessingInstructions = true };

    /// <summary>The rows that hold something; of one with a cell too far to the right its fault in words.</summary>
    /// <param name="stream">Can seek; stays open.</param>
    /// <exception cref="Exception">The workbook is damaged, in whichever way.</exception>
    public static IEnumerable<(long Line, string[]? Fields, string? Fault)> Rows(Stream stream)
    {
        using var document = SpreadsheetDocument.Open(stream, isEditable: false);
        var book = document.WorkbookPart ?? throw new InvalidDataException("There is no workbook.");
        var (sheet, is1904) = First(book);
        var shared = Shared(book);
        var areDates = Dates(book);
        using var xml = XmlReader.Create(book.GetPartById(sheet).GetStream(), Settings);
        var line = 0L;
        var fields = new List<string>();
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element || xml.LocalName != "row")
                continue;
            line = xml.GetAttribute("r") is { } r ? long.Parse(r, CultureInfo.InvariantCulture) : line + 1;
            fields.Clear();
            string? fault = null;
            if (!xml.IsEmptyElement)
            {
                var depth = xml.Depth;
                var column = -1;
                while (xml.Read() && xml.Depth > depth)
                {
                    if (xml.NodeType != XmlNodeType.Element || xml.LocalName != "c")
                        continue;
                    column = xml.GetAttribute("r") is { } place ? ColumnOf(place) : column + 1;
                    var name = xml.GetAttribute("r") ?? "";
                    var text = Cell(xml, shared, areDates, is1904);
                    if (text.Length == 0)
                        continue;
                    if (column >= MostColumns)
                    {
                        fault ??= $"Has a value in cell {name}, beyond the {MostColumns:N0} columns that are read. Delete it, and save the workbook again.";
                        continue;
                    }

                    while (fields.Count < column)
                        fields.Add("");
                    if (column < fields.Count)
                        fields[column] = text;
                    else
                        fields.Add(text);
                }
            }

            if (fault is not null)
                yield return (line, null, fault);
            else if (fields.Count > 0)
                yield return (line, [.. fields], null);
        }
    }

    /// <returns>The id of the first sheet's part, and whether its dates count from 1904.</returns>
    private static (string Id, bool Is1904) First(WorkbookPart book)
    {
        using var xml = XmlReader.Create(book.GetStream(), Settings);
        var is1904 = false;
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element)
                continue;
            if (xml.LocalName == "workbookPr")
                is1904 = xml.GetAttribute("date1904") is "1" or "true";
            else if (xml.LocalName == "sheet")
            {
                while (xml.MoveToNextAttribute())
                {
                    if (xml.LocalName == "id" && xml.NamespaceURI.Length > 0)
                        return (xml.Value, is1904);
                }
            }
        }

        throw new InvalidDataException("There is no sheet.");
    }

    private static List<string> Shared(WorkbookPart book)
    {
        var texts = new List<string>();
        if (book.SharedStringTablePart is not { } part)
            return texts;
        using var xml = XmlReader.Create(part.GetStream(), Settings);
        var characters = 0L;
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element || xml.LocalName != "si")
                continue;
            texts.Add(TextsIn(xml));
            if ((characters += texts[^1].Length) > MostShared)
                throw new InvalidDataException("There is too much text.");
        }

        return texts;
    }

    /// <summary>The texts within an element, without those that only say how others are pronounced.</summary>
    private static string TextsIn(XmlReader xml)
    {
        if (xml.IsEmptyElement)
            return "";
        var (depth, text) = (xml.Depth, new StringBuilder());
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "rPh" && xml.Depth is var said && !xml.IsEmptyElement)
            {
                while (xml.Read() && xml.Depth > said)
                {
                }
            }
            else if (xml.NodeType is XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace && text.Length < MostText)
                text.Append(xml.Value);
        }

        // "_x000D_" is how a character is written that XML cannot hold (ST_Xstring, section 22.9.2.19).
        return text.Length < 7 ? text.ToString() : XmlConvert.DecodeName(text.ToString())!;
    }

    private static string Cell(XmlReader xml, List<string> shared, HashSet<int> areDates, bool is1904)
    {
        var kind = xml.GetAttribute("t") ?? "n";
        var isDate = int.TryParse(xml.GetAttribute("s"), CultureInfo.InvariantCulture, out var style) && areDates.Contains(style);
        if (xml.IsEmptyElement)
            return "";
        var depth = xml.Depth;
        var text = "";
        while (xml.Read() && xml.Depth > depth)
        {
            // A formula counts by the value that was saved with it.
            if (xml.NodeType == XmlNodeType.Element && xml.LocalName is "v" or "is")
                text = TextsIn(xml);
        }

        return kind switch
        {
            "s" => int.TryParse(text, CultureInfo.InvariantCulture, out var index) ? shared[index] : "",
            "b" => text == "1" ? "TRUE" : "FALSE",
            "n" when double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) => isDate ? Date(number, is1904) : number.ToString("R", CultureInfo.InvariantCulture),
            _ => text,
        };
    }

    private static string Date(double days, bool is1904)
    {
        if (days is < 0 or > 2_900_000)
            return days.ToString("R", CultureInfo.InvariantCulture);
        var time = Epoch.AddDays(days + (is1904 ? 1_462 : 0));
        return time.ToString(time.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture);
    }

    /// <summary>The styles of cells that show numbers as dates.</summary>
    private static HashSet<int> Dates(WorkbookPart book)
    {
        var (formats, styles) = (new HashSet<int>(), new HashSet<int>());
        if (book.WorkbookStylesPart is not { } part)
            return styles;
        using var xml = XmlReader.Create(part.GetStream(), Settings);
        var (isInCells, style) = (false, 0);
        while (xml.Read())
        {
            if (xml.LocalName == "cellXfs")
                isInCells = xml.NodeType == XmlNodeType.Element && !xml.IsEmptyElement;
            if (xml.NodeType != XmlNodeType.Element || !int.TryParse(xml.GetAttribute("numFmtId"), CultureInfo.InvariantCulture, out var format))
                continue;
            if (xml.LocalName == "numFmt" && ShowsDate(xml.GetAttribute("formatCode") ?? ""))
                formats.Add(format);
            // Those that need no code: section 18.8.30.
            else if (xml.LocalName == "xf" && isInCells && styles.Count < MostText && style++ is var at && (format is >= 14 and <= 22 or >= 27 and <= 36 or >= 45 and <= 47 or >= 50 and <= 58 || formats.Contains(format)))
                styles.Add(at);
        }

        return styles;
    }

    /// <summary>Whether a format shows a day or a time: it names them outside of quotes and brackets.</summary>
    private static bool ShowsDate(string code)
    {
        var (quoted, bracketed) = (false, false);
        for (var i = 0; i < code.Length; i++)
        {
            switch (code[i])
            {
                case '"':
                    quoted = !quoted;
                    break;
                case '[' when !quoted:
                    bracketed = true;
                    break;
                case ']' when !quoted:
                    bracketed = false;
                    break;
                case '\\' or '_' or '*' when !quoted:
                    i++;
                    break;
                case 'y' or 'm' or 'd' or 'h' or 's' or 'Y' or 'M' or 'D' or 'H' or 'S' when !quoted && !bracketed:
                    return true;
            }
        }

        return false;
    }

    /// <summary>The column of a cell, from 0: "A1" is 0, "XFD1" is 16,383.</summary>
    private static int ColumnOf(string place)
    {
        var column = 0;
        foreach (var letter in place)
        {
            if (!char.IsAsciiLetter(letter))
                break;
            column = Math.Min((column * 26) + (char.ToUpperInvariant(letter) - 'A' + 1), 1 << 20);
        }

        return column - 1 is var from0 and >= 0 ? from0 : throw new FormatException("The cell has no column.");
    }
}
