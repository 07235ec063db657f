using JadeOrchard.Core.Briefs;
using JadeOrchard.Formats.Site;
using JadeOrchard.Server.Services;

namespace JadeOrchard.Server.Site;

/// <summary>Reads one page of the web for its words, as politely as a scan.</summary>
internal static class PageTextReader
{
    /// <returns>The page, with the address its redirects end at; or the reason it couldn't be read, worded to follow its address.</returns>
    public static async Task<(PageText? Text, string? Fault)> Read(PageFetcher fetcher, RobotsReader robots, Pace pace, Uri url, CancellationToken stop)
    {
        if (!(await robots.Of(url, stop)).Allows(url.PathAndQuery))
            return (null, "robots.txt asks not to read it");
        await pace.Wait(stop);
        var fetched = await fetcher.Get(url, HtmlPage.MostBytes, PageFetcher.IsHtml, _ => true, stop);
        if (fetched.Fault is not null || fetched.Body is null || fetched.FinalStatus is < 200 or >= 300)
            return (null, fetched.Fault ?? (fetched.FinalStatus is >= 200 and < 300 ? $"is {fetched.ContentType ?? "of no known type"}, not HTML" : $"answered with status {fetched.FinalStatus}"));
        try
        {
            return (HtmlPage.ReadText(fetched.Body, fetched.Charset, fetched.FinalUrl, stop) with { Url = fetched.FinalUrl.AbsoluteUri }, null);
        }
        catch (UnreadablePageException e)
        {
            return (null, e.Message);
        }
#pragma warning disable CA1031 // A site may send what nobody thought of.
        catch (Exception e) when (e is not OperationCanceledException)
#pragma warning restore CA1031
        {
            return (null, "holds something that cannot be read");
        }
    }
}
