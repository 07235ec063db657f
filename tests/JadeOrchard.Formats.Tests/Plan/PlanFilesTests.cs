using System.Diagnostics;
using System.Text;
using JadeOrchard.Formats.Plan;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests.Plan;

/// <summary>Calendars and workbooks, read back by other libraries (Debian's python3-icalendar and python3-openpyxl).</summary>
public sealed class PlanFilesTests
{
    private static readonly CalendarStep Step = new(
        "step-7@fenwater.example", new DateOnly(2026, 12, 31), "Refresh /guides; dry, suits\\long", "First line\nsecond, with; signs and a very long sentence that has to be folded since it is longer than the seventy-five octets that a line may have, été 海",
        "https://fenwater.example/guides", "Ada", false, new DateTimeOffset(2026, 11, 28, 10, 0, 0, TimeSpan.Zero));

    /// <summary>RFC 5545, 3.1: lines of at most 75 octets, CRLF, a space before what goes on; 3.3.11: backslash, semicolon, comma and line break escaped.</summary>
    [Fact]
    public void LinesAreFoldedAndTextIsEscaped()
    {
        var text = StepCalendar.Write("Fenwater: plan", [Step]);
        Assert.All(text.Split("\r\n"), line => Assert.True(Encoding.UTF8.GetByteCount(line) <= 75, line));
        Assert.DoesNotContain("\n", text.Replace("\r\n", "", StringComparison.Ordinal), StringComparison.Ordinal);
        var unfolded = text.Replace("\r\n ", "", StringComparison.Ordinal);
        Assert.Contains(@"SUMMARY:Refresh /guides\; dry\, suits\\long", unfolded, StringComparison.Ordinal);
        Assert.Contains(@"DESCRIPTION:First line\nsecond\, with\; signs", unfolded, StringComparison.Ordinal);
        Assert.Contains("DTSTART;VALUE=DATE:20261231", unfolded, StringComparison.Ordinal);
        Assert.Contains("UID:step-7@fenwater.example", unfolded, StringComparison.Ordinal);
        Assert.Contains("DTSTAMP:20261128T100000Z", unfolded, StringComparison.Ordinal);
    }

    [Fact]
    public void AnotherLibraryReadsTheCalendar()
    {
        var said = Python(
            "import sys, icalendar\nc = icalendar.Calendar.from_ical(sys.stdin.buffer.read())\nfor e in c.walk('VEVENT'):\n  print(e['UID'], e['DTSTART'].dt, e['DTEND'].dt, e['STATUS'], repr(str(e['SUMMARY'])), repr(str(e['DESCRIPTION'])))",
            Encoding.UTF8.GetBytes(StepCalendar.Write("Fenwater: plan", [Step, Step with { Id = "step-8@fenwater.example", IsDropped = true }])));
        Assert.Equal(2, said.Count);
        Assert.Equal("step-7@fenwater.example 2026-12-31 2027-01-01 CONFIRMED 'Refresh /guides; dry, suits\\\\long' 'First line\\n" + Step.Description.Split('\n')[1] + "'", said[0]);
        Assert.Contains("CANCELLED", said[1], StringComparison.Ordinal);
    }

    [Fact]
    public void AnotherLibraryReadsTheWorkbook()
    {
        using var stream = new MemoryStream();
        WorkbookOutput.Write(stream,
        [
            new OutputSheet("Steps", [new("Step", 7), new("Page", 46), new("Due", 12), new("Gain")], [[1L, "=1+1\nsecond line", new DateOnly(2026, 12, 31), 2.5], [2L, "a\u0001b <&>", null, null]]),
            new OutputSheet("Roadmap", [new("Week", 12)], []),
        ]);
        var said = Python(
            """
            import sys, io, openpyxl
            book = openpyxl.load_workbook(io.BytesIO(sys.stdin.buffer.read()))
            print(book.sheetnames)
            s = book['Steps']
            print([[repr(c.value) for c in r] for r in s.iter_rows(values_only=False)])
            print(s.freeze_panes, s.auto_filter.ref, s.column_dimensions['B'].width, s['B2'].alignment.wrap_text, s['B2'].data_type, s['C2'].number_format, s['A1'].font.b)
            """,
            stream.ToArray());
        Assert.Equal("['Steps', 'Roadmap']", said[0]);
        Assert.Equal("[[\"'Step'\", \"'Page'\", \"'Due'\", \"'Gain'\"], ['1', \"'=1+1\\\\nsecond line'\", 'datetime.datetime(2026, 12, 31, 0, 0)', '2.5'], ['2', \"'ab <&>'\", 'None', 'None']]", said[1]);
        Assert.Equal("A2 A1:D3 46.0 True s yyyy-mm-dd True", said[2]);
        // And so does our own reader, which a team's changes come back through.
        stream.Position = 0;
        using var file = TableFile.Open(stream);
        Assert.Equal(["Step", "Page", "Due", "Gain"], file.Header);
        Assert.Equal("1", file.Rows().First().Row.Value![0]);
    }

    private static List<string> Python(string script, byte[] input)
    {
        using var process = Process.Start(new ProcessStartInfo("/usr/bin/python3", ["-c", script])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            StandardOutputEncoding = Encoding.UTF8,
            Environment = { ["PYTHONIOENCODING"] = "utf-8" },
        })!;
        process.StandardInput.BaseStream.Write(input);
        process.StandardInput.Close();
        var output = process.StandardOutput.ReadToEnd();
        var error = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, error);
        return [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries)];
    }
}
