using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace JadeOrchard.Core.Briefs;

/// <summary>How wide text is in the sans font that this program ships with, at its regular weight, without kerning.</summary>
/// <remarks>The widths are those of the font's own tables; Fonts/make.py writes them.</remarks>
public static class FontWidths
{
    /// <summary>Of a title in results, in pixels (common practice).</summary>
    public const double TitleSize = 20;

    /// <summary>Of a description in results, in pixels (common practice).</summary>
    public const double DescriptionSize = 14;

    /// <summary>Of characters that the font has not: a digit's, or a square for those of East Asia, which take one in any font.</summary>
    private const int Unknown = 497, Square = 1_000;

    private static readonly FrozenDictionary<int, int> Widths = Load();

    /// <returns>The width in pixels.</returns>
    /// <param name="text">Any text.</param>
    /// <param name="size">Of the font, in pixels.</param>
    public static double Of(string text, double size) => text.EnumerateRunes().Sum(WidthOf) * size / 1_000;

    /// <returns>As much of a text as fits, with an ellipsis where something had to go; cut between words where there are any.</returns>
    public static string Cut(string text, double size, double pixels)
    {
        if (Of(text, size) <= pixels)
            return text;
        var kept = new StringBuilder();
        var (width, wordEnd) = (Of("…", size), 0);
        foreach (var rune in text.EnumerateRunes())
        {
            width += WidthOf(rune) * size / 1_000;
            if (width > pixels)
                break;
            if (Rune.IsWhiteSpace(rune))
                wordEnd = kept.Length;
            kept.Append(rune);
        }

        return kept.ToString(0, wordEnd > 0 ? wordEnd : kept.Length).TrimEnd() + "…";
    }

    private static int WidthOf(Rune rune)
    {
        if (Widths.TryGetValue(rune.Value, out var width))
            return width;
        return Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.EnclosingMark or UnicodeCategory.Format or UnicodeCategory.Control ? 0
            : rune.Value is (>= 0x1100 and <= 0x115F) or (>= 0x2E80 and <= 0xA4CF) or (>= 0xAC00 and <= 0xD7A3) or (>= 0xF900 and <= 0xFAFF) or (>= 0xFE30 and <= 0xFE6F) or (>= 0xFF00 and <= 0xFF60) or >= 0x1F000 ? Square
            : Unknown;
    }

    private static FrozenDictionary<int, int> Load()
    {
        using var reader = new StreamReader(typeof(FontWidths).Assembly.GetManifestResourceStream("Fonts.source-sans-3.txt")!);
        var widths = new Dictionary<int, int>();
        while (reader.ReadLine() is { } line)
        {
            var parts = line.Split(' ');
            var first = int.Parse(parts[0], NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            for (var i = 1; i < parts.Length; i++)
                widths[first + i - 1] = int.Parse(parts[i], CultureInfo.InvariantCulture);
        }

        return widths.ToFrozenDictionary();
    }
}
