using JadeOrchard.Core.Findings;
using JadeOrchard.Storage.Findings;

namespace JadeOrchard.Server.Findings;

/// <summary>A finding with its evidence.</summary>
public sealed record FindingDetail(FindingRow Finding, IReadOnlyList<FindingEvidence> Evidence);

/// <summary>How many findings of a kind are in a state.</summary>
public sealed record FindingCount(FindingKind Kind, FindingState State, long Count, double AtStake);

/// <summary>What the planner makes of a finding.</summary>
/// <param name="Reason">Needed where it is dismissed.</param>
public sealed record DecideRequest(FindingState State, string? Reason);

/// <summary>What is flagged, and what the planner makes of it.</summary>
public static class FindingEndpoints
{
    public static void MapFindings(this RouteGroupBuilder api)
    {
        api.MapGet("/findings", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Orchard orchard) =>
                orchard.Database.Read(session => FindingStore.List(session, listing.ToQuery(), filter)))
            .WithName("findings");

        api.MapGet("/findings.csv", ([AsParameters] Listing listing, [AsParameters] FindingFilter filter, Orchard orchard) => Listing.Csv(
                "findings.csv",
                ["kind", "state", "cluster", "keyword", "page", "other_page", "at_stake", "demand", "reason"],
                orchard.Database.Read(session => FindingStore.List(session, listing.ToExport(), filter)).Rows.Select(f => new object?[]
                {
                    f.Kind.Code(), f.State.ToString().ToLowerInvariant(), f.ClusterName, f.Keyword, f.PageUrl, f.OtherPageUrl, Math.Round(f.AtStake, 1), f.Demand, f.Reason,
                })))
            .ExcludeFromDescription();

        api.MapGet("/findings/counts", (Orchard orchard) => orchard.Database.Read(FindingStore.Counts)
                .Select(c => new FindingCount(c.Kind, c.State, c.Count, c.AtStake)).ToList())
            .WithName("findingCounts");

        api.MapGet("/findings/{key}", Results<Ok<FindingDetail>, ProblemHttpResult> (string key, Orchard orchard) =>
                orchard.Database.Read<Results<Ok<FindingDetail>, ProblemHttpResult>>(session => FindingStore.Find(session, key) is { } finding
                    ? TypedResults.Ok(new FindingDetail(finding, FindingStore.Evidence(session, key)))
                    : NoFinding(key)))
            .WithName("finding");

        api.MapPut("/findings/{key}", Results<Ok<FindingRow>, ProblemHttpResult> (string key, DecideRequest request, Orchard orchard) =>
                orchard.Database.Write<Results<Ok<FindingRow>, ProblemHttpResult>>(
                    session =>
                    {
                        if (FindingStore.Find(session, key) is null)
                            return NoFinding(key);
                        var reason = request.Reason?.Trim() ?? "";
                        if (request.State == FindingState.Dismissed && reason.Length == 0)
                            return Problems.Invalid("reason", "Say why it is left as it is, so that it can be understood later.");
                        FindingStore.Decide(session, key, request.State, reason, orchard.Now);
                        return TypedResults.Ok(FindingStore.Find(session, key)!);
                    },
                    "Decide a finding"))
            .WithName("decideFinding");
    }

    private static ProblemHttpResult NoFinding(string key) => Problems.NotFound($"There is no finding {key}. Its cluster may have gone in a re-grouping.");
}
