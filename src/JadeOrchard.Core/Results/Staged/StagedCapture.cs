using System.Collections.Immutable;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Results.Staged;

/// <summary>A keyword without a result list whose cluster is certain enough.</summary>
/// <param name="Keyword">Its index.</param>
/// <param name="Cluster">Index of the cluster, as the caller numbers them.</param>
/// <param name="Certainty">The probability that its result list would put it there, 0 to 1.</param>
/// <param name="Supports">Captured keywords of the cluster that speak for it, most probable first.</param>
public sealed record ExpectedMember(int Keyword, int Cluster, double Certainty, ImmutableArray<int> Supports);

/// <summary>What is known once some keywords are captured.</summary>
/// <param name="Expected">Keywords whose cluster is certain enough, by index.</param>
/// <param name="Certainty">For each keyword: 1 where it is captured, else the probability of its most probable cluster; 0 where nothing speaks for one.</param>
/// <param name="Unknown">Keywords that are neither captured nor expected.</param>
public sealed record Stage(ImmutableArray<ExpectedMember> Expected, double[] Certainty, int Unknown)
{
    internal SharingModel? Model { get; init; }
}

/// <summary>Captures what is most informative first, and says when more would change nothing (DESIGN.md 4.22).</summary>
/// <remarks>
/// The probability that two keywords share enough results comes from <see cref="SharingModel"/>. How probable it is that a keyword belongs to the cluster
/// whose captured keywords speak for it most is then learned from the captured keywords themselves: each is looked at as if it were not captured, by a model
/// that never saw it (cross-validation, Stone, "Cross-validatory choice and assessment of statistical predictions", J. Royal Statistical Society B 36, 1974;
/// Platt, "Probabilistic outputs for support vector machines", 1999). A part of what is captured is drawn by chance, for that alone is a fair
/// sample of what is not. What comes next: where most is settled for each list that is paid for (uncertainty sampling, Lewis and Gale, "A sequential algorithm for
/// training text classifiers", SIGIR 1994). Deterministic. Not for several threads at once.
/// </remarks>
public sealed class StagedCapture
{
    /// <summary>The certainty that is usually asked for (common practice: one in twenty).</summary>
    public const double UsualCertainty = 0.95;

    /// <summary>An expected keyword stays so until it is less certain by more than this, so that no keyword goes in and out with every batch.</summary>
    private const double Hold = 0.03;

    private const double FirstShare = 0.1, BatchShare = 0.03, ChanceShare = 0.25;
    private const int FewestFirst = 30, FewestBatch = 10;

    /// <summary>The part of the first batch that goes by volume; the rest is drawn by chance.</summary>
    private const double ByVolume = 0.6;

    private const int Folds = 4;

    /// <summary>Pairs a model is fitted to; where there are more, as many by chance.</summary>
    private const int MostPairs = 30_000;

    /// <summary>Captured keywords that are looked at as if they were not.</summary>
    private const int MostLookedAt = 4_000;

    /// <summary>Fewer tell nothing about certainty.</summary>
    private const int FewestLookedAt = 30;

    /// <summary>Keywords that are weighed against each other for a batch.</summary>
    private const int MostCandidates = 10_000;

    private const int MostOnStack = 256;

    private const int FirstSteps = 40, NextSteps = 15;

    /// <summary>Captured keywords that are named as support.</summary>
    private const int MostSupports = 3;

    /// <summary>Log odds where no other cluster has a keyword that is alike.</summary>
    private const double Nobody = -8;

    /// <summary>Lists that are asked for in the end for each keyword that no more searched one speaks for by its words (measured on worlds of several seeds, from 1.2 to 2.5).</summary>
    private const double ListsOfHead = 1.7;

    private const double WeightOfVolume = 0.5;

    private readonly WordedKeywords _words;
    private readonly LikeKeywords _like;
    private readonly int[] _order;
    private readonly int[] _ranks;
    private readonly ulong[] _draws;
    private readonly int[] _byChance;
    private readonly double[] _weights;
    private readonly byte[] _fold;
    private readonly SharingModel?[] _models = new SharingModel?[Folds + 1];

