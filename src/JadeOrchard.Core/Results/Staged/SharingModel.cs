namespace JadeOrchard.Core.Results.Staged;

/// <summary>Two captured keywords and whether they share enough results.</summary>
public readonly record struct SharingPair(int A, int B, bool Shares);

/// <summary>Says how probable it is that two keywords share at least m of their first results, from their words alone (DESIGN.md 4.22).</summary>
/// <remarks>
/// Logistic regression on what differs and what is shared. Each word has a few coordinates, so that what differs is a distance: two words that take each
/// other's place without changing the results ("reviews" and "best") come to lie next to each other, and one that changes nothing near 0, after few pairs and
/// though no pair may differ by just these two (as in Goldberger, Roweis, Hinton and Salakhutdinov, "Neighbourhood components analysis", NIPS 2004). Coordinates are
/// held back by a ridge; what a word's kind says counts for words of which little is known. Fitted by L-BFGS (Nocedal and Wright, "Numerical Optimization",
/// 2nd edition 2006, algorithm 7.5).
/// </remarks>
public sealed class SharingModel
{
    private const int Coordinates = 4;
    private const double Ridge = 0.8;
    private const double RidgeOfFeatures = 0.1;

    /// <summary>Pairs after which a word counts as half known.</summary>
    private const double HalfKnown = 2;

    /// <summary>A word that came to lie closer to 0 than this begins a little off it, or it would hardly ever get away again.</summary>
    private const double NearNothing = 0.1;

    private const int Kinds = 7;
    private const int Features = 8 + Kinds;

    /// <summary>What is assumed before anything is captured (from memory).</summary>
    private static readonly double[] Assumed =
    [
        2, // both are about the same
        2, // share of rare words in common
        -0.2, // other order
        -0.5, // each has a word that the other has not
        0.3, // same intent
        -0.5, // another intent
        -0.3, // for each word that differs
        -1, // for each word of which nothing is known
        -0.8, 0.2, -0.3, -0.3, -0.5, 0, 0.3, // by kind of what differs: plain, modifier, place, number, brand, question, small
    ];

    private readonly WordedKeywords _words;
    private readonly double[] _coordinates;
    private readonly double[] _weights;
    private readonly int[] _pairsOf;

    private SharingModel(WordedKeywords words, double[] coordinates, double[] weights, int[] pairsOf) => (_words, _coordinates, _weights, _pairsOf) = (words, coordinates, weights, pairsOf);

    /// <summary>What is assumed as long as nothing is captured.</summary>
    public static SharingModel Before(WordedKeywords words)
    {
        var coordinates = new double[words.Words * Coordinates];
        for (var i = 0; i < coordinates.Length; i++)
            coordinates[i] = Beginning(i);

        return new SharingModel(words, coordinates, [.. Assumed], new int[words.Words]);
    }

    /// <summary>Somewhere near 0, the same each time: from 0 itself no coordinate ever moves.</summary>
    private static double Beginning(int coordinate) => ((LikeKeywords.Scrambled(coordinate) >> 11) / (double)(1UL << 53) * 2) - 1;

    /// <summary>Learns from captured pairs.</summary>
    /// <param name="pairs">In any order.</param>
    /// <param name="from">The model before, from which it goes on.</param>
    /// <param name="steps">At most as many.</param>
    public static SharingModel Fit(ReadOnlySpan<SharingPair> pairs, SharingModel from, int steps)
    {
        var words = from._words;
        var pairsOf = new int[words.Words];
        foreach (var pair in pairs)
        {
            foreach (var word in Differences(words, pair.A, pair.B))
                pairsOf[word.Word]++;
        }

        var cases = new Cases(words, pairs, pairsOf);
        // Only words that differ in some pair have something to learn from.
        var start = new double[(cases.Known.Length * Coordinates) + Features];
        for (var i = 0; i < cases.Known.Length; i++)
        {
            var before = from._coordinates.AsSpan(cases.Known[i] * Coordinates, Coordinates);
            var now = start.AsSpan(i * Coordinates, Coordinates);
            var size = 0.0;
            foreach (var coordinate in before)
                size += coordinate * coordinate;
            for (var c = 0; c < Coordinates; c++)
                now[c] = size < NearNothing ? NearNothing * Beginning((cases.Known[i] * Coordinates) + c) : before[c];
        }

        from._weights.CopyTo(start.AsSpan(cases.Known.Length * Coordinates));
        var fitted = LimitedMemory.Minimize(start, cases.Loss, steps);
        var coordinates = (double[])from._coordinates.Clone();
        for (var i = 0; i < cases.Known.Length; i++)
            fitted.AsSpan(i * Coordinates, Coordinates).CopyTo(coordinates.AsSpan(cases.Known[i] * Coordinates));
        return new SharingModel(words, coordinates, fitted[(cases.Known.Length * Coordinates)..], pairsOf);
    }

