using System.Globalization;
using CsCheck;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Topics;

namespace JadeOrchard.Core.Tests.Topics;

/// <summary>Against igraph (Golden/make.py) on graphs that come with networkx: Zachary 1977, Davis, Gardner and Gardner 1941, Knuth 1993.</summary>
public class LeidenTests
{
    private static readonly string[][] Given = [.. File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Golden", "communities.txt")).Select(l => l.Split(';'))];

    [Fact]
    public void TheQualityIsThatOfTheModel() => Assert.All(Given[1..], g =>   // of igraph's best partition, as make.py sums it
        Assert.Equal(Real(g[4]), Leiden.Quality([.. g[3].Split(' ').Select(n => (int)Real(n))], Links(g[2]), Real(g[1])), 6));

    [Fact]
    public void CommunitiesAreAsGoodAsTheLibrarysOwn() => Assert.All(Given[1..], g =>   // igraph community_leiden, CPM, the best of 20 seeds
    {
        var links = Links(g[2]);
        var found = Leiden.Quality(Leiden.Communities(g[3].Split(' ').Length, links, Real(g[1])), links, Real(g[1]));
        Assert.True(found >= Real(g[4]) - 1e-6, $"{g[0]} at {g[1]}: {found}, where the library has {g[4]}");
    });

    [Fact]
    public void WomenAreLinkedByTheEventsThatTheyShare()   // the projection of Davis's Southern women, which is a join of overlaps
    {
        var lists = Lists.Of([.. Given[0][1..].Select(w => w.Split(' ').Select(e => (int)Real(e)).ToArray())]);
        Assert.Equal(Links(Given.First(g => g[0].StartsWith("Davis", StringComparison.Ordinal))[2]), OverlapJoin.Pairs(lists, 1).Select(p => new Link(p.A, p.B, p.Count)));
    }

    // Fortunato and Barthélemy, "Resolution limit in community detection", PNAS 104, 2007: modularity joins neighbouring cliques of a ring that is long enough.
    [Theory]
    [InlineData(30)]
    [InlineData(1_000)]
    public void ARingOfCliquesIsAsManyCommunities(int cliques)
    {
        const int size = 5;
        var links = new List<Link>();
        for (var c = 0; c < cliques; c++)
        {
            for (var a = 0; a < size; a++)
            {
                for (var b = a + 1; b < size; b++)
                    links.Add(new Link((c * size) + a, (c * size) + b, 1));
            }

            var next = (c + 1) % cliques * size;
            links.Add(new Link(Math.Min((c * size) + size - 1, next), Math.Max((c * size) + size - 1, next), 1));
        }

        var found = Leiden.Communities(cliques * size, links, Core.Topics.Topics.Resolution);
        Assert.Equal(cliques, found.Distinct().Count());
        Assert.All(Enumerable.Range(0, cliques), c => Assert.Single(found.Skip(c * size).Take(size).Distinct()));
    }

    [Fact]
    public void TheOrderOfLinksDoesNotMatterAndCommunitiesHangTogether() => Gen.Select(Gen.Int[1, 14], Gen.Int[0, 13].Array[0, 60], Gen.Int[1, 20], Gen.Int[0, 9_999]).Sample((nodes, ends, tenths, seed) =>
    {
        var links = ends.Chunk(2).Where(e => e.Length == 2 && e[0] < nodes && e[1] < nodes && e[0] != e[1]).Select(e => (A: Math.Min(e[0], e[1]), B: Math.Max(e[0], e[1]))).Distinct()
            .Select((e, i) => new Link(e.A, e.B, 1 + (i % 3))).ToArray();
        var (random, resolution) = (new Random(seed), tenths / 10.0);
        var communities = Leiden.Communities(nodes, links, resolution);
        // What the paper promises: communities are connected, and no node gains by going to another community or to one of its own.
        var quality = Leiden.Quality(communities, links, resolution);
        for (var node = 0; node < nodes; node++)
        {
            for (var to = 0; to <= communities.Max() + 1; to++)
            {
                var moved = communities.ToArray();
                moved[node] = to;
                if (Leiden.Quality(moved, links, resolution) > quality + 1e-6)
                    return false;
            }
        }

        var hangs = communities.Distinct().All(c =>
        {
            var (members, reached) = (Enumerable.Range(0, nodes).Where(n => communities[n] == c).ToList(), new HashSet<int>());
            var next = new Queue<int>([members[0]]);
            while (next.TryDequeue(out var from))
            {
                if (!reached.Add(from))
                    continue;
                foreach (var link in links.Where(l => (l.A == from || l.B == from) && communities[l.A] == communities[l.B]))
                    next.Enqueue(link.A == from ? link.B : link.A);
            }

            return reached.Count == members.Count;
        });
        return hangs && communities.SequenceEqual(Leiden.Communities(nodes, [.. links.OrderBy(_ => random.Next())], resolution))
            && communities.Distinct().SequenceEqual(Enumerable.Range(0, communities.Distinct().Count()));
    });

    private static List<Link> Links(string text) => [.. text.Split(' ').Select(Real).Chunk(3).Select(e => new Link((int)e[0], (int)e[1], e[2]))];

    private static double Real(string text) => double.Parse(text, CultureInfo.InvariantCulture);
}
