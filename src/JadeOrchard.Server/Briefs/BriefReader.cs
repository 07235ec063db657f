using JadeOrchard.Core.Briefs;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Site;
using JadeOrchard.Server.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Briefs;
using JadeOrchard.Storage.Clusters;
using JadeOrchard.Storage.Plan;
using JadeOrchard.Storage.Results;
using JadeOrchard.Storage.Site;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Server.Briefs;

/// <summary>Makes the briefs of clusters from what the project knows.</summary>
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

    /// <returns>The brief of each cluster, null where there is no such; the texts are read once for all of them.</returns>
    /// <param name="session">The transaction.</param>
    /// <param name="snapshot">Of the same moment.</param>
    /// <param name="clusterIds">The clusters.</param>
    /// <param name="ignored">Phrases that are no terms; null for those of the project.</param>
    /// <param name="today">To tell which pages are old.</param>
    public static IReadOnlyList<Brief?> Make(Session session, ProjectSnapshot snapshot, IReadOnlyList<ClusterId> clusterIds, IReadOnlyList<string>? ignored, DateOnly today)
    {
        var (project, settings) = (ProjectStore.Get(session), ProjectStore.Settings(session).Briefs);
        var brands = ProjectStore.Brands(session);
        using var analysis = new TextAnalysis(project.Language);
        var read = new ReadTexts(session, analysis, project.Language);
        var site = new OwnSite(project.Host);
        var all = snapshot.Keywords.Select(k => k.NormalForm).ToHashSet(StringComparer.Ordinal);
        var maker = new BriefMaker(analysis, project.Language, TitleFurniture.EndingOf(PageStore.Titles(session)), settings.Patterns);
        var sources = clusterIds.Select(id => SourceOf(session, snapshot, read, id)).ToList();
        var terms = read.Terms.Of([.. sources.Select(s => s is null ? ([], []) : (s.Read, s.Forms))], ignored ?? settings.IgnoredTerms ?? []);
        return [.. sources.Select((source, i) => source is null ? null : BriefOf(source, terms[i]))];

        Brief BriefOf(Source source, IReadOnlyList<Term> found)
        {
            var (cluster, primary, members) = (source.Cluster, source.Primary, source.Members);
            // What the planner wants done for queries of the page's search performance is asked of the writer too.
            var work = cluster.PageId is { } wanted ? StepStore.QueryWorkOf(session, wanted, clusterId: cluster.Id) : [];
            int[] keywords = [primary, .. members.Where(k => k != primary && !brands.IsBrandQuery(snapshot.Keywords[k].NormalForm)).OrderByDescending(k => snapshot.Keywords[k].Volume ?? 0).ThenBy(k => snapshot.Keywords[k].NormalForm, StringComparer.Ordinal)];
            var known = keywords.Select(k => snapshot.Keywords[k].NormalForm).ToHashSet(StringComparer.Ordinal);
            List<string> queries = [.. work.Where(w => w.Work is QueryWork.Mention or QueryWork.Answer or QueryWork.Section && known.Add(KeywordNormalForm.Of(w.Query, project.Language))).Select(w => w.Query)];
            var own = cluster.PageId is { } pageId ? BriefStore.OwnText(session, pageId) : null;
            var page = cluster.PageId is { } existing && snapshot.IndexOfPage.TryGetValue(existing, out var at) ? at : -1;
            var links = cluster.PageId is { } linked ? LinkEndpoints.Rows(session, LinkEndpoints.Missing(session, cluster.TopicId, linked).Links) : [];
            var url = cluster.PageUrl ?? site.UrlOf(snapshot.Habits.PathFor(snapshot.Keywords[primary].NormalForm, snapshot.Keywords[primary].Intent, [], path =>
                UrlIdentity.TryOf(site.UrlOf(path), UrlFolds.All, out var identity) && PageStore.FindByIdentity(session, identity) is not null));
            return maker.Of(new BriefFacts(
                [.. keywords.Select(k => snapshot.Keywords[k]), .. queries.Select(q => new Keyword(q, KeywordNormalForm.Of(q, project.Language)))], url, own, source.Ranking, read.All, found, [.. work.Where(w => w.Work == QueryWork.Answer).Select(w => w.Query), .. ResultStore.Asked(session, cluster.Id)],
                [.. keywords.Select(k => page < 0 || !snapshot.Lists.IsCaptured(k) ? 0 : ResultsEvidence.Standings(k, snapshot.Lists, snapshot.PageOfUrl).FirstOrDefault(s => s.Page == page).Position), .. queries.Select(_ => 0)],
                [.. links.Where(l => l.SourceId == cluster.PageId).Take(MostLinks).Select(l => new BriefLink(l.TargetUrl, l.Words.Length > 0 ? l.Words : l.Cluster))],
                [.. links.Where(l => l.TargetId == cluster.PageId).Take(MostLinks).Select(l => new BriefLink(l.SourceUrl, l.Words.Length > 0 ? l.Words : l.Cluster))],
                today, form => all.Contains(form) && !source.Forms.Contains(form) && !work.Any(w => KeywordNormalForm.Of(w.Query, project.Language) == form))
            { Work = work });
        }
    }

    /// <returns>What the ranking pages of a cluster have in common, without the phrases that the project ignores; null where there is no such cluster.</returns>
    public static IReadOnlyList<Term>? Terms(Session session, ProjectSnapshot snapshot, ClusterId clusterId, int top)
    {
        var language = ProjectStore.Get(session).Language;
        using var analysis = new TextAnalysis(language);
        var read = new ReadTexts(session, analysis, language);
        return SourceOf(session, snapshot, read, clusterId) is { } source ? read.Terms.Of([(source.Read, source.Forms)], ProjectStore.Settings(session).Briefs.IgnoredTerms ?? [], top)[0] : null;
    }

    private static Source? SourceOf(Session session, ProjectSnapshot snapshot, ReadTexts texts, ClusterId clusterId)
    {
        if (ClusterStore.Find(session, clusterId) is not { } cluster || !snapshot.IndexOfKeyword.TryGetValue(cluster.PrimaryKeywordId, out var primary))
            return null;
        var members = Members(session, snapshot, clusterId);
        var (ranking, read) = (new List<RankedPage>(), new List<int>());
        foreach (var rival in snapshot.Rivals(members, PagesRead))
        {
            var identity = snapshot.UrlIdentities[rival.Url];
            int[] positions = [.. members.Select(k => snapshot.Lists.PositionOf(k, rival.Url)).Where(p => p > 0)];
            var text = texts.Rivals.GetValueOrDefault(identity);
            ranking.Add(new RankedPage(text ?? PageText.Of(identity, null, [], ""), positions.Length == 0 ? 0 : positions.Min(), positions.Length, text is not null, texts.Faults.GetValueOrDefault(identity)));
            if (text is not null)
                read.Add(texts.IndexOf[identity]);
        }

        return new Source(cluster, primary, members, ranking, read, [.. members.Select(k => snapshot.Keywords[k].NormalForm)]);
    }

    /// <summary>What the brief of one cluster is made from.</summary>
    /// <param name="Read">The ranking pages that were read, by their index among all texts.</param>
    /// <param name="Forms">The normal forms of the keywords.</param>
    private sealed record Source(ClusterRow Cluster, int Primary, int[] Members, IReadOnlyList<RankedPage> Ranking, IReadOnlyList<int> Read, IReadOnlyList<string> Forms);

    /// <summary>All texts that were read: pages of others first, so that their indexes are those of the terms.</summary>
    private sealed class ReadTexts
    {
        public ReadTexts(Session session, TextAnalysis analysis, string language)
        {
            Rivals = RivalPageStore.Texts(session);
            Faults = RivalPageStore.Faults(session);
            All = [.. Rivals.Values, .. BriefStore.OwnTexts(session, MostOwnRead)];
            IndexOf = Rivals.Keys.Select((identity, i) => (identity, i)).ToDictionary(t => t.identity, t => t.i, StringComparer.Ordinal);
            Terms = new Terms(All, analysis, language);
        }

        public Dictionary<string, PageText> Rivals { get; }

        public Dictionary<string, string> Faults { get; }

        public IReadOnlyList<PageText> All { get; }

        public Dictionary<string, int> IndexOf { get; }

        public Terms Terms { get; }
    }

    private static int[] Members(Session session, ProjectSnapshot snapshot, ClusterId clusterId) =>
        [.. ClusterStore.Members(session, clusterId).Where(snapshot.IndexOfKeyword.ContainsKey).Select(id => snapshot.IndexOfKeyword[id]).Order()];
}
