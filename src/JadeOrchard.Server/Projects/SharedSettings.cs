using JadeOrchard.Storage;

namespace JadeOrchard.Server.Projects;

/// <summary>A part of the settings that is worth having in several projects.</summary>
public enum SettingsPart
{
    /// <summary>Rules of intent, and words by which a phrase asks.</summary>
    Intents,

    /// <summary>Brands and sellers of others, terms that no brief asks for, and parameters that are dropped from addresses.</summary>
    IgnoreLists,

    /// <summary>Addresses of services and the headers of their keys; never the keys.</summary>
    Services,

    /// <summary>How long steps take.</summary>
    Effort,

    /// <summary>Patterns of titles.</summary>
    Titles,
}

/// <summary>The settings of a project that others can have as well.</summary>
public sealed record SharedSettings(ProjectSettings Settings, IReadOnlyList<ServiceRow> Services)
{
    public static SharedSettings Of(Session session) => new(ProjectStore.Settings(session), ServiceStore.All(session));

    /// <summary>Puts parts of them into a project.</summary>
    public void Into(WriteSession session, IEnumerable<SettingsPart> parts)
    {
        var wanted = parts.ToHashSet();
        var own = ProjectStore.Settings(session);
        if (wanted.Contains(SettingsPart.Intents))
            own = own with { IntentRules = Settings.IntentRules, Questions = Settings.Questions };
        if (wanted.Contains(SettingsPart.IgnoreLists))
        {
            own = own with
            {
                OtherBrands = Both(own.OtherBrands, Settings.OtherBrands),
                TrackingParameters = Both(own.TrackingParameters, Settings.TrackingParameters),
                Briefs = own.Briefs with { IgnoredTerms = Both(own.Briefs.IgnoredTerms ?? [], Settings.Briefs.IgnoredTerms ?? []) },
            };
        }

        if (wanted.Contains(SettingsPart.Effort))
            own = own with { Plan = own.Plan with { Effort = Settings.Plan.Effort } };
        if (wanted.Contains(SettingsPart.Titles))
            own = own with { Briefs = own.Briefs with { Patterns = Settings.Briefs.Patterns } };
        ProjectStore.SaveSettings(session, own);
        if (wanted.Contains(SettingsPart.Services))
            SaveServices(session);
    }

    /// <summary>Makes all settings of a project these.</summary>
    public void All(WriteSession session)
    {
        // The list of keywords that is captured again is the other project's.
        ProjectStore.SaveSettings(session, Settings with { Capture = Settings.Capture with { RecaptureListId = null, RecaptureDays = 0 } });
        SaveServices(session);
    }

    private void SaveServices(WriteSession session)
    {
        foreach (var service in Services.Where(s => s.Address.Length > 0))
            ServiceStore.Save(session, service.Name, service.Address, service.Header, null);
    }

    /// <summary>What is ignored stays ignored.</summary>
    private static IReadOnlyList<string> Both(IReadOnlyList<string> own, IReadOnlyList<string> other) => [.. own.Union(other, StringComparer.OrdinalIgnoreCase)];
}
