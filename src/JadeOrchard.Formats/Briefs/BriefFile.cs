using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Briefs;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Briefs;

/// <summary>The written forms of a brief.</summary>
public enum BriefFormat
{
    Docx,
    Html,
    Md,
    Xlsx,
    Json,
}

/// <summary>Writes briefs.</summary>
public static class BriefFile
{
    private static readonly JsonSerializerOptions JsonOptions = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <summary>The media type of a form.</summary>
    public static string MediaType(this BriefFormat format) => format switch
    {
        BriefFormat.Docx => "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
        BriefFormat.Xlsx => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        BriefFormat.Html => "text/html; charset=utf-8",
        BriefFormat.Md => "text/markdown; charset=utf-8",
        _ => "application/json; charset=utf-8",
    };

    /// <param name="stream">Stays open.</param>
    /// <param name="brief">The brief.</param>
    /// <param name="info">Who gets it.</param>
    /// <param name="format">In which form.</param>
    public static void Write(Stream stream, Brief brief, BriefFor info, BriefFormat format)
    {
        switch (format)
        {
            case BriefFormat.Docx:
                BriefDocx.Write(stream, brief, info);
                break;
            case BriefFormat.Xlsx:
                WorkbookOutput.Write(stream, Sheets(brief, info));
                break;
            case BriefFormat.Html:
                stream.Write(Encoding.UTF8.GetBytes(Html(brief, info)));
                break;
            case BriefFormat.Md:
                stream.Write(Encoding.UTF8.GetBytes(Markdown(brief, info)));
                break;
            default:
                JsonSerializer.Serialize(stream, new { info.Site, info.Writer, info.Due, info.Notes, Brief = brief }, JsonOptions);
                break;
        }
    }

