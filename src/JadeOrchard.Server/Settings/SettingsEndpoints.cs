using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Site;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Settings;

/// <summary>The settings of the project.</summary>
/// <param name="OtherBrands">Brands and sellers of others.</param>
/// <param name="SubjectBrands">Brand terms that are also what the site is about: they count as brands only where they are confirmed.</param>
/// <param name="ConfirmedBrands">Those that are.</param>
/// <param name="TrackingParameters">Dropped from addresses to compare them, beyond those that are known.</param>
/// <param name="IntentRules">The project's own, or those of its language.</param>
/// <param name="AreOwnRules">The rules of intent or the question words are the project's own.</param>
/// <param name="Questions">The project's own, or those of its language.</param>
public sealed record SettingsView(
    IReadOnlyList<string> OtherBrands, IReadOnlyList<SubjectBrand> SubjectBrands, IReadOnlyList<string> ConfirmedBrands, IReadOnlyList<string> TrackingParameters, IReadOnlyList<IntentRule> IntentRules, QuestionWords Questions, bool AreOwnRules, ScanSettings Scan, CaptureSettings Capture, CurveSettings Curve, BriefSettings Briefs);

/// <summary>Gives a service its address and key.</summary>
/// <param name="Key">Null to leave it as it is; empty to forget it. It is never told back.</param>
public sealed record ServiceRequest(string Address, string? Header = null, string? Key = null);

/// <summary>How keywords are read, the site is scanned and results are captured; and where the services are.</summary>
public static class SettingsEndpoints
{
    private const int MostBrands = 2_000;

