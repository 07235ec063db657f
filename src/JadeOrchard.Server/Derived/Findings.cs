using JadeOrchard.Core.Findings;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Server.Derived;

/// <summary>What is flagged on the site.</summary>
internal sealed class Findings : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.PageMap | Data.Topics | Data.Pairs | Data.Suggestions | Data.Grouping | Data.Image;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (derivation.Board is not { } board)
        {
            ComputedFindings.Save(session, null, [], derivation.Now, derivation.FindingChanges);
            return;
        }

        if (board.FindingsChanged(session, derivation.Touched) is not { } looked)
        {
            ComputedFinding[] all = [.. board.TakeFindings().AsParallel().AsOrdered().Select(f => Named(f, board))];
            Memory.Collect();
            ComputedFindings.Save(session, null, all, derivation.Now, derivation.FindingChanges);
            return;
        }

        ComputedFindings.Save(
            session, [.. looked.Select(l => l.Scope)], [.. looked.SelectMany(l => l.Findings).Select(f => Named(f, board))], derivation.Now, derivation.FindingChanges);
    }

    private static ComputedFinding Named(Finding finding, Board board)
    {
        PageId? PageOf(int? page) => page is { } p ? board.Snapshot.PageIds[p] : null;
        ClusterId? ClusterOf(int? cluster) => cluster is { } c ? board.IdOf(c) : null;
        KeywordId? KeywordOf(int? keyword) => keyword is { } k ? board.Snapshot.KeywordIds[k] : null;
        var (cluster, other, page, otherPage) = (ClusterOf(finding.Cluster), ClusterOf(finding.OtherCluster), PageOf(finding.Page), PageOf(finding.OtherPage));
        return new ComputedFinding(
            FindingKey.Of(finding.Kind, cluster, page, otherPage, other),
            FindingScope.Of(finding.Kind, cluster, page, otherPage, other),
            finding.Kind,
            cluster,
            other,
            KeywordOf(finding.Keyword),
            page,
            otherPage,
            finding.AtStake,
            [.. finding.Facts.Select(f => new StoredFact(KeywordOf(f.Keyword), f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count))]);
    }
}
