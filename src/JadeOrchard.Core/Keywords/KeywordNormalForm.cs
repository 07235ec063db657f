using System.Globalization;
using System.Text;

namespace JadeOrchard.Core.Keywords;

/// <summary>The identity of a keyword within a project: two phrases with one normal form are one keyword.</summary>
/// <remarks>
/// Unicode NFKC (UAX #15), full case folding (Unicode's CaseFolding.txt: "ß" is "ss", the final sigma is a sigma; dotted and dotless i by the market's language),
/// plain quotes and dashes, no control or zero-width characters, no variation selectors, white space collapsed, and without the punctuation that a search ignores:
/// quotes around the whole, closing sentence marks, opening "¿" and "¡", and the dot of "vs.". What tells searches apart stays: "c++", ".net", "3/4 inch", "50%".
/// Word order and plurals are kept, since both can change the results.
/// </remarks>
public static class KeywordNormalForm
{
    private const string ClosingMarks = "?!.,;:";
    private const string OpeningMarks = "¿¡";

    /// <param name="phrase">Any text, also text that is not well-formed UTF-16.</param>
    /// <param name="language">Two letters, ISO 639-1: in Turkish and Azeri, I is the capital of the dotless i (Unicode's SpecialCasing.txt). Null for any other.</param>
    /// <returns>
    /// The normal form; empty where nothing that can be searched for is left. Applying it again changes nothing.
    /// </returns>
    public static string Of(string phrase, string? language = null)
    {
        ArgumentNullException.ThrowIfNull(phrase);
        if (IsPlain(phrase))
            return phrase;

        var form = WellFormed(phrase);
        if (language is "tr" or "az")
            form = form.Normalize(NormalizationForm.FormC).Replace('I', 'ı').Replace('İ', 'i');
        // Lower-casing can undo NFKC and the reverse (U+03D2 and the like), so the steps run until nothing moves.
        for (var round = 0; round < 8; round++)
        {
            var before = form;
            form = Folded(WithPlainCharacters(form).Normalize(NormalizationForm.FormKC));
            form = WithoutIdleMarks(WithPlainCharacters(form));
            if (form == before)
                break;
        }

        // Dashes, quotes and dots alone find nothing; a sign or an emoji may.
        foreach (var rune in form.EnumerateRunes())
        {
            if (Rune.IsLetterOrDigit(rune) || Rune.IsNumber(rune) || Rune.IsSymbol(rune))
                return form;
        }

        return "";
    }

    /// <summary>Lower case, and what full case folding has beyond it; the dot that a dotted capital I leaves behind goes.</summary>
    private static string Folded(string text)
    {
        var lower = text.Replace("\u0130", "i", StringComparison.Ordinal).ToLowerInvariant().Replace("i\u0307", "i", StringComparison.Ordinal);
        if (lower.AsSpan().IndexOfAny(FoldFurther) < 0)
            return lower;
        // The iota below a vowel is written out as one beside it; it is a sign of its own only in the decomposed form.
        var decomposed = lower.AsSpan().IndexOfAnyInRange('\u1F80', '\u1FFC') < 0 && !lower.Contains(IotaBelow, StringComparison.Ordinal) ? lower
            : lower.Normalize(NormalizationForm.FormD).Replace(IotaBelow, 'ι').Normalize(NormalizationForm.FormC);
        var folded = new StringBuilder(decomposed.Length + 4);
        foreach (var c in decomposed)
        {
            if (c is >= '\u1C80' and <= '\u1C88')
                folded.Append("вдосттъѣꙋ"[c - '\u1C80']);
            else
                folded.Append(c switch { 'ς' => "σ", 'ß' => "ss", 'ŉ' => "ʼn", _ => c.ToString() });
        }

        return folded.ToString();
    }

    private const char IotaBelow = '\u0345';

