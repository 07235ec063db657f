using CsCheck;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Core.Tests.Findings;

/// <summary>Which conflicts are one, against comparing every set with every other.</summary>
public class ConflictGroupsTests
{
    private static ConflictGroups Of(params int[][] sets)
    {
        var groups = new ConflictGroups();
        foreach (var set in sets)
            groups.Add(set);
        return groups;
    }

    [Fact]
    public void AConflictAboutSomeOfThePagesBelongsToTheOneAboutAll()
    {
        var groups = Of([1, 2], [1, 2, 3], [4, 5]);
        Assert.Equal("1:2:3", groups.LeadOf("1:2"));
        Assert.Equal("1:2:3", groups.LeadOf("1:2:3"));
        Assert.Equal("4:5", groups.LeadOf("4:5"));
    }

    [Fact]
    public void OfSeveralTheSmallestIsTakenThatIsPartOfNoOther()
    {
        // 1:2 is in all three; 1:2:3 is part of 1:2:3:4, so that only the two largest can lead.
        Assert.Equal("1:2:7", Of([1, 2], [1, 2, 3], [1, 2, 3, 4], [1, 2, 7]).LeadOf("1:2"));
        Assert.Equal("1:2:3", Of([1, 2], [1, 2, 5], [1, 2, 3]).LeadOf("1:2"));
    }

    [Fact]
    public void ASetThatIsThereTwiceStaysUntilBothAreTaken()
    {
        var groups = Of([1, 2], [1, 2, 3], [1, 2, 3]);
        Assert.Equal("1:2:3", groups.LeadOf("1:2"));
        groups.Remove([1, 2, 3]);
        Assert.Empty(groups.Moved());
        groups.Remove([1, 2, 3]);
        Assert.Equal([("1:2", "1:2:3")], groups.Moved());
        Assert.Equal("1:2", groups.LeadOf("1:2"));
        Assert.Empty(groups.Moved());
    }

    [Fact]
    public void ChangesOneByOneGiveWhatAllAtOnceGives() =>
        Gen.Select(Gen.Int[0, 5].HashSet[1, 4].Array[1, 14], Gen.Int[0, 1_000]).Sample((drawn, seed) =>
        {
            int[][] sets = [.. drawn.Select(s => s.Order().ToArray())];
            var groups = new ConflictGroups();
            var there = new List<int[]>();
            var leads = new Dictionary<string, string>();
            var random = new Random(seed);
            foreach (var set in sets)
            {
                groups.Add(set);
                there.Add(set);
                if (random.Next(3) == 0)
                {
                    var gone = there[random.Next(there.Count)];
                    groups.Remove(gone);
                    there.Remove(gone);
                }

                var moved = groups.Moved().ToDictionary(m => m.Set, m => m.Before);
                var now = there.Select(ConflictGroups.Name).Distinct().ToDictionary(n => n, groups.LeadOf);
                foreach (var (name, lead) in now)
                {
                    Assert.Equal(Lead(name, there), lead);
                    // What is said to have moved is what did.
                    if (leads.TryGetValue(name, out var before))
                        Assert.Equal(before != lead, moved.TryGetValue(name, out var said) && said == before);
                }

                leads = now;
            }
        });

    private static string Lead(string name, List<int[]> sets)
    {
        var pages = name.Split(':').Select(int.Parse).ToHashSet();
        var maximal = sets.Where(s => !sets.Exists(o => o.Length > s.Length && s.All(o.Contains))).ToList();
        return maximal.Exists(m => m.Length == pages.Count && pages.SetEquals(m))
            ? name
            : maximal.Where(m => pages.All(m.Contains)).OrderBy(m => m.Length).ThenBy(ConflictGroups.Name, StringComparer.Ordinal).Select(ConflictGroups.Name).First();
    }
}
