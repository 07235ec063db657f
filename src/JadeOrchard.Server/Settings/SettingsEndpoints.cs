using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage;

namespace JadeOrchard.Server.Settings;

/// <summary>The settings of the project.</summary>
public sealed record SettingsView(IReadOnlyList<string> OtherBrands, IReadOnlyList<IntentRule> IntentRules, ScanSettings Scan, CaptureSettings Capture, CurveSettings Curve);

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
                var settings = project.Read(ProjectStore.Settings);
                return new SettingsView(settings.OtherBrands, settings.IntentRules, settings.Scan, settings.Capture, settings.Curve);
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

        api.MapPut("/settings/brands", Results<NoContent, ProblemHttpResult> (IReadOnlyList<string> request, Project project) =>
                request.Count > MostBrands
                    ? Problems.Invalid("brands", $"{request.Count} are too many; write at most {MostBrands} brands and sellers.")
                    : Save(project, s => s with { OtherBrands = Clean(request) }, "Change brands and sellers"))
            .WithName("saveBrands");

        api.MapPut("/settings/intents", Results<NoContent, ProblemHttpResult> (IReadOnlyList<IntentRule> request, Project project) =>
                request.FirstOrDefault(r => string.IsNullOrWhiteSpace(r.Name)) is not null
                    ? Problems.Invalid("name", "Give each rule a name, so that it can be told by what an intent was told.")
                    : Save(project, s => s with { IntentRules = [.. request.Select(r => r with { Name = r.Name.Trim(), Words = Clean(r.Words) })] }, "Change the rules of intent"))
            .WithName("saveIntents");

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

    private static IReadOnlyList<string> Clean(IReadOnlyList<string> words) =>
        [.. words.Select(w => w.ReplaceLineEndings(" ").Trim()).Where(w => w.Length is > 0 and <= 200).Distinct(StringComparer.OrdinalIgnoreCase)];
}
