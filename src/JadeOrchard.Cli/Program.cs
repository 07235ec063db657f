using System.CommandLine;
using System.Globalization;
using JadeOrchard.Cli;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Formats.Tables;

// The rules are those of the application; only the reading of files into memory and the writing of files are here.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;

var keywords = new Option<string>("--keywords") { Required = true, Description = "CSV or TSV: keyword, volume, difficulty, title_matches, intent, cpc, monthly_volumes (twelve or more, separated by \"|\", the newest last)." };
var results = new Option<string>("--results") { Required = true, Description = "CSV or TSV: keyword, position, url, title, snippet, captured_at." };
var pages = new Option<string>("--pages") { Required = true, Description = "CSV or TSV: url, title, h1, description, words, h2, h3, text, language." };
var performance = new Option<string?>("--performance") { Description = "CSV or TSV of search performance: query, page, date, clicks, impressions, position." };
var site = new Option<string>("--site") { Required = true, Description = "Host of the site." };
var output = new Option<string>("--out") { Required = true, Description = "The CSV file to write." };
var rejects = new Option<string?>("--rejects") { Description = "A CSV file for the rejected rows." };
var brands = new Option<string[]>("--brand") { Description = "A brand term beside the site's own name; may be given several times.", AllowMultipleArgumentsPerToken = false };
var tracking = new Option<string[]>("--tracking") { Description = "A parameter that is dropped from addresses to compare them, such as vid or vid_*; may be given several times.", AllowMultipleArgumentsPerToken = false };
var confirmed = new Option<string[]>("--confirmed-brand") { Description = "A brand term that is one although the site is about it as well; may be given several times.", AllowMultipleArgumentsPerToken = false };
var language = new Option<string>("--language") { DefaultValueFactory = _ => "en", Description = "Two-letter code of the language of keywords and pages." };
var map = new Option<string?>("--map") { Description = "A CSV file of pages that are assigned: keyword, page. Without it pages are suggested, and nothing is said of assigned ones." };
var signs = new Option<string?>("--signs") { Description = "A CSV file for the signs of the findings, one row each." };
var depth = new Option<int>("--depth") { DefaultValueFactory = _ => new ClusterSettings().Depth, Description = "Positions that are compared." };
var minOverlap = new Option<int>("--min-overlap") { DefaultValueFactory = _ => new ClusterSettings().MinOverlap, Description = "Shared results that link two keywords." };
var rule = new Option<string>("--rule") { DefaultValueFactory = _ => "primary", Description = "primary, every-pair or chain." };
var smallest = new Option<int>("--smallest") { DefaultValueFactory = _ => 1, Description = "Keywords that a cluster must have; smaller ones are left out." };
var leaveOut = new Option<string[]>("--leave-out") { Description = "A host whose results are not compared; may be given several times.", AllowMultipleArgumentsPerToken = false };
var perHost = new Option<int>("--per-host") { Description = "Results of one host that count in a list at most; 0 for all." };
var shortLists = new Option<bool>("--short-lists") { Description = "Lists with few results need share no more than three fifths of the shorter one." };
var previous = new Option<string?>("--previous") { Description = "Clusters that are to hold, as jade cluster wrote them: cluster, keyword, primary." };
var hysteresis = new Option<int>("--hysteresis") { DefaultValueFactory = _ => new ClusterSettings().Hysteresis, Description = "Results that a keyword must share more with another primary to leave its cluster; with --previous." };
var captures = new Option<string[]>("--results") { Required = true, Description = "Two captures of the same keywords; to be given twice.", AllowMultipleArgumentsPerToken = true };
var anyKeywords = new Option<string?>("--keywords") { Description = "CSV or TSV with volumes, which decide about primaries." };
var rawUrls = new Option<bool>("--raw-urls") { Description = "Compare URLs exactly as they are given." };
var first = new Argument<string>("A.csv") { Description = "Clusters: cluster, keyword." };
var second = new Argument<string>("B.csv") { Description = "Others of the same keywords." };
var changes = new Option<string?>("--out") { Description = "A CSV file for what changed: change, keyword, from, to." };

