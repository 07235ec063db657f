using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Results;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;

namespace JadeOrchard.Server.PageMap;

/// <summary>The pages that a phrase is for.</summary>
/// <param name="Cluster">The cluster that the phrase is in; null where it is in none.</param>
/// <param name="Pages">The strongest first; empty where the site has none.</param>
public sealed record WhichView(string Phrase, ClusterId? Cluster, IReadOnlyList<WhichPageView> Pages);

/// <summary>A page that a phrase is for.</summary>
/// <param name="Strength">0 to 100, by text and search performance.</param>
/// <param name="Facts">What speaks for it, and what it does not say.</param>
public sealed record WhichPageView(PageId PageId, string Url, double Strength, double? Text, double? Performance, IReadOnlyList<string> Facts);

/// <summary>Which of our pages is this for? Any phrase, captured or not.</summary>
public static class WhichEndpoints
{
    private const int Longest = 200;
    private const int PagesShown = 5;

    public static void MapWhich(this RouteGroupBuilder api) =>
        api.MapGet("/which", Results<Ok<WhichView>, ProblemHttpResult> (string phrase, Project project) =>
                phrase.Length > Longest || KeywordNormalForm.Of(phrase).Length == 0
                    ? Problems.Invalid("phrase", $"Write a phrase of up to {Longest} characters.")
                    : TypedResults.Ok(project.Read((session, snapshot) => Of(session, snapshot, phrase.Trim()))))
            .WithName("which");

    private static WhichView Of(Session session, ProjectSnapshot snapshot, string phrase)
    {
        var language = ProjectStore.Get(session).Language;
        var form = KeywordNormalForm.Of(phrase, language);
        Keyword[] keywords = [new Keyword(phrase, form)];
        using var analysis = new TextAnalysis(language);
        // The words that are kept of pages are those of keywords, and this may be none.
        var text = snapshot.TextFor(session, keywords, analysis);
        var builder = new SearchPerformance.Builder();
        foreach (var shown in PerformanceStore.OfQuery(session, form).Select(p => (Page: snapshot.PageOf(p.PageIdentity), Figures: p)).Where(p => p.Page >= 0).GroupBy(p => p.Page))
        {
            var impressions = shown.Sum(p => p.Figures.Impressions);
            builder.Add(0, new PageFigures(shown.Key, shown.Sum(p => p.Figures.Clicks), impressions, shown.Sum(p => p.Figures.Position * p.Figures.Impressions) / impressions));
        }

        var performance = builder.Build(1, snapshot.Pages.Count, Math.Max(1, PerformanceStore.Days(session)));
        var candidates = new PageCandidates(keywords, new ResultLists.Builder().Build(1, []), snapshot.Pages, [], text, performance, snapshot.Curve);
        return new WhichView(
            phrase, Storage.Clusters.ClusterStore.OfKeyword(session, form),
            [
                .. WhichPage.Of(0, keywords, candidates, snapshot.Pages, text, performance, analysis).Take(PagesShown).Select(p => new WhichPageView(
                    snapshot.PageIds[p.Evidence.Page], snapshot.Pages[p.Evidence.Page].Url, Math.Round(p.Evidence.Strength, 1), p.Evidence.Text, p.Evidence.Performance, p.Facts)),
            ]);
    }
}
