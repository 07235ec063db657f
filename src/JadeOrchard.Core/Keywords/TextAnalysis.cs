using Lucene.Net.Analysis;
using Lucene.Net.Analysis.Da;
using Lucene.Net.Analysis.De;
using Lucene.Net.Analysis.En;
using Lucene.Net.Analysis.Es;
using Lucene.Net.Analysis.Fi;
using Lucene.Net.Analysis.Fr;
using Lucene.Net.Analysis.It;
using Lucene.Net.Analysis.Nl;
using Lucene.Net.Analysis.No;
using Lucene.Net.Analysis.Pt;
using Lucene.Net.Analysis.Standard;
using Lucene.Net.Analysis.Sv;
using Lucene.Net.Analysis.TokenAttributes;
using Lucene.Net.Util;

namespace JadeOrchard.Core.Keywords;

/// <summary>Takes text apart into the stems of its words, without stop words, for one language.</summary>
/// <remarks>
/// Word boundaries by UAX #29, then the language's stop words and stemmer as the analysis package has them (for
/// English: Porter, "An algorithm for suffix stripping", 1980). One instance may be used by one thread at a time.
/// </remarks>
public sealed class TextAnalysis : IDisposable
{
    private const LuceneVersion Version = LuceneVersion.LUCENE_48;
    private readonly Analyzer _analyzer;

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
            stems.Add(term.ToString());
        tokens.End();
        return stems;
    }

    public void Dispose() => _analyzer.Dispose();
}
