using JadeOrchard.Storage;

namespace JadeOrchard.Server.Derived;

/// <summary>Says that the image in memory is of other data.</summary>
internal sealed class ImageVersion : IDerivedStep
{
    public Data Reads => Data.Image;

    public Data Writes => Data.None;

    public void Run(Derivation derivation) => ProjectStore.RaiseImageVersion(derivation.Session);
}
