using System.Globalization;
using System.Net;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Server;
using JadeOrchard.Server.Briefs;
using JadeOrchard.Server.Clusters;
using JadeOrchard.Server.Findings;
using JadeOrchard.Server.Guide;
using JadeOrchard.Server.Imports;
using JadeOrchard.Server.Jobs;
using JadeOrchard.Server.Keywords;
using JadeOrchard.Server.Overview;
using JadeOrchard.Server.PageMap;
using JadeOrchard.Server.Performance;
using JadeOrchard.Server.Plan;
using JadeOrchard.Server.Projects;
using JadeOrchard.Server.Refresh;
using JadeOrchard.Server.Results;
using JadeOrchard.Server.Services;
using JadeOrchard.Server.Settings;
using JadeOrchard.Server.Site;
using JadeOrchard.Server.Team;
using JadeOrchard.Server.Topics;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Team;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.FileProviders;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;
var builder = WebApplication.CreateBuilder(args);

// Settings: "data" is the folder of the projects, "port" the loopback port, "load" a folder to fill the first project from, "demo" one that is offered for that,
// "services" the address of services that new projects are to use, "listen" an address beside the loopback port at which the team
// signs in and writers reach their briefs, "listen-port" the port there (two after the other), and "proxy" the proxies whose word is taken for where requests come from.
var data = Path.GetFullPath(builder.Configuration["data"] ?? "data");
// The build starts the program once to read its OpenAPI document; then there is no project.
var isDescribing = Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";
var listen = builder.Configuration["listen"] ?? "";
if (listen.Length > 0 && !IPAddress.TryParse(listen, out _))
{
    Console.Error.WriteLine($"“{listen}” is no address to listen at. Give one of this machine, such as 192.0.2.10, or 0.0.0.0 for all: ./run --listen ADDRESS");
    return 1;
}

var port = builder.Configuration.GetValue("port", 5180);
// Earlier versions called it the writers' port, and units name it so.
var listenPort = builder.Configuration.GetValue("listen-port", builder.Configuration.GetValue("writers-port", port + 2));
var proxies = (builder.Configuration["proxy"] ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
if (proxies.FirstOrDefault(p => Proxies.Of(p) is null) is { } noProxy)
{
    Console.Error.WriteLine($"“{noProxy}” is no address of a proxy. Give one, or a network, or several with commas between: ./run --proxy 192.0.2.1,198.51.100.0/24");
    return 1;
}

builder.WebHost.ConfigureKestrel(kestrel =>
{
    kestrel.ListenLocalhost(port);
    if (listen.Length > 0)
        kestrel.Listen(IPAddress.Parse(listen), listenPort, Listener.ForTeam);
    kestrel.AddServerHeader = false;
});
// Beside what goes wrong, nothing of the requests is logged unless the settings ask for it.
builder.Logging.AddFilter((provider, category, level) => level >= (category?.StartsWith("Microsoft.", StringComparison.Ordinal) == true ? LogLevel.Warning : LogLevel.Information));
// Keys lie in the data folder as the projects do, which only their user can look into.
builder.Logging.AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
// Why the program did not start is said once, and in a sentence.
builder.Logging.AddFilter("Microsoft.Extensions.Hosting.Internal.Host", LogLevel.None);
// In a package the front end is in the program itself; otherwise it lies beside it.
if (typeof(Program).Assembly.GetManifestResourceInfo("Microsoft.Extensions.FileProviders.Embedded.Manifest.xml") is not null)
    builder.Environment.WebRootFileProvider = new ManifestEmbeddedFileProvider(typeof(Program).Assembly, "wwwroot");
builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(new Listener(listen.Length == 0));
builder.Services.AddSingleton(new DemoFolder(builder.Configuration["demo"] is { Length: > 0 } demo ? Path.GetFullPath(demo) : null));
builder.Services.AddSingleton(ServiceTiming.Default);
builder.Services.AddSingleton<ProjectList>();
SignIn.Add(builder.Services, data, isDescribing);
if (!isDescribing)
{
    try
    {
        var folder = DataFolder.Open(data);
        builder.Services.AddSingleton(_ => folder);
        SignIn.MakeKeys(data);
        builder.Services.AddHostedService(services => services.GetRequiredService<ProjectList>());
    }
    catch (StartException e)
    {
        Console.Error.WriteLine(e.Message);
        return 1;
    }
}

OpenProject.Describe(builder.Services);
builder.Services.AddProblemDetails();
builder.Services.AddOpenApi(options =>
{
    options.CreateSchemaReferenceId = IdSchemas.NameOf;
    options.AddSchemaTransformer(IdSchemas.Describe);
    options.AddOperationTransformer(IdSchemas.Describe);
    options.AddSchemaTransformer(ComputedMembers.Describe);
});
builder.Services.Configure<RouteHandlerOptions>(options => options.ThrowOnBadRequest = true);
builder.Services.ConfigureHttpJsonOptions(options =>
{
    options.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
    options.SerializerOptions.Strict();
    // What is spelt wrong would be left out, and removing all keywords is not what was asked for.
    options.SerializerOptions.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
    options.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false));
});

