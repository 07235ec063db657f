using System.Globalization;
using System.Text;
using System.Text.Json;
using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Site;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Plan;
using JadeOrchard.Server.Services;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Site;

/// <summary>Reads the site: robots.txt, sitemaps or links, then page by page.</summary>
/// <remarks>What is to be read is in the database, so a stop or a kill loses nothing but the pages in flight.</remarks>
public sealed partial class ScanJob(Project project, ILogger<ScanJob> log) : IJob
{
    public const string Name = "scan";

    public string Kind => Name;

    public string Stage(JobRow job) => "site";

    public string Lane => Name;

    public bool CanResume => true;

    public async Task<string> RunAsync(JobRow job, Action<JobProgress> progress, CancellationToken stop)
    {
        var (profile, settings) = project.Read(session => (ProjectStore.Get(session), ProjectStore.Settings(session).Scan));
        var (only, withSitemaps) = JsonSerializer.Deserialize<ScanArguments>(job.Arguments)!;
        using var scan = new Scan(project, job, new OwnSite(profile.Host), only is null ? settings : settings with { Depth = ScanDepth.Full }, only, withSitemaps, progress, log);
        await scan.Run(stop);
        return scan.Says();
    }

    public string StepLabel(JobRow job) => JsonSerializer.Deserialize<ScanArguments>(job.Arguments)!.Only is null ? "Scan of the site" : "Check pages";

    /// <summary>What is done in the plan is looked for in what was read.</summary>
    public void Ended(JobRow job) => StepVerifier.Verify(project);

    public void Finish(WriteSession session, JobRow job) =>
        ScanStore.Finish(session, job.Id, ScanStore.Find(session, job.Id)!.Depth, project.Now);

    public string Place(JobRow job) => project.Read(session => $"{ScanStore.Counts(session, job.Id) with { Waiting = 0 }}");

    public string Kept(JobRow job)
    {
        var counts = project.Read(session => ScanStore.Counts(session, job.Id));
        return counts.Total == 0 ? "Nothing was changed."
            : $"{Number(counts.Done)} pages were read and are kept, {Number(counts.Waiting)} are still to read. It can go on from there.";
    }

    /// <summary>What a scan is asked for.</summary>
    /// <param name="Only">The addresses to read; null for the whole site.</param>
    /// <param name="WithSitemaps">Where some addresses are read: the sitemaps too, to see what is in them.</param>
    public sealed record ScanArguments(IReadOnlyList<string>? Only = null, bool WithSitemaps = false);

    private static string Number(long count) => count.ToString("N0", CultureInfo.InvariantCulture);

    /// <summary>One address that was read.</summary>
    private sealed record Outcome(string Identity, string State, string Note, ScannedPage? Page, ScannedPage? Target, IReadOnlyList<PageLink> Links);

    [LoggerMessage(LogLevel.Error, "Reading the page {Url} failed")]
    private static partial void PageFailed(ILogger log, Exception exception, string url);

    private sealed class Scan : IDisposable
    {
        private const int MostSitemaps = 1_000;
        private const int MostSaved = 50;

        /// <summary>Of addresses in sitemaps; a million of usual length.</summary>
        private const long MostCharacters = 100_000_000;

        private static readonly HashSet<string> OtherFiles = new(StringComparer.OrdinalIgnoreCase)
        {
            ".jpg", ".jpeg", ".png", ".gif", ".webp", ".avif", ".svg", ".ico", ".bmp", ".tif", ".tiff", ".pdf", ".zip", ".gz", ".tgz", ".bz2", ".xz", ".7z", ".rar", ".tar", ".exe", ".dmg", ".deb", ".rpm",
            ".whl", ".jar", ".mp3", ".mp4", ".m4a", ".mov", ".avi", ".webm", ".ogg", ".wav", ".css", ".js", ".mjs", ".json", ".xml", ".rss", ".atom", ".woff", ".woff2", ".ttf", ".eot", ".doc", ".docx", ".xls",
            ".xlsx", ".ppt", ".pptx", ".csv", ".tsv", ".txt", ".rst", ".md", ".py", ".c", ".h", ".ipynb", ".inv", ".epub", ".ics",
        };

