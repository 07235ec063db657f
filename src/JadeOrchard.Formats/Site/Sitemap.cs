using System.IO.Compression;
using System.Xml;
using JadeOrchard.Core.Site;

namespace JadeOrchard.Formats.Site;

/// <summary>What a sitemap file holds.</summary>
/// <param name="Pages">Addresses of pages.</param>
/// <param name="Sitemaps">Addresses of further sitemaps, where it is an index.</param>
/// <param name="Fault">What was wrong with it, in words; null where nothing was. What was read before it counts.</param>
public sealed record SitemapContent(IReadOnlyList<string> Pages, IReadOnlyList<string> Sitemaps, string? Fault);

/// <summary>Reads sitemaps (sitemaps.org protocol, 0.9): XML, an index of others, or plain text; gzipped or not.</summary>
/// <remarks>At most 50,000 addresses and 50 MB uncompressed, as the protocol says. No DTD is read, no entity followed.</remarks>
public static class Sitemap
{
    public const int MostUrls = 50_000;
    public const int MostBytes = 50 << 20;

    /// <param name="bytes">The file as it came.</param>
    public static SitemapContent Read(byte[] bytes)
    {
        try
        {
            using Stream raw = new MemoryStream(bytes, writable: false);
            using var stream = bytes is [0x1F, 0x8B, ..] ? new GZipStream(raw, CompressionMode.Decompress) : raw;
            using var bounded = new BoundedStream(stream, MostBytes);
            var first = FirstCharacter(bytes, bounded, out var rest);
            return first == '<' ? ReadXml(rest) : ReadText(rest);
        }
        catch (Exception e) when (e is InvalidDataException or TooLargeException)
        {
            return new SitemapContent([], [], e is TooLargeException ? "is larger than 50 MB" : "is no proper gzip file");
        }
    }

    private static SitemapContent ReadXml(Stream stream)
    {
        var (pages, sitemaps) = (new List<string>(), new List<string>());
        string? fault = null;
        var tooLong = 0;
        try
        {
            using var xml = XmlReader.Create(stream, new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                IgnoreComments = true,
                IgnoreProcessingInstructions = true,
                MaxCharactersInDocument = MostBytes,
            });
            var inIndex = false;
            var isReadAhead = false;
            while (isReadAhead || xml.Read())
            {
                isReadAhead = false;
                if (xml.NodeType != XmlNodeType.Element)
                    continue;
                if (xml.LocalName is "sitemap" or "sitemapindex")
                    inIndex = true;
                else if (xml.LocalName is "url" or "urlset")
                    inIndex = false;
                else if (xml.LocalName == "loc" && !xml.NamespaceURI.Contains("image", StringComparison.Ordinal) && !xml.NamespaceURI.Contains("video", StringComparison.Ordinal))
                {
                    // Reading the content goes on to what follows the end.
                    var text = xml.IsEmptyElement ? "" : xml.ReadElementContentAsString().Trim();
                    isReadAhead = text.Length > 0 || !xml.IsEmptyElement;
                    if (text.Length > UrlIdentity.MostLength)
                        tooLong++;
                    else if (text.Length > 0)
                        (inIndex ? sitemaps : pages).Add(text);
                    if (pages.Count >= MostUrls || sitemaps.Count >= MostUrls)
                    {
                        fault = "holds more than 50,000 addresses; the first 50,000 were taken";
                        break;
                    }

                    isReadAhead = isReadAhead && !xml.EOF;
                }
            }
        }
        catch (XmlException e)
        {
            fault = e.Message.Contains("DTD", StringComparison.Ordinal) ? "has a DTD, which is not read" : $"is no proper XML at line {e.LineNumber}";
        }
        catch (Exception e) when (e is TooLargeException or InvalidDataException)
        {
            fault = e is TooLargeException ? "is larger than 50 MB" : "is no proper gzip file";
        }

        return new SitemapContent(pages, sitemaps, fault ?? (tooLong == 0 ? null : $"holds {tooLong} addresses of more than {UrlIdentity.MostLength:N0} characters, which were passed over"));
    }

    private static SitemapContent ReadText(Stream stream)
    {
        using var reader = new StreamReader(stream);
        var pages = new List<string>();
        try
        {
            while (reader.ReadLine() is { } line)
            {
                if (line.Trim() is { Length: > 0 and <= UrlIdentity.MostLength } text && Uri.TryCreate(text, UriKind.Absolute, out var url) && url.Scheme is "http" or "https")
                    pages.Add(text);
                if (pages.Count >= MostUrls)
                    return new SitemapContent(pages, [], "holds more than 50,000 addresses; the first 50,000 were taken");
            }
        }
        catch (Exception e) when (e is TooLargeException or InvalidDataException)
        {
            return new SitemapContent(pages, [], e is TooLargeException ? "is larger than 50 MB" : "is no proper gzip file");
        }

        return new SitemapContent(pages, [], pages.Count == 0 ? "holds no addresses" : null);
    }

    /// <summary>The first character that is no mark or white space, and a stream that begins at the beginning.</summary>
    private static char FirstCharacter(byte[] bytes, Stream stream, out Stream rest)
    {
        var head = new byte[256];
        var count = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        rest = new ConcatenatedStream(head.AsMemory(0, count), stream);
        foreach (var b in head.AsSpan(0, count))
        {
            if (b is not (0xEF or 0xBB or 0xBF or 0xFE or 0xFF or 0) && !char.IsWhiteSpace((char)b))
                return (char)b;
        }

        return bytes.Length == 0 ? '\0' : 'x';
    }

    private sealed class TooLargeException : IOException;

    /// <summary>A stream that fails after a number of bytes, whatever their compressed size.</summary>
    private sealed class BoundedStream(Stream inner, long most) : ReadOnlyStream
    {
        private long _read;

        public override int Read(byte[] buffer, int offset, int count)
        {
            var read = inner.Read(buffer, offset, count);
            return (_read += read) > most ? throw new TooLargeException() : read;
        }
    }

    private sealed class ConcatenatedStream(ReadOnlyMemory<byte> head, Stream tail) : ReadOnlyStream
    {
        private int _at;

        public override int Read(byte[] buffer, int offset, int count)
        {
            if (_at >= head.Length)
                return tail.Read(buffer, offset, count);
            var part = head.Span[_at..Math.Min(head.Length, _at + count)];
            part.CopyTo(buffer.AsSpan(offset));
            _at += part.Length;
            return part.Length;
        }
    }

    private abstract class ReadOnlyStream : Stream
    {
        public override bool CanRead => true;

        public override bool CanSeek => false;

        public override bool CanWrite => false;

        public override long Length => throw new NotSupportedException();

        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

        public override void Flush()
        {
        }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