var enumerations = new HashSet<string>(["Kind", "Mark", "Intent", "Verdict", "State", "Capture", "Progress", "SourceKind", "Rule", "By", "Sign", "StepStatus", "Trend", "Group", "Move", "PageType"], StringComparer.OrdinalIgnoreCase);
var app = builder.Build();
// So that it is closed with the program.
_ = app.Services.GetService<DataFolder>();
app.UseExceptionHandler(new ExceptionHandlerOptions
{
    SuppressDiagnosticsCallback = context => context.Exception is BadHttpRequestException or RefusedException,
    ExceptionHandler = async context =>
    {
        var error = context.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>()?.Error;
        var problem = error is RefusedException refused ? refused.Problem
            : error is BadHttpRequestException bad ? BadRequests.Says(bad)
            : error is DatabaseBusyException
            ? Problems.Problem(StatusCodes.Status503ServiceUnavailable, "busy", "Busy", error.Message)
            : error is not null && DatabaseFault.Says(error) is { } fault
            ? Problems.Problem(StatusCodes.Status507InsufficientStorage, "storage", "The project file cannot be used", $"{fault} Nothing was changed.")
            : Problems.Problem(StatusCodes.Status500InternalServerError, "internal", "Something went wrong", "Something went wrong inside Jade Orchard; nothing was changed. The log of the server tells more.");
        await problem.ExecuteAsync(context);
    },
});
app.UseWhen(Listener.IsTeams, teams => teams.UseForwardedHeaders(Proxies.Options(proxies)));
app.Use(ProjectPaths.Split);
app.UseStatusCodePages(async pages => await BadRequests.Says(pages.HttpContext.Response.StatusCode).ExecuteAsync(pages.HttpContext));
app.Use(async (context, next) =>
{
    context.Response.Headers.XContentTypeOptions = "nosniff";
    context.Response.Headers["Referrer-Policy"] = "no-referrer";
    context.Response.Headers.ContentSecurityPolicy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
    // Another site cannot even tell whether Jade Orchard runs, by loading a picture of it.
    context.Response.Headers["Cross-Origin-Resource-Policy"] = "same-origin";
    if (context.Request.Path.StartsWithSegments("/api"))
        context.Response.Headers.CacheControl = "no-store";
    // A page of another site that is open in the same browser must not reach the project.
    var host = context.Request.Host.Host;
    var isOurs = Listener.Knows(Listener.IsTeams(context), context.Connection.LocalIpAddress, host);
    var isFromElsewhere = context.Request.Headers["Sec-Fetch-Site"].ToString() is "cross-site" or "same-site"
        && (context.Request.Path.StartsWithSegments("/api") || context.Request.Headers["Sec-Fetch-Mode"] != "navigate");
    // Not every browser says where a request comes from, but with one that changes something it names its origin.
    var isOfForeignOrigin = !HttpMethods.IsGet(context.Request.Method) && !HttpMethods.IsHead(context.Request.Method)
        && context.Request.Headers.Origin is { Count: > 0 } origin && origin != $"{context.Request.Scheme}://{context.Request.Host}";
    if (!isOurs || isFromElsewhere || isOfForeignOrigin)
    {
        await Problems.Problem(StatusCodes.Status403Forbidden, "foreign", "Not allowed", isOurs && isOfForeignOrigin && Proxies.IsUnbelieved(context)
            ? "The proxy that passed this on is not known here, so that it is not believed that the page came over HTTPS. Name it with --proxy ADDRESS."
            : "Jade Orchard answers only its own pages, at localhost.").ExecuteAsync(context);
        return;
    }

    await next();
});
app.Use((context, next) =>
{
    // Enumerations are written in query strings as in JSON, in camel case; the binder knows only their C# names.
    if (context.Request.Query.Keys.Any(enumerations.Contains))
    {
        // As a number, or several at once, it would be taken for a value that there is not.
        if (context.Request.Query.FirstOrDefault(q => enumerations.Contains(q.Key) && q.Value.Any(v => v is { Length: > 0 } && !v.All(char.IsAsciiLetter))) is { Key: { } key, Value: var given })
            throw new RefusedException(BadRequests.NoValue(key, given.ToString()));
        context.Request.QueryString = QueryString.Create(context.Request.Query.SelectMany(q => q.Value.Select(v => KeyValuePair.Create(
            q.Key, enumerations.Contains(q.Key) && v is { Length: > 0 } ? char.ToUpperInvariant(v[0]) + v[1..] : v))));
    }

    return next(context);
});
app.UseRouting();
if (!isDescribing)
{
    app.Use(TeamGate.Check);
    app.Use(ProjectPaths.Enter);
}

