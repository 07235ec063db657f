using JadeOrchard.Core;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Storage.Tests;

/// <summary>A test with keywords k1, k2, …, the first most searched, whose ids are these numbers, and with clusters of them.</summary>
public abstract class WithClusters : WithDatabase
{
    protected static readonly DateTimeOffset Now = new(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);

    /// <summary>Keywords whose volumes are 100 times what is left to count down to 1.</summary>
    protected void Keywords(int count) => Database.Write(session =>
    {
        using var writer = new KeywordStore.Writer(session, SourceStore.Touch(session, SourceKind.File, "test.csv", Now), Now);
        for (var k = 1; k <= count; k++)
            writer.Write(new Keyword($"k{k}", $"k{k}", 100 * (count + 1 - k), k));
        writer.Finish();
    });

    /// <summary>New clusters of keywords, the first of each its primary; they get the ids 1, 2, ….</summary>
    protected void Group(params long[][] clusters) => Database.Write(s =>
    {
        ClusterStore.Replace(s, [.. clusters.Select(c => Made(0, c))]);
        ClusterStore.RefreshFacts(s);
    });

    protected static GroupedCluster Made(long goesOnFrom, params long[] keywords) =>
        new(new ClusterId(goesOnFrom), new KeywordId(keywords[0]), [.. keywords.Select(k => new KeywordId(k))]);

    protected static KeywordId[] Ids(params long[] keywords) => [.. keywords.Select(k => new KeywordId(k))];

    /// <summary>Each cluster as "id: primary of members", in order.</summary>
    protected string Clusters() => Database.Read(s => string.Join("; ", ClusterStore.Primaries(s).Select(c =>
        $"{c.Id.Value}: {c.Primary.Value} of {string.Join(',', ClusterStore.Members(s, c.Id).Select(k => k.Value).Order())}")));
}
