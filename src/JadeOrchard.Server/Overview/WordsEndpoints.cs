using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Overview;

/// <summary>What every outcome is called, so that screens need no words of their own for them.</summary>
public sealed record WordsView(
    IReadOnlyList<Word<StepKind>> StepKinds, IReadOnlyList<Word<StepStatus>> StepStatuses, IReadOnlyList<Word<FindingState>> FindingStates, IReadOnlyList<Word<BriefState>> BriefStates,
    IReadOnlyList<Word<CaptureState>> CaptureStates, IReadOnlyList<Word<Intent>> Intents, IReadOnlyList<Word<Verdict>> Verdicts, IReadOnlyList<Word<LinkingRule>> LinkingRules,
    IReadOnlyList<Word<ChangeKind>> ChangeKinds, IReadOnlyList<Word<EffectVerdict>> EffectVerdicts, IReadOnlyList<Word<RankMove>> RankMoves, IReadOnlyList<MarkWord> QueryMarks);

/// <summary>What a mark of queries is called, as <see cref="Word{T}"/>; several together are no one member.</summary>
public sealed record MarkWord(string Value, string Name, string Phrase);

/// <summary>The words of the job.</summary>
public static class WordsEndpoints
{
    private static readonly WordsView All = new(
        Words.Of<StepKind>(StepText.Name),
        [.. Words.Of<StepStatus>(StepText.Name).OrderBy(w => w.Value == StepStatus.Dropped)],
        Words.Of<FindingState>(),
        Words.Of<BriefState>(),
        Words.Of<CaptureState>(CaptureText.Name, CaptureText.Phrase),
        Words.Of<Intent>(phrase: intent => $"{Words.Plain(intent)} intent"),
        Words.Of<Verdict>(phrase: verdict => $"{(verdict == Verdict.None ? "no" : $"a {Words.Plain(verdict)}")} suggestion"),
        Words.Of<LinkingRule>(phrase: Words.Phrase),
        Words.Of<ChangeKind>(kind => EffectText.Name(kind), kind => EffectText.Name(kind, isMany: true)),
        Words.Of<EffectVerdict>(EffectText.Name, Words.Phrase),
        Words.Of<RankMove>(phrase: Words.Phrase),
        [.. Core.Refresh.QueryMarks.All.Select(mark => new MarkWord(Core.Refresh.QueryMarks.NameOf(mark), Words.Name(mark), Words.Name(mark)))]);

    public static void MapWords(this RouteGroupBuilder api) => api.MapGet("/words", () => All).WithName("words");
}
