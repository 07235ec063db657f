using JadeOrchard.Core.Keywords;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Keywords;

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
        api.MapGet("/settings", (Orchard orchard) =>
            {
                var settings = orchard.Database.Read(ProjectStore.Settings);
                return new SettingsView(settings.OtherBrands, settings.IntentRules, settings.Scan, settings.Capture, settings.Curve);
            })
            .WithName("settings");

        api.MapPut("/settings/scan", Results<NoContent, ProblemHttpResult> (ScanSettings request, Orchard orchard) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(orchard, s => s with { Scan = request with { StartUrl = request.StartUrl.Trim(), Gateway = request.Gateway.Trim() } }, "Change how the site is scanned"))
            .WithName("saveScanSettings");

        api.MapPut("/settings/capture", Results<NoContent, ProblemHttpResult> (CaptureSettings request, Orchard orchard) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(orchard, s => s with { Capture = request }, "Change how results are captured"))
            .WithName("saveCaptureSettings");

        api.MapPut("/settings/curve", Results<NoContent, ProblemHttpResult> (CurveSettings request, Orchard orchard) =>
                request.Fault() is { } fault
                    ? Problems.Invalid(fault.Field, fault.Says)
                    : Save(orchard, s => s with { Curve = request }, "Change the click curve", recompute: true))
            .WithName("saveCurve");

        api.MapPut("/settings/brands", Results<NoContent, ProblemHttpResult> (IReadOnlyList<string> request, Orchard orchard) =>
                request.Count > MostBrands
                    ? Problems.Invalid("brands", $"{request.Count} are too many; write at most {MostBrands} brands and sellers.")
                    : Save(orchard, s => s with { OtherBrands = Clean(request) }, "Change brands and sellers", reread: true))
            .WithName("saveBrands");

        api.MapPut("/settings/intents", Results<NoContent, ProblemHttpResult> (IReadOnlyList<IntentRule> request, Orchard orchard) =>
                request.FirstOrDefault(r => string.IsNullOrWhiteSpace(r.Name)) is not null
                    ? Problems.Invalid("name", "Give each rule a name, so that it can be told by what an intent was told.")
                    : Save(orchard, s => s with { IntentRules = [.. request.Select(r => r with { Name = r.Name.Trim(), Words = Clean(r.Words) })] }, "Change the rules of intent", reread: true))
            .WithName("saveIntents");

        api.MapGet("/services", (Orchard orchard) => orchard.Database.Read(ServiceStore.All)).WithName("services");

        api.MapPut("/services/{name}", Results<NoContent, ProblemHttpResult> (string name, ServiceRequest request, Orchard orchard) =>
            {
                if (!Enum.TryParse<ServiceName>(name, ignoreCase: true, out var service))
                    return Problems.NotFound($"There is no service {name}.");
                var address = request.Address.Trim();
                if (address.Length > 0 && !(Uri.TryCreate(address, UriKind.Absolute, out var url) && url.Scheme is "http" or "https"))
                    return Problems.Invalid("address", $"'{address}' is no http or https address.");
                var header = string.IsNullOrWhiteSpace(request.Header) ? ServiceStore.DefaultHeader : request.Header.Trim();
                if (!header.All(c => char.IsAsciiLetterOrDigit(c) || c == '-'))
                    return Problems.Invalid("header", $"'{header}' is no name of a header.");
                if (request.Key is { } key && key.Any(c => c is < ' ' or > '~'))
                    return Problems.Invalid("key", "The key has characters that no header can carry. Paste it again.");
                orchard.Database.Write(session => ServiceStore.Save(session, service, address, header, request.Key?.Trim()));
                return TypedResults.NoContent();
            })
            .WithName("saveService");
    }

    private static NoContent Save(Orchard orchard, Func<ProjectSettings, ProjectSettings> change, string label, bool reread = false, bool recompute = false)
    {
        orchard.Database.Write(
            session =>
            {
                ProjectStore.SaveSettings(session, change(ProjectStore.Settings(session)));
                if (!reread && !recompute)
                    return;
                if (reread)
                {
                    using var reader = ProjectStore.Reader(session);
                    KeywordStore.Reread(session, reader);
                }

                ProjectStore.RaiseDataVersion(session);
                orchard.AfterData(session);
            },
            label);
        return TypedResults.NoContent();
    }

    private static IReadOnlyList<string> Clean(IReadOnlyList<string> words) =>
        [.. words.Select(w => w.ReplaceLineEndings(" ").Trim()).Where(w => w.Length is > 0 and <= 200).Distinct(StringComparer.OrdinalIgnoreCase)];
}
