using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Team;

/// <summary>Lets somebody sign in.</summary>
public sealed record NewUserRequest(string Name, Role Role, string Password);

/// <summary>What is to be changed of a user; null for what stays. Their sessions end.</summary>
public sealed record ChangeUserRequest(Role? Role = null, string? Password = null);

/// <summary>Who can sign in.</summary>
/// <param name="IsOpen">Others can reach this program, so that users can sign in.</param>
public sealed record TeamView(IReadOnlyList<User> Users, bool IsOpen);

/// <summary>Those who can sign in: added, given another role or password, removed.</summary>
public static class TeamEndpoints
{
    public static void MapTeam(this RouteGroupBuilder api)
    {
        api.MapGet("/team", (TeamStore team, Listener listener) => new TeamView(team.Users(), !listener.IsLocal)).ForPlanners().WithName("team");

        api.MapPost("/team", Results<Created<User>, ProblemHttpResult> (NewUserRequest request, TeamStore team) =>
            {
                try
                {
                    var user = team.Add(request.Name, request.Role, request.Password);
                    return TypedResults.Created($"/api/team/{user.Id}", user);
                }
                catch (TeamException e)
                {
                    return Problem(e);
                }
            })
            .WithName("addUser");

        api.MapPut("/team/{id:long}", (UserId id, ChangeUserRequest request, TeamStore team) => Answer(id, () => team.Update(id, request.Role, request.Password)))
            .WithName("changeUser");

        api.MapDelete("/team/{id:long}", (UserId id, TeamStore team) => Answer(id, () => team.Remove(id))).WithName("removeUser");
    }

    internal static ProblemHttpResult Problem(TeamException e) => e.Field is { } field ? Problems.Invalid(field, e.Message) : Problems.Conflict(e.Message);

    private static Results<NoContent, ProblemHttpResult> Answer(UserId id, Func<bool> change)
    {
        try
        {
            return change() ? TypedResults.NoContent() : Problems.NotFound($"There is no user {id}.");
        }
        catch (TeamException e)
        {
            return Problem(e);
        }
    }
}