    /// <summary>One page for screen and paper that needs no other file and runs no script.</summary>
    public static string Html(Brief brief, BriefFor info)
    {
        var html = new StringBuilder();
        html.Append(CultureInfo.InvariantCulture, $$"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <title>{{Safe(BriefLayout.TitleOf(brief))}}</title>
            <style>
            body { font: 15px/1.5 "Source Sans 3", system-ui, sans-serif; color: #22302b; max-width: 900px; margin: 32px auto; padding: 0 24px; }
            h1, h2, h3 { font-family: "Source Serif 4", Georgia, serif; font-weight: 600; line-height: 1.25; }
            h1 { font-size: 28px; margin: 0 0 12px; }
            h2 { font-size: 19px; margin: 28px 0 6px; }
            table { border-collapse: collapse; width: 100%; }
            th, td { text-align: left; padding: 4px 10px 4px 0; border-bottom: 1px solid #dcdccf; vertical-align: top; overflow-wrap: anywhere; }
            .num { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; overflow-wrap: normal; }
            ul.checks { list-style: none; padding: 0; }
            @media print { body { margin: 0; max-width: none; font-size: 11pt; } h2 { break-after: avoid; } tr { break-inside: avoid; } }
            </style>
            </head>
            <body>

            """);
        foreach (var block in BriefLayout.Of(brief, info))
        {
            switch (block)
            {
                case BriefBlock.Heading heading:
                    html.Append(CultureInfo.InvariantCulture, $"<h{heading.Level}>{Safe(heading.Text)}</h{heading.Level}>\n");
                    break;
                case BriefBlock.Paragraph paragraph:
                    html.Append(CultureInfo.InvariantCulture, $"<p>{Safe(paragraph.Text)}</p>\n");
                    break;
                case BriefBlock.Bullets bullets:
                    html.Append("<ul>\n").Append(string.Concat(bullets.Items.Select(i => $"<li>{Safe(i)}</li>\n"))).Append("</ul>\n");
                    break;
                case BriefBlock.Checks checks:
                    html.Append("<ul class=\"checks\">\n").Append(string.Concat(checks.Items.Select(i => $"<li><label><input type=\"checkbox\"> {Safe(i)}</label></li>\n"))).Append("</ul>\n");
                    break;
                case BriefBlock.Table table:
                    html.Append("<table>\n<colgroup>").Append(string.Concat(table.Columns.Select(c => string.Create(CultureInfo.InvariantCulture, $"<col style=\"width:{100.0 * c.Share / table.Columns.Sum(x => x.Share):0.#}%\">"))))
                        .Append("</colgroup>\n<thead><tr>").Append(string.Concat(table.Columns.Select(c => $"<th{Numeric(c)}>{Safe(c.Name)}</th>"))).Append("</tr></thead>\n<tbody>\n");
                    foreach (var row in table.Rows)
                        html.Append("<tr>").Append(string.Concat(row.Zip(table.Columns, (value, column) => $"<td{Numeric(column)}>{Safe(BriefLayout.Text(value))}</td>"))).Append("</tr>\n");
                    html.Append("</tbody>\n</table>\n");
                    break;
            }
        }

        return html.Append("</body>\n</html>\n").ToString();

        static string Numeric(BriefColumn column) => column.IsNumeric ? " class=\"num\"" : "";
    }

    /// <summary>CommonMark with pipe tables and boxes to tick; the outline follows as headings to write under.</summary>
    public static string Markdown(Brief brief, BriefFor info)
    {
        var text = new StringBuilder();
        foreach (var block in BriefLayout.Of(brief, info))
        {
            switch (block)
            {
                case BriefBlock.Heading heading:
                    text.Append(CultureInfo.InvariantCulture, $"{new string('#', heading.Level)} {Plain(heading.Text)}\n\n");
                    break;
                case BriefBlock.Paragraph paragraph:
                    text.Append(CultureInfo.InvariantCulture, $"{Plain(paragraph.Text)}\n\n");
                    break;
                case BriefBlock.Bullets bullets:
                    text.Append(string.Concat(bullets.Items.Select(i => $"- {Plain(i)}\n"))).Append('\n');
                    break;
                case BriefBlock.Checks checks:
                    text.Append(string.Concat(checks.Items.Select(i => $"- [ ] {Plain(i)}\n"))).Append('\n');
                    break;
                case BriefBlock.Table table:
                    text.Append(CultureInfo.InvariantCulture, $"| {string.Join(" | ", table.Columns.Select(c => Plain(c.Name)))} |\n|{string.Concat(table.Columns.Select(c => c.IsNumeric ? "---:|" : "---|"))}\n");
                    foreach (var row in table.Rows)
                        text.Append(CultureInfo.InvariantCulture, $"| {string.Join(" | ", row.Select(c => Plain(BriefLayout.Text(c))))} |\n");
                    text.Append('\n');
                    break;
            }
        }

        text.Append("---\n\n# ").Append(Plain(brief.Proposed(TitleKind.H1))).Append("\n\n");
        foreach (var section in brief.Outline.Sections)
            text.Append(CultureInfo.InvariantCulture, $"{new string('#', section.Level)} {Plain(section.Heading)}\n\n");
        return text.ToString();
    }

    /// <summary>All data, a sheet for each table.</summary>
    private static List<OutputSheet> Sheets(Brief brief, BriefFor info)
    {
        var (sheets, heading) = (new List<OutputSheet>(), "Brief");
        foreach (var block in BriefLayout.Of(brief, info))
        {
            switch (block)
            {
                case BriefBlock.Heading { Level: > 1 } next:
                    heading = next.Text;
                    break;
                case BriefBlock.Table table:
                    sheets.Add(new OutputSheet(SheetName(heading), [.. table.Columns.Select(c => new OutputColumn(c.Name, Math.Clamp(c.Share * 3, 14, 80)))], table.Rows));
                    break;
                case BriefBlock.Bullets bullets:
                    sheets.Add(new OutputSheet(SheetName(heading), [new OutputColumn(heading, 90)], bullets.Items.Select(i => new object?[] { i })));
                    break;
                case BriefBlock.Checks checks:
                    sheets.Add(new OutputSheet(SheetName(heading), [new OutputColumn("Done", 10), new OutputColumn("What", 90)], checks.Items.Select(i => new object?[] { null, i })));
                    break;
            }
        }

        return sheets;
    }

    private static string SheetName(string heading) => heading.Length <= 31 ? heading : heading[..31].TrimEnd();

    private static string Safe(string text) => WebUtility.HtmlEncode(text);

    /// <summary>Text that Markdown does not read as anything else.</summary>
    private static string Plain(string text)
    {
        var plain = new StringBuilder(text.Length + 8);
        foreach (var c in text.ReplaceLineEndings(" "))
        {
            if (c is '\\' or '`' or '*' or '_' or '[' or ']' or '<' or '>' or '|' or '#' or '~' or '&')
                plain.Append('\\');
            plain.Append(c);
        }

        return plain.ToString().Trim();
    }
}
