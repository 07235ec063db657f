namespace JadeOrchard.Core.Topics;

/// <summary>Communities of a weighted graph that are denser within than a resolution, and less dense between each other.</summary>
/// <remarks>
/// Traag, Waltman and van Eck, "From Louvain to Leiden: guaranteeing well-connected communities", Scientific Reports 9, 5233, 2019, with the constant Potts model
/// of Traag, Van Dooren and Nesterov, Phys. Rev. E 84, 016114, 2011: the sum over communities of the weight within − resolution × n(n − 1)/2 for n nodes.
/// Unlike modularity this has no resolution limit: whether two communities are one does not depend on the size of the graph. Where the paper
/// draws at random, the greatest gain is taken and the first of equals, so the same graph always gives the same communities; a small graph is gone
/// through in several orders, of which the best result counts. About O(links) a round.
/// </remarks>
public static class Leiden
{
    /// <summary>A gain below this is rounding.</summary>
    private const double LeastGain = 1e-10;

    /// <summary>Rounds at most; each takes up where the last one ended.</summary>
    private const int Rounds = 20;

    /// <summary>Graphs of no more nodes are gone through in <see cref="Orders"/> orders.</summary>
    private const int Small = 1_000;

    private const int Orders = 12;

    /// <param name="nodes">Number of nodes.</param>
    /// <param name="links">Each pair at most once; weights above 0.</param>
    /// <param name="resolution">How dense a community is at least: weight by pair of nodes.</param>
    /// <returns>For each node its community, numbered from 0 in the order of their first nodes.</returns>
    public static int[] Communities(int nodes, IReadOnlyList<Link> links, double resolution)
    {
        var graph = new Graph([.. Enumerable.Repeat(1, nodes)], [.. links.OrderBy(l => l.A).ThenBy(l => l.B)]);
        int[]? best = null;
        var most = double.NegativeInfinity;
        for (var order = 0; order < (nodes <= Small ? Orders : 1); order++)
        {
            int[] visit = [.. Enumerable.Range(0, nodes)];
            if (order > 0)
                new Random(order).Shuffle(visit);
            int[] found = [.. Enumerable.Range(0, nodes)];
            for (var round = 0; round < Rounds; round++)
            {
                var next = Round(graph, found, visit, resolution);
                if (next.AsSpan().SequenceEqual(found))
                    break;
                found = next;
            }

            var quality = Quality(found, links, resolution);
            if (quality > most + LeastGain)
                (best, most) = (found, quality);
        }

        return best!;
    }

    /// <returns>The constant Potts model's quality: the weight within communities less resolution × pairs within them.</returns>
    public static double Quality(IReadOnlyList<int> communityOf, IReadOnlyList<Link> links, double resolution) =>
        links.Where(l => communityOf[l.A] == communityOf[l.B]).Sum(l => l.Weight) - communityOf.CountBy(c => c).Sum(c => resolution * c.Value * (c.Value - 1.0) / 2);

    /// <summary>Moves nodes, refines, gathers, and goes on with what was gathered until nothing moves.</summary>
    private static int[] Round(Graph graph, int[] communityOf, int[] order, double resolution)
    {
        // For each node of the graph as given the node of the gathered one that it is in.
        int[] nodeOf = [.. Enumerable.Range(0, graph.Count)];
        var communities = communityOf;
        var visit = order;
        while (true)
        {
            communities = Moved(graph, communities, visit, resolution);
            var count = communities.Max() + 1;
            if (count == graph.Count)
                break;
            var refined = Refined(graph, communities, resolution);
            var gathered = refined.Max() + 1;
            // Where the refinement joins nothing the communities themselves are gathered, so that it comes to an end.
            if (gathered == graph.Count)
                (refined, gathered) = (communities, count);
            var above = new int[gathered];
            for (var node = 0; node < graph.Count; node++)
                above[refined[node]] = communities[node];
            for (var node = 0; node < nodeOf.Length; node++)
                nodeOf[node] = refined[nodeOf[node]];
            graph = graph.Gathered(refined, gathered);
            communities = Numbered(above);
            visit = [.. Enumerable.Range(0, graph.Count)];
        }

        return Numbered([.. nodeOf.Select(n => communities[n])]);
    }

    /// <summary>Moves nodes to the neighbouring community of greatest gain, or to one of their own, until none gains; those beside a moved node are looked at again.</summary>
    private static int[] Moved(Graph graph, int[] before, int[] order, double resolution)
    {
        int[] communityOf = [.. before];
        var sizes = new double[graph.Count + 1];
        for (var node = 0; node < graph.Count; node++)
            sizes[communityOf[node]] += graph.Size(node);
        var empty = new Stack<int>(Enumerable.Range(0, graph.Count).Where(c => sizes[c] == 0).Reverse());
        var weights = new double[graph.Count];
        var touched = new List<int>();
        var queue = new Queue<int>(order);
        var isQueued = new bool[graph.Count];
        Array.Fill(isQueued, true);
        while (queue.TryDequeue(out var node))
        {
            isQueued[node] = false;
            var own = communityOf[node];
            foreach (var (neighbour, weight) in graph.Neighbours(node))
            {
                if (weights[communityOf[neighbour]] == 0)
                    touched.Add(communityOf[neighbour]);
                weights[communityOf[neighbour]] += weight;
            }

            var size = graph.Size(node);
            sizes[own] -= size;
            var (best, gain) = (own, weights[own] - (resolution * size * sizes[own]));
            touched.Sort();
            foreach (var community in touched)
            {
                var here = weights[community] - (resolution * size * sizes[community]);
                if (here > gain + LeastGain)
                    (best, gain) = (community, here);
            }

            if (gain < -LeastGain && empty.TryPop(out var alone))
                best = alone;
            foreach (var community in touched)
                weights[community] = 0;
            touched.Clear();
            sizes[best] += size;
            if (best == own)
                continue;
            communityOf[node] = best;
            if (sizes[own] <= 0)
                empty.Push(own);
            foreach (var (neighbour, _) in graph.Neighbours(node))
            {
                if (communityOf[neighbour] != best && !isQueued[neighbour])
                {
                    isQueued[neighbour] = true;
                    queue.Enqueue(neighbour);
                }
            }
        }

        return Numbered(communityOf);
    }

