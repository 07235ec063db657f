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
          is_audited integer not null check (is_audited in (0, 1))
        ) strict;
        """;
}