Command Named(string name, string description, Option[] options, Func<ParseResult, string> run)
{
    var command = new Command(name, description);
    foreach (var option in options)
        command.Options.Add(option);
    command.SetAction(parsed =>
    {
        Console.WriteLine(run(parsed));
        return 0;
    });
    return command;
}

ClusterSettings Settings(ParseResult parsed)
{
    var named = parsed.GetValue(rule) switch
    {
        "primary" or null => LinkingRule.Primary,
        "every-pair" => LinkingRule.EveryPair,
        "chain" => LinkingRule.Chain,
        var other => throw new TableFormatException($"--rule must be primary, every-pair or chain, not '{other}'."),
    };
    var settings = new ClusterSettings(parsed.GetValue(depth), parsed.GetValue(minOverlap), named, parsed.GetResult(smallest) is null ? 1 : parsed.GetValue(smallest), parsed.GetValue(leaveOut),
        parsed.GetResult(perHost) is null ? 0 : parsed.GetValue(perHost), parsed.GetResult(shortLists) is not null && parsed.GetValue(shortLists),
        parsed.GetResult(hysteresis) is null ? new ClusterSettings().Hysteresis : parsed.GetValue(hysteresis));
    return settings.Fault() is { } fault ? throw new TableFormatException(fault) : settings;
}

int Depth(ParseResult parsed) =>
    new ClusterSettings(parsed.GetValue(depth), 1).Fault() is { } fault ? throw new TableFormatException(fault) : parsed.GetValue(depth);

SiteCommands.Arguments SiteArguments(ParseResult p) => new(
    p.GetValue(keywords)!, p.GetValue(results)!, p.GetValue(pages)!, p.GetValue(performance), p.GetValue(site)!, p.GetValue(language)!,
    p.GetValue(brands) ?? [], Settings(p), p.GetValue(output)!, p.GetValue(rejects), p.GetResult(map) is null ? null : p.GetValue(map), p.GetResult(signs) is null ? null : p.GetValue(signs))
{
    ConfirmedBrands = p.GetValue(confirmed) ?? [],
    Tracking = p.GetValue(tracking) ?? [],
};

Option[] siteOptions = [keywords, results, pages, performance, site, language, brands, confirmed, tracking, depth, minOverlap, rule, smallest, leaveOut, perHost, shortLists, output, rejects];
var root = new RootCommand("Jade Orchard on the command line: topic clusters by search-result overlap, and a page for each.");
root.Subcommands.Add(Named("overlap", "Pairs of keywords and how many results they share.",
    [results, depth, minOverlap, leaveOut, rawUrls, tracking, output, rejects],
    p => ClusterCommands.Overlap(p.GetValue(results)!, Settings(p), p.GetValue(rawUrls), p.GetValue(tracking) ?? [], p.GetValue(output)!, p.GetValue(rejects))));
root.Subcommands.Add(Named("cluster", "Keywords gathered into clusters by overlap.",
    [keywords, results, depth, minOverlap, rule, smallest, leaveOut, perHost, shortLists, previous, hysteresis, language, rawUrls, tracking, output, rejects],
    p => ClusterCommands.Cluster(p.GetValue(keywords)!, p.GetValue(results)!, Settings(p), p.GetValue(rawUrls), p.GetValue(tracking) ?? [], p.GetValue(previous), p.GetValue(language), p.GetValue(output)!, p.GetValue(rejects))));
root.Subcommands.Add(Named("noise", "How much two captures of the same keywords differ, and what that alone does to clusters.",
    [captures, anyKeywords, depth, minOverlap, changes, rejects],
    p => ClusterCommands.Noise(p.GetValue(captures)!, p.GetValue(anyKeywords), Settings(p), p.GetValue(changes), p.GetValue(rejects))));
root.Subcommands.Add(Named("sensitivity", "What each minimum overlap from 1 to 10 and each rule would make of the keywords.",
    [keywords, results, depth, rawUrls, output, rejects],
    p => ClusterCommands.Sensitivity(p.GetValue(keywords)!, p.GetValue(results)!, Depth(p), p.GetValue(rawUrls), p.GetValue(output)!, p.GetValue(rejects))));
