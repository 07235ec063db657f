namespace JadeOrchard.Core.Topics;

/// <summary>Communities of a weighted graph by greatest modularity.</summary>
/// <remarks>
/// Blondel, Guillaume, Lambiotte and Lefebvre, "Fast unfolding of communities in large networks", J. Stat. Mech. P10008, 2008.
/// Nodes are gone through by their index and the smaller community wins among equals, so the same graph always gives the
/// same communities. About O(links) a round.
/// </remarks>
public static class Louvain
{
    /// <summary>A gain below this is rounding.</summary>
    private const double LeastGain = 1e-12;

    /// <param name="nodes">Number of nodes.</param>
    /// <param name="links">Each pair at most once.</param>
    /// <returns>For each node its community, numbered from 0 in the order of their first nodes.</returns>
    public static int[] Communities(int nodes, IReadOnlyList<Link> links)
    {
        var level = new Level(nodes, links);
        int[] communityOf = [.. Enumerable.Range(0, nodes)];
        while (true)
        {
            var (moved, count) = level.Move();
            for (var node = 0; node < nodes; node++)
                communityOf[node] = moved[communityOf[node]];
            if (count == level.Nodes)
                return communityOf;
            level = level.Gathered(moved, count);
        }
    }

    /// <summary>How much more weight lies within communities than chance would put there (Newman and Girvan, Phys. Rev. E 69, 2004).</summary>
    /// <returns>-0.5 to 1; 0 without links.</returns>
    public static double Modularity(IReadOnlyList<int> communityOf, IReadOnlyList<Link> links)
    {
        var total = links.Sum(l => l.Weight);
        if (total <= 0)
            return 0;
        var degrees = new Dictionary<int, double>();
        foreach (var link in links)
        {
            degrees[communityOf[link.A]] = degrees.GetValueOrDefault(communityOf[link.A]) + link.Weight;
            degrees[communityOf[link.B]] = degrees.GetValueOrDefault(communityOf[link.B]) + link.Weight;
        }

        return (links.Where(l => communityOf[l.A] == communityOf[l.B]).Sum(l => l.Weight) / total) - degrees.Values.Sum(d => d * d / (4 * total * total));
    }

    /// <summary>The graph whose nodes are the communities of the one before.</summary>
    private sealed class Level
    {
        private readonly int[] _starts;
        private readonly (int Node, double Weight)[] _neighbours;
        private readonly double[] _own;
        private readonly double[] _degrees;
        private readonly double _total;

        public Level(int nodes, IReadOnlyList<Link> links)
        {
            _own = new double[nodes];
            _degrees = new double[nodes];
            _starts = new int[nodes + 1];
            foreach (var link in links)
            {
                _degrees[link.A] += link.Weight;
                _degrees[link.B] += link.Weight;
                _total += link.Weight;
                if (link.A == link.B)
                {
                    _own[link.A] += link.Weight;
                    continue;
                }

                _starts[link.A + 1]++;
                _starts[link.B + 1]++;
            }

            for (var node = 0; node < nodes; node++)
                _starts[node + 1] += _starts[node];
            var next = _starts.AsSpan(0, nodes).ToArray();
            _neighbours = new (int, double)[_starts[^1]];
            foreach (var link in links)
            {
                if (link.A == link.B)
                    continue;
                _neighbours[next[link.A]++] = (link.B, link.Weight);
                _neighbours[next[link.B]++] = (link.A, link.Weight);
            }
        }

        public int Nodes => _own.Length;

        /// <summary>Moves nodes one by one to the neighbouring community of greatest gain until none gains.</summary>
        public (int[] CommunityOf, int Count) Move()
        {
            int[] communityOf = [.. Enumerable.Range(0, Nodes)];
            var degrees = _degrees.AsSpan().ToArray();
            var weights = new double[Nodes];
            var touched = new List<int>();
            for (var changed = _total > 0; changed;)
            {
                changed = false;
                for (var node = 0; node < Nodes; node++)
                {
                    var own = communityOf[node];
                    foreach (var (neighbour, weight) in Neighbours(node))
                    {
                        if (weights[communityOf[neighbour]] == 0)
                            touched.Add(communityOf[neighbour]);
                        weights[communityOf[neighbour]] += weight;
                    }

                    degrees[own] -= _degrees[node];
                    double Gain(int community) => weights[community] - (degrees[community] * _degrees[node] / (2 * _total));
                    var (best, gain) = (own, Gain(own));
                    foreach (var community in touched)
                    {
                        var here = Gain(community);
                        if (here > gain + LeastGain || (here > gain - LeastGain && best != own && community < best))
                            (best, gain) = (community, here);
                    }

                    degrees[best] += _degrees[node];
                    communityOf[node] = best;
                    changed |= best != own;
                    foreach (var community in touched)
                        weights[community] = 0;
                    touched.Clear();
                }
            }

            return Numbered(communityOf);
        }

        public Level Gathered(int[] communityOf, int count)
        {
            var links = new Dictionary<(int, int), double>();
            void Add(int a, int b, double weight) => links[(Math.Min(a, b), Math.Max(a, b))] = links.GetValueOrDefault((Math.Min(a, b), Math.Max(a, b))) + weight;
            for (var node = 0; node < Nodes; node++)
            {
                if (_own[node] > 0)
                    Add(communityOf[node], communityOf[node], _own[node]);
                foreach (var (neighbour, weight) in Neighbours(node))
                {
                    if (neighbour > node)
                        Add(communityOf[node], communityOf[neighbour], weight);
                }
            }

            return new Level(count, [.. links.Select(l => new Link(l.Key.Item1, l.Key.Item2, l.Value))]);
        }

        private ReadOnlySpan<(int Node, double Weight)> Neighbours(int node) => _neighbours.AsSpan(_starts[node].._starts[node + 1]);

        private static (int[] CommunityOf, int Count) Numbered(int[] communityOf)
        {
            var numbers = new Dictionary<int, int>();
            foreach (ref var community in communityOf.AsSpan())
            {
                if (!numbers.TryGetValue(community, out var number))
                    numbers[community] = number = numbers.Count;
                community = number;
            }

            return (communityOf, numbers.Count);
        }
    }
}
