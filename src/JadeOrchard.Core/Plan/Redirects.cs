using System.Collections.Immutable;

namespace JadeOrchard.Core.Plan;

/// <summary>An address that leads to another one.</summary>
/// <param name="From">Absolute, or a path.</param>
/// <param name="To">Likewise; empty where the page is gone (410).</param>
/// <param name="Status">301, 302, 307, 308 or 410.</param>
public sealed record Redirect(string From, string To, int Status);

/// <summary>A redirect that led to another one and leads to the end of that now.</summary>
/// <param name="From">Where it begins.</param>
/// <param name="Through">The addresses between, in order.</param>
/// <param name="To">Where it ends.</param>
public sealed record ShortenedChain(string From, ImmutableArray<string> Through, string To);

/// <summary>Redirects as a whole: chains made short, loops found.</summary>
/// <param name="All">In the order given, each leading to its end at once; without those that lead to where they begin.</param>
/// <param name="Shortened">Those that led to others.</param>
/// <param name="Loops">Addresses that lead to each other in a circle, in order, each circle once.</param>
public sealed record Redirects(ImmutableArray<Redirect> All, ImmutableArray<ShortenedChain> Shortened, ImmutableArray<ImmutableArray<string>> Loops)
{
    /// <summary>Statuses that a redirect may have (RFC 9110, 15.4), and that of a page that is gone (15.5.11).</summary>
    public static ImmutableArray<int> Statuses { get; } = [301, 302, 307, 308, 410];

    /// <param name="given">No address twice in From, as <paramref name="identityOf"/> compares them.</param>
    /// <param name="identityOf">What addresses are compared by.</param>
    public static Redirects Of(IReadOnlyList<Redirect> given, Func<string, string> identityOf)
    {
        var byFrom = new Dictionary<string, Redirect>(StringComparer.Ordinal);
        foreach (var redirect in given)
            byFrom[identityOf(redirect.From)] = redirect;
        var (all, shortened, loops) = (ImmutableArray.CreateBuilder<Redirect>(), ImmutableArray.CreateBuilder<ShortenedChain>(), ImmutableArray.CreateBuilder<ImmutableArray<string>>());
        var inLoop = new HashSet<string>(StringComparer.Ordinal);
        foreach (var redirect in given)
        {
            var (through, seen, last) = (new List<string>(), new List<string> { identityOf(redirect.From) }, redirect);
            while (last.To.Length > 0 && identityOf(last.To) is var next)
            {
                if (seen.IndexOf(next) is var at and >= 0)
                {
                    var circle = seen[at..];
                    if (circle.All(inLoop.Add))
                        loops.Add([.. circle.Select(c => byFrom[c].From)]);
                    last = null;
                    break;
                }

                if (!byFrom.TryGetValue(next, out var further))
                    break;
                through.Add(last.To);
                seen.Add(next);
                last = further;
            }

            if (last is null)
                continue;
            all.Add(redirect with { To = last.To, Status = last.Status == 410 ? 410 : redirect.Status });
            if (through.Count > 0)
                shortened.Add(new ShortenedChain(redirect.From, [.. through], last.To));
        }

        return new Redirects(all.ToImmutable(), shortened.ToImmutable(), loops.ToImmutable());
    }
}
