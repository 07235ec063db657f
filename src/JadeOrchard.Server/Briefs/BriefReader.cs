using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Briefs;

/// <summary>Makes the brief of a cluster from what the project knows.</summary>
public static class BriefReader
{
    /// <summary>Ranking pages that are read for a cluster.</summary>
    public const int PagesRead = 20;

    /// <summary>Pages of the site that are read to compare with.</summary>
    private const int MostOwnRead = 500;

    /// <summary>Links in each direction.</summary>
    private const int MostLinks = 5;

    /// <returns>Identities of the pages of others that rank, those that searchers are led to most first.</returns>
    public static IReadOnlyList<string> Ranking(Session session, ProjectSnapshot snapshot, ClusterId clusterId) =>
        [.. snapshot.Rivals(Members(session, snapshot, clusterId), PagesRead).Select(r => snapshot.UrlIdentities[r.Url])];

    /// <returns>Null where there is no such cluster.</returns>
    public static Brief? Make(Session session, ProjectSnapshot snapshot, ClusterId clusterId)
    {
        if (ClusterStore.Find(session, clusterId) is not { } cluster || !snapshot.IndexOfKeyword.TryGetValue(cluster.PrimaryKeywordId, out var primary))
            return null;
        var project = ProjectStore.Get(session);
        var brands = ProjectStore.Brands(session);
        var members = Members(session, snapshot, clusterId);
        int[] keywords = [primary, .. members.Where(k => k != primary && !brands.IsBrandQuery(snapshot.Keywords[k].NormalForm)).OrderByDescending(k => snapshot.Keywords[k].Volume ?? 0).ThenBy(k => snapshot.Keywords[k].NormalForm, StringComparer.Ordinal)];
        var texts = RivalPageStore.Texts(session);
        using var analysis = new TextAnalysis(project.Language);
        // Pages of others first, so that their indexes are those of the texts.
        List<PageText> all = [.. texts.Values, .. BriefStore.OwnTexts(session, MostOwnRead)];
        var indexOf = texts.Keys.Select((identity, i) => (identity, i)).ToDictionary(t => t.identity, t => t.i, StringComparer.Ordinal);
        var ranking = new List<RankedPage>();
        var read = new List<int>();
        foreach (var rival in snapshot.Rivals(members, PagesRead))
        {
            var identity = snapshot.UrlIdentities[rival.Url];
            int[] positions = [.. members.Select(k => snapshot.Lists.PositionOf(k, rival.Url)).Where(p => p > 0)];
            var text = texts.GetValueOrDefault(identity);
            ranking.Add(new RankedPage(text ?? PageText.Of(identity, null, [], ""), positions.Length == 0 ? 0 : positions.Min(), positions.Length, text is not null));
            if (text is not null)
                read.Add(indexOf[identity]);
        }

        var terms = new Terms(all, analysis, project.Language).Of([(read, [.. members.Select(k => snapshot.Keywords[k].NormalForm)])], [])[0];
        var own = cluster.PageId is { } pageId ? BriefStore.OwnText(session, pageId) : null;
        var page = cluster.PageId is { } existing && snapshot.IndexOfPage.TryGetValue(existing, out var at) ? at : -1;
        var links = cluster.PageId is { } linked ? LinkEndpoints.Rows(session, LinkEndpoints.Missing(session, cluster.TopicId, linked).Links) : [];
        var url = cluster.PageUrl ?? new OwnSite(project.Host).UrlOf(snapshot.Habits.PathFor(snapshot.Keywords[primary].NormalForm, snapshot.Keywords[primary].Intent, [], path =>
            UrlIdentity.TryOf(new OwnSite(project.Host).UrlOf(path), UrlFolds.All, out var identity) && PageStore.FindByIdentity(session, identity) is not null));
        return new BriefMaker(analysis, project.Language, TitleFurniture.EndingOf(PageStore.Titles(session))).Of(new BriefFacts(
            [.. keywords.Select(k => snapshot.Keywords[k])], url, own, ranking, all, terms, [],
            [.. keywords.Select(k => page < 0 || !snapshot.Lists.IsCaptured(k) ? 0 : ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page).Position)],
            [.. links.Where(l => l.SourceId == cluster.PageId).Take(MostLinks).Select(l => new BriefLink(l.TargetUrl, l.Words.Length > 0 ? l.Words : l.Cluster))],
            [.. links.Where(l => l.TargetId == cluster.PageId).Take(MostLinks).Select(l => new BriefLink(l.SourceUrl, l.Words.Length > 0 ? l.Words : l.Cluster))]));
    }

    private static int[] Members(Session session, ProjectSnapshot snapshot, ClusterId clusterId) =>
        [.. ClusterStore.Members(session, clusterId).Where(snapshot.IndexOfKeyword.ContainsKey).Select(id => snapshot.IndexOfKeyword[id]).Order()];
}
