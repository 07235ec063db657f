using System.IO.Compression;
using System.Text;
using CsCheck;
using JadeOrchard.Formats.Keywords;
using JadeOrchard.Formats.Results;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests;

/// <summary>Workbooks and JSON as tables, whole and hostile.</summary>
public class TableFileTests
{
    private static readonly string[] Heads = ["", "PK\x03\x04", "[", "{\"", "keyword,position,url\n"];

    [Fact]
    public void AWorkbookIsReadLikeACsvFile()
    {
        using var file = TableFile.Open(Workbook(["Keyword", "Volume", "difficulty"], [["sea kayak", 1200, 30.5], ["=1+1", null, null], [null, 5, 6], ["canoe", "many", 1]]));
        Assert.IsType<WorkbookFile>(file);
        var rows = KeywordTable.Read(file, ColumnMapping.ByName(TableKind.Keywords, file.Header)).ToList();
        Assert.Equal([("sea kayak", 1200L, 30.5), ("=1+1", null, null)], rows.Where(r => r.Value is not null).Select(r => (r.Value!.Phrase, r.Value.Volume, r.Value.Difficulty)));
        Assert.Equal([(4L, "keyword", "Is empty."), (5L, "volume", "Is not a whole number.")], rows.Where(r => r.Rejected is not null).Select(r => (r.Rejected!.Line, r.Rejected.Column, r.Rejected.Reason)));
    }

    [Fact]
    public void WhatIsNoWorkbookSaysSo()
    {
        using var zip = new MemoryStream();
        using (var archive = new ZipArchive(zip, ZipArchiveMode.Create, leaveOpen: true))
            archive.CreateEntry("readme.txt");
        Assert.Contains("no workbook", Fault(zip.ToArray()), StringComparison.Ordinal);
        Assert.Contains("damaged", Fault([(byte)'P', (byte)'K', 3, 4, 1, 2, 3]), StringComparison.Ordinal);
        Assert.Contains(".xls", Fault([0xD0, 0xCF, 0x11, 0xE0, 0, 0]), StringComparison.Ordinal);
    }

    [Fact]
    public void AWorkbookThatWouldUnpackToFarTooMuchIsRefused()
    {
        using var zip = new MemoryStream();
        using (var archive = new ZipArchive(zip, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var sheet = archive.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.Fastest).Open();
            var blank = new byte[1 << 20];
            for (var i = 0; i < 40; i++)
                sheet.Write(blank);
        }

        Assert.Contains("far more than a workbook should", Fault(zip.ToArray()), StringComparison.Ordinal);
    }

    [Fact]
    public void ADamagedWorkbookGivesAWordedErrorWhereverTheDamageIs()
    {
        var whole = Workbook(["keyword", "volume"], [.. Enumerable.Range(0, 50).Select(i => new object?[] { $"kayak {i}", i })]).ToArray();
        Gen.Select(Gen.Int[0, whole.Length - 1], Gen.Byte).Array[1, 8].Sample(
            damages =>
            {
                var bytes = whole.ToArray();
                foreach (var (at, value) in damages)
                    bytes[at] = value;
                ReadAll(bytes);
            },
            iter: 300);
    }

    [Fact]
    public void AnyBytesAreATableOrSayWhyNot() => Gen.Select(Gen.Int[0, Heads.Length - 1].Select(i => Heads[i]), Gen.Byte.Array[0, 200]).Sample((head, tail) =>
        ReadAll([.. Encoding.Latin1.GetBytes(head), .. tail]));

    [Fact]
    public void ResultListsInJsonAreRows()
    {
        using var file = TableFile.Open(new MemoryStream("""
            [{"keyword": "kayak", "captured_at": "2026-11-12", "results": [{"position": 2, "url": "https://b.example/", "title": "B"}, {"url": "https://c.example/"}, {"position": "x", "url": "https://d.example/"}],
              "questions": ["What is a kayak?"], "related": ["canoe", 7]},
             {"no": "list"}, {"keyword": "empty", "results": []}]
            """u8.ToArray()));
        var rows = new ResultTable(Core.Site.UrlFolds.All).Read(file, ColumnMapping.ByName(TableKind.Results, file.Header)).ToList();
        Assert.Equal([("kayak", 2, "https://b.example/", "B"), ("kayak", 2, "https://c.example/", null)], rows.Where(r => r.Value is not null).Select(r => (r.Value!.Phrase, r.Value.Position, r.Value.Url, r.Value.Title)));
        Assert.Equal([(1L, "position"), (2L, "")], rows.Where(r => r.Rejected is not null).Select(r => (r.Rejected!.Line, r.Rejected.Column)));
        var phrases = ((JsonResultFile)file).Phrases().ToList();
        Assert.Equal(["What is a kayak?"], phrases[0].Questions);
        Assert.Equal(["canoe"], phrases[0].Related);
        Assert.True(phrases[1].IsEmpty);
    }

    [Theory]
    [InlineData("[", "no proper JSON")]
    [InlineData("{\"keyword\": 1}", "must be an array")]
    public void JsonThatIsNoListOfListsSaysSo(string json, string says) => Assert.Contains(says, Fault(Encoding.UTF8.GetBytes(json)), StringComparison.Ordinal);

    private static string Fault(byte[] bytes) => Assert.Throws<TableFormatException>(() => TableFile.Open(new MemoryStream(bytes)).Dispose()).Message;

    /// <summary>Whatever the bytes are, reading ends in rows, rejected rows or a worded error.</summary>
    private static void ReadAll(byte[] bytes)
    {
        try
        {
            using var file = TableFile.Open(new MemoryStream(bytes));
            Assert.All(file.Rows(), r => Assert.True(r.Row.Value is not null || r.Row.Rejected is not null));
        }
        catch (TableFormatException e)
        {
            Assert.NotEmpty(e.Message);
        }
    }

    private static MemoryStream Workbook(string[] columns, IReadOnlyList<object?[]> rows)
    {
        var stream = new MemoryStream();
        TableOutput.WriteXlsx(stream, "Keywords", [.. columns.Select(c => new OutputColumn(c))], rows);
        stream.Position = 0;
        return stream;
    }
}
