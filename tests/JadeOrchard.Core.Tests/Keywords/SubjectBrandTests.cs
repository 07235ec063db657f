using JadeOrchard.Core.Keywords;

namespace JadeOrchard.Core.Tests.Keywords;

/// <summary>A brand whose words are the site's subject silences nothing until it is confirmed.</summary>
public sealed class SubjectBrandTests
{
    private static IReadOnlyList<SubjectBrand> Of(string term, params string?[] titles)
    {
        using var analysis = new TextAnalysis("en");
        return SubjectBrands.Of([term], titles, analysis);
    }

    [Fact]
    public void ABrandInAFifthOfTheTitlesIsASubject()
    {
        var found = Assert.Single(Of("kayak", "Kayak carts", "Folding kayaks", "Storing a kayak", "Paddles", "Dry suits", null));
        Assert.Equal(("kayak", 0.6), (found.Term, found.Share));
    }

    [Fact]
    public void WhatAllTitlesEndWithIsNoSubject()
    {
        Assert.Empty(Of("Fenwater", "Carts | Fenwater", "Paddles | Fenwater", "Dry suits | Fenwater", "Fenwater"));
        Assert.Empty(Of("Fenwater", "Carts by Fenwater", "Paddles at Fenwater", "Dry suits from Fenwater", "Fenwater"));
        Assert.Single(Of("kayak", "Kayak carts | Kayak", "Kayak paddles | Kayak", "Kayak dry suits | Kayak"));
    }

    [Fact]
    public void AllWordsOfTheTermMustOccur()
    {
        string[] titles = ["Sea kayaks", "Kayaks for the sea", "Sea-kayak paddles", "River kayaks", "Canoes"];
        Assert.Equal(0.6, Assert.Single(Of("sea kayak", titles)).Share);
        Assert.Empty(Of("sea canoe", titles));
        Assert.Empty(Of("", titles));
        Assert.Empty(Of("canoe", titles));
    }
}
