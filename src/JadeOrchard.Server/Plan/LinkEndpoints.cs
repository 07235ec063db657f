using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Plan;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Plan;

namespace JadeOrchard.Server.Plan;

/// <summary>Links that pages of a topic lack.</summary>
/// <param name="Rows">The first of them.</param>
/// <param name="Count">All of them.</param>
/// <param name="NotRead">Source pages whose links no full scan has read, so that nothing can be said of them.</param>
public sealed record MissingLinksView(IReadOnlyList<MissingLinkRow> Rows, int Count, int NotRead);

/// <summary>A link that is missing.</summary>
/// <param name="Direction">Why there should be one.</param>
/// <param name="Says">"support to pillar".</param>
/// <param name="Passage">The sentence of the source page; null where none comes close, or its text was not read.</param>
/// <param name="Start">Where the words begin in it.</param>
/// <param name="Words">The words to link; empty where none are there, and a sentence would go after the passage.</param>
/// <param name="Advice">What to do where no words are there; empty otherwise.</param>
/// <param name="HasStep">A step of the plan asks for it already.</param>
public sealed record MissingLinkRow(
    PageId SourceId, string SourceUrl, bool SourceIsPlanned, PageId TargetId, string TargetUrl, bool TargetIsPlanned, LinkDirection Direction, string Says, ClusterId ClusterId, string Cluster, TopicId TopicId,
    string? Passage, int Start, string Words, string Advice, bool HasStep);

/// <summary>Adds steps for links.</summary>
/// <param name="Links">Those that are wanted; null for all of the topic, or of all topics.</param>
public sealed record AddLinksRequest(IReadOnlyList<LinkPair>? Links = null, TopicId? TopicId = null, PageId? PageId = null);

/// <summary>Two pages.</summary>
public sealed record LinkPair(PageId SourceId, PageId TargetId);

/// <summary>Links between the pages of topics.</summary>
public static class LinkEndpoints
{
    /// <summary>Pages of which texts are read at once.</summary>
    private const int MostRows = 500;

    public static void MapLinks(this RouteGroupBuilder api)
    {
        api.MapGet("/plan/links", (TopicId? topicId, PageId? pageId, int? offset, int? limit, Project project) => project.Read(session =>
            {
                var (links, notRead) = Missing(session, topicId, pageId);
                return new MissingLinksView(Rows(session, [.. links.Skip(Math.Max(0, offset ?? 0)).Take(Math.Clamp(limit ?? 100, 0, MostRows))]), links.Count, notRead);
            }))
            .WithName("missingLinks");

        api.MapPost("/plan/links", (AddLinksRequest request, Project project) => project.Change<ChangedSteps>("Add links to the plan", session =>
            {
                var wanted = request.Links?.Select(l => (l.SourceId, l.TargetId)).ToHashSet();
                List<FoundLink> chosen = [.. Missing(session, request.TopicId, request.PageId).Links.Where(l => wanted is null ? !l.HasStep : wanted.Contains((l.Source.Id, l.Target.Id)))];
                var parts = chosen.Chunk(MostRows).SelectMany(some => Rows(session, some)).Select(l => new NewPart(
                    StepKind.Link, l.SourceId, l.TargetId, l.ClusterId, Says: l.Says, Words: l.Words)).ToList();
                return new ChangedSteps(StepStore.Add(session, parts, project.Now).Count);
            }).ToOk())
            .WithName("addLinks");
    }

    /// <summary>A missing link with the pages it is about.</summary>
    internal sealed record FoundLink(LinkPage Source, LinkPage Target, LinkDirection Direction, LinkCluster Cluster, bool HasStep);

