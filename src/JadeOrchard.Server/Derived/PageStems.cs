using JadeOrchard.Storage;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Derived;

/// <summary>The stems of the pages' main texts, in the language of the project.</summary>
internal sealed class PageStems : IDerivedStep
{
    public Data Reads => Data.Pages | Data.Project;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => PageStore.RefreshStems(derivation.Session, ProjectStore.Get(derivation.Session).Language);
}
