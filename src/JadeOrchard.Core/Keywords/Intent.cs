namespace JadeOrchard.Core.Keywords;

/// <summary>What the searcher is after: what the research source said, else what <see cref="IntentRules"/> tell.</summary>
public enum Intent
{
    Informational,
    Commercial,
    Transactional,
    Navigational,
}
