namespace JadeOrchard.Storage;

/// <summary>Who made each change, by name; empty for what was changed where nobody has to sign in.</summary>
internal static class Migration18
{
    public const string Sql =
        """
        alter table undo_step add column author text not null default '';
        -- Of whoever undid or redid it last.
        alter table undo_step add column replayed_by text not null default '';
        alter table job add column author text not null default '';
        -- Null in images of before, which undo puts back.
        alter table step_entry add column author text;
        alter table brief_entry add column author text;
        alter table brief_text add column author text;
        """;
}