var compare = Named("compare", "How two files of clusters differ: adjusted Rand index, what moved, split and merged.",
    [changes], p => ClusterCommands.Compare(p.GetValue(first)!, p.GetValue(second)!, p.GetValue(changes)));
compare.Arguments.Add(first);
compare.Arguments.Add(second);
root.Subcommands.Add(compare);
var certainty = new Option<double>("--certainty") { DefaultValueFactory = _ => JadeOrchard.Core.Results.Staged.StagedCapture.UsualCertainty, Description = "The probability from which a keyword's cluster is certain enough without its result list, 0.5 to 1." };
var staged = new Option<string?>("--assignments") { Description = "A CSV file for the clusters in the end: cluster, keyword, state." };
var count = new Option<int?>("--count") { Description = "Keywords to name; without it as many as a stage has." };
root.Subcommands.Add(Named("savings", "Replays a capture in stages on complete result lists: what it would have cost, and how far its clusters are the same.",
    [keywords, results, certainty, depth, minOverlap, rule, smallest, leaveOut, perHost, shortLists, language, brands, output, staged, rejects],
    p => StagedCommands.Savings(p.GetValue(keywords)!, p.GetValue(results)!, p.GetValue(certainty), Settings(p), p.GetValue(language)!, p.GetValue(brands) ?? [], p.GetValue(output)!, p.GetValue(staged), p.GetValue(rejects))));
root.Subcommands.Add(Named("next", "The keywords to capture next: those whose result lists tell most, given the lists so far.",
    [keywords, results, count, certainty, depth, minOverlap, rule, smallest, leaveOut, perHost, shortLists, language, brands, output, rejects],
    p => StagedCommands.Next(p.GetValue(keywords)!, p.GetValue(results)!, p.GetValue(count), p.GetValue(certainty), Settings(p), p.GetValue(language)!, p.GetValue(brands) ?? [], p.GetValue(output)!, p.GetValue(rejects))));