    /// <returns>The logarithm of the odds that they share enough.</returns>
    public double LogOdds(int a, int b)
    {
        Span<double> features = stackalloc double[Features];
        Span<double> at = stackalloc double[Coordinates];
        features.Clear();
        at.Clear();
        var unknown = 0.0;
        foreach (var (word, sign) in Differences(_words, a, b))
        {
            // Of an unknown word only the kind is known.
            if (_pairsOf[word] > 0)
            {
                for (var c = 0; c < Coordinates; c++)
                    at[c] += sign * _coordinates[(word * Coordinates) + c];
            }

            unknown += Unknown(_pairsOf[word]);
            Count(features, _words.Kind(word), sign);
        }

        Compare(features, _words, a, b, unknown);
        var odds = 0.0;
        for (var f = 0; f < Features; f++)
            odds += features[f] * _weights[f];
        for (var c = 0; c < Coordinates; c++)
            odds -= at[c] * at[c];
        return odds;
    }

    private static double Unknown(int pairs) => 1 / (1 + (pairs / HalfKnown));

    private static void Count(Span<double> features, WordKind kind, int sign)
    {
        features[6]++;
        features[8 + (int)kind]++;
        // Which side it stands on, until it is known whether both have some.
        features[3] = features[3] == 0 ? sign : features[3] == sign || features[3] == 2 ? features[3] : 2;
    }

    private static void Compare(Span<double> features, WordedKeywords words, int a, int b, double unknown)
    {
        features[0] = 1;
        features[1] = Common(words, a, b);
        features[2] = words.DifferInOrder(a, b) ? 1 : 0;
        features[3] = features[3] == 2 ? 1 : 0;
        if (words.Intent(a) is { } first && words.Intent(b) is { } second)
            features[first == second ? 4 : 5] = 1;
        features[7] = unknown;
    }

    /// <returns>The rarity of words that both have, of that of all their words; 0 to 1.</returns>
    private static double Common(WordedKeywords words, int a, int b)
    {
        var first = words.Core(a);
        var second = words.Core(b);
        var (i, j, common, all) = (0, 0, 0.0, 0.0);
        while (i < first.Length || j < second.Length)
        {
            var isFirst = j == second.Length || (i < first.Length && first[i] <= second[j]);
            var isSecond = i == first.Length || (j < second.Length && second[j] <= first[i]);
            var rarity = words.Rarity(isFirst ? first[i] : second[j]);
            all += rarity;
            common += isFirst && isSecond ? rarity : 0;
            i += isFirst ? 1 : 0;
            j += isSecond ? 1 : 0;
        }

        return all == 0 ? 1 : common / all;
    }

    /// <returns>The words that only one of two keywords has: 1 for the first, -1 for the second.</returns>
    private static DifferenceEnumerator Differences(WordedKeywords words, int a, int b) => new(words.Set(a), words.Set(b));

