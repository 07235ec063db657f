using System.Globalization;
using System.Net;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Team;

/// <summary>Who is signed in.</summary>
/// <param name="HasSignIn">Whether one has to sign in here; not on the machine itself.</param>
/// <param name="User">Null where nobody is signed in.</param>
/// <param name="Token">To be sent with each change, in the header Jade-Token; null where nobody is signed in.</param>
public sealed record SessionView(bool HasSignIn, SessionUser? User, string? Token);

/// <summary>Somebody who is signed in.</summary>
public sealed record SessionUser(string Name, Role Role);

/// <summary>Signs in.</summary>
public sealed record SignInRequest(string Name, string Password);

/// <summary>Chooses another password.</summary>
/// <param name="Current">The one that is valid now.</param>
/// <param name="Password">The one from now on.</param>
public sealed record NewPasswordRequest(string Current, string Password);

/// <summary>Signing in and out.</summary>
public static class SessionEndpoints
{
    public static void MapSession(this RouteGroupBuilder api)
    {
        api.MapGet("/session", View).ForAnybody().WithName("session");

        api.MapPost("/session", async Task<Results<Ok<SessionView>, ProblemHttpResult>> (SignInRequest request, HttpContext context, TeamStore team, SignInThrottle throttle) =>
            {
                if (!Listener.IsTeams(context))
                    return Problems.Conflict("On this machine nobody has to sign in.");
                // The cookie would be lost on the way back, and the password could be read on the way here.
                if (!context.Request.IsHttps && context.Connection.RemoteIpAddress is { } remote && !IPAddress.IsLoopback(remote))
                    return Problems.Conflict("Signing in takes HTTPS. Reach Jade Orchard through the reverse proxy that has the certificate, and name that with --proxy ADDRESS.");
                if (Throttled(context, throttle, request.Name) is { } wait)
                    return wait;
                if (team.Verify(request.Name, request.Password) is not { } user)
                    return Problems.Problem(StatusCodes.Status401Unauthorized, "sign-in", "Not signed in", "The name or the password is wrong.");
                throttle.Succeeded(request.Name, context.Connection.RemoteIpAddress);
                await SignIn.Begin(context, user);
                return TypedResults.Ok(View(context));
            })
            .ForAnybody().WithName("signIn");

        api.MapDelete("/session", async Task<NoContent> (HttpContext context) =>
            {
                await SignIn.End(context);
                return TypedResults.NoContent();
            })
            .ForEverybody().WithName("signOut");

        api.MapPut("/session/password", async Task<Results<Ok<SessionView>, ProblemHttpResult>> (NewPasswordRequest request, HttpContext context, TeamStore team, SignInThrottle throttle) =>
            {
                if (context.User() is not { } user)
                    return Problems.Conflict("On this machine nobody has to sign in.");
                if (Throttled(context, throttle, user.Name) is { } wait)
                    return wait;
                if (team.Verify(user.Name, request.Current) is null)
                    return Problems.Invalid("current", "This is not your password.");
                throttle.Succeeded(user.Name, context.Connection.RemoteIpAddress);
                try
                {
                    team.SetPassword(user.Id, request.Password);
                }
                catch (TeamException e)
                {
                    return TeamEndpoints.Problem(e);
                }

                // All sessions have ended, this one too.
                await SignIn.Begin(context, user);
                return TypedResults.Ok(View(context));
            })
            .ForEverybody().WithName("changePassword");
    }

    private static SessionView View(HttpContext context)
    {
        var user = context.User();
        return new SessionView(Listener.IsTeams(context), user is null ? null : new SessionUser(user.Name, user.Role), user is null ? null : SignIn.TokenFor(context));
    }

    private static ProblemHttpResult? Throttled(HttpContext context, SignInThrottle throttle, string name)
    {
        if (throttle.Try(name, context.Connection.RemoteIpAddress) is not { } wait)
            return null;
        context.Response.Headers.RetryAfter = ((int)Math.Ceiling(wait.TotalSeconds)).ToString(CultureInfo.InvariantCulture);
        var minutes = (int)Math.Ceiling(wait.TotalMinutes);
        return Problems.Problem(StatusCodes.Status429TooManyRequests, "wait", "Too many tries", $"Too many wrong passwords. Try again in {minutes.ToString(CultureInfo.InvariantCulture)} minute{(minutes == 1 ? "" : "s")}.");
    }
}