        private readonly Project _project;
        private readonly JobId _id;
        private readonly string _label;
        private readonly OwnSite _site;
        private readonly ScanSettings _settings;
        private readonly Action<JobProgress> _progress;
        private readonly ILogger _log;
        private readonly PageFetcher _fetcher;
        private readonly RobotsReader _robots;
        private readonly HashSet<string> _seen = new(StringComparer.Ordinal);
        private readonly Queue<SiteUrl> _waiting = new();
        private readonly List<string> _notes = [];
        private Pace _pace;
        private int _port;
        private readonly IReadOnlyList<string>? _only;
        private readonly bool _withSitemaps;
        private readonly HashSet<string> _inSitemaps = new(StringComparer.Ordinal);
        private bool _followsLinks;

        public Scan(Project project, JobRow job, OwnSite site, ScanSettings settings, IReadOnlyList<string>? only, bool withSitemaps, Action<JobProgress> progress, ILogger log)
        {
            (_only, _withSitemaps) = (only, withSitemaps);
            (_project, _id, _label, _site, _settings, _progress, _log) = (project, job.Id, job.Label, site, settings, progress, log);
            _fetcher = new PageFetcher(settings);
            _robots = new RobotsReader(_fetcher, _notes.Add);
            _pace = new Pace(settings.RatePerSecond);
        }

        public ScanCounts Counts() => _project.Read(session => ScanStore.Counts(session, _id));

        public string Says() => _project.Read(session =>
        {
            var counts = ScanStore.Counts(session, _id);
            var changes = ScanStore.ChangeCounts(session, _id);
            var text = new StringBuilder($"{Number(counts.Done)} addresses read, found by {ScanStore.Find(session, _id)!.FoundBy}");
            if (counts.Failed > 0)
                text.Append(CultureInfo.InvariantCulture, $"; {Number(counts.Failed)} couldn't be read");
            if (counts.Skipped > 0)
                text.Append(CultureInfo.InvariantCulture, $"; {Number(counts.Skipped)} passed over");
            if (counts.Waiting > 0)
                text.Append(CultureInfo.InvariantCulture, $"; {Number(counts.Waiting)} left unread at the limit of {Number(_settings.MaxPages)} pages");
            foreach (var (kind, word) in new[] { (PageChangeKind.New, "new"), (PageChangeKind.Gone, "gone"), (PageChangeKind.Title, "with a changed title") })
            {
                if (changes.TryGetValue(kind, out var count))
                    text.Append(CultureInfo.InvariantCulture, $"; {Number(count)} {word}");
            }

            return text.Append('.').ToString();
        });

        public async Task Run(CancellationToken stop)
        {
            var start = await Start(stop);
            var done = Counts().Done;
            var reading = new List<Task<Outcome>>();
            while (reading.Count > 0 || (_waiting.Count > 0 && done < _settings.MaxPages))
            {
                while (reading.Count < _settings.AtOnce && _waiting.Count > 0 && done + reading.Count < _settings.MaxPages)
                {
                    var (identity, url) = _waiting.Dequeue();
                    reading.Add(Task.Run(() => Read(identity, url, stop), stop));
                }

                if (reading.Count == 0)
                    break;
                await Task.WhenAny(reading);
                var ended = reading.Where(r => r.IsCompleted).Take(MostSaved).ToList();
                reading.RemoveAll(ended.Contains);
                var outcomes = new List<Outcome>();
                foreach (var task in ended)
                    outcomes.Add(await task);
                Save(outcomes);
                done += outcomes.Count(o => o.State == "done");
                _progress(new JobProgress(_seen.Count - _waiting.Count - reading.Count, Math.Min(_seen.Count, _settings.MaxPages), $"Reading pages of {start.Host}"));
            }
        }

        public void Dispose()
        {
            _fetcher.Dispose();
            _robots.Dispose();
            _pace.Dispose();
        }

