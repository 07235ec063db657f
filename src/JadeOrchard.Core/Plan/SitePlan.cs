using System.Collections.Immutable;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Core.Plan;

/// <summary>One piece of work on one page.</summary>
/// <param name="Kind">What is done; of several parts what is most work.</param>
/// <param name="Page">Index of the page; from the number of the site's pages on one that is new.</param>
/// <param name="Url">Its address.</param>
/// <param name="Clusters">Indexes of the clusters that it is for, most gain first.</param>
/// <param name="Gain">Clicks a month; of what several findings say about a cluster the most.</param>
/// <param name="Hours">What it takes.</param>
/// <param name="Because">What the findings say, and what the gain consists of.</param>
public sealed record SiteStep(StepKind Kind, int Page, string Url, ImmutableArray<int> Clusters, double Gain, double Hours, string Because);

/// <summary>The work that the findings of a site ask for, in order.</summary>
/// <param name="Steps">In order: the greatest gain per hour first, what others need before them.</param>
/// <param name="Before">Pairs of indexes of steps: the first before the second.</param>
public sealed record SitePlan(ImmutableArray<SiteStep> Steps, ImmutableArray<(int First, int Then)> Before)
{
    /// <param name="site">What the findings were computed from.</param>
    /// <param name="findings">All of them count as accepted, with the remedy that their kind suggests.</param>
    /// <param name="effort">The hours that steps take.</param>
    /// <param name="newUrlOf">The address of a new page for a cluster.</param>
    public static SitePlan Of(SiteFacts site, IReadOnlyList<Finding> findings, EffortTable effort, Func<int, string> newUrlOf)
    {
        var newPages = new List<int>();
        var parts = new List<(PlanPart<int, int> Part, Finding Finding)>();
        foreach (var finding in findings.OrderByDescending(f => f.Weight).ThenBy(f => f.Kind))
        {
            if (finding.Kind == FindingKind.Uncovered && !finding.IsPlanned)
            {
                var cluster = finding.Clusters[0].Cluster;
                parts.Add((new PlanPart<int, int>(StepKind.Write, site.Pages.Count + newPages.Count, null, cluster, Says(finding)), finding));
                newPages.Add(cluster);
                continue;
            }

            var clusters = finding.Clusters.Select(c => c.Cluster).ToHashSet();
            var decided = new DecidedFinding<int, int>(
                finding.Kind, finding.Pages, [.. finding.Clusters.Select(c => c.Cluster)], [.. finding.Signs.Select(s => new DecidedSign<int, int>(s.Kind, s.Page, s.Others, s.Cluster))], Says(finding));
            parts.AddRange(PlanParts.Of(decided, null, null, page => site.ClustersOf(page).Any(c => !clusters.Contains(c))).Select(p => (p, finding)));
        }

        var findingOf = parts.ToLookup(p => p.Part, p => p.Finding);
        var agreeing = PlanParts.Agreeing([.. parts.Select(p => p.Part)]);
        var byPage = agreeing.GroupBy(p => p.Page).Select(g => g.ToList()).ToList();
        // What a finding is about is gained by all its steps together.
        var shares = parts.Where(p => p.Part.Kind != StepKind.Link).GroupBy(p => p.Finding).ToDictionary(g => g.Key, g => g.Select(p => p.Part.Page).Distinct().Count());
        var pillarPage = (int cluster) => cluster < site.PillarOf.Count && site.PillarOf[cluster] is var pillar and >= 0 ? site.Map[pillar].Page : null;
        var before = PlanParts.Before([.. byPage], pillarPage);
        SiteStep[] steps = [.. byPage.Select(p => Step(site, p, findingOf, f => shares.GetValueOrDefault(f, 1), effort, UrlOf))];
        var order = StepOrder.Of([.. steps.Select(s => s.Gain / s.Hours)], before);
        var place = new int[order.Length];
        for (var i = 0; i < order.Length; i++)
            place[order[i]] = i;
        return new SitePlan([.. order.Select(i => steps[i])], [.. before.Select(b => (place[b.First], place[b.Then])).Order()]);

        string UrlOf(int page) => page < site.Pages.Count ? site.Pages[page].Url : newUrlOf(newPages[page - site.Pages.Count]);

        string Says(Finding finding) => string.Join(", ", finding.Signs.GroupBy(s => s.Kind).Select(g => FindingText.Brief(
            g.Key, g.Key is SignKind.SupportToPillar or SignKind.PillarToSupport ? g.Count() : Math.Max(1, g.Sum(s => s.Facts.Count(f => f.Keyword is not null))), finding.Pages.Length)));
    }

    private static SiteStep Step(SiteFacts site, List<PlanPart<int, int>> parts, ILookup<PlanPart<int, int>, Finding> findingOf, Func<Finding, int> stepsOf, EffortTable effort, Func<int, string> urlOf)
    {
        var page = parts[0].Page;
        var isNew = page >= site.Pages.Count;
        var (gains, apart) = (new Dictionary<int, double>(), 0.0);
        StepGain? gain = null;
        foreach (var part in parts)
        {
            if (part.Kind is StepKind.Write or StepKind.Refresh && part.Cluster is not null)
            {
                int[] clusters = isNew ? [part.Cluster.Value] : [.. site.ClustersOf(page).DefaultIfEmpty(part.Cluster.Value)];
                (gain, var each) = GainOf(site, clusters, isNew ? null : page);
                foreach (var (cluster, clicks) in each)
                    gains[cluster] = Math.Max(clicks, gains.GetValueOrDefault(cluster));
                continue;
            }

            foreach (var finding in findingOf[part].Take(1))
            {
                if (finding.Clusters.IsEmpty)
                    apart = Math.Max(apart, finding.AtStake / stepsOf(finding));
                foreach (var stake in finding.Clusters.Where(c => part.Kind != StepKind.Link || c.Cluster == part.Cluster))
                    gains[stake.Cluster] = Math.Max(stake.AtStake / stepsOf(finding), gains.GetValueOrDefault(stake.Cluster));
            }
        }

        var reasons = parts.Select(p => p.Says).Where(s => s.Length > 0).Distinct(StringComparer.Ordinal);
        var others = parts.Where(p => p.Other is not null).Select(p => StepText.Says(p.Kind, urlOf(p.Other!.Value))).Distinct(StringComparer.Ordinal);
        return new SiteStep(
            StepText.Main(parts.Select(p => p.Kind)), page, urlOf(page),
            [.. gains.OrderByDescending(g => Math.Round(g.Value, 6)).ThenBy(g => g.Key).Select(g => g.Key)],
            gains.OrderBy(g => g.Key).Sum(g => g.Value) + apart,
            effort.Of(parts.Select(p => p.Kind), isNew ? null : site.Pages[page].Words),
            string.Join("; ", reasons.Concat(others).Concat(gain is { } g ? new[] { g.ToString() } : [])));
    }

    /// <summary>What a page can gain from its clusters.</summary>
    private static (StepGain All, IEnumerable<(int Cluster, double Clicks)> Each) GainOf(SiteFacts site, int[] clusters, int? page)
    {
        var keywords = clusters.Select(c => (Cluster: c, Keywords: site.QueriesOf(site.Clusters[c]).Select(k => (site.Keywords[k], site.Weighed(k), site.PositionOf(k, page))).ToList())).ToList();
        return (StepGain.Of(keywords.SelectMany(k => k.Keywords), site.Curve), [.. keywords.Select(k => (k.Cluster, StepGain.Of(k.Keywords, site.Curve).Clicks))]);
    }
}