    /// <param name="keywords">No normal form twice.</param>
    /// <param name="words">Of these keywords.</param>
    /// <param name="order">Keywords in keyword order, where it is known.</param>
    public StagedCapture(IReadOnlyList<Keyword> keywords, WordedKeywords words, int[]? order = null)
    {
        _words = words;
        _order = order ?? KeywordOrder.Of(keywords);
        _ranks = KeywordOrder.Ranks(_order);
        _like = new LikeKeywords(words, _order);
        var median = Medians.Of(keywords).Volume;
        _weights = [.. keywords.Select(k => 1 + (WeightOfVolume * Math.Log(1 + (k.Volume ?? median)) / Math.Log(2 + median)))];
        // Chance that is the same each time and for everybody: by the keyword itself.
        _draws = [.. keywords.Select(k => XxHash64.HashToUInt64(MemoryMarshal.AsBytes(k.NormalForm.AsSpan())))];
        _fold = [.. _draws.Select(d => (byte)(LikeKeywords.Scrambled((long)d) % Folds))];
        _byChance = [.. Enumerable.Range(0, keywords.Count)];
        Array.Sort((ulong[])_draws.Clone(), _byChance);
    }

    /// <summary>Keywords that are alike, for whoever looks at pairs.</summary>
    public LikeKeywords Like => _like;

    /// <summary>Lists of a batch, if that many are asked for at once: the first tells most, so it is larger.</summary>
    /// <param name="wanted">Keywords that are to be captured or expected in the end.</param>
    /// <param name="captured">Of them captured.</param>
    public static int BatchOf(int wanted, int captured) => captured < First(wanted) ? First(wanted) - captured : Math.Max(FewestBatch, (int)(BatchShare * wanted));

    private static int First(int wanted) => Math.Min(wanted, Math.Max(FewestFirst, (int)(FirstShare * wanted)));

    /// <summary>About how many lists a capture in stages asks for, told from words alone: an estimate before anything is paid for.</summary>
    /// <param name="lists">What is captured.</param>
    /// <param name="isWanted">Which keywords are to be captured or expected.</param>
    public int Likely(ResultLists lists, Func<int, bool> isWanted)
    {
        var isOpen = new bool[_words.Count];
        for (var k = 0; k < isOpen.Length; k++)
            isOpen[k] = !lists.IsCaptured(k) && isWanted(k);
        var (open, heads) = (isOpen.Count(o => o), new List<int>());
        ByVolumeAndSpread(lists, isOpen, heads, int.MaxValue);
        return Math.Min(open, Math.Max(First(open), (int)(ListsOfHead * heads.Count)));
    }

    /// <returns>The share of keywords that are in the cluster where all result lists would put them, 0 to 1: those that are captured, and of the others as many as are right.</returns>
    /// <param name="wanted">All keywords.</param>
    /// <param name="captured">Of them captured.</param>
    /// <param name="right">Of the others, those that are in the right cluster by their certainty.</param>
    public static double Same(long wanted, long captured, double right) => wanted == 0 ? 1 : (captured + right) / wanted;

