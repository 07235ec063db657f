using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Topics;

/// <summary>Against networkx (Golden/make.py) on graphs that come with it: Zachary 1977, Davis, Gardner and Gardner 1941, Knuth 1993.</summary>
public class LouvainTests
{
    private static readonly string[][] Given = [.. File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "communities.txt")).Select(l => l.Split(';'))];

    [Fact]
    public void ModularityIsThatOfTheLibrary() => Assert.All(Given[1..], g =>   // networkx.algorithms.community.modularity
        Assert.Equal(Real(g[3]), Louvain.Modularity([.. g[2].Split(' ').Select(n => (int)Real(n))], Links(g[1])), 9));

    [Fact]
    public void CommunitiesAreAsGoodAsTheLibrarysOwn() => Assert.All(Given[1..], g =>   // networkx louvain_communities, 20 seeds
    {
        var links = Links(g[1]);
        var found = Louvain.Modularity(Louvain.Communities(g[2].Split(' ').Length, links), links);
        Assert.InRange(found, Real(g[4]) - 1e-9, 1);
    });

    [Fact]
    public void WomenAreLinkedByTheEventsThatTheyShare()   // the projection of Davis's Southern women, which is a join of overlaps
    {
        var lists = Lists.Of([.. Given[0][1..].Select(w => w.Split(' ').Select(e => (int)Real(e)).ToArray())]);
        Assert.Equal(Links(Given[2][1]), OverlapJoin.Pairs(lists, 1).Select(p => new Link(p.A, p.B, p.Count)));
    }

    [Fact]
    public void TheOrderOfLinksDoesNotMatter() => Gen.Select(Gen.Int[1, 12], Gen.Int[0, 11].Array[0, 60], Gen.Int[0, 9_999]).Sample((nodes, ends, seed) =>
    {
        var links = ends.Chunk(2).Where(e => e.Length == 2 && e[0] < nodes && e[1] < nodes).Select(e => (A: Math.Min(e[0], e[1]), B: Math.Max(e[0], e[1]))).Distinct()
            .Select((e, i) => new Link(e.A, e.B, 1 + (i % 3))).ToArray();
        var random = new Random(seed);
        var communities = Louvain.Communities(nodes, links);
        return communities.SequenceEqual(Louvain.Communities(nodes, [.. links.OrderBy(_ => random.Next())]))
            && communities.Distinct().SequenceEqual(Enumerable.Range(0, communities.Distinct().Count()))
            && Louvain.Modularity(communities, links) >= Louvain.Modularity([.. Enumerable.Range(0, nodes)], links) - 1e-9;
    });

    private static List<Link> Links(string text) => [.. text.Split(' ').Select(Real).Chunk(3).Select(e => new Link((int)e[0], (int)e[1], e[2]))];

    private static double Real(string text) => double.Parse(text, CultureInfo.InvariantCulture);
}
