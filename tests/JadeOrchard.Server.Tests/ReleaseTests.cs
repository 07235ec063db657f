using System.Text.Json;
using System.Text.RegularExpressions;
using JadeOrchard.Server.Services;

namespace JadeOrchard.Server.Tests;

/// <summary>What is released agrees with itself.</summary>
public sealed partial class ReleaseTests
{
    [GeneratedRegex(@"^## (\d+\.\d+\.\d+)", RegexOptions.Multiline)]
    private static partial Regex Heading();

    /// <summary>The newest heading of the changelog, the program, and the front end have the same version; those before it are smaller, each once.</summary>
    [Fact]
    public void VersionAndChangelogAgree()
    {
        var versions = Heading().Matches(File.ReadAllText(SourceTree.Path("CHANGELOG.md"))).Select(m => Version.Parse(m.Groups[1].Value)).ToList();
        Assert.Equal(versions[0].ToString(), Product.Version);
        Assert.Equal(versions.OrderDescending().Distinct(), versions);
        foreach (var file in new[] { "web/package.json", "web/package-lock.json" })
            Assert.Equal(Product.Version, JsonDocument.Parse(File.ReadAllText(SourceTree.Path(file))).RootElement.GetProperty("version").GetString());
        Assert.Equal($"JadeOrchard/{Product.Version}", Product.UserAgent.ToString());
    }
}
