namespace JadeOrchard.Formats.Tables;

/// <summary>What a table of data is about.</summary>
public enum TableKind
{
    Keywords,
    Results,
    Pages,
    Performance,
}