    /// <summary>Looks at what is known now.</summary>
    /// <param name="lists">Cut as they are compared; keywords without a list are not captured.</param>
    /// <param name="minOverlap">m.</param>
    /// <param name="clusterOf">For each keyword its cluster, or -1; those of keywords that are not captured are not looked at.</param>
    /// <param name="primaries">For each cluster its primary.</param>
    /// <param name="isWanted">Which keywords may be expected; null for all.</param>
    /// <param name="certainty">From which a keyword is expected, 0 to 1.</param>
    /// <param name="before">What was known before; null where nothing was.</param>
    public Stage Look(ResultLists lists, int minOverlap, int[] clusterOf, IReadOnlyList<int> primaries, Func<int, bool>? isWanted, double certainty, Stage? before = null)
    {
        var (full, looked) = Learn(lists, minOverlap, clusterOf);
        var firmness = Firmness(lists, clusterOf, primaries);
        var rows = new List<double[]>();
        var outcomes = new List<bool>();
        foreach (var keyword in looked)
        {
            if (Vote(keyword, _models[_fold[keyword]]!, lists, clusterOf) is not { } vote)
                continue;
            rows.Add(vote.Row(firmness));
            outcomes.Add(vote.Cluster == clusterOf[keyword]);
        }

        var certainties = new double[_words.Count];
        for (var k = 0; k < certainties.Length; k++)
            certainties[k] = lists.IsCaptured(k) ? 1 : 0;
        int[] open = [.. Enumerable.Range(0, _words.Count).Where(k => !lists.IsCaptured(k) && (isWanted is null || isWanted(k)))];
        if (rows.Count < FewestLookedAt || outcomes.TrueForAll(o => o == outcomes[0]))
            return new Stage([], certainties, open.Length) { Model = full };
        var calibration = LogisticRegression.Fit(rows, outcomes);
        // As many right ones, and not one wrong, would not prove more than this.
        var most = 1 - (1.0 / (rows.Count + 2));
        var held = before?.Expected.ToDictionary(e => e.Keyword, e => e.Supports[0]);
        var expected = new ExpectedMember?[open.Length];
        Parallel.For(0, open.Length, i =>
        {
            var keyword = open[i];
            if (Vote(keyword, full, lists, clusterOf) is not { } vote)
                return;
            var probability = certainties[keyword] = Math.Min(most, calibration.Of(vote.Row(firmness)));
            var isHeld = probability >= certainty - Hold && held is not null && held.TryGetValue(keyword, out var support) && clusterOf[support] == vote.Cluster;
            if (probability >= certainty || isHeld)
                expected[i] = new ExpectedMember(keyword, vote.Cluster, probability, vote.Supports);
        });
        ImmutableArray<ExpectedMember> certain = [.. expected.OfType<ExpectedMember>()];
        return new Stage(certain, certainties, open.Length - certain.Length) { Model = full };
    }

    /// <summary>The keywords to capture next, in order.</summary>
    /// <param name="lists">What is captured.</param>
    /// <param name="stage">What is known; null where nothing was captured yet.</param>
    /// <param name="isWanted">Which keywords may be captured; null for all.</param>
    /// <param name="count">At most as many.</param>
    public IReadOnlyList<int> Next(ResultLists lists, Stage? stage, Func<int, bool>? isWanted, int count)
    {
        var isOpen = new bool[_words.Count];
        for (var k = 0; k < isOpen.Length; k++)
            isOpen[k] = !lists.IsCaptured(k) && (isWanted is null || isWanted(k));
        var chosen = new List<int>();
        if (stage is null || stage.Certainty.All(c => c is 0 or 1))
        {
            ByVolumeAndSpread(lists, isOpen, chosen, (int)Math.Ceiling(ByVolume * count));
            ByChance(isOpen, chosen, count);
            return chosen;
        }

        var left = new double[_words.Count];
        foreach (var k in _order)
            left[k] = isOpen[k] ? 1 - stage.Certainty[k] : 0;
        foreach (var member in stage.Expected)
            left[member.Keyword] = 0;
        var unknown = _order.Where(k => left[k] > 0).ToList();
        if (unknown.Count == 0)
            return chosen;
        ByChance(isOpen, chosen, (int)(ChanceShare * Math.Min(count, unknown.Count)));
        BySettling(stage.Model!, unknown, left, isOpen, chosen, count);
        return chosen;
    }

    /// <summary>An audit: some of the expected keywords, by chance.</summary>
    /// <param name="expected">All that are expected.</param>
    /// <param name="draw">Any number; another one draws others.</param>
    public IReadOnlyList<int> Audit(IReadOnlyCollection<int> expected, long draw)
    {
        var count = Math.Min(expected.Count, Math.Max(CaptureAudit.Fewest, (int)Math.Ceiling(CaptureAudit.Share * expected.Count)));
        int[] drawn = [.. expected];
        Array.Sort(Array.ConvertAll(drawn, k => LikeKeywords.Scrambled(draw + (long)_draws[k])), drawn);
        return drawn[..count];
    }

