using JadeOrchard.Core.Findings;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Derived;

/// <summary>For how many keywords each page is seen, and which clicks that should bring.</summary>
internal sealed class PageStandings : IDerivedStep
{
    public Data Reads => Data.Image;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => PageStore.SaveStandings(derivation.Session, SiteFacts.SeenDepth, ProjectSnapshot.CurveOf(derivation.Session).Curve.At);
}
