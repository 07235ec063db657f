using JadeOrchard.Storage;
using JadeOrchard.Storage.Results;

namespace JadeOrchard.Server.Derived;

/// <summary>What came of capturing each keyword.</summary>
internal sealed class KeywordCaptures : IDerivedStep
{
    public Data Reads => Data.Results;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => CaptureStore.RefreshKeywords(derivation.Session, derivation.Touched.Ids<KeywordId>(Data.Results)?.ToList());
}