    /// <summary>Fits the models, and says which captured keywords are looked at as if they were not.</summary>
    private (SharingModel Full, List<int> Looked) Learn(ResultLists lists, int minOverlap, int[] clusterOf)
    {
        var pairs = new List<SharingPair>();
        foreach (var a in _order)
        {
            if (!lists.IsCaptured(a))
                continue;
            foreach (var b in _like.Of(a))
            {
                if (_ranks[a] < _ranks[b] && lists.IsCaptured(b))
                    pairs.Add(new SharingPair(a, b, false));
            }
        }

        // Every n-th by chance.
        if (pairs.Count > MostPairs)
        {
            var most = (ulong)(MostPairs / (double)pairs.Count * ulong.MaxValue);
            pairs.RemoveAll(p => LikeKeywords.Scrambled(((long)_ranks[p.A] << 32) | (uint)_ranks[p.B]) > most);
        }

        var all = pairs.ToArray();
        Parallel.For(0, all.Length, i => all[i] = all[i] with { Shares = Overlap.Count(lists.Urls(all[i].A), lists.Urls(all[i].B)) >= minOverlap });
        var prior = SharingModel.Before(_words);
        Parallel.For(0, Folds + 1, f =>
        {
            var own = f == Folds ? all : Array.FindAll(all, p => _fold[p.A] != f && _fold[p.B] != f);
            _models[f] = own.Length == 0 ? prior : SharingModel.Fit(own, _models[f] ?? prior, _models[f] is null ? FirstSteps : NextSteps);
        });
        return (_models[Folds]!, [.. _byChance.Where(k => lists.IsCaptured(k) && clusterOf[k] >= 0).Take(MostLookedAt)]);
    }

    /// <summary>For each cluster how many results its captured keywords share with the primary on average; those of few lean towards the average of all.</summary>
    private double[] Firmness(ResultLists lists, int[] clusterOf, IReadOnlyList<int> primaries)
    {
        const double leaning = 3;
        var (sums, counts) = (new double[primaries.Count], new int[primaries.Count]);
        for (var k = 0; k < _words.Count; k++)
        {
            if (clusterOf[k] is >= 0 and var cluster && lists.IsCaptured(k) && primaries[cluster] != k)
            {
                sums[cluster] += Overlap.Count(lists.Urls(k), lists.Urls(primaries[cluster]));
                counts[cluster]++;
            }
        }

        var all = counts.Sum() is > 0 and var total ? sums.Sum() / total : 0;
        return [.. sums.Zip(counts, (sum, count) => (sum + (leaning * all)) / (count + leaning))];
    }

    /// <summary>Which cluster the captured keywords with like words speak for.</summary>
    private readonly record struct Voted(int Cluster, double Best, double Other, int For, int Against, ImmutableArray<int> Supports)
    {
        public double[] Row(double[] firmness) => [Best, Other, Math.Min(Best, 3), Math.Log(1 + For), Math.Log(1 + Against), firmness[Cluster]];
    }

    private Voted? Vote(int keyword, SharingModel model, ResultLists lists, int[] clusterOf)
    {
        var like = _like.Of(keyword);
        // The most searched of very many may be alike with all of them, which is more than a stack has room for.
        var odds = like.Length <= MostOnStack ? stackalloc double[like.Length] : new double[like.Length];
        var best = -1;
        for (var i = 0; i < like.Length; i++)
        {
            odds[i] = double.NegativeInfinity;
            if (clusterOf[like[i]] < 0 || !lists.IsCaptured(like[i]))
                continue;
            odds[i] = model.LogOdds(keyword, like[i]);
            // Among equals the first in order stays.
            best = best < 0 || odds[i] > odds[best] ? i : best;
        }

        if (best < 0)
            return null;
        var (cluster, other, pro, con) = (clusterOf[like[best]], Nobody, 0, 0);
        for (var i = 0; i < like.Length; i++)
        {
            var isOf = clusterOf[like[i]] == cluster;
            other = isOf ? other : Math.Max(other, odds[i]);
            pro += isOf && odds[i] > 0 ? 1 : 0;
            con += !isOf && odds[i] > 0 ? 1 : 0;
        }

        return new Voted(cluster, odds[best], other, pro, con, Supports(like, odds, clusterOf, cluster));
    }

