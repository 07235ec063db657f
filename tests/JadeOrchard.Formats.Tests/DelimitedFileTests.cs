using System.Text;
using CsCheck;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests;

public class DelimitedFileTests
{
    // RFC 4180, section 2: the examples of its numbered rules.
    [Theory]
    [InlineData("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n")]               // 1
    [InlineData("aaa,bbb,ccc\r\nzzz,yyy,xxx")]                   // 2: the last line break is optional
    [InlineData("\"aaa\",\"bbb\",\"ccc\"\r\nzzz,yyy,xxx")]       // 5
    public void RowsOfTheStandardAreRead(string text)
    {
        var (header, rows) = Read(Encoding.UTF8.GetBytes(text));
        Assert.Equal(["aaa", "bbb", "ccc"], header);
        Assert.Equal(["zzz", "yyy", "xxx"], Assert.Single(rows).Value!);
    }

    private static readonly string[] Parts = ["a", "kayak", ",", ",", "\n", "\n", "\r\n", "\n\n", "\r", "\"", "\"b\"", "\"b, \nc\"", " ", "é🛶", "\0", "\uFEFF", "x,y,", new('k', 70_000)];

    /// <summary>With a quote in the header the parser reads all of a file; without, lines are parted without it as long as they are plain.</summary>
    [Fact]
    public void PlainLinesAreReadAsTheParserReadsThem() =>
        Gen.Int[0, Parts.Length - 1].Select(i => Parts[i]).List[0, 40].Sample(
            parts =>
            {
                var text = string.Concat(parts);
                (long, string) Said(TableLine row) => (row.Line, row.Row.Value is { } fields ? string.Join('|', fields) : row.Row.Rejected!.Reason);
                IEnumerable<(long, string)> Lines(string header)
                {
                    using var file = DelimitedFile.Open(new MemoryStream(Encoding.UTF8.GetBytes($"{header}\n{text}")));
                    return [.. file.Rows().Select(Said)];
                }

                Assert.Equal(Lines("\"keyword\",volume"), Lines("keyword,volume"));
            });

    [Fact]
    public void AQuoteWithinAFieldAfterBlankLinesEndsNothing()
    {
        var (_, rows) = Read("keyword,volume\n\n5\" paddle,5\n\n\nkayak,7\n"u8.ToArray());
        Assert.Equal([["5\" paddle", "5"], ["kayak", "7"]], rows.Select(r => r.Value!));
    }

    [Fact]
    public void QuotedFieldsHoldLineBreaksAndDoubledQuotes()   // RFC 4180, section 2, rules 6 and 7
    {
        var (_, rows) = Read(Encoding.UTF8.GetBytes("a,b,c\r\n\"aaa\",\"b \r\nbb\",\"c\"\"c\"\r\nzzz,yyy,xxx"));
        Assert.Equal(["aaa", "b \r\nbb", "c\"c"], rows[0].Value!);
        Assert.Equal(["zzz", "yyy", "xxx"], rows[1].Value!);
    }

    [Fact]
    public void SpacesArePartOfAField()   // RFC 4180, section 2, rule 4
    {
        var (_, rows) = Read("keyword,volume\n sea kayak , 5\n"u8.ToArray());
        Assert.Equal([" sea kayak ", " 5"], rows[0].Value!);
    }

    [Theory]
    [InlineData("keyword,volume\n\"kayak, sea\",5", ',')]
    [InlineData("keyword;volume\nkayak, sea;5", ';')]
    [InlineData("keyword\tvolume\nkayak, sea; used\t5", '\t')]
    [InlineData("Suchbegriff;Anzahl\nkajak, see;5\nkanu;7", ';')]
    [InlineData("keyword\nkayak; sea", ',')]
    public void TheDelimiterIsFoundOut(string text, char expected)
    {
        using var file = DelimitedFile.Open(new MemoryStream(Encoding.UTF8.GetBytes(text)));
        Assert.Equal(expected, file.Delimiter);
    }

    [Theory]
    [InlineData("utf-8")]
    [InlineData("utf-16")]
    [InlineData("utf-16BE")]
    public void EncodingsAreToldByTheirMark(string name)
    {
        var encoding = Encoding.GetEncoding(name);
        byte[] bytes = [.. encoding.GetPreamble(), .. encoding.GetBytes("keyword,volume\nkäyäk 🛶,5\n")];
        var (header, rows) = Read(bytes);
        Assert.Equal(["keyword", "volume"], header);
        Assert.Equal("käyäk 🛶", rows[0].Value![0]);
    }

    [Fact]
    public void BytesThatAreNoTextRejectTheirRowAlone()
    {
        var (_, rows) = Read([.. "keyword,volume\nk"u8, 0xFF, .. "yak,5\nkayak,6\n"u8]);
        Assert.Equal((2, "keyword"), (rows[0].Rejected!.Line, rows[0].Rejected!.Column));
        Assert.Equal(["kayak", "6"], rows[1].Value!);
    }

    [Fact]
    public void LinesAreCountedThroughQuotedLineBreaksAndBlankLines()
    {
        var (_, rows) = Read("keyword,volume\n\"a\nb\",1\n\n\nc,2,3\n\"d\r\ne\",1,x\n"u8.ToArray());
        Assert.NotNull(rows[0].Value);
        Assert.Equal([6L, 7L], rows.Skip(1).Select(r => r.Rejected!.Line));
    }

    [Fact]
    public void AQuoteThatIsNeverClosedEndsTheReadingWithItsLine()
    {
        var (_, rows) = Read("keyword,volume\nkayak,1\n\"canoe,2\npaddle,3\n"u8.ToArray());
        Assert.Equal(["kayak", "1"], rows[0].Value!);
        Assert.Equal(3, rows[1].Rejected!.Line);
        Assert.Equal(2, rows.Count);
    }

    [Fact]
    public void AnUnclosedQuoteInALargeFileIsBounded()
    {
        var text = "keyword,volume\n\"" + new string('x', DelimitedFile.MaxFieldLength + 10) + "\nkayak,1\n";
        var (_, rows) = Read(Encoding.UTF8.GetBytes(text));
        Assert.Contains("never closed", Assert.Single(rows).Rejected!.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void AnUnquotedQuoteInTheMiddleIsTakenAsItStands()
    {
        var (_, rows) = Read("keyword,volume\n12\" paddle,1\n"u8.ToArray());
        Assert.Equal("12\" paddle", rows[0].Value![0]);
    }

    [Theory]
    [InlineData("")]
    [InlineData("PK\u0003\u0004\0\0\0\0")]
    public void WhatIsNoTableIsRefused(string text) =>
        Assert.Throws<TableFormatException>(() => DelimitedFile.Open(new MemoryStream(Encoding.UTF8.GetBytes(text))));

    [Fact]
    public void WhatIsWrittenIsReadBackToTheLetter() => Gen.String[Gen.Char[(char)1, (char)0xD7FF], 1, 12].Array[2].Array[1, 6].Sample(table =>
    {
        var stream = new MemoryStream();
        TableOutput.WriteCsv(stream, ["a", "b"], table.Select(r => new object?[] { r[0], r[1] }), forSpreadsheets: false);
        var (_, rows) = Read(stream.ToArray());
        return rows.Select(r => r.Value!).Zip(table).All(p => p.First.SequenceEqual(p.Second));
    });

    private static (IReadOnlyList<string> Header, List<TableRow<string[]>> Rows) Read(byte[] bytes)
    {
        using var file = DelimitedFile.Open(new MemoryStream(bytes));
        return (file.Header, file.Rows().Select(r => r.Row).ToList());
    }
}
