using System.Diagnostics;
using System.Text;
using System.Text.Json;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Formats.Briefs;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests.Briefs;

/// <summary>Briefs in each of their forms, and texts that come back; documents are read back by Debian's python3-docx and python3-openpyxl.</summary>
public sealed class BriefFileTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("briefs").FullName;
    private readonly TextAnalysis _english = new("en");

    public void Dispose()
    {
        _english.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    [Fact]
    public void ADocumentHasItsHeadingsTablesAndBoxes()
    {
        var path = Write(BriefFormat.Docx);
        var read = Python($$"""
            import docx, json, re, zipfile
            d = docx.Document({{JsonSerializer.Serialize(path)}})
            body = zipfile.ZipFile({{JsonSerializer.Serialize(path)}}).read('word/document.xml').decode()
            print(json.dumps({
                'headings': [[p.style.name, p.text] for p in d.paragraphs if p.style.name.lower().startswith('heading') or p.style.name == 'Title'],
                'tables': [[c.text for c in t.rows[0].cells] for t in d.tables],
                'keywords': [r.cells[0].text for r in d.tables[2].rows[1:]],
                'widths': [sum(c.width for c in t.rows[0].cells) for t in d.tables],
                'boxes': len(re.findall('<w14:checkbox', body)), 'title': d.core_properties.title}))
            """);
        var headings = read.GetProperty("headings").EnumerateArray().Select(h => (Style: h[0].GetString(), Text: h[1].GetString())).ToList();
        Assert.Equal(("Title", "Brief: dry <suit>"), headings[0]);
        // The outline as headings to write under.
        Assert.Equal([("Heading 2", "Washing & drying"), ("Heading 3", "Zips")], headings.Where(h => h.Text is "Washing & drying" or "Zips"));
        Assert.Contains(("Heading 1", "Keywords"), headings);
        Assert.Equal(["dry <suit> (primary)", "how to wash a dry suit", "“quoted” dry suit | pipe"], read.GetProperty("keywords").EnumerateArray().Select(k => k.GetString()));
        Assert.Equal(Brief().Checklist.Length, read.GetProperty("boxes").GetInt32());
        // No table is wider than the page between its margins (17 cm, in English Metric Units).
        Assert.All(read.GetProperty("widths").EnumerateArray(), w => Assert.InRange(w.GetInt64(), 5_000_000, 6_130_000));
    }

    [Fact]
    public void AWorkbookHasASheetForEachPart()
    {
        var path = Write(BriefFormat.Xlsx);
        var read = Python($$"""
            import json, openpyxl
            b = openpyxl.load_workbook({{JsonSerializer.Serialize(path)}})
            print(json.dumps({'sheets': b.sheetnames, 'volumes': [c.value for c in b['Keywords']['B']], 'frozen': b['Keywords'].freeze_panes}))
            """);
        Assert.Equal(["Brief", "Title, description and main hea", "Keywords", "Outline", "Questions to answer", "Terms that ranking pages share", "Change", "Add", "Links", "Pages that rank", "Before it is sent back"], read.GetProperty("sheets").EnumerateArray().Select(s => s.GetString()));
        Assert.Equal(900, read.GetProperty("volumes")[1].GetInt64());
        Assert.Equal("A2", read.GetProperty("frozen").GetString());
    }

    [Fact]
    public void APageNeedsNothingElseAndRunsNothing()
    {
        var html = File.ReadAllText(Write(BriefFormat.Html));
        Assert.Contains("dry &lt;suit&gt;", html, StringComparison.Ordinal);
        foreach (var never in new[] { "<script", "http-equiv", "src=", "<link" })
            Assert.DoesNotContain(never, html, StringComparison.OrdinalIgnoreCase);
        Assert.All(Brief().Keywords, k => Assert.Contains(System.Net.WebUtility.HtmlEncode(k.Phrase), html, StringComparison.Ordinal));
    }

    /// <summary>CommonMark, example 12 and following: a backslash before punctuation makes it plain.</summary>
    [Fact]
    public void MarkdownIsReadAsWhatWasMeant()
    {
        var text = DraftFile.Read(File.ReadAllBytes(Write(BriefFormat.Md)), "brief.md");
        Assert.Equal("Brief: dry <suit>", text.H1[0]);
        Assert.Equal([2, 3], text.H2.Where(h => h.Text is "Washing & drying" or "Zips").Select(h => h.Level));
        Assert.Contains(text.Paragraphs, p => p == "“quoted” dry suit | pipe");
    }

    [Fact]
    public void JsonHoldsAllOfIt()
    {
        var json = JsonDocument.Parse(File.ReadAllText(Write(BriefFormat.Json))).RootElement;
        Assert.Equal("Ada", json.GetProperty("writer").GetString());
        Assert.Equal(3, json.GetProperty("brief").GetProperty("keywords").GetArrayLength());
        Assert.Equal("transactional", json.GetProperty("brief").GetProperty("keywords")[0].GetProperty("intent").GetString());
    }

    [Fact]
    public void TextsComeFromAnyKindOfFile()
    {
        var html = DraftFile.Read(Encoding.UTF8.GetBytes("<title>T</title><nav>Shop</nav><main><h1>A</h1><p>One <b>two</b>.</p><h2>B</h2><ul><li>three</li></ul><img alt=\"a boat\"><aside><h2>Letters</h2></aside></main>"), "x.HTML");
        Assert.Equal(("T", "A", "B", "One two.|three", "a boat"), (html.Title, html.H1[0], Assert.Single(html.H2).Text, string.Join('|', html.Paragraphs), html.Alts[0]));
        var markdown = DraftFile.Read(Encoding.UTF8.GetBytes("# A\n\nOne *two*.\n\n### B\n\n- three\n"), "x.md");
        Assert.Equal(("A", 3, "One two.|three"), (markdown.H1[0], markdown.H2[0].Level, string.Join('|', markdown.Paragraphs)));
        Assert.Equal("One two.|three", string.Join('|', DraftFile.Read(Encoding.UTF8.GetBytes("One two.\r\n\r\nthree"), "x.txt").Paragraphs));
        Assert.Equal("Brief: dry <suit>", DraftFile.Read(File.ReadAllBytes(Write(BriefFormat.Docx)), "x.docx").H1[0]);
        Assert.Throws<TableFormatException>(() => DraftFile.Read([1, 2, 3], "x.docx"));
        Assert.Throws<TableFormatException>(() => DraftFile.Read([1, 2, 3], "x.pdf"));
    }

    private string Write(BriefFormat format)
    {
        var path = Path.Combine(_folder, "brief." + format.ToString().ToLowerInvariant());
        using (var stream = File.Create(path))
            BriefFile.Write(stream, Brief(), new BriefFor("Fenwater", "Ada", new DateOnly(2026, 12, 11), "Plain and friendly\u0001."), format);
        return path;
    }

    private Brief Brief()
    {
        Keyword Of(string phrase, long volume) => new(phrase, KeywordNormalForm.Of(phrase), volume, 30, Intent: Intent.Transactional);
        var pages = Enumerable.Range(0, 3).Select(i => new PageText($"https://r{i}.example/", "Dry suits", null, ["Dry suits"], [new PageHeading(2, "Washing & drying"), new PageHeading(3, "Zips")], ["The latex seal wants powder. Wash it."], [])).ToList();
        var others = Enumerable.Range(0, 6).Select(i => PageText.Of($"https://o{i}.example/", null, [], "Paddles are light."));
        List<PageText> all = [.. pages, .. others];
        var own = new PageText("https://www.fenwater.example/dry-suits", "Suits", null, ["Suits"], [], ["Our suits keep you dry."], []);
        Keyword[] keywords = [Of("dry <suit>", 900), Of("how to wash a dry suit", 200), Of("“quoted” dry suit | pipe", 10)];
        return new BriefMaker(_english, "en", " | Fenwater").Of(new BriefFacts(
            keywords, own.Url!, own, [.. pages.Select((p, i) => new RankedPage(p, i + 1, 3, true))], all, new Terms(all, _english, "en").Of([([0, 1, 2], ["dry suit"])], [])[0], [], [0, 0, 0],
            [new BriefLink("https://www.fenwater.example/a", "seals")], []));
    }

    private static JsonElement Python(string script)
    {
        using var process = Process.Start(new ProcessStartInfo("/usr/bin/python3", ["-c", script]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, error.Result);
        return JsonDocument.Parse(output.Result).RootElement;
    }
}
