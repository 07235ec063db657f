using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Derived;

/// <summary>What phrases alone tell, by the rules, brands and language of the project.</summary>
internal sealed class KeywordReadings : IDerivedStep
{
    public Data Reads => Data.Project | Data.Brands;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        using var reader = ProjectStore.Reader(derivation.Session);
        KeywordStore.RefreshReadings(derivation.Session, reader);
    }
}
