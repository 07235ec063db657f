namespace JadeOrchard.Core.Topics;

/// <summary>Topics that belong together, as a level above them where there are many.</summary>
public static class Themes
{
    /// <summary>With no more topics, a list of them is short enough.</summary>
    public const int MostWithout = 40;

    /// <param name="topics">The topics.</param>
    /// <param name="links">Between clusters.</param>
    /// <param name="resolution">That of the topics.</param>
    /// <returns>For each topic the number of its theme, from 0 in the order of their first topics; empty where there are no more than <see cref="MostWithout"/> topics.</returns>
    public static IReadOnlyList<int> Of(IReadOnlyList<Topic> topics, IReadOnlyList<Link> links, double resolution = Topics.Resolution)
    {
        if (topics.Count <= MostWithout)
            return [];
        var topicOf = new Dictionary<int, int>();
        for (var t = 0; t < topics.Count; t++)
        {
            foreach (var cluster in topics[t].Clusters)
                topicOf[cluster] = t;
        }

        var weights = new Dictionary<(int, int), double>();
        foreach (var link in links)
        {
            var (a, b) = (topicOf[link.A], topicOf[link.B]);
            if (a != b)
                System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(weights, (Math.Min(a, b), Math.Max(a, b)), out _) += link.Weight;
        }

        // How dense two topics are between each other, not how large they are.
        var between = weights.Select(w => new Link(w.Key.Item1, w.Key.Item2, w.Value / ((double)topics[w.Key.Item1].Clusters.Length * topics[w.Key.Item2].Clusters.Length))).ToList();
        return Leiden.Communities(topics.Count, Topics.Scaled(topics.Count, between), resolution / 2);
    }
}
