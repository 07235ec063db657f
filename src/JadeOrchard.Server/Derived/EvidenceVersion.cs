using JadeOrchard.Storage;

namespace JadeOrchard.Server.Derived;

/// <summary>Says that there is newer evidence, after which what was resolved may be open again. An undo brings the number of before back.</summary>
internal sealed class EvidenceVersion : IDerivedStep
{
    public Data Reads => Data.Evidence;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        if (!derivation.Session.IsReplay)
            ProjectStore.RaiseEvidenceVersion(derivation.Session);
    }
}
