using System.Buffers;

namespace JadeOrchard.Core.Keywords;

/// <summary>Finds words in phrases by where they stand: anywhere, first or last, but not where an exception stands.</summary>
/// <remarks>Whole words; in scripts without spaces between words, parts of them.</remarks>
public sealed class PhraseMatcher
{
    /// <summary>Replaces an exception, so that the words beside it are neither first, last nor next to each other.</summary>
    private const string Gap = " \u0001 ";

    private readonly string[] _anywhere;
    private readonly string[] _first;
    private readonly string[] _last;
    private readonly string[] _except;

    /// <summary>Each list holds whole words or phrases; empty ones are passed over, null is an empty list.</summary>
    public PhraseMatcher(IEnumerable<string>? anywhere, IEnumerable<string>? first, IEnumerable<string>? last, IEnumerable<string>? except, string language = "en")
    {
        (_anywhere, _first, _last, _except) = (Each(anywhere), Each(first), Each(last), Each(except));

        string[] Each(IEnumerable<string>? words) =>
            [.. (words ?? []).Select(w => KeywordWords.Padded(KeywordNormalForm.Of(w, language))).Where(w => w.Length > 1).Select(w => HasNoSpaces(w) ? w.Trim() : w)];
    }

    /// <param name="padded">As <see cref="KeywordWords.Padded"/> gives it.</param>
    /// <returns>The word that was found, those that may stand anywhere first, in the order of their list; null where none was.</returns>
    public string? Find(string padded)
    {
        foreach (var except in _except)
            padded = WithGaps(padded, except);

        foreach (var word in _anywhere)
        {
            if (padded.Contains(word, StringComparison.Ordinal))
                return word.Trim();
        }

        foreach (var word in _first)
        {
            if (padded.StartsWith(word, StringComparison.Ordinal) || (word[0] != ' ' && padded.AsSpan(1).StartsWith(word)))
                return word.Trim();
        }

        foreach (var word in _last)
        {
            if (padded.EndsWith(word, StringComparison.Ordinal) || (word[0] != ' ' && padded.AsSpan(0, padded.Length - 1).EndsWith(word)))
                return word.Trim();
        }

        return null;
    }

    /// <summary>From left to right; the space after one place can be the space before the next, which string.Replace does not see.</summary>
    private static string WithGaps(string padded, string except)
    {
        for (var at = 0; (at = padded.IndexOf(except, at, StringComparison.Ordinal)) >= 0; at += Gap.Length - 1)
            padded = string.Concat(padded.AsSpan(0, at), Gap, padded.AsSpan(at + except.Length));
        return padded;
    }

    private static readonly SearchValues<char> WithoutSpaces = SearchValues.Create([.. Range('\u0E00', '\u0E7F'), .. Range('\u3040', '\u30FF'), .. Range('\u3400', '\u9FFF'), .. Range('\uAC00', '\uD7AF')]);

    private static IEnumerable<char> Range(char from, char to) => Enumerable.Range(from, to - from + 1).Select(c => (char)c);

    /// <summary>Thai, Japanese and Chinese have no spaces between words; Korean puts particles to them.</summary>
    internal static bool HasNoSpaces(string text) => text.AsSpan().ContainsAny(WithoutSpaces);
}
