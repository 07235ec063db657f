using System.Text.RegularExpressions;

namespace JadeOrchard.Cli.Tests;

/// <summary>Commands that README and guide show are commands of the program, with options that it has.</summary>
public sealed partial class GuideCommandTests
{
    [GeneratedRegex("^    \\./jade +(?<command>[a-z]+)(?<rest>.*)$", RegexOptions.Multiline)]
    private static partial Regex Example();

    [GeneratedRegex("--[a-z-]+")]
    private static partial Regex Option();

    [Fact]
    public void CommandsThatAreShownAreThere()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "JadeOrchard.slnx")))
            folder = folder.Parent!;
        var examples = new[] { Path.Combine(folder.FullName, "README.md") }.Concat(Directory.GetFiles(Path.Combine(folder.FullName, "docs", "guide"), "*.md"))
            .SelectMany(f => Example().Matches(File.ReadAllText(f))).Select(m => (Command: m.Groups["command"].Value, Options: Option().Matches(m.Groups["rest"].Value).Select(o => o.Value))).ToList();
        Assert.True(examples.Count > 30, $"{examples.Count} examples");
        using var jade = new Jade();
        foreach (var command in examples.GroupBy(e => e.Command))
        {
            var (status, help, error) = jade.Run(command.Key, "--help");
            Assert.True(status == 0, $"{command.Key}: {error}");
            foreach (var option in command.SelectMany(c => c.Options).Distinct())
                Assert.True(Regex.IsMatch(help, $@"{option}\b(?!-)"), $"jade {command.Key} has no {option}");
        }
    }
}
