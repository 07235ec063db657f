using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Findings;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.PageMap;
using JadeOrchard.Core.Plan;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Site;
using JadeOrchard.Core.Topics;
using JadeOrchard.Formats.Plan;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Cli;

/// <summary>Commands on the plan: what to do in which order, missing links, redirects.</summary>
internal static class PlanCommands
{
    /// <summary>Whoever works where nobody is named.</summary>
    private const string Team = "team";

    /// <summary>The steps that the findings ask for, in order; week by week where there is a capacity.</summary>
    public static string Plan(SiteCommands.Arguments arguments, double? capacity, string? start)
    {
        if (capacity is not null and not (> 0 and <= 10_000))
            throw new TableFormatException($"--capacity must be more than 0 and at most 10,000 hours a week, not {capacity.Value.ToString(CultureInfo.InvariantCulture)}.");
        if (start is not null && !DateOnly.TryParseExact(start, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            throw new TableFormatException($"--start must be a date such as 2026-11-30, not '{start}'.");
        if (start is not null && capacity is null)
            throw new TableFormatException("--start needs --capacity, the hours a week.");
        var computed = SiteCommands.Compute(arguments);
        var facts = SiteCommands.Facts(computed, arguments);
        var habits = UrlHabits.Of(computed.Site.Pages);
        var site = SiteCommands.SiteOf(arguments.Site);
        var taken = computed.Site.Pages.Select(p => UrlIdentity.TryOf(p.Url, UrlFolds.All, out var identity) ? identity : p.Url).ToHashSet(StringComparer.Ordinal);
        var newUrls = new Dictionary<int, string>();
        string NewUrlOf(int cluster)
        {
            if (!newUrls.TryGetValue(cluster, out var url))
            {
                var primary = computed.Inputs.Keywords[computed.Clustering.Clusters[cluster].Primary];
                newUrls[cluster] = url = site.UrlOf(habits.PathFor(primary.NormalForm, primary.Intent, [], path => !taken.Add(UrlIdentity.TryOf(site.UrlOf(path), UrlFolds.All, out var identity) ? identity : path)));
            }

            return url;
        }

        var plan = SitePlan.Of(facts, SiteFindings.In(facts), EffortTable.Default, NewUrlOf);
        var day = start is null ? DateOnly.FromDateTime(DateTime.UtcNow) : DateOnly.ParseExact(start, "yyyy-MM-dd", CultureInfo.InvariantCulture);
        // Where monthly volumes are known, work is due before its season.
        DateOnly? SeasonOf(int cluster) =>
            MonthlyVolumes.Sum([.. computed.Clustering.Clusters[cluster].Members.Select(k => computed.Inputs.Keywords[k].Monthly).OfType<MonthlyVolumes>()]) is { } months ? MonthlyVolumes.NextPeak(months.PeakMonths(), day)?.Due : null;
        var weeks = capacity is null ? null : Roadmap.Of(
            [.. plan.Steps.Select(s => new RoadmapStep(s.Hours, s.Gain, Season: s.Clusters.Min(SeasonOf)))], [.. Enumerable.Range(0, plan.Steps.Length)], plan.Before, [new Person(Team, capacity.Value, [])], day, null);
        Output.Write(arguments.Output, ["step", "what", "page", "cluster", "gain", "hours", "week", "because"], plan.Steps.Select((s, i) => new object?[]
        {
            i + 1, s.Kind.Code(), s.Url, string.Join(SiteCommands.Separator, s.Clusters.Select(c => c + 1)), Math.Round(s.Gain, 1), s.Hours, weeks?.Places[i].First?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), s.Because,
        }));
        var last = weeks?.Places.Max(p => p.Last);
        return FormattableString.Invariant($"{plan.Steps.Length} steps, {plan.Steps.Sum(s => s.Hours):0.##} hours, about {plan.Steps.Sum(s => s.Gain):0} clicks a month; for prioritising, not a forecast.")
            + (last is { } end ? $" The last one ends in the week of {end.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)}." : "") + SiteCommands.SaysOf(computed.Subjects) + Output.Rejects(computed.Inputs, arguments.Rejects);
    }

    /// <summary>Makes redirects short and writes them as rules.</summary>
    public static string Redirects(string path, string format, string output)
    {
        var kind = format switch
        {
            "csv" => RedirectFormat.Csv,
            "apache" => RedirectFormat.Apache,
            "nginx" => RedirectFormat.Nginx,
            _ => throw new TableFormatException($"--format must be csv, apache or nginx, not '{format}'."),
        };
        var resolved = RedirectFile.Resolve(RedirectFile.Read(path));
        if (resolved.Loops is [var loop, ..])
        {
            throw new TableFormatException(
                $"{path}: {(resolved.Loops.Length == 1 ? "there is a loop" : $"there are {resolved.Loops.Length} loops, such as")}: {string.Join(" → ", loop.Append(loop[0]))}. Nothing was written; let one of them lead elsewhere.");
        }

        var unfinished = output + ".part";
        using (var stream = File.Create(unfinished))
            RedirectFile.Write(stream, resolved.All, kind);
        File.Move(unfinished, output, overwrite: true);
        return $"{resolved.All.Length} redirects."
            + (resolved.Shortened.IsEmpty ? "" : $" {resolved.Shortened.Length} led to another redirect and were shortened:")
            + string.Concat(resolved.Shortened.Select(s => $"{Environment.NewLine}  {s.From} → {s.To} (through {string.Join(", ", s.Through)})"));
    }

    /// <summary>What <see cref="Links"/> reads.</summary>
    internal sealed record LinkArguments(
        string Pages, string Links, string Clusters, string? Topics, string? Results, string? Map, string? Performance, string? Site, string Language, int Depth, string Output, string? Rejects);

    /// <summary>The links that pages of a topic lack, with the passage that has the words.</summary>
    public static string Links(LinkArguments arguments)
    {
        using var analysis = new TextAnalysis(arguments.Language);
        var names = new Names();
        var (clusterOf, clusterNames) = ClusterFile.Read(arguments.Clusters, names, f => KeywordNormalForm.Of(f, arguments.Language));
        var inputs = new Inputs(rawUrls: false, keepCaptured: true, arguments.Language);
        inputs.ReadKeywords(arguments.Clusters);
        inputs.SortKeywords();
        if (arguments.Results is { } results)
            inputs.ReadResults(results, addKeywords: false);
        var lists = inputs.Lists().Cut(arguments.Depth);
        var site = inputs.ReadSite(arguments.Pages, arguments.Performance, arguments.Site is { } host ? SiteCommands.SiteOf(host) : new OwnSite(null));
        var order = KeywordOrder.Ranks(KeywordOrder.Of(inputs.Keywords));
        var primaries = ClusterFile.Primaries(arguments.Clusters, f => KeywordNormalForm.Of(f, arguments.Language));
        var members = Enumerable.Range(0, inputs.Keywords.Count).Where(k => names.Find(inputs.Keywords[k].NormalForm) is not null)
            .GroupBy(k => clusterOf[names.Find(inputs.Keywords[k].NormalForm)!.Value])
            .Select(g => (Name: clusterNames[g.Key], Members: g.OrderByDescending(k => primaries.GetValueOrDefault(clusterNames[g.Key]) == inputs.Keywords[k].NormalForm).ThenBy(k => order[k]).ToList()))
            .OrderBy(c => order[c.Members[0]]).ToList();
        Cluster[] clusters = [.. members.Select(m => new Cluster(m.Members[0], [.. m.Members]))];
        var stems = ClusterLinks.Stems(inputs.Keywords, analysis);
        var kin = ClusterLinks.Of(clusters, inputs.Keywords, lists, k => stems[k]);
        var pageOf = PagesOf(arguments, inputs, site, clusters, lists, analysis);
        var linked = PlanLinks.Read(arguments.Links, site.Pages);
        var wanted = LinkPlan.Of(TopicsOf(arguments, clusters, members, inputs, kin), c => pageOf[c], _ => false, (_, _) => 0)
            .Where(l => !linked.Has(l.Source, l.Target)).ToList();
        var (known, passages) = (LinkPassages.StemsFor(arguments.Language), new Dictionary<int, LinkPassages?>());
        var (rows, without) = (new List<object?[]>(), 0);
        foreach (var link in wanted)
        {
            if (!passages.TryGetValue(link.Source, out var sentences))
            {
                var page = site.Pages[link.Source];
                passages[link.Source] = sentences = site.Texts[link.Source] is { } text
                    ? new LinkPassages(text, new[] { page.H1, page.H2, page.H3 }.SelectMany(h => (h ?? "").Split(" | ")), linked.Anchors(link.Source), analysis, known)
                    : null;
            }

            var phrases = clusters[link.Cluster].Members.Select(k => inputs.Keywords[k].Phrase).ToList();
            var passage = sentences?.Find([.. phrases.Select(analysis.Stems)], phrases);
            var isThere = passage is { Words.Length: > 0 };
            without += isThere ? 0 : 1;
            rows.Add([site.Pages[link.Source].Url, site.Pages[link.Target].Url, link.Direction.Code(), isThere ? passage!.Words : null, isThere ? passage!.Sentence : null]);
        }

        Output.Write(arguments.Output, ["source", "target", "direction", "words", "passage"], rows);
        return $"{rows.Count} missing links; {rows.Count - without} have a passage with the words{(without == 0 ? "" : $", {without} need a sentence of their own")}." + Output.Rejects(inputs, arguments.Rejects);
    }

    /// <summary>The page of each cluster: that of the file, else the one suggested.</summary>
    private static int?[] PagesOf(LinkArguments arguments, Inputs inputs, SiteInput site, Cluster[] clusters, ResultLists lists, TextAnalysis analysis)
    {
        var named = PlanLinks.PagesOfKeywords(arguments.Map ?? arguments.Clusters, site.Pages, f => KeywordNormalForm.Of(f, arguments.Language));
        int?[] pages = [.. clusters.Select(c => c.Members.Select(k => named.TryGetValue(inputs.Keywords[k].NormalForm, out var page) ? page : (int?)null).FirstOrDefault(p => p is not null))];
        if (named.Count > 0)
            return pages;
        var text = new SiteText(site.Pages, [.. site.Texts.Select(t => t is null ? null : string.Join(' ', analysis.Stems(t)))], inputs.Keywords, analysis, arguments.Language);
        var suggestions = PageSuggestions.For(
            clusters, inputs.Keywords, site.Pages, new PageCandidates(inputs.Keywords, lists, site.Pages, site.PageOfUrl, text, site.Performance, ClickCurve.Default));
        return [.. suggestions.Select(s => s.Page)];
    }

    /// <summary>The clusters of each topic, its pillar first: those of a file, else computed.</summary>
    private static List<IReadOnlyList<int>> TopicsOf(LinkArguments arguments, Cluster[] clusters, List<(string Name, List<int> Members)> members, Inputs inputs, IReadOnlyList<Link> kin)
    {
        if (PlanLinks.Topics(arguments.Topics ?? arguments.Clusters, isRequired: arguments.Topics is not null) is not { } file)
        {
            return [.. Topics.Of([.. clusters.Select(c => c.Members.Sum(k => inputs.Keywords[k].Volume ?? 0))], kin, StandingTopics.None(clusters.Length))
                .Select(t => (IReadOnlyList<int>)[t.Pillar, .. t.Clusters.Where(c => c != t.Pillar)])];
        }

        var indexOf = members.Select((m, i) => (m.Name, i)).ToDictionary(m => m.Name, m => m.i, StringComparer.Ordinal);
        return [.. file.GroupBy(r => r.Topic).Select(g => (IReadOnlyList<int>)[.. g
            .Where(r => indexOf.ContainsKey(r.Cluster)).Select(r => (Cluster: indexOf[r.Cluster], r.IsPillar)).DistinctBy(r => r.Cluster)
            .OrderByDescending(r => r.IsPillar).ThenByDescending(r => clusters[r.Cluster].Members.Sum(k => inputs.Keywords[k].Volume ?? 0)).ThenBy(r => r.Cluster).Select(r => r.Cluster)])];
    }
}
