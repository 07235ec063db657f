using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Overview;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Tests;

/// <summary>docs/words.md has every stage, kind, sign, state, mark and verdict, and none that is gone.</summary>
public sealed partial class GlossaryTests
{
    private static readonly Dictionary<string, List<(string Word, string Meaning, string Whose)>> Sections = Read();

    public static TheoryData<string, string[]> Named => new()
    {
        { "Stages", [.. Track.Of((ProjectCounts)RuntimeHelpers.GetUninitializedObject(typeof(ProjectCounts))).Select(s => s.Stage.Replace('-', ' '))] },
        { "Intents", Members<Intent>() },
        { "Grouping rules", Members<LinkingRule>() },
        { "Coverage of a cluster", Members<Coverage>() },
        { "Verdicts on a suggested page", Members<Verdict>() },
        { "Findings", [.. Enum.GetValues<FindingKind>().Select(FindingText.Name)] },
        { "Signs", [.. Enum.GetValues<SignKind>().Select(FindingText.Name)] },
        { "States of a finding", Members<FindingState>() },
        { "Remedies", Members<Remedy>() },
        { "Kinds of steps", [.. Enum.GetValues<StepKind>().Select(StepText.Name)] },
        { "Statuses of a step", [.. Enum.GetValues<StepStatus>().Select(StepText.Name)] },
        { "States of a capture", Members<CaptureState>() },
        { "States of a brief", Members<BriefState>() },
        { "Marks of a query", [.. QueryMarks.All.Select(m => m == QueryMark.UnderClicked ? QueryMarks.NameOf(m) : QueryMarks.NameOf(m).Replace('-', ' '))] },
        { "Verdicts on a change", Members<EffectVerdict>() },
    };

    [Theory]
    [MemberData(nameof(Named))]
    public void EveryWordIsInTheGlossary(string section, string[] words) => Assert.Equal(words.Order(), Sections[section].Select(w => w.Word).Order());

    [Fact]
    public void EveryWordHasAMeaningAndSaysWhoseItIs()
    {
        Assert.True(Sections.Values.Sum(s => s.Count) > 120);
        foreach (var (section, words) in Sections)
        {
            Assert.Equal(words.Count, words.Select(w => w.Word).Distinct().Count());
            Assert.All(words, w => Assert.True(w.Meaning.Length > 5 && Owner().IsMatch(w.Whose), $"{section}: {w.Word}"));
        }
    }

    private static string[] Members<T>()
        where T : struct, Enum => [.. Enum.GetNames<T>().Select(n => Capital().Replace(n, " $0").ToLowerInvariant())];

    private static Dictionary<string, List<(string, string, string)>> Read()
    {
        var (sections, section) = (new Dictionary<string, List<(string, string, string)>>(StringComparer.Ordinal), "");
        foreach (var line in File.ReadLines(SourceTree.Path("docs/words.md")))
        {
            if (line.StartsWith("## ", StringComparison.Ordinal))
                sections[section = line[3..]] = [];
            else if (line.StartsWith("| ", StringComparison.Ordinal) && line.Split('|', StringSplitOptions.TrimEntries) is [_, var word, var meaning, var whose, _] && word != "word")
                sections[section].Add((word, meaning, whose));
        }

        return sections;
    }

    [GeneratedRegex("(?<!^)[A-Z]")]
    private static partial Regex Capital();

    [GeneratedRegex(@"^(trade|standard|ours)( \(.+\))?$")]
    private static partial Regex Owner();
}
