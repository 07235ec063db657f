namespace JadeOrchard.Storage;

/// <summary>
/// One finding for each decision, with the signs by which it shows itself. What was decided of findings in their former shape, in which each sign was one, is
/// put aside and carried over when findings are computed first, see <see cref="Findings.FormerFindings"/>.
/// </summary>
internal static class Migration12
{
    public const string Sql =
        """
        create table former_finding (
          -- As findings were named: kind, cluster and pages.
          former_key text primary key,
          first_found_at text not null,
          state text,
          reason text not null default '',
          evidence_version integer not null default 0,
          decided_at text not null default '',
          assignee text not null default '',
          note text not null default ''
        ) strict, without rowid;
        insert into former_finding (former_key, first_found_at)
        select f.finding_key, e.first_found_at from finding f join finding_seen e on e.finding_key = f.finding_key where f.present = 1;
        insert into former_finding (former_key, first_found_at, state, reason, evidence_version, decided_at, assignee, note)
        select finding_key, decided_at, state, reason, evidence_version, decided_at, assignee, note from finding_decision where true
        on conflict do update set
          state = excluded.state, reason = excluded.reason, evidence_version = excluded.evidence_version, decided_at = excluded.decided_at, assignee = excluded.assignee, note = excluded.note;
        delete from finding_decision;
        delete from finding_seen;

        drop index finding_seen_gone;
        alter table finding_seen drop column other_cluster_id;
        alter table finding_seen drop column keyword_id;
        alter table finding_seen drop column other_page_id;
        alter table finding_seen drop column at_stake;
        alter table finding_seen drop column facts;
        -- What it was when it went away.
        alter table finding_seen add column content text;
        create index finding_seen_gone on finding_seen (cluster_id) where went_away = 1;

        -- A conflict has two pages or more.
        alter table plan_step add column other_page_ids text;
        update plan_step set other_page_ids = json_array(other_page_id) where other_page_id is not null;
        alter table plan_step drop column other_page_id;

        -- Null is what is usual.
        alter table grouping add column per_host integer;
        alter table grouping add column short_lists integer;
        alter table grouping add column hysteresis integer;

        -- The language that a page says it is in, and the addresses of its versions in others.
        alter table page add column language text;
        alter table page add column versions text;
        -- It is another page without the parameters that the project drops.
        alter table page add column tracked integer not null default 0;

        -- Brand terms that are also the site's subject, so that searches with them are not for the site.
        create table subject_brand (term text primary key, share real not null) strict, without rowid;

        drop table finding;
        create table finding (
          finding_id integer primary key,
          finding_key text not null unique,
          kind text not null check (kind in ('conflict', 'uncovered', 'pagegap', 'twins', 'missinglinks', 'idlepages')),
          -- The first of its clusters, keywords and pages.
          cluster_id integer,
          keyword_id integer,
          page_id integer,
          folder text,
          page_count integer not null default 0,
          at_stake real not null,
          confidence real not null,
          -- Clicks at stake × confidence.
          weight real not null,
          -- What is at stake apart from what larger findings about the same clusters count already.
          counted real not null default 0,
          demand integer not null default 0,
          -- Codes, the strongest first: "rivals-in-results | split-traffic".
          signs text not null,
          -- What shows it, in short: "both rank, traffic splits".
          says text not null,
          content text not null,
          content_hash integer not null,
          is_planned integer not null default 0,
          present integer not null,
          state text not null check (state in ('open', 'accepted', 'dismissed', 'waiting', 'resolved'))
        ) strict;
        create index finding_by_weight on finding (weight desc, finding_key, state, kind);
        create index finding_by_kind on finding (kind, state, weight desc, finding_key, at_stake, demand, counted);
        create index finding_by_stake on finding (at_stake desc, finding_key, state, kind);
        create index finding_by_demand on finding (demand desc, at_stake desc, finding_key, state, kind);
        create index finding_by_keyword on finding (keyword_id);
        create index finding_by_cluster on finding (cluster_id);
        create index finding_absent on finding (finding_key) where present = 0;
        create index finding_decided on finding (state) where state <> 'open';

        create table finding_cluster (
          cluster_id integer not null,
          finding_id integer not null,
          at_stake real not null,
          -- It is the largest finding about the cluster, of those to do or of the others.
          counts integer not null default 0,
          primary key (cluster_id, finding_id)
        ) strict, without rowid;
        create index finding_cluster_by_finding on finding_cluster (finding_id);
        create table finding_page (
          page_id integer not null,
          finding_id integer not null,
          place integer not null,
          primary key (page_id, finding_id)
        ) strict, without rowid;
        create index finding_page_by_finding on finding_page (finding_id, place);

        -- Rules of intent that nobody changed are those of the language from now on.
        update project set settings = json_remove(settings, '$.intentRules') where json_extract(settings, '$.intentRules') =
          '[{"name":"finding a place","intent":"navigational","words":["opening times","opening hours","contact","login","directions to","address","phone number"]},{"name":"comparing","intent":"commercial","words":["best","top","vs","versus","review","reviews","compared","comparison","compare","tested","alternative","alternatives","pros and cons","difference between","better than","cheapest","worth it","buying guide","which"]},{"name":"buying","intent":"transactional","words":["buy","price","prices","cost","cheap","for sale","sale","deal","deals","discount","offer","offers","coupon","clearance","shop","store","online","order","delivery","second hand","used","hire","rent","rental","book","near me","in stock"]},{"name":"learning","intent":"informational","words":["how","what","why","when","where","who","can","does","is","are","should","guide","tutorial","tips","learn","ideas","examples","meaning","definition","explained","for beginners","checklist","step by step","video","pdf","size guide","sizing","history"]}]';
        update data_state set derived_version = 0;
        """;
}
