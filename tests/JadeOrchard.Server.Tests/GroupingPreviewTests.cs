using System.Globalization;
using System.Text;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>Previews of many keywords arrive in parts.</summary>
public sealed class GroupingPreviewTests : IDisposable
{
    private readonly Application _app = new();

    public void Dispose() => _app.Dispose();

    [Fact]
    public async Task APreviewOfManyKeywordsIsCompleteInTheEndAndSaysWhatAGroupingGives()
    {
        // More than are computed at once: 700 subjects of eight keywords that share six of nine results.
        const int keywords = 5_600;
        var (phrases, results) = (new StringBuilder("keyword,volume\n"), new StringBuilder("keyword,position,url\n"));
        for (var k = 0; k < keywords; k++)
        {
            var phrase = string.Create(CultureInfo.InvariantCulture, $"paddle subject {k / 8} part {k % 8}");
            phrases.Append(CultureInfo.InvariantCulture, $"{phrase},{keywords - k}\n");
            for (var position = 1; position <= 9; position++)
            {
                var url = position <= 6 ? $"subject/{k / 8}/{position}" : position == 7 ? $"pair/{k / 16}" : $"own/{k}/{position}";
                results.Append(CultureInfo.InvariantCulture, $"{phrase},{position},https://rival.example/{url}\n");
            }
        }

        await _app.Import("keywords", phrases.ToString());
        await _app.Import("results", results.ToString());
        foreach (var (minimum, rule, clusters) in new[] { (4, "primary", 700), (7, "primary", 700), (8, "primary", keywords), (1, "chain", 350), (2, "everyPair", 700) })
        {
            var address = $"/api/clusters/preview?depth=10&minOverlap={minimum}&rule={rule}";
            JsonElement preview;
            for (var tries = 0; !(preview = await _app.Get(address)).GetProperty("isComplete").GetBoolean(); tries++)
            {
                Assert.True(tries < 600, "The preview was not completed within a minute.");
                await Task.Delay(100);
            }

            Assert.Equal(Enumerable.Range(1, 10), preview.GetProperty("rows").EnumerateArray().Select(r => r.GetProperty("minOverlap").GetInt32()));
            Assert.Equal(clusters, preview.GetProperty("rows")[minimum - 1].GetProperty("clusters").GetInt32());
            Assert.Equal(keywords, preview.GetProperty("captured").GetInt32());
            Assert.Equal(minimum is 2 or 8, preview.GetProperty("looser").GetArrayLength() > 0);
        }
    }
}
