using System.Diagnostics;
using System.Globalization;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace JadeOrchard.StandIns;

/// <summary>The simulated outside world: makes the demo's files, or answers as services and sites.</summary>
public static class StandIn
{
    private const string Usage =
        """
        usage: JadeOrchard.StandIns generate SCENARIO.json FOLDER [--seed NUMBER] [--performance]
               JadeOrchard.StandIns serve --scenario SCENARIO.json [--port NUMBER] [--folder FOLDER] [--key KEY] [--while PID]
        """;

    public static int Main(string[] args)
    {
        CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
        if (args is ["generate", var scenarioPath, var folder, .. var rest] && rest is [] or ["--seed", _] or ["--performance"] or ["--seed", _, "--performance"])
        {
            int? seed = rest is [_, var number, ..] ? int.Parse(number, CultureInfo.InvariantCulture) : null;
            var scenario = Scenario.Read(scenarioPath);
            using var world = new World(scenario, seed);
            DemoFiles.Write(world, folder, withPerformance: rest is [.., "--performance"]);
            return 0;
        }

        // The build starts the program once, without a world, to read its OpenAPI document.
        if (args is ["serve", ..] || Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider")
        {
            var app = Build(args is ["serve", .. var options] ? options : args);
            app.Run();
            return 0;
        }

        Console.Error.WriteLine(Usage);
        return 2;
    }

    /// <summary>The server, on loopback only.</summary>
    /// <param name="args">scenario, port (0 for any), folder for what is kept, key that requests must bear, while: a process after which to end.</param>
    public static WebApplication Build(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            var port = builder.Configuration.GetValue("port", 5181);
            if (port == 0)
                kestrel.Listen(System.Net.IPAddress.Loopback, 0);
            else
                kestrel.ListenLocalhost(port);
            kestrel.AddServerHeader = false;
        });
        builder.Services.AddOpenApi();
        builder.Services.ConfigureHttpJsonOptions(options =>
        {
            options.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
            options.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        });
        builder.Services.AddSingleton<Misbehaviour>();
        builder.Services.AddSingleton(_ => new AnswerLog(builder.Configuration["folder"]));
        builder.Services.AddSingleton(_ => new World(Scenario.Read(builder.Configuration["scenario"] ?? throw new InvalidOperationException("--scenario is missing."))));
        builder.Services.AddSingleton<Sites>();
        builder.Services.AddSingleton<SiteChanges>();

        var app = builder.Build();
        var key = builder.Configuration["key"];
        app.Use(async (context, next) =>
        {
            var misbehaviour = context.RequestServices.GetRequiredService<Misbehaviour>();
            // Sites are known by their names; everything else is asked of the services.
            if (context.Request.Host.Host is not ("localhost" or "127.0.0.1" or "[::1]") && context.RequestServices.GetRequiredService<Sites>() is { } sites && sites.Has(context.Request.Host.Host))
            {
                if (!await misbehaviour.Meddle("sites", context))
                    await sites.Answer(context);
                return;
            }

            var service = context.Request.Path.Value?.Split('/').ElementAtOrDefault(1) ?? "";
            if (service is "search" or "suggestions" or "research" or "rankings" or "performance" or "draft")
            {
                if (key is { Length: > 0 } && context.Request.Headers["X-Api-Key"] != key)
                {
                    await TypedResults.Problem("The key in X-Api-Key is missing or wrong.", statusCode: 401).ExecuteAsync(context);
                    return;
                }

                if (service == "performance" && context.Request.Headers["X-Api-Key"] == PerformancePlants.DeniedKey)
                {
                    await Misbehaviour.Refuse(context);
                    return;
                }

                if (await misbehaviour.Meddle(service, context))
                    return;
            }

            await next(context);
        });
        app.MapOpenApi("/openapi.json");
        app.MapServices();
        if (builder.Configuration.GetValue<int?>("while") is { } pid)
            EndWith(pid, app.Lifetime);
        app.Lifetime.ApplicationStarted.Register(() =>
        {
            // What takes long is done before anybody asks.
            _ = Task.Run(() => app.Services.GetRequiredService<World>().RankingsOf("").Any());
        });
        return app;
    }

    /// <summary>Ends the server when the process that it was started for has ended, however that ended.</summary>
    private static void EndWith(int pid, IHostApplicationLifetime lifetime) => _ = Task.Run(async () =>
    {
        while (IsAlive(pid))
            await Task.Delay(500);
        lifetime.StopApplication();
    });

    private static bool IsAlive(int pid)
    {
        try
        {
            using var process = Process.GetProcessById(pid);
            return !process.HasExited;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }
}