    private ref struct DifferenceEnumerator(ReadOnlySpan<int> first, ReadOnlySpan<int> second)
    {
        private readonly ReadOnlySpan<int> _first = first, _second = second;
        private int _i, _j;

        public (int Word, int Sign) Current { get; private set; }

        public readonly DifferenceEnumerator GetEnumerator() => this;

        public bool MoveNext()
        {
            while (_i < _first.Length && _j < _second.Length && _first[_i] == _second[_j])
                (_i, _j) = (_i + 1, _j + 1);
            if (_i < _first.Length && (_j == _second.Length || _first[_i] < _second[_j]))
                Current = (_first[_i++], 1);
            else if (_j < _second.Length)
                Current = (_second[_j++], -1);
            else
                return false;
            return true;
        }
    }

    /// <summary>The pairs as numbers, for fitting.</summary>
    private sealed class Cases
    {
        private readonly int[] _starts;
        private readonly (int Known, int Sign)[] _differences;
        private readonly double[] _features;
        private readonly bool[] _shares;

        public Cases(WordedKeywords words, ReadOnlySpan<SharingPair> pairs, int[] pairsOf)
        {
            Known = [.. Enumerable.Range(0, words.Words).Where(w => pairsOf[w] > 0)];
            var placeOf = new int[words.Words];
            for (var i = 0; i < Known.Length; i++)
                placeOf[Known[i]] = i;
            (_starts, _shares, _features) = (new int[pairs.Length + 1], new bool[pairs.Length], new double[pairs.Length * Features]);
            var differences = new List<(int, int)>();
            for (var p = 0; p < pairs.Length; p++)
            {
                var (a, b, shares) = pairs[p];
                var features = _features.AsSpan(p * Features, Features);
                var unknown = 0.0;
                foreach (var (word, sign) in Differences(words, a, b))
                {
                    differences.Add((placeOf[word], sign));
                    // As if this pair were not there: how much is a word worth that is seen for the first time?
                    unknown += Unknown(pairsOf[word] - 1);
                    Count(features, words.Kind(word), sign);
                }

                Compare(features, words, a, b, unknown);
                _shares[p] = shares;
                _starts[p + 1] = differences.Count;
            }

            _differences = [.. differences];
        }

        /// <summary>Words that differ in some pair.</summary>
        public int[] Known { get; }

        /// <returns>What is to be made small, and by <paramref name="gradient"/> how it changes.</returns>
        public double Loss(ReadOnlySpan<double> at, Span<double> gradient)
        {
            var weights = at[^Features..];
            var ofWeights = gradient[^Features..];
            var loss = 0.0;
            for (var i = 0; i < at.Length - Features; i++)
            {
                loss += Ridge * at[i] * at[i];
                gradient[i] = 2 * Ridge * at[i];
            }

            for (var f = 0; f < Features; f++)
            {
                var off = weights[f] - Assumed[f];
                loss += RidgeOfFeatures * off * off;
                ofWeights[f] = 2 * RidgeOfFeatures * off;
            }

            Span<double> point = stackalloc double[Coordinates];
            for (var p = 0; p < _shares.Length; p++)
            {
                point.Clear();
                var differences = _differences.AsSpan(_starts[p].._starts[p + 1]);
                foreach (var (known, sign) in differences)
                {
                    var coordinates = at.Slice(known * Coordinates, Coordinates);
                    for (var c = 0; c < Coordinates; c++)
                        point[c] += sign * coordinates[c];
                }

                var features = _features.AsSpan(p * Features, Features);
                var odds = 0.0;
                for (var f = 0; f < Features; f++)
                    odds += features[f] * weights[f];
                for (var c = 0; c < Coordinates; c++)
                    odds -= point[c] * point[c];
                loss += Logistic.Softplus(odds) - (_shares[p] ? odds : 0);
                var error = Logistic.Of(odds) - (_shares[p] ? 1 : 0);
                for (var f = 0; f < Features; f++)
                    ofWeights[f] += error * features[f];
                foreach (var (known, sign) in differences)
                {
                    var coordinates = gradient.Slice(known * Coordinates, Coordinates);
                    for (var c = 0; c < Coordinates; c++)
                        coordinates[c] -= 2 * error * sign * point[c];
                }
            }

            return loss;
        }
    }
}