        /// <summary>Finds out what is to be read, or takes it from the database where that was done before.</summary>
        private async Task<Uri> Start(CancellationToken stop)
        {
            if (_only is not null)
                return await StartWith(_only, stop);
            var given = new Uri(_settings.StartUrl.Length > 0 ? _settings.StartUrl : _site.UrlOf("/"));
            var known = _project.Read(session => ScanStore.Find(session, _id));
            if (known is null)
                _project.ChangeAsJob(_id, _label, session => { ScanStore.Begin(session, _id, _settings.Depth, given.AbsoluteUri, _project.Now); return 0; });
            _progress(new JobProgress(0, 0, $"Looking for pages of {given.Host}"));
            _port = given.Port;
            var first = await _fetcher.Get(given, HtmlPage.MostBytes, PageFetcher.IsHtml, next => _site.OwnsHost(UrlIdentity.HostOf(next.AbsoluteUri)), stop);
            if (first.Fault is not null)
                throw new ServiceException(_fetcher.IsThroughGateway(given)
                    ? $"The scan gateway {_settings.Gateway} {first.Fault}; {given.Host} is reached through it. See that the gateway is running, and that its address in the scan settings is right."
                    : $"{given} {first.Fault}. See that the domain and the start address are right.");
            var start = first.FinalUrl;
            _port = start.Port;
            var robots = await _robots.Of(start, stop);
            if (robots.CrawlDelay is { } delay and > 0 && 1 / delay < _settings.RatePerSecond)
            {
                _pace.Dispose();
                _pace = new Pace(Math.Max(0.05, 1 / delay));
            }

            if (known is { FoundBy.Length: > 0 })
            {
                _followsLinks = known.FoundBy.Contains("links", StringComparison.Ordinal);
                foreach (var (identity, url, isWaiting) in _project.Read(session => ScanStore.Urls(session, _id)))
                {
                    _seen.Add(identity);
                    if (isWaiting)
                        _waiting.Enqueue(new SiteUrl(identity, url));
                }

                return start;
            }

            var urls = _settings.FindBy == FindBy.Links ? [] : await FromSitemaps(start, robots, stop);
            List<string> others = [.. _site.Places.Skip(1).Select(p => $"https://{p}/")];
            if (_settings.FindBy != FindBy.Links)
                urls.AddRange(await FromSitemapsOfOtherHosts(stop));

            _followsLinks = _settings.FindBy != FindBy.SitemapElseLinks || urls.Count == 0;
            var foundBy = urls.Count == 0 ? "links" : _followsLinks ? "sitemaps and links" : "sitemaps";
            // Pages that are known already are looked at again, so that it is seen when they are gone.
            var pages = _project.Read(PageStore.Addresses);
            var all = Fresh([start.AbsoluteUri, .. others, .. urls, .. pages]).ToList();
            _project.ChangeAsJob(_id, _label, session =>
            {
                ScanStore.Add(session, _id, all);
                ScanStore.SaveSitemap(session, _inSitemaps);
                ScanStore.SetFound(session, _id, foundBy, string.Join('\n', _notes));
                return 0;
            });
            foreach (var item in all)
                _waiting.Enqueue(item);
            return start;
        }

        /// <summary>Reads some addresses and nothing else.</summary>
        private async Task<Uri> StartWith(IReadOnlyList<string> only, CancellationToken stop)
        {
            var start = new Uri(_settings.StartUrl.Length > 0 ? _settings.StartUrl : _site.UrlOf("/"));
            _port = start.Port;
            if (_project.Read(session => ScanStore.Find(session, _id)) is null)
            {
                List<SiteUrl> all = [.. Fresh(only)];
                if (_withSitemaps)
                {
                    await FromSitemaps(start, await _robots.Of(start, stop), stop);
                    await FromSitemapsOfOtherHosts(stop);
                }

                _project.ChangeAsJob(_id, _label, session =>
                {
                    ScanStore.Begin(session, _id, _settings.Depth, start.AbsoluteUri, _project.Now);
                    ScanStore.Add(session, _id, all);
                    if (_withSitemaps)
                        ScanStore.SaveSitemap(session, _inSitemaps);
                    ScanStore.SetFound(session, _id, "the plan", string.Join('\n', _notes));
                    return 0;
                });
            }

            foreach (var (identity, url, isWaiting) in _project.Read(session => ScanStore.Urls(session, _id)))
            {
                _seen.Add(identity);
                if (isWaiting)
                    _waiting.Enqueue(new SiteUrl(identity, url));
            }

            return start;
        }

