using System.Globalization;
using System.Text.Json;

namespace JadeOrchard.Formats.Tables;

/// <summary>Reads result lists from JSON: an array of lists, each with its results; seen as rows of the usual columns.</summary>
/// <remarks>
/// [{"keyword": "…", "captured_at": "2026-11-12", "results": [{"position": 1, "url": "…", "title": "…", "snippet": "…"}],
/// "questions": ["…"], "related": ["…"]}]. A position that is missing is the place in the list.
/// </remarks>
public sealed class JsonResultFile : TableFile
{
    /// <summary>Larger files are refused; CSV has no such limit.</summary>
    public const long MostBytes = 512L << 20;

    private static readonly string[] Columns = ["keyword", "position", "url", "title", "snippet", "captured_at"];
    private readonly Stream _stream;
    private static readonly JsonSerializerOptions Options = new() { MaxDepth = 16 };
    private long _at;

    private JsonResultFile(Stream stream)
    {
        _stream = stream;
        Length = Lists().Count();
    }

    public override IReadOnlyList<string> Header => Columns;

    public override long Position => _at;

    /// <summary>In lists.</summary>
    public override long Length { get; }

    public override string Says => $"{Length} result lists in JSON";

    /// <param name="stream">Can seek; is disposed with this.</param>
    /// <exception cref="TableFormatException">It is no JSON, or not an array of lists.</exception>
    public static new JsonResultFile Open(Stream stream)
    {
        try
        {
            if (stream.Length > MostBytes)
                throw new TableFormatException("The JSON file is larger than 512 MB. Bring it as CSV, which is read piece by piece.");
            if (FirstOf(stream) != '[')
                throw new TableFormatException("The JSON file must be an array of result lists, each with keyword and results.");
            // Once to the end, so that nothing of a file goes in that is no JSON further down.
            return new JsonResultFile(stream);
        }
        catch (JsonException e)
        {
            stream.Dispose();
            throw new TableFormatException($"The file is no proper JSON: line {e.LineNumber + 1}, byte {e.BytePositionInLine}.");
        }
        catch (TableFormatException)
        {
            stream.Dispose();
            throw;
        }
    }

    /// <summary>A row for each result; the line is the number of the list.</summary>
    public override IEnumerable<TableLine> Rows()
    {
        foreach (var list in Lists())
        {
            _at++;
            if (Text(list, "keyword") is not { } keyword || !list.TryGetProperty("results", out var results) || results.ValueKind != JsonValueKind.Array)
            {
                yield return new TableLine(_at, new(null, RejectedRow.At(_at, "", "Is no result list: it needs keyword and results.", list.GetRawText())));
                continue;
            }

            var capturedAt = Text(list, "captured_at") ?? "";
            var place = 0;
            foreach (var result in results.EnumerateArray())
            {
                place++;
                yield return new TableLine(_at, new(
                    [
                        keyword, Text(result, "position") ?? place.ToString(CultureInfo.InvariantCulture), Text(result, "url") ?? "",
                        Text(result, "title") ?? "", Text(result, "snippet") ?? "", capturedAt,
                    ],
                    null));
            }
        }
    }

    /// <summary>What came with the lists beside results; lists that are no lists are passed over.</summary>
    public IEnumerable<(string Keyword, string? CapturedAt, bool IsEmpty, IReadOnlyList<string> Questions, IReadOnlyList<string> Related)> Phrases()
    {
        foreach (var list in Lists())
        {
            if (Text(list, "keyword") is { } keyword && list.TryGetProperty("results", out var results) && results.ValueKind == JsonValueKind.Array)
                yield return (keyword, Text(list, "captured_at"), results.GetArrayLength() == 0, Texts(list, "questions"), Texts(list, "related"));
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (!disposing)
            return;
        _stream.Dispose();
    }

    /// <summary>The lists one after another: only one of them is held, however many the file has.</summary>
    private IEnumerable<JsonElement> Lists()
    {
        _stream.Position = 0;
        return JsonSerializer.DeserializeAsyncEnumerable<JsonElement>(_stream, Options).ToBlockingEnumerable();
    }

    /// <returns>The first character that is no byte order mark and no white space.</returns>
    private static char FirstOf(Stream stream)
    {
        Span<byte> head = stackalloc byte[256];
        stream.Position = 0;
        head = head[..stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false)];
        var at = head.IndexOfAnyExcept((ReadOnlySpan<byte>)[(byte)' ', (byte)'\t', (byte)'\r', (byte)'\n', 0xEF, 0xBB, 0xBF]);
        return at < 0 ? ' ' : (char)head[at];
    }

    private static string? Text(JsonElement element, string name) =>
        element.ValueKind != JsonValueKind.Object || !element.TryGetProperty(name, out var value) ? null
        : value.ValueKind switch
        {
            JsonValueKind.String => value.GetString(),
            JsonValueKind.Number => value.GetRawText(),
            _ => null,
        };

    private static IReadOnlyList<string> Texts(JsonElement element, string name) =>
        element.TryGetProperty(name, out var values) && values.ValueKind == JsonValueKind.Array
            ? [.. values.EnumerateArray().Where(v => v.ValueKind == JsonValueKind.String).Select(v => v.GetString()!).Where(v => v.Length is > 0 and <= 500)]
            : [];
}
