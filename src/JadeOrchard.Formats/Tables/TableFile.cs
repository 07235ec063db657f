namespace JadeOrchard.Formats.Tables;

/// <summary>A file that holds a table: CSV, TSV, XLSX or JSON, read row by row.</summary>
public abstract class TableFile : IDisposable
{
    /// <summary>The names of the columns, as in the first row.</summary>
    public abstract IReadOnlyList<string> Header { get; }

    /// <summary>How far it was read, for progress, in the unit of <see cref="Length"/>.</summary>
    public abstract long Position { get; }

    /// <summary>Its length, mostly in bytes.</summary>
    public abstract long Length { get; }

    /// <summary>What kind of file it is, in words: "3 columns separated by comma, UTF-8".</summary>
    public abstract string Says { get; }

    /// <summary>The rows after the header, in order; each file is read once.</summary>
    /// <returns>The fields of a row, or why it cannot be one. The array is reused by nobody and may be kept.</returns>
    public abstract IEnumerable<TableLine> Rows();

    /// <summary>Opens a file of whichever kind its first bytes show.</summary>
    /// <param name="stream">Can seek; is disposed with this.</param>
    /// <exception cref="TableFormatException">It is none of them, or is empty.</exception>
    public static TableFile Open(Stream stream)
    {
        Span<byte> head = stackalloc byte[256];
        stream.Position = 0;
        head = head[..stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false)];
        stream.Position = 0;
        if (head is [(byte)'P', (byte)'K', 3, 4, ..])
            return WorkbookFile.Open(stream);
        if (head is [0xD0, 0xCF, 0x11, 0xE0, ..])
        {
            stream.Dispose();
            throw new TableFormatException("This is a workbook of the old kind (.xls) or one with a password. Save it as .xlsx without a password.");
        }

        var text = head is [0xEF, 0xBB, 0xBF, ..] ? head[3..] : head;
        var first = text.IndexOfAnyExcept(" \t\r\n"u8);
        return first >= 0 && text[first] is (byte)'[' or (byte)'{' ? JsonResultFile.Open(stream) : DelimitedFile.Open(stream);
    }

    /// <inheritdoc cref="Open(System.IO.Stream)"/>
    public static TableFile Open(string path) => Open(Stream(path));

    public void Dispose()
    {
        Dispose(disposing: true);
        GC.SuppressFinalize(this);
    }

    protected abstract void Dispose(bool disposing);

    /// <exception cref="TableFormatException">The file is not there or cannot be read.</exception>
    protected static FileStream Stream(string path)
    {
        try
        {
            return new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.SequentialScan);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new TableFormatException($"{path} cannot be read: {(e is FileNotFoundException or DirectoryNotFoundException ? "there is no such file." : e.Message)}");
        }
    }
}
