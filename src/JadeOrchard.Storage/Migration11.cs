namespace JadeOrchard.Storage;

/// <summary>A job that ends the program again and again at the same place is not begun again by itself.</summary>
internal static class Migration11
{
    public const string Sql =
        """
        -- How far it was when the program ended while it ran, and how often that was so at the same place.
        alter table job add column died_at text not null default '';
        alter table job add column died integer not null default 0;
        """;
}