        private async Task<List<string>> FromSitemapsOfOtherHosts(CancellationToken stop)
        {
            var urls = new List<string>();
            foreach (var host in _site.Hosts.Skip(1))
            {
                var home = new Uri($"https://{host}/");
                urls.AddRange(await FromSitemaps(home, await _robots.Of(home, stop), stop));
            }

            return urls;
        }

        private async Task<List<string>> FromSitemaps(Uri start, RobotsRules robots, CancellationToken stop)
        {
            var files = new Queue<string>(robots.Sitemaps.Count > 0 ? robots.Sitemaps : [new Uri(start, "/sitemap.xml").AbsoluteUri]);
            var seen = new HashSet<string>(files, StringComparer.Ordinal);
            var urls = new List<string>();
            var (foreign, characters) = (0, 0L);
            while (files.TryDequeue(out var file) && characters < MostCharacters)
            {
                if (!Uri.TryCreate(start, file, out var url) || url.Scheme is not ("http" or "https"))
                    continue;
                await _pace.Wait(stop);
                var fetched = await _fetcher.Get(url, Sitemap.MostBytes + 1, _ => true, _ => true, stop);
                if (fetched.Fault is not null || fetched.FinalStatus != 200 || fetched.Body is null)
                {
                    if (robots.Sitemaps.Count > 0 || seen.Count > 1)
                        _notes.Add($"The sitemap {url} {fetched.Fault ?? $"answered with status {fetched.FinalStatus}"}.");
                    continue;
                }

                var content = Sitemap.Read(fetched.Body);
                // A site without a sitemap may answer with its page for what is not there.
                if (content.Fault is not null && (robots.Sitemaps.Count > 0 || content.Pages.Count > 0))
                    _notes.Add($"The sitemap {url} {content.Fault}.");
                foreach (var page in content.Pages)
                {
                    if (IsOwn(page))
                    {
                        urls.Add(page);
                        if (UrlIdentity.TryOf(page, UrlFolds.All, out var listed))
                            _inSitemaps.Add(listed);
                        characters += page.Length;
                    }
                    else
                        foreign++;
                }

                foreach (var more in content.Sitemaps.Where(s => seen.Count < MostSitemaps && seen.Add(s)))
                    files.Enqueue(more);
                _progress(new JobProgress(0, 0, $"{Number(urls.Count)} pages found in {Number(seen.Count - files.Count)} sitemaps"));
            }

            if (files.Count > 0)
                _notes.Add($"{Number(files.Count)} sitemaps were not read: those before hold {Number(urls.Count)} addresses.");
            if (foreign > 0)
                _notes.Add($"{Number(foreign)} addresses in sitemaps are of other sites and were passed over.");
            return urls;
        }

        /// <summary>The addresses that are pages of the site and were not seen yet.</summary>
        private IEnumerable<SiteUrl> Fresh(IEnumerable<string> urls)
        {
            foreach (var url in urls)
            {
                if (IsOwn(url) && !OtherFiles.Contains(Path.GetExtension(PathOf(url))) && UrlIdentity.TryOf(url, UrlFolds.All, out var identity) && _seen.Add(identity))
                    yield return new SiteUrl(identity, url);
            }
        }

        private bool IsOwn(string url) =>
            Uri.TryCreate(url, UriKind.Absolute, out var parsed) && parsed.Scheme is "http" or "https" && parsed.UserInfo.Length == 0
            && _site.Owns(url) && (parsed.IsDefaultPort || parsed.Port == _port);

        private static string PathOf(string url) => Uri.TryCreate(url, UriKind.Absolute, out var parsed) ? parsed.AbsolutePath : "";

        /// <summary>Reads an address. Whatever is wrong with it, it is one unread page.</summary>
        private async Task<Outcome> Read(string identity, string url, CancellationToken stop)
        {
            try
            {
                return await ReadAny(identity, url, stop);
            }
            catch (UnreadablePageException e)
            {
                return new Outcome(identity, "failed", e.Message, null, null, []);
            }
#pragma warning disable CA1031 // A site may send what nobody thought of.
            catch (Exception e) when (e is not OperationCanceledException)
#pragma warning restore CA1031
            {
                PageFailed(_log, e, url);
                return new Outcome(identity, "failed", "holds something that cannot be read", null, null, []);
            }
        }

