namespace JadeOrchard.Storage;

/// <summary>Captures in stages: what they are about, how each batch left things, and which keywords are expected in a cluster without a result list.</summary>
internal static class Migration17
{
    public const string Sql =
        """
        create table staged_capture (
          job_id integer primary key references job (job_id) on delete cascade,
          -- From which a keyword is expected.
          certainty real not null check (certainty >= 0.5 and certainty < 1),
          phase text not null check (phase in ('capturing', 'auditing', 'done')),
          -- What the audit found; null before.
          audited integer,
          audited_right integer
        ) strict;

        create table staged_keyword (
          job_id integer not null references staged_capture (job_id) on delete cascade,
          keyword_id integer not null,
          primary key (job_id, keyword_id)
        ) strict, without rowid;

        create table staged_batch (
          job_id integer not null references staged_capture (job_id) on delete cascade,
          batch integer not null,
          -- Lists that the job had captured by then, and what that left of its keywords.
          captured integer not null,
          expected integer not null,
          unknown integer not null,
          -- Sum of the probabilities of those that are expected.
          probably_right real not null,
          primary key (job_id, batch)
        ) strict, without rowid;

        create table expected_member (
          keyword_id integer primary key,
          job_id integer not null references staged_capture (job_id) on delete cascade,
          certainty real not null,
          -- Captured keywords that speak for it, most first: ids with spaces between.
          supports text not null,
          is_audited integer not null check (is_audited in (0, 1)),
          -- Its list came, and the keyword was put where that says.
          is_settled integer not null default 0 check (is_settled in (0, 1))
        ) strict;

        -- Derived: supports of expected_member, to be looked up by what speaks for it.
        create table expected_support (
          support_id integer not null,
          keyword_id integer not null,
          place integer not null,
          primary key (support_id, keyword_id)
        ) strict, without rowid;
        create index expected_support_keyword on expected_support (keyword_id, place);

        -- Derived: the cluster that each keyword without a result list is expected in.
        create table cluster_expected (
          keyword_id integer primary key,
          cluster_id integer not null,
          certainty real not null
        ) strict;
        create index cluster_expected_cluster on cluster_expected (cluster_id);
        alter table cluster add column expected integer not null default 0;
        """;
}
