using System.Collections.Frozen;
using System.Collections.Immutable;

namespace JadeOrchard.Core.Keywords;

/// <summary>A word or phrase that recurs in keywords.</summary>
/// <param name="Phrase">One to three words.</param>
/// <param name="Words">How many words.</param>
/// <param name="Count">Keywords in which it stands.</param>
/// <param name="Demand">Sum of their volumes, searches per month.</param>
public sealed record Modifier(string Phrase, int Words, int Count, long Demand);

/// <summary>
/// The words and phrases that recur in keywords: how planners find "versus", "best", "cost", brands and audiences.
/// </summary>
/// <remarks>
/// Each counts once a keyword. Phrases that begin or end with a small word ("for", "the") say nothing alone and are left
/// out, but for those that begin with one where that is the point ("for beginners"); so are those of one keyword.
/// Cost: about three look-ups a word.
/// </remarks>
public static class Modifiers
{
    public const int MostWords = 3;

    private static readonly FrozenSet<string> SmallWords = new[]
    {
        "a", "an", "the", "of", "to", "in", "on", "at", "by", "and", "or", "is", "are", "it", "i", "my", "you", "your", "do", "as", "with", "for", "from", "be",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> Openers = new[] { "for", "with", "without", "in", "near", "how", "to", "or" }.ToFrozenSet();

    /// <param name="keywords">The words of each, as <see cref="KeywordWords.Padded"/> gives them, and its volume.</param>
    /// <param name="most">How many are wanted, those in most keywords first; ties by demand, then by phrase.</param>
    public static ImmutableArray<Modifier> Of(IEnumerable<(string Words, long Volume)> keywords, int most)
    {
        var ids = new Dictionary<string, int>(StringComparer.Ordinal);
        var names = new List<string>();
        var small = new List<bool>();
        var opens = new List<bool>();
        var counts = new Dictionary<(int, int, int), (int Count, long Demand)>();
        var inKeyword = new HashSet<(int, int, int)>();
        var places = new List<int>();
        foreach (var (padded, volume) in keywords)
        {
            places.Clear();
            inKeyword.Clear();
            foreach (var range in padded.AsSpan().Split(' '))
            {
                var word = padded.AsSpan()[range];
                if (word.Length == 0)
                    continue;
                var lookup = ids.GetAlternateLookup<ReadOnlySpan<char>>();
                if (!lookup.TryGetValue(word, out var id))
                {
                    var name = word.ToString();
                    ids[name] = id = names.Count;
                    names.Add(name);
                    small.Add(SmallWords.Contains(name));
                    opens.Add(Openers.Contains(name));
                }

                places.Add(id);
            }

            for (var i = 0; i < places.Count; i++)
            {
                for (var n = 1; n <= MostWords && i + n <= places.Count; n++)
                {
                    var (first, last) = (places[i], places[i + n - 1]);
                    if (small[last] || (small[first] && (n == 1 || !opens[first])))
                        continue;
                    // A whole keyword is no modifier of itself.
                    if (n == places.Count && n > 1)
                        continue;
                    var gram = (first, n > 1 ? places[i + 1] : -1, n > 2 ? places[i + 2] : -1);
                    if (!inKeyword.Add(gram))
                        continue;
                    ref var count = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(counts, gram, out _);
                    count = (count.Count + 1, count.Demand + volume);
                }
            }
        }

        var recurring = counts.Where(c => c.Value.Count > 1).Select(c => (Gram: c.Key, c.Value.Count, c.Value.Demand)).ToArray();
        // Phrases are made only for those that can be among the first, with all that equal the last of them.
        var least = most <= 0 ? (int.MaxValue, 0L) : recurring.Select(c => (c.Count, c.Demand)).OrderDescending().Take(most).LastOrDefault();
        return
        [
            .. recurring.Where(c => (c.Count, c.Demand).CompareTo(least) >= 0)
                .Select(c => new Modifier(PhraseOf(c.Gram), c.Gram.Item3 >= 0 ? 3 : c.Gram.Item2 >= 0 ? 2 : 1, c.Count, c.Demand))
                .OrderByDescending(m => m.Count).ThenByDescending(m => m.Demand).ThenBy(m => m.Phrase, StringComparer.Ordinal)
                .Take(most),
        ];

        string PhraseOf((int A, int B, int C) gram) =>
            names[gram.A] + (gram.B >= 0 ? " " + names[gram.B] : "") + (gram.C >= 0 ? " " + names[gram.C] : "");
    }
}
