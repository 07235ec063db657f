using CsCheck;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

/// <summary>Words in phrases by where they stand, and what unknown numbers count as.</summary>
public class PhraseMatcherTests
{
    private static string? Find(string phrase, string[]? anywhere = null, string[]? first = null, string[]? last = null, string[]? except = null, string language = "en") =>
        new PhraseMatcher(anywhere, first, last, except, language).Find(KeywordWords.Padded(KeywordNormalForm.Of(phrase, language)));

    [Theory]
    [InlineData("buy kayak", "buy")]
    [InlineData("where to BUY a kayak", "buy")]
    [InlineData("buyer guide kayak", null)]
    [InlineData("kayak buy", "buy")]
    public void AWordIsFoundWhole(string phrase, string? found) => Assert.Equal(found, Find(phrase, ["buy"]));

    [Theory]
    [InlineData("can a dry suit leak", "can")]
    [InlineData("jerry can for kayak", null)]
    [InlineData("canoe can", null)]
    public void AWordCanBeAskedForFirst(string phrase, string? found) => Assert.Equal(found, Find(phrase, first: ["can"]));

    [Theory]
    [InlineData("kayak shop near me", "near me")]
    [InlineData("near me kayak", null)]
    public void OrLast(string phrase, string? found) => Assert.Equal(found, Find(phrase, last: ["near me"]));

    [Theory]
    [InlineData("kayak price", "price")]
    [InlineData("kayak price list", null)]
    [InlineData("price list price", "price")]
    public void ButNotWhereAnExceptionStands(string phrase, string? found) => Assert.Equal(found, Find(phrase, ["price"], except: ["price list"]));

    /// <summary>What an exception took away leaves a gap: the words beside it do not become neighbours, nor first or last.</summary>
    [Fact]
    public void AnExceptionLeavesAGap()
    {
        Assert.Null(Find("used for sit on top kayak", first: ["sit"], except: ["used for"]));
        Assert.Null(Find("dry used for suit", ["dry suit"], except: ["used for"]));
        Assert.Null(Find("kayak near me used for", last: ["near me"], except: ["used for"]));
        Assert.Null(Find("dry suit suit suit", ["suit"], except: ["suit"]));
        Assert.Equal("a", Find("a a a a a", last: ["a"], except: ["a a"]));
    }

    [Theory]
    [InlineData("カヤック購入方法", "購入")]
    [InlineData("皮划艇价格", null)]
    public void WhereWordsHaveNoSpacesAPartIsEnough(string phrase, string? found) => Assert.Equal(found, Find(phrase, ["購入"], language: "ja"));

    [Fact]
    public void WordsThatMayStandAnywhereComeBeforeThoseWithAPlace()
    {
        Assert.Equal("price", Find("how price", ["price"], ["how"], ["price"]));
        Assert.Equal("b", Find("a b", ["b", "a"]));
        Assert.Null(Find("", ["a"], ["b"], ["c"], ["d"]));
        Assert.Null(Find("kayak", ["", " "], null, [" "]));
    }

    /// <summary>Against a search word by word, for any order of words.</summary>
    [Fact]
    public void IsTheSameAsComparingWords()
    {
        var word = Gen.OneOf(Gen.Const("a"), Gen.Const("b"), Gen.Const("suit"));
        Gen.Select(word.Array[0, 8], word.Array[1, 2], word.Array[1, 2], (phrase, sought, except) => (phrase, sought, except)).Sample(x =>
        {
            var left = new List<string>();
            for (var i = 0; i < x.phrase.Length;)
            {
                if (x.phrase.AsSpan(i).StartsWith(x.except))
                {
                    left.Add("|");
                    i += x.except.Length;
                }
                else
                    left.Add(x.phrase[i++]);
            }

            var phrase = string.Join(' ', x.phrase);
            var (sought, except) = (string.Join(' ', x.sought), string.Join(' ', x.except));
            var at = Enumerable.Range(0, Math.Max(0, left.Count - x.sought.Length + 1)).Where(i => left.Skip(i).Take(x.sought.Length).SequenceEqual(x.sought)).ToList();
            Assert.Equal(at.Count > 0, Find(phrase, [sought], except: [except]) is not null);
            Assert.Equal(at.Contains(0), Find(phrase, first: [sought], except: [except]) is not null);
            Assert.Equal(at.Contains(left.Count - x.sought.Length), Find(phrase, last: [sought], except: [except]) is not null);
        }, iter: 5_000);
    }

    [Fact]
    public void UnknownNumbersCountAsTheLowerMedian()
    {
        Keyword Of(long? volume, double? difficulty) => new("k", "k", volume, difficulty);
        Assert.Equal(new Medians(20, 5), Medians.Of([Of(10, null), Of(20, 5), Of(400, 90), Of(9_000, null), Of(null, null)]));
        Assert.Equal(new Medians(Medians.WhenNoneIsKnown, 0), Medians.Of([Of(null, null)]));
        Assert.Equal(Medians.Of([]), Medians.Of([Of(null, null)]));
        var medians = new Medians(20, 5);
        Assert.Equal((20L, 5.0), (medians.Fill(Of(null, null)).Volume, medians.Fill(Of(null, null)).Difficulty));
        // Nothing is not unknown.
        Assert.Equal((0L, 0.0), (medians.Fill(Of(0, 0)).Volume, medians.Fill(Of(0, 0)).Difficulty));
        Assert.Equal((7L, 5.0), (medians.Fill(Of(7, null)).Volume, medians.Fill(Of(7, null)).Difficulty));
    }

    [Fact]
    public void TheMedianIsOneOfTheValuesAndHalfAreNoSmaller() => Gen.Long[0, 1_000].Array[1, 40].Sample(volumes =>
    {
        var median = Medians.Of([.. volumes.Select(v => new Keyword("k", "k", v, null))]).Volume;
        Assert.Contains(median, volumes);
        Assert.True(volumes.Count(v => v >= median) * 2 >= volumes.Length);
        Assert.True(volumes.Count(v => v <= median) * 2 >= volumes.Length);
    });
}
