using JadeOrchard.Core.Site;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Derived;

/// <summary>Pages of the site that are in results or search performance and are not known yet.</summary>
internal sealed class AdoptedPages : IDerivedStep
{
    public Data Reads => Data.Results | Data.Performance | Data.Project | Data.Pages;

    public Data Writes => Data.Pages;

    public void Run(Derivation derivation)
    {
        PageStore.AdoptFromResults(derivation.Session, new OwnSite(ProjectStore.Get(derivation.Session).Host));
        if (derivation.Touched.Any(Data.Performance))
            PerformanceStore.AdoptPages(derivation.Session);
        PageStore.MarkTracked(derivation.Session);
    }
}