var clusterFile = new Option<string>("--clusters") { Required = true, Description = "CSV of clusters: cluster, keyword, volume." };
var resolution = new Option<double>("--resolution") { DefaultValueFactory = _ => JadeOrchard.Core.Topics.Topics.Resolution, Description = "How closely linked the clusters of a topic are at least, 0 to 1: more makes more and smaller topics." };
root.Subcommands.Add(Named("topics", "Clusters gathered into topics, each with its pillar.",
    [clusterFile, results, resolution, depth, language, output, rejects],
    p => TopicCommands.Topics(p.GetValue(clusterFile)!, p.GetValue(results)!, p.GetValue(resolution), Depth(p), p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));
var visits = new Option<string>("--performance") { Required = true, Description = "CSV or TSV of search performance: query, page, date, clicks, impressions, position." };
root.Subcommands.Add(Named("curve", "The share of clicks at each position that the site's own search performance shows.",
    [visits, brands, output, rejects], p => SiteCommands.Curve(p.GetValue(visits)!, p.GetValue(brands) ?? [], p.GetValue(output)!, p.GetValue(rejects))));
var phrases = new Argument<string[]>("PHRASE") { Description = "Phrases, captured or not.", Arity = ArgumentArity.ZeroOrMore };
var which = Named("which", "Which page of the site a phrase is for, by its words and by search performance.",
    [pages, performance, site, language, changes, rejects],
    p => SiteCommands.Which(p.GetValue(pages)!, p.GetValue(performance), p.GetValue(site)!, p.GetValue(language)!, p.GetValue(phrases) ?? [], p.GetValue(changes), p.GetValue(rejects)));
which.Arguments.Add(phrases);
root.Subcommands.Add(which);
root.Subcommands.Add(Named("map", "The page of the site that is suggested for each cluster.", siteOptions, p => SiteCommands.Map(SiteArguments(p))));
root.Subcommands.Add(Named("findings", "What is to be decided: conflicts, what is uncovered, page gaps, twins, missing links, idle pages.", [.. siteOptions, map, signs], p => SiteCommands.Findings(SiteArguments(p))));

var capacity = new Option<double?>("--capacity") { Description = "Hours a week; without it steps have no weeks." };
var start = new Option<string?>("--start") { Description = "The first day, such as 2026-11-30; today where it is missing." };
root.Subcommands.Add(Named("plan", "The steps that the findings ask for, by gain per hour, with the week of each.", [.. siteOptions, map, capacity, start],
    p => PlanCommands.Plan(SiteArguments(p), p.GetValue(capacity), p.GetValue(start))));
var links = new Option<string>("--links") { Required = true, Description = "CSV or TSV of the links between pages: source, target, anchor." };
var topics = new Option<string?>("--topics") { Description = "CSV of topics, as jade topics writes them: topic, cluster, pillar. Without it they are those of the clusters, or computed." };
var pageMap = new Option<string?>("--map") { Description = "CSV of the page of each cluster: primary or keyword, page. Without it the column page of the clusters, or suggestions." };
var anyResults = new Option<string?>("--results") { Description = "CSV or TSV of result lists, by which topics and pages are told better." };
var anySite = new Option<string?>("--site") { Description = "Host of the site, where the results are given." };
root.Subcommands.Add(Named("links", "The links that the pages of a topic lack, with the passage that has the words already.",
    [pages, links, clusterFile, topics, pageMap, anyResults, performance, anySite, language, depth, output, rejects],
    p => PlanCommands.Links(new PlanCommands.LinkArguments(
        p.GetValue(pages)!, p.GetValue(links)!, p.GetValue(clusterFile)!, p.GetValue(topics), p.GetValue(anyResults), p.GetValue(pageMap), p.GetValue(performance), p.GetValue(anySite), p.GetValue(language)!, Depth(p),
        p.GetValue(output)!, p.GetValue(rejects)))));
var planFile = new Option<string>("--plan") { Required = true, Description = "CSV or TSV of redirects: from, to, status." };
var format = new Option<string>("--format") { DefaultValueFactory = _ => "csv", Description = "csv, apache or nginx." };
root.Subcommands.Add(Named("redirects", "Redirects with their chains shortened, as a table or as rules of a web server.", [planFile, format, output],
    p => PlanCommands.Redirects(p.GetValue(planFile)!, p.GetValue(format)!, p.GetValue(output)!)));

var ownSite = new Option<string>("--site") { Required = true, Description = "Host of the site." };
var periodFrom = new Option<string?>("--from") { Description = "First day of the period, such as 2026-11-01; without it the last 28 days." };
var periodTo = new Option<string?>("--to") { Description = "Last day of the period; without it the last day of the file." };
root.Subcommands.Add(Named("refresh", "The queries that pages are shown for: which they do not mention, which rank just below page one, which get too few clicks.",
    [visits, pages, ownSite, language, brands, periodFrom, periodTo, output, rejects],
    p => RefreshCommands.Refresh(
        p.GetValue(visits)!, p.GetValue(pages)!, p.GetValue(ownSite)!, p.GetValue(language)!, p.GetValue(brands) ?? [], p.GetValue(periodFrom), p.GetValue(periodTo), p.GetValue(output)!, p.GetValue(rejects))));
root.Subcommands.Add(Named("fading", "Pages that lose clicks beyond the course of the site and beyond chance, and through what.",
    [visits, pages, ownSite, language, output, rejects],
    p => RefreshCommands.FadingPages(p.GetValue(visits)!, p.GetValue(pages)!, p.GetValue(ownSite)!, p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));
var changeFile = new Option<string>("--changes") { Required = true, Description = "CSV or TSV of changes: page, date." };
root.Subcommands.Add(Named("effect", "Whether changes of pages helped, compared with pages that did not change.",
    [visits, changeFile, language, output, rejects],
    p => RefreshCommands.Effect(p.GetValue(visits)!, p.GetValue(changeFile)!, p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));

var texts = new Option<string>("--texts") { Required = true, Description = "CSV or TSV of ranking pages: url, title, headings (separated by \" | \"), text." };
var top = new Option<int>("--top") { DefaultValueFactory = _ => JadeOrchard.Core.Briefs.Terms.UsualTop, Description = "Terms of each cluster at most." };
root.Subcommands.Add(Named("terms", "What the ranking pages of each cluster have in common.", [texts, results, clusterFile, top, language, output, rejects],
    p => BriefCommands.Terms(p.GetValue(texts)!, p.GetValue(results)!, p.GetValue(clusterFile)!, p.GetValue(top), p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));
var text = new Option<string>("--text") { Required = true, Description = "The text: .html, .md, .docx or .txt." };
root.Subcommands.Add(Named("placement", "Where each keyword appears in a text: title, h1, h2 (and h3), opening, body, description, url, alt.", [keywords, text, language, output, rejects],
    p => BriefCommands.Placement(p.GetValue(keywords)!, p.GetValue(text)!, p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));
var siteName = new Option<string>("--site-name") { DefaultValueFactory = _ => "", Description = "With which titles end; nothing where it is missing." };
root.Subcommands.Add(Named("titles", "Titles, descriptions and main headings for each cluster, with the keywords that each covers.", [clusterFile, keywords, siteName, language, output, rejects],
    p => BriefCommands.Titles(p.GetValue(clusterFile)!, p.GetValue(keywords)!, p.GetValue(siteName)!, p.GetValue(language)!, p.GetValue(output)!, p.GetValue(rejects))));
var briefCluster = new Option<string>("--cluster") { Required = true, Description = "The primary keyword of the cluster that the page is for, or another one of it." };
var briefFormat = new Option<string>("--format") { DefaultValueFactory = _ => "docx", Description = "docx, html, md, xlsx or json." };
root.Subcommands.Add(Named("brief", "All that a writer needs for the page of one cluster.", [.. siteOptions, map, texts, briefCluster, briefFormat],
    p => BriefCommands.Brief(SiteArguments(p), p.GetValue(texts)!, p.GetValue(briefCluster)!, p.GetValue(briefFormat)!)));

var project = new Argument<string>("PROJECT") { Description = "The folder of a project, or its file." };
var backupTo = new Option<string?>("--out") { Description = "The file to write; without it a new one among the project's backups." };
var backupCommand = Named("backup", "Backs a project up, whoever uses it meanwhile.", [backupTo], p => ProjectCommands.Backup(p.GetValue(project)!, p.GetValue(backupTo)));
backupCommand.Arguments.Add(project);
root.Subcommands.Add(backupCommand);
var backup = new Argument<string>("BACKUP") { Description = "A backup, or an exported project." };
var restoreTo = new Option<string>("--to") { Required = true, Description = "The folder of the project, or its file; it may be damaged or missing." };
var restoreCommand = Named("restore", "Puts a backup in a project's place. What was there is kept as a backup, so that it can be undone.", [restoreTo], p => ProjectCommands.Restore(p.GetValue(backup)!, p.GetValue(restoreTo)!));
restoreCommand.Arguments.Add(backup);
root.Subcommands.Add(restoreCommand);
var checkedProjects = new Argument<string[]>("PROJECT") { Description = "Folders or files of projects, or backups.", Arity = ArgumentArity.ZeroOrMore };
var check = new Command("check", "Whether project files are sound, and what can be read of them. Ends with 1 where one is not.");
check.Arguments.Add(checkedProjects);
check.SetAction(p =>
{
    var (says, isSound) = ProjectCommands.Check(p.GetValue(checkedProjects) ?? []);
    Console.WriteLine(says);
    return isSound ? 0 : 1;
});
root.Subcommands.Add(check);
root.Subcommands.Add(UserCommands.Group());

var parsed = root.Parse(args);
if (parsed.UnmatchedTokens is [var unknown, ..])
    return Failed($"'{unknown}' is not known; see jade --help.");
if (parsed.Errors.Count > 0)
    return Failed(parsed.Errors[0].Message);
try
{
    return parsed.Invoke(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (Exception e) when (e is TableFormatException or JadeOrchard.Storage.Team.TeamException or IOException or UnauthorizedAccessException)
{
    return Failed(e.Message);
}
catch (Exception e) when (JadeOrchard.Storage.DatabaseFault.Says(e) is { } fault)
{
    return Failed(fault);
}

static int Failed(string message)
{
    Console.Error.WriteLine("jade: " + message.ReplaceLineEndings(" "));
    return 2;
}
