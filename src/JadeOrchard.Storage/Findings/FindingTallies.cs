using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as it is stored, for what is counted from it.</summary>
internal sealed record StoredFinding(
    string Key, FindingKind Kind, long? ClusterId, long? OtherClusterId, long? KeywordId, long? PageId, long? OtherPageId, double AtStake, bool IsPresent, FindingState State, double Counted)
{
    public static Dictionary<string, StoredFinding> All(Session session)
    {
        var kinds = Enum.GetValues<FindingKind>().ToDictionary(k => k.Stored(), StringComparer.Ordinal);
        var states = Enum.GetValues<FindingState>().ToDictionary(s => s.Stored(), StringComparer.Ordinal);
        var rows = new Dictionary<string, StoredFinding>(StringComparer.Ordinal);
        session.List(
            "select finding_key, kind, cluster_id, other_cluster_id, keyword_id, page_id, other_page_id, at_stake, present, state, counted from finding",
            r => rows[r.GetString(0)] = new StoredFinding(
                r.GetString(0), kinds[r.GetString(1)], r.LongOrNull(2), r.LongOrNull(3), r.LongOrNull(4), r.LongOrNull(5), r.LongOrNull(6), r.GetDouble(7), r.GetInt64(8) == 1, states[r.GetString(9)], r.GetDouble(10)));
        return rows;
    }

    /// <summary>Open or accepted: it still waits.</summary>
    public bool Waits => State is FindingState.Open or FindingState.Accepted;

    /// <summary>What it is about: several findings about the same pages, or the same hole, are about the same clicks.</summary>
    public (int What, long A, long B) Matter => Kind.Group() switch
    {
        FindingGroup.Cannibalization when PageId is { } page && OtherPageId is { } other => (1, Math.Min(page, other), Math.Max(page, other)),
        FindingGroup.Uncovered when ClusterId is { } cluster => (2, cluster, 0),
        _ when Kind == FindingKind.UnlinkedSupport && ClusterId is { } cluster => (3, cluster, 0),
        _ => (4 + (int)Kind, PageId ?? 0, OtherClusterId ?? 0),
    };
}

/// <summary>What clusters, pages and lists count of findings. Only what differs is written.</summary>
internal static class FindingTallies
{
    /// <param name="session">The transaction.</param>
    /// <param name="findings">All findings as they are stored now, but for what is counted.</param>
    public static void Refresh(Session session, IReadOnlyCollection<StoredFinding> findings) => UndoLog.Unrecorded(session, () =>
    {
        var largest = new Dictionary<(bool, (int, long, long)), StoredFinding>();
        foreach (var finding in findings)
        {
            var key = (finding.Waits, finding.Matter);
            if (!largest.TryGetValue(key, out var known) || finding.AtStake > known.AtStake || (finding.AtStake == known.AtStake && string.CompareOrdinal(finding.Key, known.Key) < 0))
                largest[key] = finding;
        }

        var clusters = new Dictionary<long, (double AtStake, long Count, long Conflicts)>();
        var pages = new Dictionary<long, long>();
        using var count = session.Command("update finding set counted = @counted where finding_key = @key", ("counted", 0.0), ("key", ""));
        foreach (var finding in findings)
        {
            var counted = ReferenceEquals(largest[(finding.Waits, finding.Matter)], finding) ? finding.AtStake : 0;
            if (counted != finding.Counted)
            {
                count.Parameters[0].Value = counted;
                count.Parameters[1].Value = finding.Key;
                count.ExecuteNonQuery();
            }

            if (!finding.Waits)
                continue;
            var isConflict = finding.Kind.IsCannibalization();
            Add(finding.ClusterId, counted, isConflict);
            if (isConflict)
                Add(finding.OtherClusterId, 0, isConflict: true);
            foreach (var page in new[] { finding.PageId, finding.OtherPageId == finding.PageId ? null : finding.OtherPageId }.OfType<long>())
                pages[page] = pages.GetValueOrDefault(page) + 1;
        }

        using var ofCluster = session.Command(
            "update cluster set at_stake = @stake, open_findings = @count, conflicts = @conflicts where cluster_id = @id", ("stake", 0.0), ("count", 0L), ("conflicts", 0L), ("id", 0L));
        foreach (var (id, stake, open, conflicts) in session.List(
            "select cluster_id, at_stake, open_findings, conflicts from cluster", r => (r.GetInt64(0), r.GetDouble(1), r.GetInt64(2), r.GetInt64(3))))
        {
            var now = clusters.GetValueOrDefault(id);
            // The order in which they were summed must not tell.
            now.AtStake = Math.Round(now.AtStake, 6);
            if (now == (stake, open, conflicts))
                continue;
            (ofCluster.Parameters[0].Value, ofCluster.Parameters[1].Value, ofCluster.Parameters[2].Value, ofCluster.Parameters[3].Value) = (now.AtStake, now.Count, now.Conflicts, id);
            ofCluster.ExecuteNonQuery();
        }

        using var ofPage = session.Command("update page set open_findings = @count where page_id = @id", ("count", 0L), ("id", 0L));
        foreach (var (id, open) in session.List("select page_id, open_findings from page", r => (r.GetInt64(0), r.GetInt64(1))))
        {
            var now = pages.GetValueOrDefault(id);
            if (now == open)
                continue;
            (ofPage.Parameters[0].Value, ofPage.Parameters[1].Value) = (now, id);
            ofPage.ExecuteNonQuery();
        }

        void Add(long? cluster, double stake, bool isConflict)
        {
            if (cluster is not { } id)
                return;
            var (atStake, all, conflicts) = clusters.GetValueOrDefault(id);
            clusters[id] = (atStake + stake, all + 1, conflicts + (isConflict ? 1 : 0));
        }
    });
}
