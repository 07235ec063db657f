using JadeOrchard.Core.Briefs;
using JadeOrchard.Storage.Topics;

namespace JadeOrchard.Storage.Tests;

/// <summary>What was read of rivals' pages, and why not.</summary>
public sealed class RivalPageStoreTests : WithDatabase
{
    [Fact]
    public void APageComesBackAsItWasReadAndAFaultGivesWayToIt()
    {
        var monday = new DateTimeOffset(2026, 11, 23, 8, 0, 0, TimeSpan.Zero);
        var text = PageText.Of("https://rival.example/a", "A “title”", ["Boats", "Sizes"], "Sea kayaks.\nTheir sizes.");
        Database.Write(s => RivalPageStore.Save(s, new ReadPage("rival.example/a", "https://rival.example/a", null, [], "status 503"), monday));
        Database.Write(s => RivalPageStore.Save(s, new ReadPage("rival.example/b", "https://rival.example/b", "B", ["One\nline"], null), monday));
        Assert.Equal("status 503", Database.Read(RivalPageStore.Faults)["rival.example/a"]);
        Assert.Equal(["One line"], Database.Read(RivalPageStore.All)["rival.example/b"].Headings);
        Database.Write(s => RivalPageStore.Save(s, new ReadPage("rival.example/a", "https://rival.example/a", "A “title”", ["Boats", "Sizes"], null, text), monday.AddDays(1)));
        Assert.Empty(Database.Read(RivalPageStore.Faults));
        var read = Assert.Single(Database.Read(RivalPageStore.Texts)).Value;
        Assert.Equal((text.Title, string.Join('|', text.H1), text.H2[0].Text, string.Join('|', text.Paragraphs)), (read.Title, string.Join('|', read.H1), read.H2[0].Text, string.Join('|', read.Paragraphs)));

        // Headings alone are not all of a page, so that it is read again.
        Assert.Equal(["rival.example/a"], Database.Read(s => RivalPageStore.ReadSince(s, monday)));
        Assert.Empty(Database.Read(s => RivalPageStore.ReadSince(s, monday.AddDays(2))));
    }
}
