using System.Text.RegularExpressions;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Refresh;

namespace JadeOrchard.Core;

/// <summary>What a rule's outcome is called.</summary>
/// <param name="Value">The outcome.</param>
/// <param name="Name">In a table: "in progress".</param>
/// <param name="Phrase">In the sentence of a filter, after what it is about: "that helped"; the name where that reads well.</param>
public sealed record Word<T>(T Value, string Name, string Phrase);

/// <summary>The words for outcomes that have no place of their own, and their lists.</summary>
public static partial class Words
{
    /// <returns>All members of an enumeration, in their order.</returns>
    /// <param name="name">What one is called; its own name in plain words where null.</param>
    /// <param name="phrase">How a sentence has it; its name where null.</param>
    public static IReadOnlyList<Word<T>> Of<T>(Func<T, string>? name = null, Func<T, string>? phrase = null)
        where T : struct, Enum =>
        [.. Enum.GetValues<T>().Select(value => (value, says: name?.Invoke(value) ?? Plain(value))).Select(w => new Word<T>(w.value, w.says, phrase?.Invoke(w.value) ?? w.says))];

    /// <returns>"every pair": the name of a member in plain words.</returns>
    public static string Plain<T>(T value)
        where T : struct, Enum => Capital().Replace(value.ToString(), " $0").ToLowerInvariant();

    /// <summary>What a linking rule does.</summary>
    public static string Phrase(LinkingRule rule) => rule switch
    {
        LinkingRule.Primary => "around the keywords of greatest volume",
        LinkingRule.EveryPair => "every two keywords share the minimum; tight",
        _ => "one member that shares the minimum is enough; loose",
    };

    public static string Phrase(EffectVerdict verdict) => verdict switch
    {
        EffectVerdict.Helped => "that helped",
        EffectVerdict.Hurt => "that hurt",
        EffectVerdict.NoEffect => "without effect",
        EffectVerdict.TooEarly => "too early to tell",
        _ => "with too little data",
    };

    public static string Phrase(RankMove move) => move switch
    {
        RankMove.Up => "that went up",
        RankMove.Down => "that went down",
        RankMove.Arrived => "that arrived",
        RankMove.Left => "that left",
        RankMove.Same => "that stayed",
        RankMove.Absent => "where the site is absent",
        _ => "captured only once",
    };

    /// <summary>"just below page one".</summary>
    public static string Name(QueryMark mark) => mark switch
    {
        QueryMark.BelowPageOne => "just below page one",
        QueryMark.OtherPage => "another page’s",
        QueryMark.UnderClicked => "under-clicked",
        _ => Plain(mark),
    };

    [GeneratedRegex("(?<!^)[A-Z]")]
    private static partial Regex Capital();
}
