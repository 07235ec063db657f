using JadeOrchard.Core.Site;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Site;

/// <summary>A page as a file has it, with its main text where the file has that.</summary>
public sealed record ImportedPage(SitePage Page, string? Text);

/// <summary>Pages of the site from a file: url, title, h1, description, words, h2, h3, text, language.</summary>
public static class PageTable
{
    /// <param name="file">An opened file.</param>
    /// <param name="mapping">Where its columns are.</param>
    /// <param name="site">The site; a page of another host is rejected. One without a host takes every page.</param>
    public static IEnumerable<TableRow<ImportedPage>> Read(TableFile file, ColumnMapping mapping, OwnSite site) =>
        TableReader.Read(file, mapping, fields => Read(fields, site));

    private static ImportedPage? Read(Fields fields, OwnSite site)
    {
        if (fields.Text(0) is not { } url)
            return null;
        var host = UrlIdentity.HostOf(url);
        if (host.Length == 0)
            fields.Reject(0, UrlIdentity.Fault(url), url);
        else if (site.Host.Length > 0 && !site.Owns(url))
            fields.Reject(0, $"Is not a page of {site}.", url);
        return new ImportedPage(
            new SitePage(url.Trim(), fields.Text(1)?.Trim(), fields.Text(2)?.Trim(), fields.Text(3)?.Trim(), fields.WholeNumber(4, 0, 100_000_000), fields.Text(5)?.Trim(), fields.Text(6)?.Trim(),
                Language: fields.Text(8)?.Trim()),
            fields.Text(7)?.Trim());
    }
}
