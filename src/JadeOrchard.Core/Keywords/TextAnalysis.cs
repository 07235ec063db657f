using Lucene.Net.Analysis;
using Lucene.Net.Analysis.Ar;
using Lucene.Net.Analysis.Bg;
using Lucene.Net.Analysis.Ca;
using Lucene.Net.Analysis.Cjk;
using Lucene.Net.Analysis.Cz;
using Lucene.Net.Analysis.Da;
using Lucene.Net.Analysis.De;
using Lucene.Net.Analysis.El;
using Lucene.Net.Analysis.En;
using Lucene.Net.Analysis.Es;
using Lucene.Net.Analysis.Eu;
using Lucene.Net.Analysis.Fa;
using Lucene.Net.Analysis.Fi;
using Lucene.Net.Analysis.Fr;
using Lucene.Net.Analysis.Ga;
using Lucene.Net.Analysis.Gl;
using Lucene.Net.Analysis.Hi;
using Lucene.Net.Analysis.Hu;
using Lucene.Net.Analysis.Hy;
using Lucene.Net.Analysis.Id;
using Lucene.Net.Analysis.It;
using Lucene.Net.Analysis.Lv;
using Lucene.Net.Analysis.Nl;
using Lucene.Net.Analysis.No;
using Lucene.Net.Analysis.Pt;
using Lucene.Net.Analysis.Ro;
using Lucene.Net.Analysis.Ru;
using Lucene.Net.Analysis.Standard;
using Lucene.Net.Analysis.Sv;
using Lucene.Net.Analysis.TokenAttributes;
using Lucene.Net.Analysis.Tr;
using Lucene.Net.Util;

namespace JadeOrchard.Core.Keywords;

/// <summary>A word of a text.</summary>
/// <param name="Stem">What it has in common with its other forms.</param>
/// <param name="Start">Where it begins in the text, from 0.</param>
/// <param name="End">Where it ends, exclusive.</param>
/// <param name="Position">Which word it is, stop words counted.</param>
public readonly record struct TextToken(string Stem, int Start, int End, int Position);

/// <summary>Takes text apart into the stems of its words, without stop words, for one language.</summary>
/// <remarks>
/// Word boundaries by UAX #29, then the language's stop words and stemmer as the analysis package has them (for
/// English: Porter, "An algorithm for suffix stripping", 1980; for most others Snowball's). Japanese, Chinese and Korean are taken apart into pairs of characters, and
/// so is Thai, which has no spaces between words either. One instance may be used by one thread at a time.
/// </remarks>
public sealed class TextAnalysis : IDisposable
{
    private const LuceneVersion Version = LuceneVersion.LUCENE_48;
    private const int MostRemembered = 100_000;
    private readonly Analyzer _analyzer;
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, string> _stemOf = new(StringComparer.Ordinal);

    /// <param name="language">
    /// Two-letter code (ISO 639-1). A language without a stemmer here is split into words only.
    /// </param>
    public TextAnalysis(string language) => _analyzer = language.ToLowerInvariant() switch
    {
        "en" => new EnglishAnalyzer(Version),
        "da" => new DanishAnalyzer(Version),
        "de" => new GermanAnalyzer(Version),
        "es" => new SpanishAnalyzer(Version),
        "fi" => new FinnishAnalyzer(Version),
        "fr" => new FrenchAnalyzer(Version),
        "it" => new ItalianAnalyzer(Version),
        "nl" => new DutchAnalyzer(Version),
        "no" or "nb" or "nn" => new NorwegianAnalyzer(Version),
        "pt" => new PortugueseAnalyzer(Version),
        "sv" => new SwedishAnalyzer(Version),
        "ar" => new ArabicAnalyzer(Version),
        "bg" => new BulgarianAnalyzer(Version),
        "ca" => new CatalanAnalyzer(Version),
        "cs" => new CzechAnalyzer(Version),
        "el" => new GreekAnalyzer(Version),
        "eu" => new BasqueAnalyzer(Version),
        "fa" => new PersianAnalyzer(Version),
        "ga" => new IrishAnalyzer(Version),
        "gl" => new GalicianAnalyzer(Version),
        "hi" => new HindiAnalyzer(Version),
        "hu" => new HungarianAnalyzer(Version),
        "hy" => new ArmenianAnalyzer(Version),
        "id" => new IndonesianAnalyzer(Version),
        "lv" => new LatvianAnalyzer(Version),
        "ro" => new RomanianAnalyzer(Version),
        "ru" => new RussianAnalyzer(Version),
        "tr" => new TurkishAnalyzer(Version),
        "ja" or "zh" or "ko" => new CJKAnalyzer(Version),
        _ => new StandardAnalyzer(Version),
    };

    /// <summary>Several threads may ask at once: the analyzer keeps what a text needs by thread.</summary>
    /// <returns>The stems in the order of the text, repeats included; empty for null or blank text.</returns>
    public IReadOnlyList<string> Stems(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return [];
        var stems = new List<string>();
        using var tokens = _analyzer.GetTokenStream("text", text);
        var term = tokens.AddAttribute<ICharTermAttribute>();
        tokens.Reset();
        while (tokens.IncrementToken())
            Add(term.ToString());
        tokens.End();
        return stems;

        // A run of Thai is one token, whatever the number of its words.
        void Add(string token)
        {
            if (token[0] is < '\u0E00' or > '\u0E7F' || token.Length < 3)
            {
                stems.Add(token);
                return;
            }

            for (var i = 0; i + 1 < token.Length; i++)
                stems.Add(token.Substring(i, 2));
        }
    }

    /// <summary>As <see cref="Stems"/>, joined, for one word of a text that has many: what was asked before is remembered. Several threads may ask at once.</summary>
    public string StemOf(string word)
    {
        if (_stemOf.TryGetValue(word, out var known))
            return known;
        var stem = string.Join(' ', Stems(word));
        if (_stemOf.Count < MostRemembered)
            _stemOf[word] = stem;
        return stem;
    }

    /// <summary>The words of a text that have a stem, with their places. Several threads may ask at once.</summary>
    public IReadOnlyList<TextToken> Tokens(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return [];
        var found = new List<TextToken>();
        using var tokens = _analyzer.GetTokenStream("text", text);
        var term = tokens.AddAttribute<ICharTermAttribute>();
        var offset = tokens.AddAttribute<IOffsetAttribute>();
        var step = tokens.AddAttribute<IPositionIncrementAttribute>();
        tokens.Reset();
        var position = -1;
        while (tokens.IncrementToken())
            found.Add(new TextToken(term.ToString(), offset.StartOffset, offset.EndOffset, position += step.PositionIncrement));
        tokens.End();
        return found;
    }

    public void Dispose() => _analyzer.Dispose();
}
