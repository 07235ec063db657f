using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Site;

namespace JadeOrchard.Server.Derived;

/// <summary>Brand terms that are also what the site is about, by the titles of its pages.</summary>
internal sealed class SubjectTerms : IDerivedStep
{
    public Data Reads => Data.Pages | Data.Project;

    public Data Writes => Data.Brands;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        using var analysis = new TextAnalysis(ProjectStore.Get(session).Language);
        if (ProjectStore.SaveSubjectBrands(session, SubjectBrands.Of(ProjectStore.AllBrandNames(session), PageStore.Titles(session), analysis)))
            session.Touch(Data.Brands);
    }
}
