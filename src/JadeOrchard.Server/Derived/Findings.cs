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
            session, [.. looked.Select(l => l.Key)], [.. looked.Select(l => l.Finding).OfType<Finding>().Select(f => Named(f, board))], derivation.Now, derivation.FindingChanges);
    }

    private static ComputedFinding Named(Finding finding, Board board)
    {
        PageId PageOf(int page) => board.Snapshot.PageIds[page];
        ClusterId? ClusterOf(int? cluster) => cluster is { } c ? board.IdOf(c) : null;
        KeywordId? KeywordOf(int? keyword) => keyword is { } k ? board.Snapshot.KeywordIds[k] : null;
        var clusters = finding.Clusters;
        var pages = finding.Pages.Select(PageOf).ToArray();
        return new ComputedFinding(
            FindingKey.Of(finding.Kind, clusters.IsEmpty ? null : ClusterOf(clusters[0].Cluster), pages, finding.Folder),
            finding.Kind,
            finding.IsPlanned,
            new FindingContent(
                [.. clusters.Select(c => new StoredStake(board.IdOf(c.Cluster), c.AtStake))], pages, KeywordOf(finding.Keyword), finding.Folder, finding.AtStake, finding.Confidence,
                [
                    .. finding.Signs.Select(s => new StoredSign(
                        s.Kind, ClusterOf(s.Cluster), ClusterOf(s.OtherCluster), s.Page is { } page ? PageOf(page) : null, [.. s.Others.Select(PageOf)], s.AtStake,
                        [.. s.Facts.Select(f => new StoredFact(KeywordOf(f.Keyword), f.Position, f.OtherPosition, f.AtStake, f.Share, f.Count))])),
                ]));
    }
}
