using System.Net;
using Microsoft.AspNetCore.Connections.Features;
using Microsoft.AspNetCore.Server.Kestrel.Core;

namespace JadeOrchard.Server.Team;

/// <summary>Where this program can be reached: on this machine, where nobody signs in, and at an address for the team, where everybody does.</summary>
/// <param name="IsLocal">From this machine only.</param>
public sealed record Listener(bool IsLocal)
{
    private const string Mark = "team";

    /// <summary>Requests that come in here are the team's, whatever address they claim to come from.</summary>
    public static void ForTeam(ListenOptions options) => options.Use(next => connection =>
    {
        connection.Items[Mark] = Mark;
        return next(connection);
    });

    /// <returns>Whether a request came in where everybody signs in.</returns>
    public static bool IsTeams(HttpContext context) => context.Features.Get<IConnectionItemsFeature>()?.Items.ContainsKey(Mark) == true;

    /// <summary>Whether a request is for us by the host that it names: on this machine only its own names are, so that no page of another site reaches a project by a name that it has led here.</summary>
    /// <param name="isTeams">It came in at the address for the team, whose names we do not know.</param>
    /// <param name="local">The address at which the request came in; null where there is no network between, as in tests.</param>
    /// <param name="host">The host that the request names.</param>
    public static bool Knows(bool isTeams, IPAddress? local, string host) =>
        isTeams || ((local is null || IPAddress.IsLoopback(local)) && host is "localhost" or "127.0.0.1" or "[::1]" or "::1");
}
