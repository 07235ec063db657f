using CsCheck;
using JadeOrchard.Core.Plan;

namespace JadeOrchard.Core.Tests.Plan;

public sealed class RedirectsTests
{
    [Fact]
    public void ChainsAreShortenedAndLoopsTold()
    {
        var resolved = Redirects.Of(
            [new("/a", "/b", 301), new("/b", "/c", 302), new("/x", "/y", 301), new("/y", "/z", 301), new("/z", "/y", 301), new("/g", "", 410), new("/h", "/g", 301), new("/s", "/s", 301)], a => a);
        Assert.Equal([new("/a", "/c", 301), new("/b", "/c", 302), new("/g", "", 410), new("/h", "", 410)], resolved.All.AsEnumerable());
        Assert.Equal([("/a", "/b", "/c"), ("/h", "/g", "")], resolved.Shortened.Select(s => (s.From, string.Join(' ', s.Through), s.To)));
        Assert.Equal(["/y /z", "/s"], resolved.Loops.Select(l => string.Join(' ', l)));
    }

    [Fact]
    public void NoRedirectLeadsToAnotherOne() =>
        Gen.Select(Gen.Int[0, 12], Gen.Int[0, 12]).Array[0, 20].Sample(pairs =>
        {
            Redirect[] given = [.. pairs.DistinctBy(p => p.Item1).Select(p => new Redirect($"/{p.Item1}", $"/{p.Item2}", 301))];
            var resolved = Redirects.Of(given, a => a);
            Assert.DoesNotContain(resolved.All, r => given.Any(g => g.From == r.To));
            // Following the original table leads to the same address.
            foreach (var redirect in resolved.All)
            {
                var at = redirect.From;
                while (given.FirstOrDefault(g => g.From == at) is { } next)
                    at = next.To;
                Assert.Equal(redirect.To, at);
            }
        });
}
