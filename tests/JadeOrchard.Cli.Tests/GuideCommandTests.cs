using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Cli.Tests;

/// <summary>Commands that README and guide show are run as they stand there, on files like those that they name, with all that is in brackets.</summary>
public sealed partial class GuideCommandTests : IDisposable
{
    private const string Site = "fenwater.example";

    private static readonly string[] Keywords = ["kayak dry suit", "dry suit for kayaking", "drysuit kayak", "kayak paddle", "kayak paddles", "carbon kayak paddle", "how to roll a kayak", "kayak roll lesson"];

    private readonly Jade _jade = new();

    public void Dispose() => _jade.Dispose();

    [GeneratedRegex("^    \\./jade +(?<rest>.*)$", RegexOptions.Multiline)]
    private static partial Regex Example();

    [GeneratedRegex("\\([^)]*\\)\\s*$")]
    private static partial Regex Note();

    [GeneratedRegex("\\[([^\\]]*)\\]")]
    private static partial Regex Bracket();

    public static TheoryData<string> Examples
    {
        get
        {
            var folder = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(folder.FullName, "JadeOrchard.slnx")))
                folder = folder.Parent!;
            return [.. new[] { Path.Combine(folder.FullName, "README.md") }.Concat(Directory.GetFiles(Path.Combine(folder.FullName, "docs", "guide"), "*.md"))
                .SelectMany(f => Example().Matches(File.ReadAllText(f))).Select(m => Note().Replace(m.Groups["rest"].Value, "").Trim()).Distinct()];
        }
    }

    [Theory]
    [MemberData(nameof(Examples))]
    public void AnExampleRuns(string example)
    {
        Write(example);
        var (arguments, made) = ArgumentsOf(Bracket().Replace(example, "$1"));
        var (status, output, error) = _jade.Given("four words and some\n", arguments);
        Assert.True(status == 0, $"jade {string.Join(' ', arguments)}\n{error}");
        foreach (var file in made)
            Assert.True(new FileInfo(file).Length > 0, $"jade {string.Join(' ', arguments)} wrote nothing to {Path.GetFileName(file)}");
        Assert.NotEqual("", output.Trim());
    }

    [Fact]
    public void EachCommandIsShown()
    {
        var help = _jade.Run("--help").Output;
        var commands = help.Split("Commands:")[1].Split('\n').Where(l => l.StartsWith("  ", StringComparison.Ordinal) && l.Length > 2 && char.IsAsciiLetter(l[2])).Select(l => l.Trim().Split(' ')[0]).ToList();
        Assert.True(commands.Count > 20);
        Assert.Empty(commands.Except(Examples.Cast<object[]>().Select(e => ((string)e[0]).Split(' ')[0])));
    }

    /// <summary>The example with real files and values for its placeholders, and the files it should write.</summary>
    private (string[] Arguments, List<string> Made) ArgumentsOf(string example)
    {
        var words = example.Replace("…", "", StringComparison.Ordinal).Replace("...", "", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries).ToList();
        var command = words[0];
        if (command == "brief")
            words.InsertRange(1, ["--keywords", "K.csv", "--results", "R.csv", "--pages", "P.csv", "--site", "HOST"]);
        var made = new List<string>();
        for (var i = 1; i < words.Count; i++)
        {
            var option = words[i - 1].StartsWith("--", StringComparison.Ordinal) ? words[i - 1] : "";
            var word = words[i].Split('|')[0];
            if (word.StartsWith("--", StringComparison.Ordinal))
                continue;
            if (option is "--out" or "--signs" or "--assignments")
            {
                word = _jade.Path($"made-{i}{Path.GetExtension(word)}");
                File.Delete(word);
                made.Add(word);
            }
            else
                word = Meant(command, option, word);
            words[i] = word;
        }

        return ([.. words], made);
    }

    private string Meant(string command, string option, string word) => option switch
    {
        "--keywords" or "--results" or "--pages" or "--performance" or "--clusters" or "--topics" or "--texts" or "--links" or "--map" or "--plan" or "--previous" or "--changes" => _jade.Path(option[2..] + ".csv"),
        "--text" => _jade.Path("text.md"),
        "--data" => _jade.Path("data"),
        "--to" when command == "restore" => _jade.Path("data/projects/other"),
        _ => word switch
        {
            "A.csv" => _jade.Path("clusters.csv"),
            "B.csv" => _jade.Path("previous.csv"),
            "FOLDER" or "data/demo/projects/fenwater" => _jade.Path("data/projects/fenwater"),
            "BACKUP" => _jade.Path("backup.db"),
            "HOST" => option == "--leave-out" ? "shop1.example" : Site,
            "N" => "3",
            "PARAMETER" => "vid",
            "TERM" => "fenwater",
            "PHRASE" => "dry suit",
            "PRIMARY" => "kayak dry suit",
            "DATE" => option == "--to" ? "2026-11-28" : "2026-10-05",
            "HOURS_PER_WEEK" => "20",
            "NAME" => command == "user" ? "Bo" : "Fenwater",
            _ => word,
        },
    };

    private void Write(string example)
    {
        _jade.Write("keywords.csv", "keyword,volume,difficulty\n" + string.Concat(Keywords.Select((k, i) => $"{k},{1000 - (i * 100)},{10 + i}\n")));
        var results = new StringBuilder("keyword,position,url,title\n");
        for (var k = 0; k < Keywords.Length; k++)
        {
            var subject = k < 3 ? "suit" : k < 6 ? "paddle" : "roll";
            for (var position = 1; position <= 8; position++)
                results.AppendLine(CultureInfo.InvariantCulture, $"{Keywords[k]},{position},https://{(position == 4 ? $"www.{Site}/{subject}s" : $"shop{position}.example/{subject}")},{Keywords[k]} at {position}");
        }

        _jade.Write("results.csv", results.ToString());
        _jade.Write("pages.csv", $"url,title,h1,text\nhttps://www.{Site}/suits,Dry suits for kayaking,Dry suits,A kayak dry suit keeps you dry. For a paddle see elsewhere. Learn how to roll a kayak first.\nhttps://www.{Site}/paddles,Kayak paddles,Paddles,A carbon kayak paddle is light. Wear a kayak dry suit.\nhttps://www.{Site}/rolls,Rolling,Rolling,How to roll a kayak.\n");
        var performance = new StringBuilder("query,page,date,clicks,impressions,position\n");
        for (var day = new DateOnly(2025, 9, 1); day <= new DateOnly(2026, 11, 28); day = day.AddDays(1))
        {
            for (var k = 0; k < Keywords.Length; k++)
                performance.AppendLine(CultureInfo.InvariantCulture, $"{Keywords[k]},https://www.{Site}/{(k < 3 ? "suits" : k < 6 ? "paddles" : "rolls")},{day:yyyy-MM-dd},{(k < 3 && day.Year == 2026 && day.Month > 10 ? 1 : 4)},60,{3 + (k % 3)}");
        }

        _jade.Write("performance.csv", performance.ToString());
        _jade.Write("clusters.csv", "cluster,keyword,primary,volume\n" + string.Concat(Keywords.Select((k, i) => $"{i / 3},{k},{Keywords[i / 3 * 3]},{1000 - (i * 100)}\n")));
        _jade.Write("previous.csv", "cluster,keyword,primary\n" + string.Concat(Keywords.Select((k, i) => $"{i / 4},{k},{Keywords[i / 4 * 4]}\n")));
        _jade.Write("topics.csv", $"topic,cluster,pillar\n0,{Keywords[0]},true\n0,{Keywords[3]},false\n0,{Keywords[6]},false\n");
        _jade.Write("texts.csv", "url,title,headings,text\n" + string.Concat(Enumerable.Range(1, 8).Where(p => p != 4).Select(p => $"https://shop{p}.example/suit,Dry suits,Dry suits | Which size,A neoprene collar and a latex seal keep the water out of a kayak dry suit of shop {p}.\n")));
        _jade.Write("links.csv", $"source,target,anchor\nhttps://www.{Site}/suits,https://www.{Site}/paddles,paddles\n");
        _jade.Write("map.csv", $"keyword,page\n{Keywords[0]},https://www.{Site}/suits\n{Keywords[3]},https://www.{Site}/paddles\n");
        _jade.Write("plan.csv", $"from,to,status\nhttps://www.{Site}/old,https://www.{Site}/suits,301\n");
        _jade.Write("changes.csv", $"page,date\nhttps://www.{Site}/suits,2026-09-01\n");
        _jade.Write("text.md", "# Kayak dry suit\n\nA kayak dry suit keeps you dry.\n");
        var project = Directory.CreateDirectory(_jade.Path("data/projects/fenwater")).FullName;
        using (Database.Open(Path.Combine(project, "project.db")))
        {
        }

        ProjectFile.Copy(Path.Combine(project, "project.db"), _jade.Path("backup.db"));
        if (!example.StartsWith("user", StringComparison.Ordinal))
            return;
        var team = new TeamStore(_jade.Path("data"), TimeProvider.System);
        team.Add("Cy", Role.Planner, "four words and some");
        team.Add("Bo", Role.Writer, "four words and some");
    }
}
