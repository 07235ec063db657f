using System.Globalization;
using System.Text;

namespace JadeOrchard.Core.Keywords;

/// <summary>The identity of a keyword within a project: two phrases with one normal form are one keyword.</summary>
/// <remarks>
/// Unicode NFKC (UAX #15), lower case, plain quotes and dashes, no control or zero-width characters, white space
/// collapsed, and without the punctuation that a search ignores: closing sentence marks, opening "¿" and "¡", and
/// the dot of "vs.". What tells searches apart stays: "c++", ".net", "3/4 inch", "50%".
/// Word order and plurals are kept, since both can change the results.
/// </remarks>
public static class KeywordNormalForm
{
    private const string ClosingMarks = "?!.,;:";
    private const string OpeningMarks = "¿¡";

    /// <param name="phrase">Any text, also text that is not well-formed UTF-16.</param>
    /// <returns>
    /// The normal form; empty where nothing that can be searched for is left. Applying it again changes nothing.
    /// </returns>
    public static string Of(string phrase)
    {
        ArgumentNullException.ThrowIfNull(phrase);
        if (IsPlain(phrase))
            return phrase;

        var form = WellFormed(phrase);
        // Lower-casing can undo NFKC and the reverse (U+03D2 and the like), so the steps run until nothing moves.
        for (var round = 0; round < 8; round++)
        {
            var before = form;
            form = WithPlainCharacters(form).Normalize(NormalizationForm.FormKC).ToLowerInvariant();
            form = WithoutIdleMarks(WithPlainCharacters(form));
            if (form == before)
                break;
        }

        return form;
    }

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
            if (Rune.IsWhiteSpace(rune))
            {
                spaceDue = plain.Length > 0;
                continue;
            }

            if (Rune.GetUnicodeCategory(rune) is UnicodeCategory.Control or UnicodeCategory.Format)
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

        return string.Join(' ', words).TrimEnd([.. ClosingMarks, ' ']).TrimStart([.. OpeningMarks, ' ']);
    }
}