app.Use(ChangedHeaders.Add);
app.UseDefaultFiles();
app.UseStaticFiles();
app.MapOpenApi("/api/openapi.json");

var api = app.MapGroup("/api").ProducesProblem(StatusCodes.Status400BadRequest);
api.MapSession();
api.MapTeam();
api.MapMyBriefs();
api.MapProjects();
api.MapOverview();
api.MapPlaces();
api.MapWords();
api.MapGuide();
api.MapSettings();
api.MapSite();
api.MapScans();
api.MapKeywords();
api.MapLists();
api.MapComparison();
api.MapResults();
api.MapClusters();
api.MapClusterEdits();
api.MapTopics();
api.MapPageMap();
api.MapBriefs();
api.MapChecks();
api.MapDrafting();
api.MapWriterLinks();
api.MapWhich();
api.MapFindings();
api.MapConflicts();
api.MapSummary();
api.MapPerformance();
api.MapPlan();
api.MapRefresh();
api.MapChanges();
api.MapRanks();
api.MapDrift();
api.MapImports();
api.MapJobs();
app.MapWriterPages();
app.MapMyBriefPages();
app.MapGuidePages();
// Not below /api, where a wrong method or content type would otherwise be told as nothing being there.
app.MapFallbackToFile("{*path:nonfile:regex(^(?!api(/|$)))}", "index.html");

if (!isDescribing)
{
    var first = await app.Services.GetRequiredService<ProjectList>().Begin(builder.Configuration["load"] is { Length: > 0 } ? "fenwater" : "project");
    if (first is not null && builder.Configuration["load"] is { Length: > 0 } files && Demo.Load(files, first.Services) && builder.Configuration["services"] is { Length: > 0 } services)
        app.Lifetime.ApplicationStarted.Register(() => _ = Demo.ReadSite(services, first.Services.GetRequiredService<JobRunner>(), app.Lifetime.ApplicationStopping));
}

app.Lifetime.ApplicationStarted.Register(() =>
{
    // There is no address while the OpenAPI document is being made.
    var addresses = app.Services.GetService<IServer>()?.Features.Get<IServerAddressesFeature>()?.Addresses ?? [];
    foreach (var address in addresses)
        Console.WriteLine($"Jade Orchard is at {address}");
    if (addresses.Count > 0)
    {
        app.Services.GetRequiredService<DataFolder>().Publish(addresses.First());
        if (listen.Length > 0 && app.Services.GetRequiredService<TeamStore>().Users().Count == 0)
            Console.WriteLine($"Nobody can sign in yet. Add the first planner: ./jade user add NAME --role planner --data {data}");
        Task.Run(() => app.Services.GetRequiredService<ProjectList>().Listening(app.Lifetime.ApplicationStopping));
    }
});
try
{
    await app.RunAsync();
    return 0;
}
catch (IOException e) when (e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException)
{
    Console.Error.WriteLine($"Port {port} is in use by another program. Start with another one: ./run --port NUMBER");
    return 1;
}

/// <summary>The application, named so that tests can start it.</summary>
public partial class Program;
