using System.IO.Compression;
using System.Text;
using CsCheck;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests;

/// <summary>Sheets of workbooks with whatever cells (ECMA-376, part 1, section 18).</summary>
public class SheetTests
{
    private const string Header = "<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>keyword</t></is></c><c r=\"B1\" t=\"inlineStr\"><is><t>volume</t></is></c></row>";

    [Fact]
    public void CellsOfEveryKindAreRead() // 18.18.11 ST_CellType, 18.4.8 si, 18.8.30 numFmt
    {
        var rows = Read(
            Header
            + "<row r=\"3\"><c r=\"A3\" t=\"s\"><v>0</v></c><c r=\"B3\"><f>6*7</f><v>42</v></c></row>"
            + "<row><c t=\"s\"><v>1</v></c><c><v>1.5E3</v></c></row>"
            + "<row r=\"9\"><c r=\"A9\" t=\"b\"><v>1</v></c><c r=\"B9\" s=\"1\"><v>45000</v></c></row>"
            + "<row r=\"10\"><c r=\"B10\" s=\"2\"><v>45000.75</v></c></row>"
            + "<row r=\"11\"><c r=\"A11\" t=\"str\"><v>a_x000A_b</v></c><c r=\"B11\" s=\"3\"><v>45000</v></c></row>");
        Assert.Equal(
            [(3, "kayak|42"), (4, "sea kayak|1500"), (9, "TRUE|2023-03-15"), (10, "|2023-03-15T18:00:00"), (11, "a\nb|45000")],
            rows.Select(r => ((int)r.Line, string.Join('|', r.Row.Value!))));
    }

    [Fact]
    public void OneStrayCellFarToTheRightIsOneRejectedRow()
    {
        var rows = Read(Header + string.Concat(Enumerable.Range(2, 200).Select(i => $"<row r=\"{i}\"><c r=\"A{i}\" t=\"s\"><v>0</v></c>{(i == 7 ? "<c r=\"XFD7\"><v>1</v></c>" : "<c r=\"XFD9\" s=\"1\"/>")}</row>")));
        Assert.Equal(200, rows.Count);
        Assert.Equal((7L, "Has a value in cell XFD7, beyond the 1,000 columns that are read. Delete it, and save the workbook again."), Assert.Single(rows, r => r.Row.Rejected is not null) is var row ? (row.Line, row.Row.Rejected!.Reason) : default);
        Assert.Contains("XFD1", Assert.Throws<TableFormatException>(() => Read("<row r=\"1\"><c r=\"XFD1\"><v>1</v></c></row>")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void AnyCellsAreRowsOrSayWhyNot() => Gen.Select(
            Gen.OneOf(Gen.Const("A"), Gen.Const("B"), Gen.Const("AMJ"), Gen.Const("XFD"), Gen.Const("ZZZZZZZZZ"), Gen.Const(""), Gen.Const("Ä")),
            Gen.Int[-1, 2_000_000],
            Gen.OneOf(Gen.Const("n"), Gen.Const("s"), Gen.Const("b"), Gen.Const("d"), Gen.Const("e"), Gen.Const("str"), Gen.Const("inlineStr"), Gen.Const("x")),
            Gen.OneOf(Gen.Const("0"), Gen.Const("99"), Gen.Const("-1"), Gen.Const("1e400"), Gen.Const("NaN"), Gen.Const("text"), Gen.Const("<t>x</t>"), Gen.Const("")),
            Gen.Int[-1, 5])
        .Array[0, 12].Sample(cells =>
        {
            try
            {
                Assert.All(
                    Read(Header + string.Concat(cells.Select(c => $"<row r=\"{c.Item2}\"><c r=\"{c.Item1}{c.Item2}\" t=\"{c.Item3}\" s=\"{c.Item5}\"><v>{c.Item4}</v></c></row>"))),
                    r => Assert.True(r.Row.Value is not null || r.Row.Rejected is not null));
            }
            catch (TableFormatException e)
            {
                Assert.NotEmpty(e.Message);
            }
        });

    private static List<TableLine> Read(string rows)
    {
        using var file = TableFile.Open(Book(rows));
        return [.. file.Rows()];
    }

    private static MemoryStream Book(string rows)
    {
        const string main = "xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"";
        const string relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
        var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            Add("[Content_Types].xml", """
                <Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
                <Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/>
                <Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>
                <Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/>
                <Override PartName="/xl/sharedStrings.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"/></Types>
                """);
            Add("_rels/.rels", Relations(("rId1", "officeDocument", "xl/workbook.xml")));
            Add("xl/workbook.xml", $"<workbook {main} xmlns:r=\"{relations}\"><sheets><sheet name=\"A\" sheetId=\"1\" r:id=\"rId1\"/></sheets></workbook>");
            Add("xl/_rels/workbook.xml.rels", Relations(("rId1", "worksheet", "worksheets/sheet1.xml"), ("rId2", "styles", "styles.xml"), ("rId3", "sharedStrings", "sharedStrings.xml")));
            Add("xl/styles.xml", $"<styleSheet {main}><numFmts><numFmt numFmtId=\"164\" formatCode=\"[$-409]d\\. mmm hh:mm\"/><numFmt numFmtId=\"165\" formatCode=\"0 &quot;days&quot;\"/></numFmts><cellXfs><xf numFmtId=\"0\"/><xf numFmtId=\"14\"/><xf numFmtId=\"164\"/><xf numFmtId=\"165\"/></cellXfs></styleSheet>");
            Add("xl/sharedStrings.xml", $"<sst {main}><si><t>kayak</t><rPh sb=\"0\" eb=\"1\"><t>said</t></rPh></si><si><r><t>sea </t></r><r><t>kayak</t></r></si></sst>");
            Add("xl/worksheets/sheet1.xml", $"<worksheet {main}><sheetData>{rows}</sheetData></worksheet>");

            void Add(string name, string text)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(Encoding.UTF8.GetBytes(text));
            }

            string Relations(params (string Id, string Type, string Target)[] all) =>
                $"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">{string.Concat(all.Select(r => $"<Relationship Id=\"{r.Id}\" Type=\"{relations}/{r.Type}\" Target=\"{r.Target}\"/>"))}</Relationships>";
        }

        stream.Position = 0;
        return stream;
    }
}
