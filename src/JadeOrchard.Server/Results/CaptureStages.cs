using System.Globalization;
using JadeOrchard.Core.Clusters;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;
using JadeOrchard.Core.Results.Staged;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;
using JadeOrchard.Storage.Keywords;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Results;

/// <summary>Decides what a capture in stages asks for next, from what has come so far.</summary>
/// <remarks>What it decides is in the database in one transaction with how things stand, so that a capture goes on from there after a stop or a kill.</remarks>
internal sealed class CaptureStages(Project project, JobRow job)
{
    private StagedKeywords? _keywords;
    private Stage? _stage;

    /// <returns>Whether there is more to ask for.</returns>
    public bool Advance()
    {
        // Reckoned while others may write; this job alone writes what it is about.
        var decided = project.Read(Decide);
        if (decided is null)
            return false;
        project.ChangeAsJob(job.Id, job.Label, session => Save(session, decided));
        return decided.Next.Count > 0;
    }

    /// <summary>What came of it, for the end of the job's message; empty where the job is no capture in stages.</summary>
    public static string Says(Session session, JobId jobId)
    {
        if (StagedStore.Find(session, jobId) is not { } staged)
            return "";
        var expected = StagedStore.CountExpected(session, jobId);
        return string.Create(CultureInfo.InvariantCulture, $" {expected:N0} {(expected == 1 ? "keyword is" : "keywords are")} expected in a cluster without a result list.")
            + (staged.Audit is { } audit ? string.Create(CultureInfo.InvariantCulture, $" The audit found {audit.Right} of {audit.Audited} right: at least {audit.Lower * 100:0} %, with 95 % confidence.") : "");
    }

    /// <param name="Next">Keywords to ask for.</param>
    /// <param name="Phase">Where that leaves the capture.</param>
    /// <param name="Audit">What the audit found, where it has come to its end.</param>
    private sealed record Decided(StagedBatch Batch, IReadOnlyList<ExpectedRow> Expected, IReadOnlyList<KeywordId> Next, StagedPhase Phase, CaptureAudit? Audit);

    /// <returns>Null where nothing is left to decide.</returns>
    private Decided? Decide(Session session)
    {
        if (StagedStore.Find(session, job.Id) is not { Phase: not StagedPhase.Done } row)
            return null;
        var keywords = StagedKeywords.Load(session, _keywords);
        // Keywords came or went: what was known is numbered differently.
        _stage = keywords.Capture == _keywords?.Capture ? _stage : null;
        _keywords = keywords;
        var (lists, settings, staged) = (keywords.Lists, keywords.Settings, keywords.Capture);
        var (wanted, asked) = (Flags(StagedStore.Keywords(session, job.Id)), Flags(StagedStore.Asked(session, job.Id)));
        // What failed or came back empty is not asked for again.
        for (var k = 0; k < wanted.Length; k++)
            wanted[k] &= !asked[k] || lists.IsCaptured(k);
        var (all, known) = (wanted.Count(w => w), wanted.Where((w, k) => w && lists.IsCaptured(k)).Count());
        var clusters = CapturedClusters.Of(Clustering.Of(keywords.Keywords, lists, settings), lists);
        _stage = clusters.Primaries.Count == 0 ? null : staged.Look(lists, settings.MinOverlap, clusters.ClusterOf, clusters.Primaries, k => wanted[k], row.Certainty, _stage);
        var expected = _stage?.Expected ?? [];
        var batch = new StagedBatch((int)CaptureStore.Counts(session, job.Id).Captured, expected.Length, all - known - expected.Length, expected.Sum(e => e.Certainty));
        var found = row.Phase == StagedPhase.Auditing ? Audited(session, keywords, clusters) : null;
        var next = staged.Next(lists, _stage, k => wanted[k], StagedCapture.BatchOf(all, known));
        // Also after the audit, whose lists may have made some less certain.
        if (next.Count > 0)
            return new Decided(batch, Rows([]), Ids(next), StagedPhase.Capturing, found);
        if (found is not null || row.Audit is not null)
            return new Decided(batch, Rows([]), [], StagedPhase.Done, found);
        var audit = staged.Audit([.. expected.Select(e => e.Keyword)], job.Id.Value);
        return new Decided(batch, Rows(audit), Ids(audit), audit.Count > 0 ? StagedPhase.Auditing : StagedPhase.Done, null);

        bool[] Flags(IReadOnlyList<KeywordId> some)
        {
            var isOf = some.ToHashSet();
            return [.. keywords.Ids.Select(isOf.Contains)];
        }

        List<KeywordId> Ids(IReadOnlyList<int> some) => [.. some.Select(k => keywords.Ids[k])];

        List<ExpectedRow> Rows(IReadOnlyList<int> audit)
        {
            var isAudited = audit.ToHashSet();
            return [.. expected.Select(e => new ExpectedRow(keywords.Ids[e.Keyword], e.Certainty, [.. e.Supports.Select(s => keywords.Ids[s])], isAudited.Contains(e.Keyword)))];
        }
    }

    /// <summary>Whether those that were audited are in a cluster with what spoke for them.</summary>
    private CaptureAudit Audited(Session session, StagedKeywords keywords, CapturedClusters clusters)
    {
        var indexOf = Enumerable.Range(0, keywords.Ids.Count).ToDictionary(i => keywords.Ids[i]);
        int ClusterOf(KeywordId id) => indexOf.TryGetValue(id, out var keyword) ? clusters.ClusterOf[keyword] : -1;
        var came = StagedStore.Expected(session, job.Id).Where(e => e.IsAudited && indexOf.TryGetValue(e.KeywordId, out var k) && keywords.Lists.IsCaptured(k)).ToList();
        return CaptureAudit.Of(came.Count(e => ClusterOf(e.Supports[0]) == ClusterOf(e.KeywordId)), came.Count);
    }

    private int Save(WriteSession session, Decided decided)
    {
        StagedStore.SaveBatch(session, job.Id, decided.Batch, decided.Expected);
        StagedStore.SetPhase(session, job.Id, decided.Phase);
        if (decided.Audit is { } audit)
            StagedStore.SaveAudit(session, job.Id, audit);
        StagedStore.Ask(session, job.Id, decided.Next);
        return 0;
    }
}

/// <summary>The keywords of a project, ready for capturing in stages.</summary>
/// <param name="Capture">By the words of the keywords.</param>
/// <param name="Lists">Their result lists, as the last grouping compares them.</param>
internal sealed record StagedKeywords(IReadOnlyList<KeywordId> Ids, IReadOnlyList<Keyword> Keywords, ClusterSettings Settings, ResultLists Lists, StagedCapture Capture)
{
    /// <param name="session">Sees the data.</param>
    /// <param name="before">Of the same project; its words are taken on as long as no keyword came or went. Null for none.</param>
    public static StagedKeywords Load(Session session, StagedKeywords? before = null)
    {
        var (ids, keywords) = KeywordStore.All(session);
        var (grouping, settings) = (ProjectStore.Grouping(session), ProjectStore.Settings(session));
        var (lists, identities) = ResultStore.Newest(session, ids, withinJob: true);
        var capture = before is not null && before.Ids.SequenceEqual(ids)
            ? before.Capture
            : new StagedCapture(keywords, new WordedKeywords(keywords, ProjectStore.Get(session).Language, ProjectStore.AllBrandNames(session), settings.OtherBrands, settings.IntentRules));
        return new StagedKeywords(ids, keywords, grouping, grouping.Compared(lists, identities), capture);
    }
}