    /// <returns>Those that speak for a cluster most.</returns>
    private static ImmutableArray<int> Supports(ReadOnlySpan<int> like, Span<double> odds, int[] clusterOf, int cluster)
    {
        var supports = ImmutableArray.CreateBuilder<int>(MostSupports);
        while (supports.Count < MostSupports)
        {
            var best = -1;
            for (var i = 0; i < like.Length; i++)
                best = clusterOf[like[i]] == cluster && odds[i] > double.NegativeInfinity && (best < 0 || odds[i] > odds[best]) ? i : best;
            if (best < 0)
                break;
            supports.Add(like[best]);
            odds[best] = double.NegativeInfinity;
        }

        return supports.DrainToImmutable();
    }

    /// <summary>The most searched, but none that one before it probably shares enough results with.</summary>
    private void ByVolumeAndSpread(ResultLists lists, bool[] isOpen, List<int> chosen, int count)
    {
        const double alike = 0.5;
        var model = SharingModel.Before(_words);
        var left = new double[_words.Count];
        Array.Fill(left, 1);
        foreach (var keyword in _order.Where(lists.IsCaptured))
            Settle(keyword);
        foreach (var keyword in _order)
        {
            if (chosen.Count >= count)
                return;
            if (!isOpen[keyword] || left[keyword] <= alike)
                continue;
            Choose(keyword, isOpen, chosen);
            Settle(keyword);
        }

        void Settle(int keyword)
        {
            foreach (var other in _like.Of(keyword))
                left[other] *= 1 - Logistic.Of(model.LogOdds(keyword, other));
        }
    }

    private void ByChance(bool[] isOpen, List<int> chosen, int count)
    {
        foreach (var keyword in _byChance)
        {
            if (chosen.Count >= count)
                return;
            if (isOpen[keyword])
                Choose(keyword, isOpen, chosen);
        }
    }

    /// <summary>Where a list settles most, by volume and by how many others it speaks for; each is reckoned with what those before it have settled.</summary>
    private void BySettling(SharingModel model, List<int> unknown, double[] left, bool[] isOpen, List<int> chosen, int count)
    {
        foreach (var keyword in chosen)
            left[keyword] = 0;
        // Where there are very many, only those that could settle most are gone through.
        int[] candidates = [.. unknown.Where(k => isOpen[k])];
        if (candidates.Length > MostCandidates)
            candidates = [.. candidates.OrderByDescending(k => _weights[k] * left[k] * (1 + Open(k))).Take(MostCandidates)];
        var probabilities = new double[_words.Count][];
        Parallel.ForEach(candidates, keyword =>
        {
            var like = _like.Of(keyword);
            var own = new double[like.Length];
            for (var i = 0; i < own.Length; i++)
                own[i] = left[like[i]] > 0 ? Logistic.Of(model.LogOdds(keyword, like[i])) : 0;
            probabilities[keyword] = own;
        });
        var queue = new PriorityQueue<int, (double Gain, int Rank)>(candidates.Select(k => (k, (-Gain(k), _ranks[k]))));
        while (chosen.Count < count && queue.TryDequeue(out var keyword, out _))
        {
            // What it would settle has shrunk since; if it is no longer the most, it waits.
            var now = (-Gain(keyword), _ranks[keyword]);
            if (queue.TryPeek(out _, out var next) && now.CompareTo(next) > 0)
            {
                queue.Enqueue(keyword, now);
                continue;
            }

            Choose(keyword, isOpen, chosen);
            left[keyword] = 0;
            var like = _like.Of(keyword);
            for (var i = 0; i < like.Length; i++)
                left[like[i]] *= 1 - probabilities[keyword][i];
        }

        int Open(int keyword)
        {
            var open = 0;
            foreach (var other in _like.Of(keyword))
                open += left[other] > 0 ? 1 : 0;
            return open;
        }

        double Gain(int keyword)
        {
            var gain = _weights[keyword] * left[keyword];
            var like = _like.Of(keyword);
            for (var i = 0; i < like.Length; i++)
                gain += _weights[like[i]] * left[like[i]] * probabilities[keyword][i];
            return gain;
        }
    }

    private static void Choose(int keyword, bool[] isOpen, List<int> chosen)
    {
        isOpen[keyword] = false;
        chosen.Add(keyword);
    }
}
