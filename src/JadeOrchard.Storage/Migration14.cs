namespace JadeOrchard.Storage;

/// <summary>Briefs with their history, the texts that came back, links for writers, and headings saved for topics.</summary>
internal static class Migration14
{
    public const string Sql =
        """
        -- What was proposed before the newest facts, as long as the planner has not seen what they changed.
        alter table brief add column previous text;

        create table brief_entry (
          entry_id integer primary key autoincrement,
          brief_id integer not null,
          says text not null,
          made_at text not null
        ) strict;
        create index brief_entry_by_brief on brief_entry (brief_id);

        -- Versions of the text as they came back.
        create table brief_text (
          text_id integer primary key autoincrement,
          brief_id integer not null,
          -- Where it came from: a file, an address, or "pasted".
          name text not null,
          title text not null default '',
          description text not null default '',
          -- Markdown.
          content text not null,
          words integer not null,
          made_at text not null
        ) strict;
        create index brief_text_by_brief on brief_text (brief_id);

        -- A link by which a writer sees one brief and nothing else.
        create table brief_link (
          token text primary key,
          brief_id integer not null unique,
          made_at text not null,
          expires_at text not null
        ) strict, without rowid;

        create table service_of_six (
          name text primary key check (name in ('search', 'suggestions', 'research', 'rankings', 'performance', 'drafting')),
          address text not null,
          header text not null
        ) strict, without rowid;
        insert into service_of_six select name, address, header from service;
        drop table service;
        alter table service_of_six rename to service;

        create table topic_heading (
          heading_id integer primary key autoincrement,
          topic_id integer not null,
          heading text not null,
          unique (topic_id, heading)
        ) strict;
        """;
}