    /// <summary>What lower case leaves and full case folding does not.</summary>
    private static readonly System.Buffers.SearchValues<char> FoldFurther = System.Buffers.SearchValues.Create(
        ['ς', 'ß', 'ŉ', IotaBelow, .. Enumerable.Range(0x1C80, 9).Select(c => (char)c), .. Enumerable.Range(0x1F80, 0x7D).Select(c => (char)c)]);

    /// <summary>Most keywords are lower-case ASCII words already; they are their own normal form.</summary>
    private static bool IsPlain(string phrase)
    {
        if (phrase.Length == 0)
            return true;
        var afterSpace = true;
        foreach (var c in phrase)
        {
            if (c == ' ')
            {
                if (afterSpace)
                    return false;
                afterSpace = true;
            }
            else if (c is (>= 'a' and <= 'z') or (>= '0' and <= '9'))
                afterSpace = false;
            else
                return false;
        }

        return !afterSpace;
    }

    /// <summary>Lone surrogates make normalization fail; they become U+FFFD, as decoders do.</summary>
    private static string WellFormed(string text)
    {
        StringBuilder? fixedText = null;
        for (var i = 0; i < text.Length; i++)
        {
            var paired = char.IsHighSurrogate(text[i]) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]);
            if (paired)
            {
                i++;
                continue;
            }

            if (char.IsSurrogate(text[i]))
            {
                fixedText ??= new StringBuilder(text);
                fixedText[i] = '\uFFFD';
            }
        }

        return fixedText?.ToString() ?? text;
    }

    private static string WithPlainCharacters(string text)
    {
        var plain = new StringBuilder(text.Length + 4);
        var spaceDue = false;
        foreach (var rune in text.EnumerateRunes())
        {
            // Most texts are ASCII, of which little has to be looked up.
            if (rune.Value is > ' ' and < 0x7F)
            {
                if (spaceDue)
                    plain.Append(' ');
                spaceDue = false;
                plain.Append(rune.Value == '`' ? '\'' : (char)rune.Value);
                continue;
            }

            if (Rune.IsWhiteSpace(rune))
            {
                spaceDue = plain.Length > 0;
                continue;
            }

            if (Rune.GetUnicodeCategory(rune) is UnicodeCategory.Control or UnicodeCategory.Format || IsVariationSelector(rune.Value))
                continue;
            // "1½" would become "11/2" by NFKC alone.
            if (IsVulgarFraction(rune.Value) && plain.Length > 0 && char.IsDigit(plain[^1]))
                spaceDue = true;
            if (spaceDue)
                plain.Append(' ');
            spaceDue = false;
            plain.Append(PlainOf(rune));
        }

        return plain.ToString();
    }

    private static bool IsVulgarFraction(int code) => code is (>= 0xBC and <= 0xBE) or (>= 0x2150 and <= 0x215F);

    private static bool IsVariationSelector(int code) => code is (>= 0xFE00 and <= 0xFE0F) or (>= 0xE0100 and <= 0xE01EF);

    private static string PlainOf(Rune rune) => rune.Value switch
    {
        0x2018 or 0x2019 or 0x201A or 0x201B or 0x02BC or 0x2032 or 0xB4 or 0x60 => "'",
        0x201C or 0x201D or 0x201E or 0x201F or 0x2033 or 0xAB or 0xBB => "\"",
        (>= 0x2010 and <= 0x2015) or 0x2212 or 0xFE58 or 0xFE63 or 0xFF0D => "-",
        0x2044 or 0x2215 => "/",
        _ => rune.ToString(),
    };

    private static string WithoutIdleMarks(string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        for (var i = 0; i < words.Length; i++)
        {
            if (words[i] == "vs.")
                words[i] = "vs";
        }

        var form = string.Join(' ', words).TrimEnd([.. ClosingMarks, ' ']).TrimStart([.. OpeningMarks, ' ']);
        // Quotes around the whole say only that it is a phrase.
        while (form.Length > 2 && (form[0] is '"' or '\'') && form[^1] == form[0] && form.IndexOf(form[0], 1) == form.Length - 1)
            form = form[1..^1].Trim();
        return form;
    }
}
