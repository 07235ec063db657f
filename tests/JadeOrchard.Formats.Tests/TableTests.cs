using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml.Linq;
using CsCheck;
using CsvHelper;
using CsvHelper.Configuration;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Performance;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Site;
using JadeOrchard.Formats.Tables;
using MiniExcelLibs;

namespace JadeOrchard.Formats.Tests;

public class TableTests
{
    [Fact]
    public void AKeywordRowIsReadWhole()
    {
        var row = Assert.Single(Keywords("Keyword,Volume,Difficulty,Title matches,Intent,CPC\nSea Kayak,\"6,600\",41.5,1 200,Commercial,\"0,45\""));
        Assert.Equal(new Keyword("Sea Kayak", "sea kayak", 6600, 41.5, 1200, Intent.Commercial, 0.45), row.Value);
    }

    [Theory]
    [InlineData("kayak,many,,,,", "volume", "Is not a whole number.")]
    [InlineData("kayak,1.5,,,,", "volume", "Is not a whole number.")]
    [InlineData("kayak,-5,,,,", "volume", "Must be from 0")]
    [InlineData("kayak,,101,,,", "difficulty", "Must be from 0 to 100.")]
    [InlineData("kayak,,NaN,,,", "difficulty", "Is not a number.")]
    [InlineData("kayak,,,,wanting,", "intent", "Is not informational")]
    [InlineData("kayak,,,,1,", "intent", "Is not informational")]
    [InlineData(" ,5,,,,", "keyword", "Is empty.")]
    [InlineData("??,5,,,,", "keyword", "Nothing that can be searched for")]
    [InlineData("kay\0ak,5,,,,", "keyword", "Holds a null character.")]
    public void ABadFieldRejectsItsRowWithColumnAndReason(string line, string column, string reason)
    {
        var rejected = Assert.Single(Keywords("keyword,volume,difficulty,title_matches,intent,cpc\n" + line)).Rejected!;
        Assert.Equal((2L, column), (rejected.Line, rejected.Column));
        Assert.StartsWith(reason, rejected.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void MonthsAreReadAndBadOnesReject()
    {
        Assert.Equal(12, Assert.Single(Keywords("keyword,monthly_volumes\nkayak,1|2|3|4|5|6|7|8|9|10|11|12")).Value!.Monthly!.Volumes[^1]);
        Assert.Null(Assert.Single(Keywords("keyword,monthly_volumes\nkayak,")).Value!.Monthly);
        var rejected = Assert.Single(Keywords("keyword,monthly_volumes\nkayak,1|2|3")).Rejected!;
        Assert.Equal(("monthly_volumes", "Is not a list of 12 or more whole numbers, separated by \"|\"."), (rejected.Column, rejected.Reason));
    }

    [Fact]
    public void UnknownValuesStayUnknown()
    {
        var keyword = Assert.Single(Keywords("keyword,volume,title_matches\nkayak,,")).Value!;
        Assert.Null(keyword.Volume);
        Assert.Null(keyword.TitleMatches);
    }

    [Fact]
    public void AMissingColumnIsNamedWithTheColumnsThereAre()
    {
        var error = Assert.Throws<TableFormatException>(() => Keywords("phrase,volume\nkayak,5"));
        Assert.Contains("no column named keyword", error.Message, StringComparison.Ordinal);
        Assert.Contains("phrase, volume", error.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void ColumnsAreMappedByHand()
    {
        using var file = Open("Suchbegriff;Anzahl\nkajak;70");
        var mapping = ColumnMapping.ByHand(TableKind.Keywords, new Dictionary<string, int> { ["keyword"] = 0, ["volume"] = 1 });
        Assert.Equal(70, Assert.Single(KeywordTable.Read(file, mapping)).Value!.Volume);
    }

    [Theory]
    [InlineData("kayak,0,https://a.example/", "position")]
    [InlineData("kayak,first,https://a.example/", "position")]
    [InlineData("kayak,,https://a.example/", "position")]
    [InlineData("kayak,1,javascript:x", "url")]
    [InlineData("kayak,1,", "url")]
    public void BadResultsAreRejected(string line, string column) =>
        Assert.Equal(column, Assert.Single(Results("keyword,position,url\n" + line, rawUrls: false)).Rejected!.Column);

    [Theory]
    [InlineData("2026-11-12")]
    [InlineData("2026-11-12T23:30:00Z")]
    [InlineData("2026-11-13T00:30:00+01:00")]   // RFC 3339, section 5.8: an offset of an hour is the hour before in UTC
    public void CapturesAreToldApartByDayInUtc(string captured)
    {
        var row = Assert.Single(Results("keyword,position,url,captured_at\nkayak,1,https://a.example/," + captured, rawUrls: false));
        Assert.Equal(new DateOnly(2026, 11, 12), row.Value!.CapturedOn);
    }

    [Fact]
    public void RawUrlsAreComparedAsTheyAreGiven()
    {
        var rows = Results("keyword,position,url\nkayak,1,HTTP://A.example/\nkayak,2,not a url", rawUrls: true);
        Assert.Equal(["HTTP://A.example/", "not a url"], rows.Select(r => r.Value!.Identity));
    }

    [Fact]
    public void PagesOfOtherHostsAreRejected()
    {
        using var file = Open("url,title,words,h2,text\nhttps://www.f.example/a,A,\"1,200\",One | Two,All of it\nhttps://g.example/,G,5,,\n");
        var rows = PageTable.Read(file, ColumnMapping.ByName(TableKind.Pages, file.Header), new OwnSite("f.example")).ToList();
        Assert.Equal(new ImportedPage(new SitePage("https://www.f.example/a", "A", Words: 1200, H2: "One | Two"), "All of it"), rows[0].Value);
        Assert.Equal("Is not a page of f.example.", rows[1].Rejected!.Reason);
    }

    [Fact]
    public void SearchPerformanceIsReadAndFaultsAreTold()
    {
        using var file = Open(
            """
            Query,Page,Date,Clicks,Impressions,Position
            Dry Suits?,https://www.f.example/dry-suits/,2026-10-01,3,40,4.25
            dry suits,https://g.example/,2026-10-01,3,40,4.25
            dry suits,/dry-suits,2026-10-01,3,40,4.25
            dry suits,https://f.example/a,yesterday,3,40,4.25
            dry suits,https://f.example/a,2026-10-01,50,40,4.25
            dry suits,https://f.example/a,2026-10-01,3,40,0.2
            dry suits,https://f.example/a,2026-10-01,0,0,0
            dry suits,https://f.example/a,2026-10-01,3,-1,4
            ,https://f.example/a,2026-10-01,3,40,4
            ???,https://f.example/a,2026-10-01,3,40,4
            """);
        var rows = new PerformanceTable(new OwnSite("f.example")).Read(file, ColumnMapping.ByName(TableColumns.KindOf(file.Header)!.Value, file.Header)).ToList();
        Assert.Equal(new PerformanceOnDay("Dry Suits?", "dry suits", "https://www.f.example/dry-suits/", "https://f.example/dry-suits", new DateOnly(2026, 10, 1), 3, 40, 4.25), rows[0].Value);
        Assert.Equal(
            ["page: Is not a page of f.example.", "page: Is not an http or https address.", "date: Is not a date such as 2026-11-12 or 2026-11-12T08:30:00Z.", "clicks: Is more than the impressions.", "position: Must be from 1 to 10000."],
            rows[1..6].Select(r => $"{r.Rejected!.Column}: {r.Rejected.Reason}"));
        Assert.Equal(0, rows[6].Value!.Impressions);
        Assert.Equal("impressions", rows[7].Rejected!.Column);
        // A source that names no query, to keep the searcher anonymous, tells something of the page all the same.
        Assert.Equal(("", "", 3L), (rows[8].Value!.Query, rows[8].Value!.NormalForm, rows[8].Value!.Clicks));
        Assert.Equal("query", rows[9].Rejected!.Column);
    }

    // Common practice against formulas in CSV (OWASP, "CSV Injection"): = + - @ tab and carriage return.
    [Theory]
    [InlineData("=1+1")]
    [InlineData("+1")]
    [InlineData("-1")]
    [InlineData("@sum(a1)")]
    [InlineData("\t=1", "'\t'=1")]
    [InlineData("\r=1", "'\r'=1")]
    [InlineData("a;=1+1;b", "a;'=1+1;b")]
    [InlineData("\uff1d1", "'\uff1d1")]
    [InlineData("\u200b\ufeff=1", "'\u200b\ufeff=1")]
    [InlineData("\n=1", "'\n'=1")]
    [InlineData("a-b=c, 3+4; see d", "a-b=c, 3+4; see d")]
    public void NoCsvCellForSpreadsheetsIsAFormula(string text, string? guarded = null)
    {
        var stream = new MemoryStream();
        TableOutput.WriteCsv(stream, ["a", "b"], [[text, -5]], forSpreadsheets: true);
        stream.Position = 0;
        using var file = DelimitedFile.Open(stream);
        var fields = file.Rows().Single().Row.Value!;
        Assert.Equal(guarded ?? "'" + text, fields[0]);
        Assert.Equal("-5", fields[1]);
    }

    /// <summary>Whatever a program takes for the separator, no field of it begins a formula, also behind what is not seen.</summary>
    [Fact]
    public void NoFieldInAnyDialectIsAFormula() => Gen.OneOf(
            Gen.Const("="), Gen.Const("+"), Gen.Const("-"), Gen.Const("@"), Gen.Const("\uff20"), Gen.Const(";"), Gen.Const("\t"), Gen.Const("|"), Gen.Const(":"), Gen.Const(","), Gen.Const("\""), Gen.Const("\n"), Gen.Const("\r"),
            Gen.Const(" "), Gen.Const("\u200b"), Gen.Const("\u00a0"), Gen.Const("'"), Gen.Const("kayak"), Gen.Const("1"))
        .Array[0, 8].Select(string.Concat).Array[1, 3].Sample(
            texts =>
            {
                var stream = new MemoryStream();
                TableOutput.WriteCsv(stream, [.. texts.Select((_, i) => $"c{i}")], [[.. texts]], forSpreadsheets: true);
                var csv = Encoding.UTF8.GetString(stream.ToArray());
                foreach (var separator in new[] { ",", ";", "\t", "|", ":" })
                {
                    using var parser = new CsvParser(new StringReader(csv), new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = separator, Mode = CsvMode.RFC4180, BadDataFound = null });
                    while (parser.Read())
                    {
                        Assert.All(parser.Record!, field => Assert.False(
                            field.TrimStart().TrimStart('\u200b', '"', ' ', '\u00a0', '\n', '\r', '\t').Trim() is ['=' or '+' or '-' or '@' or '\uff20', ..], $"{separator} {csv} -> {field}"));
                    }
                }
            });

    [Fact]
    public void TheWorkbookHasFrozenHeaderWidthsWrappedTextNumbersAndNoFormula()
    {
        var stream = new MemoryStream();
        TableOutput.WriteXlsx(stream, "Plan", [new("Page", 40), new("Demand", 12)], [["=cmd|' /C calc'!A0\nsecond \u0001line", 1234L], [null, 0.5]]);
        stream.Position = 0;
        using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
        var sheet = Part(zip, "xl/worksheets/sheet1.xml");
        XNamespace x = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
        Assert.Equal("frozen", sheet.Descendants(x + "pane").Single().Attribute("state")!.Value);
        Assert.Equal("1", sheet.Descendants(x + "pane").Single().Attribute("ySplit")!.Value);
        Assert.Equal([40d, 12d], sheet.Descendants(x + "col").Select(c => Math.Floor(double.Parse(c.Attribute("width")!.Value, CultureInfo.InvariantCulture))));
        Assert.Empty(sheet.Descendants(x + "f"));
        Assert.Contains(Part(zip, "xl/styles.xml").Descendants(x + "alignment"), a => a.Attribute("wrapText")?.Value is "1" or "true");
        stream.Position = 0;
        var rows = MiniExcel.Query(stream, useHeaderRow: true).Cast<IDictionary<string, object>>().ToList();
        Assert.Equal("=cmd|' /C calc'!A0\nsecond line", rows[0]["Page"]);
        Assert.Equal(1234d, rows[0]["Demand"]);
        Assert.Null(rows[1]["Page"]);
    }

    private static XDocument Part(ZipArchive zip, string name)
    {
        using var part = zip.GetEntry(name)!.Open();
        return XDocument.Load(part);
    }

    private static DelimitedFile Open(string text) => DelimitedFile.Open(new MemoryStream(Encoding.UTF8.GetBytes(text)));

    private static List<TableRow<Keyword>> Keywords(string text)
    {
        using var file = Open(text);
        return KeywordTable.Read(file, ColumnMapping.ByName(TableKind.Keywords, file.Header)).ToList();
    }

    private static List<TableRow<Core.Results.CapturedResult>> Results(string text, bool rawUrls)
    {
        using var file = Open(text);
        return new ResultTable(UrlFolds.All, rawUrls).Read(file, ColumnMapping.ByName(TableKind.Results, file.Header)).ToList();
    }
}
