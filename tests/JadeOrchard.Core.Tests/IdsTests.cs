using System.Text.Json;
using CsCheck;
using JadeOrchard.Core.Performance;

namespace JadeOrchard.Core.Tests;

/// <summary>Ids are plain numbers outside and kinds of their own inside.</summary>
public class IdsTests
{
    private sealed record Holder(ClusterId Cluster, PageId? Page, IReadOnlyList<KeywordId> Keywords, Dictionary<TopicId, int> Counts);

    [Fact]
    public void AnIdIsAPlainNumberInJson()
    {
        var holder = new Holder(new ClusterId(7), null, [new KeywordId(1), new KeywordId(long.MaxValue)], new() { [new TopicId(3)] = 4 });
        var json = JsonSerializer.Serialize(holder);
        Assert.Equal("""{"Cluster":7,"Page":null,"Keywords":[1,9223372036854775807],"Counts":{"3":4}}""", json);
        var read = JsonSerializer.Deserialize<Holder>(json)!;
        Assert.Equal((holder.Cluster, holder.Page), (read.Cluster, read.Page));
        Assert.Equal(holder.Keywords, read.Keywords);
        Assert.Equal(holder.Counts, read.Counts);
    }

    [Theory]
    [InlineData("\"7\"")]
    [InlineData("7.5")]
    [InlineData("9223372036854775808")]
    [InlineData("null")]
    public void WhatIsNoWholeNumberIsNoId(string json) => Assert.ThrowsAny<Exception>(() => JsonSerializer.Deserialize<PageId>(json));

    [Fact]
    public void AnIdIsReadFromTextAsItIsWritten() => Gen.Long.Sample(number =>
    {
        Assert.True(PageId.TryParse(new PageId(number).ToString(), out var page));
        Assert.Equal(new PageId(number), page);
    });

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("7 ")]
    [InlineData("1e3")]
    [InlineData("٧")]
    public void OtherTextIsNoId(string? text) => Assert.False(JobId.TryParse(text, out _));

    [Fact]
    public void IdsAreSortedByNumber() => Gen.Long.Array.Sample(numbers =>
        Assert.Equal(numbers.Order(), numbers.Select(n => new ClusterId(n)).Order().Select(id => id.Value)));

    [Fact]
    public void MoreClicksAreMoreVisitsThenMoreImpressions()
    {
        var visits = Gen.Select(Gen.Long[0, 3], Gen.Long[0, 3], (clicks, impressions) => new Visits(clicks, impressions));
        Gen.Select(visits, visits).Sample((a, b) =>
        {
            var expected = (a.Clicks, a.Impressions).CompareTo((b.Clicks, b.Impressions));
            Assert.Equal((expected < 0, expected <= 0, expected > 0, expected >= 0), (a < b, a <= b, a > b, a >= b));
        });
    }
}