    /// <summary>Parts each community into what hangs together well: nodes alone join the part of their community that gains most, where both are well connected with the rest of it.</summary>
    private static int[] Refined(Graph graph, int[] communityOf, double resolution)
    {
        int[] partOf = [.. Enumerable.Range(0, graph.Count)];
        var partSizes = Enumerable.Range(0, graph.Count).Select(n => (double)graph.Size(n)).ToArray();
        var communitySizes = new double[graph.Count];
        // The weight between a part and the rest of its community.
        var outward = new double[graph.Count];
        for (var node = 0; node < graph.Count; node++)
        {
            communitySizes[communityOf[node]] += graph.Size(node);
            foreach (var (neighbour, weight) in graph.Neighbours(node))
            {
                if (communityOf[neighbour] == communityOf[node])
                    outward[node] += weight;
            }
        }

        var isAlone = new bool[graph.Count];
        Array.Fill(isAlone, true);
        var weights = new double[graph.Count];
        var touched = new List<int>();
        bool IsWellConnected(int part, double whole) => outward[part] >= (resolution * partSizes[part] * (whole - partSizes[part])) - LeastGain;
        for (var node = 0; node < graph.Count; node++)
        {
            var whole = communitySizes[communityOf[node]];
            if (!isAlone[node] || !IsWellConnected(node, whole))
                continue;
            foreach (var (neighbour, weight) in graph.Neighbours(node))
            {
                if (communityOf[neighbour] != communityOf[node])
                    continue;
                if (weights[partOf[neighbour]] == 0)
                    touched.Add(partOf[neighbour]);
                weights[partOf[neighbour]] += weight;
            }

            var (best, gain) = (-1, LeastGain);
            touched.Sort();
            foreach (var part in touched)
            {
                var here = weights[part] - (resolution * graph.Size(node) * partSizes[part]);
                if (part != node && here > gain && IsWellConnected(part, whole))
                    (best, gain) = (part, here);
            }

            if (best >= 0)
            {
                // What linked the two is within now.
                outward[best] += outward[node] - (2 * weights[best]);
                partSizes[best] += graph.Size(node);
                partOf[node] = best;
                isAlone[best] = false;
                isAlone[node] = false;
            }

            foreach (var part in touched)
                weights[part] = 0;
            touched.Clear();
        }

        return Numbered(partOf);
    }

    private static int[] Numbered(int[] communityOf)
    {
        var numbers = new Dictionary<int, int>();
        var numbered = new int[communityOf.Length];
        for (var i = 0; i < communityOf.Length; i++)
        {
            if (!numbers.TryGetValue(communityOf[i], out var number))
                numbers[communityOf[i]] = number = numbers.Count;
            numbered[i] = number;
        }

        return numbered;
    }

    /// <summary>A graph of nodes of which each may hold several.</summary>
    private sealed class Graph
    {
        private readonly int[] _sizes;
        private readonly int[] _starts;
        private readonly (int Node, double Weight)[] _neighbours;

        public Graph(int[] sizes, IReadOnlyCollection<Link> links)
        {
            _sizes = sizes;
            _starts = new int[sizes.Length + 1];
            foreach (var link in links.Where(l => l.A != l.B))
            {
                _starts[link.A + 1]++;
                _starts[link.B + 1]++;
            }

            for (var node = 0; node < sizes.Length; node++)
                _starts[node + 1] += _starts[node];
            var next = _starts.AsSpan(0, sizes.Length).ToArray();
            _neighbours = new (int, double)[_starts[^1]];
            foreach (var link in links.Where(l => l.A != l.B))
            {
                _neighbours[next[link.A]++] = (link.B, link.Weight);
                _neighbours[next[link.B]++] = (link.A, link.Weight);
            }
        }

        public int Count => _sizes.Length;

        public int Size(int node) => _sizes[node];

        public ReadOnlySpan<(int Node, double Weight)> Neighbours(int node) => _neighbours.AsSpan(_starts[node].._starts[node + 1]);

        /// <summary>The graph whose nodes are groups of these; what links nodes of one group does not matter any more.</summary>
        public Graph Gathered(int[] groupOf, int groups)
        {
            var sizes = new int[groups];
            var links = new Dictionary<(int, int), double>();
            for (var node = 0; node < Count; node++)
            {
                var a = groupOf[node];
                sizes[a] += _sizes[node];
                foreach (var (neighbour, weight) in Neighbours(node))
                {
                    var b = groupOf[neighbour];
                    if (a < b)
                        System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(links, (a, b), out _) += weight;
                }
            }

            return new Graph(sizes, [.. links.OrderBy(l => l.Key).Select(l => new Link(l.Key.Item1, l.Key.Item2, l.Value))]);
        }
    }
}
