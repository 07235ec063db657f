using JadeOrchard.Storage;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Derived;

/// <summary>The links between clusters, of which topics and the outline are made.</summary>
internal sealed class TopicLinks : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.Grouping | Data.Image;

    public Data Writes => Data.None;

    /// <summary>What comes before it may have made the links, which it has to save.</summary>
    public bool MayGiveWayBefore => false;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (derivation.Board is not { } board)
        {
            TopicStore.SaveLinks(session, new Dictionary<ClusterId, IReadOnlyList<TopicLink>>(), isAll: true);
            return;
        }

        var changed = board.LinksChanged(session);
        var kept = (changed ?? board.Table.InOrder()).ToDictionary(board.IdOf, slot => (IReadOnlyList<TopicLink>)[.. board.Links(session).KeptOf(slot).Select(l => new TopicLink(board.IdOf(slot), board.IdOf(l.Slot), l.Weight))]);
        if (changed is not null)
        {
            TopicStore.SaveLinks(session, kept, isAll: false);
            return;
        }

        board.ReadAhead(session);
        session.Beside(() => TopicStore.SaveLinks(session, kept, isAll: true));
    }
}
