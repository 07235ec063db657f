using System.Globalization;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>Carries over what was decided when each sign was a finding of its own.</summary>
/// <remarks>
/// A conflict, something uncovered or a page gap is as the planner decided last of any of its signs; twins, missing links and idle pages, which gather what had
/// nothing to do with each other, only where all their signs were decided.
/// </remarks>
internal static class FormerFindings
{
    private sealed record Former(string FirstFoundAt, string? State, string Reason, long EvidenceVersion, string DecidedAt, string Assignee, string Note);

    /// <param name="session">The transaction.</param>
    /// <param name="findings">All findings, computed for the first time.</param>
    public static void CarryOver(WriteSession session, IReadOnlyList<ComputedFinding> findings)
    {
        var former = session.List(
            "select former_key, first_found_at, state, reason, evidence_version, decided_at, assignee, note from former_finding",
            r => (Key: r.GetString(0), Value: new Former(r.GetString(1), r.TextOrNull(2), r.GetString(3), r.GetInt64(4), r.GetString(5), r.GetString(6), r.GetString(7))))
            .ToDictionary(f => f.Key, f => f.Value, StringComparer.Ordinal);
        if (former.Count == 0 || findings.Count == 0)
            return;
        using var seen = session.Command("update finding_seen set first_found_at = min(first_found_at, @at) where finding_key = @key", ("at", ""), ("key", ""));
        using var step = session.Command("update or ignore plan_step set finding_key = @key where finding_key = @former", ("key", ""), ("former", ""));
        foreach (var finding in findings)
        {
            List<string> keys = [.. finding.Content.Signs.SelectMany(KeysOf).Distinct(StringComparer.Ordinal)];
            var known = keys.Where(former.ContainsKey).Select(k => former[k]).ToList();
            if (known.Count == 0)
                continue;
            seen.Run(known.Select(f => f.FirstFoundAt).Min(StringComparer.Ordinal)!, finding.Key);
            foreach (var key in keys)
                step.Run(finding.Key, key);
            var decided = known.Where(f => f.State is not null).OrderByDescending(f => f.State != "open").ThenByDescending(f => f.DecidedAt, StringComparer.Ordinal).ToList();
            if (decided.Count == 0)
                continue;
            var isWhole = finding.Kind is FindingKind.Conflict or FindingKind.Uncovered or FindingKind.PageGap || (known.Count == keys.Count && known.All(f => f.State == decided[0].State));
            session.Execute(
                """
                insert into finding_decision (finding_key, state, reason, evidence_version, went_away, decided_at, assignee, note)
                values (@key, @state, @reason, @evidence, 0, @at, @assignee, @note)
                on conflict (finding_key) do nothing
                """,
                ("key", finding.Key), ("state", isWhole ? decided[0].State : "open"), ("reason", isWhole ? decided[0].Reason : ""), ("evidence", decided[0].EvidenceVersion), ("at", decided[0].DecidedAt),
                ("assignee", decided.Select(f => f.Assignee).FirstOrDefault(a => a.Length > 0) ?? ""), ("note", string.Join(" ", decided.Select(f => f.Note).Where(n => n.Length > 0).Distinct(StringComparer.Ordinal))));
        }

        session.Execute("delete from former_finding");
    }

    /// <returns>As a sign was named when it was a finding; twins pair by pair, as far as they are few.</returns>
    private static IEnumerable<string> KeysOf(StoredSign sign)
    {
        var (cluster, page, other) = (sign.ClusterId?.Value ?? 0, sign.PageId?.Value ?? 0, sign.Others is [var first, ..] ? first.Value : 0);
        var pages = Sorted(page, other);
        var clusters = Sorted(cluster, sign.OtherClusterId?.Value ?? 0);
        return sign.Kind switch
        {
            SignKind.RivalsInResults or SignKind.SplitTraffic or SignKind.PageSwap => [$"{sign.Kind.Code()}:{cluster}:{pages}"],
            SignKind.WrongPageRanks => [$"{sign.Kind.Code()}:{cluster}:{page}:{other}"],
            SignKind.SharedTarget => [$"{sign.Kind.Code()}:{clusters}:{pages}"],
            SignKind.NoPage or SignKind.Absent or SignKind.OpenQuestion => [$"{sign.Kind.Code()}:{cluster}"],
            SignKind.MissingOnPage => [$"{sign.Kind.Code()}:{cluster}:{page}"],
            SignKind.MixedTarget => [$"{sign.Kind.Code()}:{page}:{clusters}"],
            SignKind.TwinTitles or SignKind.TwinHeadings => sign.Others.Length > 20 ? [] : Pairs([page, .. sign.Others.Select(o => o.Value)]),
            SignKind.SupportToPillar or SignKind.PillarToSupport => [$"unlinked-support:{cluster}:{page}:{other}"],
            SignKind.Orphan or SignKind.Targetless => [$"{sign.Kind.Code()}:{page}"],
            _ => [],
        };

        static IEnumerable<string> Pairs(long[] of) => of.SelectMany((a, i) => of.Skip(i + 1).Select(b => $"twin-titles:{Sorted(a, b)}"));
    }

    private static string Sorted(long a, long b) => string.Create(CultureInfo.InvariantCulture, $"{Math.Min(a, b)}:{Math.Max(a, b)}");
}
