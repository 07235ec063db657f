namespace JadeOrchard.Core.Keywords;

/// <summary>What the searcher is after. Carried from the research source; never guessed here.</summary>
public enum Intent
{
    Informational,
    Commercial,
    Transactional,
    Navigational,
}