    /// <summary>The links that are missing, topics with most demand first.</summary>
    internal static (IReadOnlyList<FoundLink> Links, int NotRead) Missing(Session session, TopicId? topicId, PageId? pageId)
    {
        var clusters = LinkStore.Clusters(session, topicId);
        var pages = LinkStore.Pages(session).ToDictionary(p => p.Id);
        var (linked, planned) = (LinkStore.Linked(session), LinkStore.Planned(session));
        var weights = LinkStore.Weights(session, topicId);
        var indexOf = clusters.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        List<PageId> ids = [.. pages.Keys];
        var numberOf = ids.Select((id, i) => (id, i)).ToDictionary(p => p.id, p => p.i);
        List<IReadOnlyList<int>> topics = [.. clusters.GroupBy(c => c.TopicId).Select(g => (IReadOnlyList<int>)[.. g.OrderByDescending(c => c.IsPillar).ThenByDescending(c => c.Demand).ThenBy(c => c.Id).Select(c => indexOf[c.Id])])];
        var wanted = LinkPlan.Of(
            topics, c => clusters[c].PageId is { } page && numberOf.TryGetValue(page, out var n) ? n : null, p => pages[ids[p]].IsPlanned,
            (a, b) => weights.GetValueOrDefault((clusters[a].Id, clusters[b].Id)));
        var (found, notRead) = (new List<FoundLink>(), new HashSet<PageId>());
        foreach (var link in wanted)
        {
            var (source, target) = (pages[ids[link.Source]], pages[ids[link.Target]]);
            if (pageId is { } only && source.Id != only && target.Id != only)
                continue;
            // What links a page has is known after a full scan alone; a page that is to be written has none.
            if (!source.IsPlanned && !source.IsRead)
                notRead.Add(source.Id);
            else if (!linked.Contains((source.Id, target.Id)))
                found.Add(new FoundLink(source, target, link.Direction, clusters[link.Cluster], planned.Contains((source.Id, target.Id))));
        }

        return (found, notRead.Count);
    }

    /// <returns>The passage of a page that has words of a cluster's keywords; null where its text was not read or none comes close.</returns>
    internal static LinkPassage? Passage(Session session, PageId source, ClusterId? cluster, TextAnalysis analysis, Dictionary<string, string> stems)
    {
        if (cluster is not { } id || LinkStore.Text(session, source) is not { } text)
            return null;
        var words = LinkStore.Phrases(session, [id])[id].ToList();
        return new LinkPassages(text.Text, text.Headings, text.Anchors, analysis, stems).Find([.. words.Select(analysis.Stems)], words);
    }

    /// <summary>The links with the passage of the source page that has the words.</summary>
    internal static List<MissingLinkRow> Rows(Session session, IReadOnlyList<FoundLink> links)
    {
        var language = ProjectStore.Get(session).Language;
        using var analysis = new TextAnalysis(language);
        var (stems, passages) = (LinkPassages.StemsFor(language), new Dictionary<PageId, LinkPassages?>());
        var phrases = LinkStore.Phrases(session, [.. links.Select(l => l.Cluster.Id).Distinct()]);
        var rows = new List<MissingLinkRow>();
        foreach (var link in links)
        {
            if (!passages.TryGetValue(link.Source.Id, out var sentences))
            {
                passages[link.Source.Id] = sentences = LinkStore.Text(session, link.Source.Id) is { } text
                    ? new LinkPassages(text.Text, text.Headings, text.Anchors, analysis, stems)
                    : null;
            }

            var words = phrases[link.Cluster.Id].ToList();
            var passage = sentences?.Find([.. words.Select(analysis.Stems)], words);
            var advice = passage is { Words.Length: > 0 } ? ""
                : link.Source.IsPlanned ? "The page is still to be written: name it in the text."
                : sentences is null ? "Its text was not read; a full scan reads it."
                : passage is null ? "No passage has the words. Add a sentence where the text comes nearest to the subject, or in a list of further reading."
                : "No passage has the words. A sentence would go after this one.";
            rows.Add(new MissingLinkRow(
                link.Source.Id, link.Source.Url, link.Source.IsPlanned, link.Target.Id, link.Target.Url, link.Target.IsPlanned, link.Direction, link.Direction.Code().Replace('-', ' '), link.Cluster.Id, link.Cluster.Name,
                link.Cluster.TopicId, passage?.Sentence, passage?.Start ?? 0, passage?.Words ?? "", advice, link.HasStep));
        }

        return rows;
    }
}