        private async Task<Outcome> ReadAny(string identity, string url, CancellationToken stop)
        {
            if (!Uri.TryCreate(url, UriKind.Absolute, out var address))
                return new Outcome(identity, "failed", "is no web address", null, null, []);
            if (!(await _robots.Of(address, stop)).Allows(address.PathAndQuery))
                return new Outcome(identity, "skipped", "robots.txt asks not to read it", null, null, []);
            await _pace.Wait(stop);
            var fetched = await _fetcher.Get(address, HtmlPage.MostBytes, PageFetcher.IsHtml, next => IsOwn(next.AbsoluteUri), stop);
            if (fetched.Fault is not null)
                return new Outcome(identity, "failed", fetched.Fault, null, null, []);
            var redirects = fetched.Hops > 0;
            UrlIdentity.TryOf(fetched.FinalUrl.AbsoluteUri, UrlFolds.All, out var finalIdentity);
            // From http to https, or to "www.", is the same page and no redirect worth telling.
            var leadsElsewhere = redirects && finalIdentity != identity;
            if (fetched.Body is null && !leadsElsewhere && fetched.FinalStatus is >= 200 and < 300)
                return new Outcome(identity, "skipped", $"is {fetched.ContentType ?? "of no known type"}, not HTML", null, null, []);
            var content = fetched.Body is { } body && fetched.FinalStatus is >= 200 and < 300 ? HtmlPage.Read(body, fetched.Charset, fetched.FinalUrl, stop) : null;
            if (content is { ModifiedOn: null } && fetched.LastModified is { } modified)
                content = content with { ModifiedOn = modified };
            var robots = string.Join(", ", new[] { content?.Robots, fetched.RobotsTag }.Where(r => r is not null));
            string? canonical = null;
            if (content?.Canonical is { } named && UrlIdentity.TryOf(named, UrlFolds.All, out var canonicalIdentity))
                canonical = canonicalIdentity;
            IReadOnlyList<PageLink> links = content is null ? [] : [.. content.Links.Where(l => IsOwn(l.Url))];
            content = content is null ? null : content with { Links = links };
            if (!leadsElsewhere)
            {
                var status = redirects ? fetched.FinalStatus : fetched.Status;
                return new Outcome(identity, "done", "", new ScannedPage(url, identity, status, null, Indexability.Of(status, false, identity, canonical, robots), content), null, links);
            }

            var page = new ScannedPage(url, identity, fetched.Status, fetched.FinalUrl.AbsoluteUri, Indexability.Of(fetched.Status, true, identity, null, null), null);
            var target = IsOwn(fetched.FinalUrl.AbsoluteUri) && content is not null
                ? new ScannedPage(fetched.FinalUrl.AbsoluteUri, finalIdentity, fetched.FinalStatus, null, Indexability.Of(fetched.FinalStatus, false, finalIdentity, canonical, robots), content)
                : null;
            return new Outcome(identity, "done", "", page, target, links);
        }

        private void Save(List<Outcome> outcomes)
        {
            var found = new List<SiteUrl>();
            _project.ChangeAsJob(_id, _label, session =>
            {
                foreach (var outcome in outcomes)
                {
                    ScanStore.SetState(session, _id, outcome.Identity, outcome.State, outcome.Note);
                    if (outcome.Page is not null)
                        ScanStore.SavePage(session, _id, outcome.Page, _settings.Depth, _project.Now);
                    // Where a redirect ended was read with it, and need not be read again.
                    if (outcome.Target is { } target && _seen.Add(target.Identity))
                    {
                        ScanStore.Add(session, _id, [new SiteUrl(target.Identity, target.Url)], "done");
                        ScanStore.SavePage(session, _id, target, _settings.Depth, _project.Now);
                    }

                    if (_followsLinks)
                        found.AddRange(Fresh(outcome.Links.Select(l => l.Url)));
                }

                ScanStore.Add(session, _id, found);
                return 0;
            });
            foreach (var item in found)
                _waiting.Enqueue(item);
        }
    }
}