    public static void MapSettings(this RouteGroupBuilder api)
    {
        api.MapGet("/settings", (Project project) =>
            {
                var (settings, language, subjects) = project.Read(session => (ProjectStore.Settings(session), ProjectStore.Get(session).Language, ProjectStore.SubjectBrands(session)));
                var words = LanguageWords.Of(language);
                return new SettingsView(
                    settings.OtherBrands, subjects, settings.ConfirmedBrands, settings.TrackingParameters, settings.IntentRules ?? words.IntentRules, settings.Questions ?? words.Questions, (settings.IntentRules, settings.Questions) is not (null, null),
                    settings.Scan, settings.Capture, settings.Curve,
                    settings.Briefs with { IgnoredTerms = settings.Briefs.IgnoredTerms ?? [], Patterns = settings.Briefs.Patterns ?? Core.Briefs.Titles.Usual(language) });
            })
            .WithName("settings");

        api.MapPut("/settings/scan", Results<NoContent, ProblemHttpResult> (ScanSettings request, Project project) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(project, s => s with { Scan = request with { StartUrl = request.StartUrl.Trim(), Gateway = request.Gateway.Trim() } }, "Change how the site is scanned"))
            .WithName("saveScanSettings");

        api.MapPut("/settings/capture", Results<NoContent, ProblemHttpResult> (CaptureSettings request, Project project) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(project, s => s with { Capture = request }, "Change how results are captured"))
            .WithName("saveCaptureSettings");

        api.MapPut("/settings/curve", Results<NoContent, ProblemHttpResult> (CurveSettings request, Project project) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(project, s => s with { Curve = request }, "Change the click curve"))
            .WithName("saveCurve");

        api.MapPut("/settings/briefs", Results<NoContent, ProblemHttpResult> (BriefSettings request, Project project) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(project, s => s with { Briefs = request with { Notes = request.Notes.Trim(), IgnoredTerms = CleanOrNull(request.IgnoredTerms), Patterns = request.Patterns is { Count: > 0 } ? request.Patterns : null } }, "Change what briefs share"))
            .WithName("saveBriefSettings");

        api.MapPut("/settings/brands", Results<NoContent, ProblemHttpResult> (IReadOnlyList<string> request, Project project) =>
                request.Count > MostBrands
                    ? Problems.Invalid("brands", $"{request.Count} are too many; write at most {MostBrands} brands and sellers.")
                    : Save(project, s => s with { OtherBrands = Clean(request) }, "Change brands and sellers"))
            .WithName("saveBrands");

        api.MapPut("/settings/tracking", Results<NoContent, ProblemHttpResult> (IReadOnlyList<string> request, Project project) =>
                request.Count > MostBrands
                    ? Problems.Invalid("tracking", $"{request.Count} are too many; write at most {MostBrands} parameters.")
                    : request.FirstOrDefault(p => p.Trim().TrimEnd('*') is var name && (name.Length == 0 || !name.All(c => char.IsLetterOrDigit(c) || c is '_' or '-' or '.' or '[' or ']'))) is { } wrong
                        ? Problems.Invalid("tracking", $"'{wrong}' is not a parameter name. Write it as in the address, such as vid, or vid_* for all that begin with vid_.")
                        : Save(project, s => s with { TrackingParameters = Clean(request) }, "Change tracking parameters"))
            .WithName("saveTracking");

        api.MapGet("/tracking/proposals", (Project project) => project.Read((_, snapshot) => TrackingParameters.Proposed(
                Enumerable.Range(0, snapshot.Keywords.Count).SelectMany(k => snapshot.Lists.Urls(k).ToArray().Select(u => (k, snapshot.UrlIdentities[u]))))))
            .WithName("trackingProposals");

        api.MapPut("/settings/confirmed-brands", Results<NoContent, ProblemHttpResult> (IReadOnlyList<string> request, Project project) =>
                request.Count > MostBrands
                    ? Problems.Invalid("brands", $"{request.Count} are too many; write at most {MostBrands} brand terms.")
                    : Save(project, s => s with { ConfirmedBrands = Clean(request) }, "Change which terms are brands"))
            .WithName("saveConfirmedBrands");

        api.MapPut("/settings/intents", Results<NoContent, ProblemHttpResult> (IReadOnlyList<IntentRule> request, Project project) =>
                request.FirstOrDefault(r => string.IsNullOrWhiteSpace(r.Name)) is not null
                    ? Problems.Invalid("name", "Give each rule a name, to show beside the intents it sets.")
                    : Save(project, s => s with
                    {
                        IntentRules = [.. request.Select(r => r with { Name = r.Name.Trim(), Words = Clean(r.Words), First = CleanOrNull(r.First), Last = CleanOrNull(r.Last), Except = CleanOrNull(r.Except) })],
                    }, "Change the rules of intent"))
            .WithName("saveIntents");

        api.MapPut("/settings/questions", Results<NoContent, ProblemHttpResult> (QuestionWords request, Project project) =>
                Save(project, s => s with
                {
                    Questions = new QuestionWords(CleanOrNull(request.First), CleanOrNull(request.Words), CleanOrNull(request.Last), CleanOrNull(request.Except)),
                }, "Change question words"))
            .WithName("saveQuestions");

        api.MapDelete("/settings/intents", (Project project) => Save(project, s => s with { IntentRules = null, Questions = null }, "Use the rules of the language"))
            .WithName("resetIntents");

        api.MapGet("/services", (Project project) => project.Read(ServiceStore.All)).WithName("services");

        api.MapPut("/services/{name}", Results<NoContent, ProblemHttpResult> (string name, ServiceRequest request, Project project) =>
            {
                if (!name.All(char.IsAsciiLetter) || !Enum.TryParse<ServiceName>(name, ignoreCase: true, out var service))
                    return Problems.NotFound($"There is no service {name}.");
                var address = request.Address.Trim();
                if (address.Length > 0 && !(Uri.TryCreate(address, UriKind.Absolute, out var url) && url.Scheme is "http" or "https"))
                    return Problems.Invalid("address", $"'{address}' is no http or https address.");
                var header = string.IsNullOrWhiteSpace(request.Header) ? ServiceStore.DefaultHeader : request.Header.Trim();
                if (!header.All(c => char.IsAsciiLetterOrDigit(c) || c == '-'))
                    return Problems.Invalid("header", $"'{header}' is no name of a header.");
                if (request.Key is { } key && key.Any(c => c is < ' ' or > '~'))
                    return Problems.Invalid("key", "The key has characters that no header can carry. Paste it again.");
                project.Change(null, (WriteSession session) => ServiceStore.Save(session, service, address, header, request.Key?.Trim()));
                return TypedResults.NoContent();
            })
            .WithName("saveService");
    }

    private static NoContent Save(Project project, Func<ProjectSettings, ProjectSettings> change, string label)
    {
        project.Change(label, (WriteSession session) => ProjectStore.SaveSettings(session, change(ProjectStore.Settings(session))));
        return TypedResults.NoContent();
    }

    private static IReadOnlyList<string>? CleanOrNull(IReadOnlyList<string>? words) => words is null || Clean(words) is not { Count: > 0 } clean ? null : clean;

    private static IReadOnlyList<string> Clean(IReadOnlyList<string> words) =>
        [.. words.Select(w => w.ReplaceLineEndings(" ").Trim()).Where(w => w.Length is > 0 and <= 200).Distinct(StringComparer.OrdinalIgnoreCase)];
}
