using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Briefs;

public sealed class TermTests : IDisposable
{
    private readonly TextAnalysis _english = new("en");

    public void Dispose() => _english.Dispose();

    /// <summary>scipy's chi2_contingency with lambda_="log-likelihood", see Golden/make.py.</summary>
    [Fact]
    public void G2IsThatOfScipy()
    {
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "likelihood.txt")))
        {
            var parts = line.Split(' ');
            var counts = parts.Take(4).Select(p => long.Parse(p, CultureInfo.InvariantCulture)).ToArray();
            Assert.Equal(double.Parse(parts[4], CultureInfo.InvariantCulture), LogLikelihood.G2(counts[0], counts[1], counts[2], counts[3]), 1e-6);
        }
    }

    /// <summary>The first bigrams of table 2 of Dunning 1993, "the swiss", "can be" and "previous year" (from memory): AB, A not B, B not A, neither.</summary>
    [Theory]
    [InlineData(110, 2442, 111, 29114, 270.72)]
    [InlineData(29, 13, 123, 31612, 263.90)]
    [InlineData(31, 23, 139, 31584, 256.84)]
    public void G2IsThatOfThePaper(long both, long first, long second, long neither, double g2) =>
        Assert.Equal(g2, LogLikelihood.G2(both, both + first, second, second + neither), 0.01);

    [Fact]
    public void G2IsNothingWhereSharesAreEqualAndTheSameFromEitherSide() => Gen.Select(Gen.Int[0, 30], Gen.Int[1, 30], Gen.Int[0, 30], Gen.Int[1, 30]).Sample((k1, more1, k2, more2) =>
    {
        var (n1, n2) = (k1 + more1, k2 + more2);
        Assert.Equal(LogLikelihood.G2(k1, n1, k2, n2), LogLikelihood.G2(k2, n2, k1, n1), 9);
        Assert.Equal(0, LogLikelihood.G2(k1, n1, k1 * 7, n1 * 7), 9);
    });

    /// <summary>The worked example of Frantzi, Ananiadou and Mima 2000, table 2 (from memory): "basal cell carcinoma" and the phrases it is part of.</summary>
    [Fact]
    public void CValueIsThatOfThePaper()
    {
        Assert.Equal(11.61, CValue.Of(5, 5, 0, 0), 0.01);
        Assert.Equal(12, CValue.Of(4, 11, 5, 1), 0.01);
        Assert.Equal(14, CValue.Of(4, 7, 0, 0), 0.01);
        // Within adenoid cystic 5, cystic alone 6, ulcerated 7, recurrent 5, circumscribed 3.
        Assert.Equal(1551.36, CValue.Of(3, 984, 5 + 6 + 7 + 5 + 3, 5), 0.01);
    }

    [Fact]
    public void WhatRankingPagesShareIsFoundAndTheRestIsNot()
    {
        string[] shared = ["The latex seal wants powder.", "Powder for latex seals is cheap.", "We powdered every latex seal twice."];
        List<PageText> pages = [.. shared.Select((s, i) => Page($"https://{(char)('a' + i)}.example/suit", s)), .. Enumerable.Range(0, 12).Select(i => Page($"https://x{i}.example/{i}", "Paddles are light and the sea is wide."))];
        var terms = Assert.Single(new Terms(pages, _english, "en").Of([([0, 1, 2], ["dry suit"])], []));
        Assert.Equal(["latex seal", "powder"], terms.Select(t => t.Text).Order(StringComparer.Ordinal));
        var seal = terms.Single(t => t.Words == 2);
        Assert.Equal((3, 3, 0), (seal.Pages, seal.Count, seal.Elsewhere));
        Assert.Equal(LogLikelihood.G2(3, 3, 0, 12), seal.G2, 9);
        Assert.Equal(3, seal.CValue, 9);
        // One long page does not decide, a keyword is no term, and what the planner ignores is none.
        Assert.Empty(Assert.Single(new Terms(pages, _english, "en").Of([([0, 1], [])], [])));
        Assert.Equal(["powder"], Assert.Single(new Terms(pages, _english, "en").Of([([0, 1, 2], ["latex seals"])], [])).Select(t => t.Text));
        Assert.Equal(["latex seal"], Assert.Single(new Terms(pages, _english, "en").Of([([0, 1, 2], [])], ["powder"])).Select(t => t.Text));
    }

    [Fact]
    public void APhraseGoesOverNoStopWordAndNoMark()
    {
        string[] texts = ["Seals, zips and boots of rubber. Front-zip suits.", "Seals, zips and boots of rubber! Front-zip suits.", "Seals, zips and boots of rubber? Front-zip suits."];
        var terms = Assert.Single(new Terms([.. texts.Select((t, i) => Page($"https://h{i}.example/", t))], _english, "en").Of([([0, 1, 2], [])], []));
        Assert.Equal(["boots", "front zip suits", "rubber", "seals"], terms.Select(t => t.Text).Where(t => t != "zips").Order(StringComparer.Ordinal));
    }

    [Fact]
    public void WhatMostPagesOfAHostHaveIsItsFurniture()
    {
        var pages = Enumerable.Range(0, 4).Select(i => Page($"https://one.example/{i}", $"Join our seal club newsletter today. Subject number {i} is here."))
            .Concat(Enumerable.Range(0, 8).Select(i => Page($"https://two{i}.example/", "Another page about boats."))).ToList();
        Assert.DoesNotContain(Assert.Single(new Terms(pages, _english, "en").Of([([0, 1, 2, 3], [])], [])), t => t.Text.Contains("newsletter", StringComparison.Ordinal));
    }

    /// <summary>Against a plain count of all phrases of up to four words, where there is no stop word, no mark and no other form.</summary>
    [Fact]
    public void TermsAreThoseOfAPlainCount()
    {
        var word = Gen.Int[0, 5].Select(i => new[] { "kelp", "zinc", "mast", "fjord", "gulf", "rock" }[i]);
        Gen.Select(word.List[1, 12].List[6, 14], Gen.Int[3, 5]).Sample((texts, ranking) =>
        {
            List<PageText> pages = [.. texts.Select((t, i) => Page($"https://h{i}.example/", string.Join(' ', t)))];
            var found = Assert.Single(new Terms(pages, _english, "en").Of([([.. Enumerable.Range(0, ranking)], [])], [], 1_000));
            var phrases = texts.Select(PhrasesOf).ToList();
            var counts = phrases.Take(ranking).SelectMany(p => p).GroupBy(p => p).Where(g => g.Count() >= Terms.FewestPages).ToDictionary(g => g.Key, g => g.Count());
            var inLonger = new Dictionary<string, (double Sum, int Count, int Most)>();
            foreach (var (phrase, pagesOf) in counts.OrderByDescending(c => c.Key.Split(' ').Length))
            {
                var alone = Math.Max(0, pagesOf - inLonger.GetValueOrDefault(phrase).Sum);
                foreach (var part in counts.Keys.Where(p => p.Length < phrase.Length && $" {phrase} ".Contains($" {p} ", StringComparison.Ordinal)))
                    inLonger[part] = (inLonger.GetValueOrDefault(part).Sum + alone, inLonger.GetValueOrDefault(part).Count + 1, Math.Max(inLonger.GetValueOrDefault(part).Most, pagesOf));
            }

            var expected = counts.Where(c =>
            {
                var (sum, count, most) = inLonger.GetValueOrDefault(c.Key);
                var elsewhere = phrases.Skip(ranking).Count(p => p.Contains(c.Key));
                return c.Value - most >= Terms.FewestPages && (count == 0 ? c.Value : c.Value - (sum / count)) >= Terms.FewestPages && (pages.Count == ranking || (double)c.Value / ranking > (double)elsewhere / (pages.Count - ranking));
            });
            Assert.Equal(expected.Select(e => $"{e.Key} {e.Value}").Order(StringComparer.Ordinal), found.Select(t => $"{t.Text} {t.Pages}").Order(StringComparer.Ordinal));
            Assert.Equal(found.Select(t => t.G2).OrderDescending(), found.Select(t => t.G2));
        }, iter: 300);

        static HashSet<string> PhrasesOf(List<string> words) =>
            [.. Enumerable.Range(0, words.Count).SelectMany(i => Enumerable.Range(1, Math.Min(Terms.MostWords, words.Count - i)).Select(n => string.Join(' ', words.Skip(i).Take(n))))];
    }

    private static PageText Page(string url, string text) => PageText.Of(url, null, [], text);
}
