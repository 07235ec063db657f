using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Results.Staged;

/// <summary>What kind of word a word is: as much as can be told before anything is captured.</summary>
public enum WordKind
{
    Plain,

    /// <summary>One by which intents are told: "buy", "best".</summary>
    Modifier,

    /// <summary>One that follows "in" or "near".</summary>
    Place,

    Number,

    Brand,

    /// <summary>"how", "which".</summary>
    Question,

    /// <summary>A stop word: "for", "the".</summary>
    Small,
}

/// <summary>Keywords as words that are compared: the stems of each, in order and as a set, and what kind each is.</summary>
/// <remarks>Depends on the words alone, not on results: made once for the keywords of a project.</remarks>
public sealed class WordedKeywords
{
    /// <summary>Words behind which a place is named (from memory).</summary>
    private static readonly HashSet<string> BeforePlaces = new(["in", "near", "à", "en", "bei", "nahe", "w", "em", "cerca", "vicino", "nära", "i"], StringComparer.Ordinal);

    private readonly int[][] _inOrder;
    private readonly int[][] _sets;
    private readonly int[][] _cores;
    private readonly Intent?[] _intents;
    private readonly WordKind[] _kinds;
    private readonly double[] _rarity;

    /// <param name="keywords">No normal form twice.</param>
    /// <param name="language">Two letters, ISO 639-1.</param>
    /// <param name="ownBrands">Names of the site's brand.</param>
    /// <param name="otherBrands">Brands and sellers of others.</param>
    /// <param name="rules">Rules of intent; null for those of the language.</param>
    public WordedKeywords(IReadOnlyList<Keyword> keywords, string language, IReadOnlyList<string> ownBrands, IReadOnlyList<string> otherBrands, IReadOnlyList<IntentRule>? rules = null)
    {
        using var analysis = new TextAnalysis(language);
        var words = LanguageWords.Of(language);
        var used = rules ?? words.IntentRules;
        var intents = new IntentRules(used, ownBrands, otherBrands, language);
        var modifiers = WordsOf(used.SelectMany(r => r.Words.Concat(r.First ?? []).Concat(r.Last ?? [])).Concat(FunctionWords.PureQualifiers));
        var questions = WordsOf(words.Questions.All);
        var brands = WordsOf(ownBrands.Concat(otherBrands));
        var (ids, kinds) = (new Dictionary<string, int>(StringComparer.Ordinal), new List<WordKind>());
        _inOrder = new int[keywords.Count][];
        (_sets, _cores) = (new int[keywords.Count][], new int[keywords.Count][]);
        _intents = new Intent?[keywords.Count];
        var inOrder = new List<int>();
        // Words are numbered in the same order whatever the order of rows, since sums in another order differ in their last digit.
        foreach (var k in Enumerable.Range(0, keywords.Count).OrderBy(k => keywords[k].NormalForm, StringComparer.Ordinal))
        {
            inOrder.Clear();
            var padded = KeywordWords.Padded(keywords[k].NormalForm);
            var before = "";
            foreach (var word in KeywordWords.Split(padded))
            {
                var stem = analysis.StemOf(word);
                if (stem.Length == 0)
                    Add(word, WordKind.Small);
                else if (PhraseMatcher.HasNoSpaces(word))
                {
                    foreach (var part in stem.Split(' '))
                        Add(part, WordKind.Plain);
                }
                else
                    Add(stem, KindOf(word, before));
                before = word;
            }

            _inOrder[k] = [.. inOrder];
            _sets[k] = [.. inOrder.Distinct().Order()];
            _intents[k] = keywords[k].Intent ?? intents.Tell(padded)?.Intent;
        }

        _kinds = [.. kinds];
        var counts = new int[_kinds.Length];
        for (var k = 0; k < keywords.Count; k++)
        {
            var core = Array.FindAll(_sets[k], w => _kinds[w] != WordKind.Small);
            // Where there are small words only, they are what is asked for.
            _cores[k] = core.Length > 0 ? core : _sets[k];
            foreach (var word in _cores[k])
                counts[word]++;
        }

        _rarity = [.. counts.Select(c => Math.Log(1 + (keywords.Count / (double)Math.Max(1, c))))];

        void Add(string stem, WordKind kind)
        {
            if (!ids.TryGetValue(stem, out var id))
            {
                ids[stem] = id = kinds.Count;
                kinds.Add(kind);
            }
            else if (kinds[id] == WordKind.Plain)
                kinds[id] = kind;
            inOrder.Add(id);
        }

        WordKind KindOf(string word, string before) =>
            word.Any(char.IsDigit) ? WordKind.Number
            : brands.Contains(word) ? WordKind.Brand
            : questions.Contains(word) ? WordKind.Question
            : modifiers.Contains(word) ? WordKind.Modifier
            : BeforePlaces.Contains(before) ? WordKind.Place
            : WordKind.Plain;

        HashSet<string> WordsOf(IEnumerable<string> phrases) =>
            [.. phrases.SelectMany(p => KeywordWords.Split(KeywordWords.Padded(KeywordNormalForm.Of(p, language)))).Where(w => analysis.StemOf(w).Length > 0)];
    }

    public int Count => _sets.Length;

    /// <summary>Number of distinct stems.</summary>
    public int Words => _kinds.Length;

    public WordKind Kind(int word) => _kinds[word];

    /// <returns>The distinct stems of a keyword, ascending.</returns>
    public ReadOnlySpan<int> Set(int keyword) => _sets[keyword];

    /// <returns>Those without small words, unless there are no others.</returns>
    public ReadOnlySpan<int> Core(int keyword) => _cores[keyword];

    /// <summary>The natural logarithm of 1 + keywords ÷ those that have the word.</summary>
    public double Rarity(int word) => _rarity[word];

    public Intent? Intent(int keyword) => _intents[keyword];

    /// <returns>Whether their common words come in a different order.</returns>
    public bool DifferInOrder(int a, int b)
    {
        var (first, second) = (_inOrder[a], _inOrder[b]);
        var (i, j) = (0, 0);
        while (true)
        {
            while (i < first.Length && !_sets[b].AsSpan().Contains(first[i]))
                i++;
            while (j < second.Length && !_sets[a].AsSpan().Contains(second[j]))
                j++;
            if (i == first.Length || j == second.Length)
                return i < first.Length || j < second.Length;
            if (first[i++] != second[j++])
                return true;
        }
    }
}
