using System.CommandLine;
using System.Globalization;
using System.Text;
using JadeOrchard.Formats.Tables;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Cli;

/// <summary>Commands on those who can sign in: the first one is added here, and whoever has forgotten a password is helped.</summary>
internal static class UserCommands
{
    public static Command Group()
    {
        var data = new Option<string>("--data") { Required = true, Description = "The data folder that Jade Orchard is started with." };
        var role = new Option<string>("--role") { DefaultValueFactory = _ => "reader", Description = "planner, writer or reader." };
        var group = new Command("user", "Those who can sign in where Jade Orchard was started with --listen. A password is asked for, or read from standard input.");
        group.Subcommands.Add(Named("list", "Who can sign in.", [data], [], p => List(TeamOf(p.GetValue(data)!))));
        var name = new Argument<string>("NAME") { Description = "By which they sign in." };
        group.Subcommands.Add(Named("add", "Lets somebody sign in.", [role, data], [name], p =>
        {
            var (team, given) = (TeamOf(p.GetValue(data)!), RoleOf(p.GetValue(role)!));
            var user = team.Add(p.GetValue(name)!, given, Password());
            return $"{user.Name} can sign in as a {Word(user.Role)}.";
        }));
        var newRole = new Argument<string>("ROLE") { Description = "planner, writer or reader." };
        group.Subcommands.Add(Named("role", "Gives somebody another role; they have to sign in again.", [data], [name, newRole], p =>
        {
            var (team, given) = (TeamOf(p.GetValue(data)!), RoleOf(p.GetValue(newRole)!));
            var user = UserOf(team, p.GetValue(name)!);
            team.SetRole(user.Id, given);
            return $"{user.Name} is a {Word(given)} now.";
        }));
        group.Subcommands.Add(Named("password", "Gives somebody another password; they have to sign in again.", [data], [name], p =>
        {
            var team = TeamOf(p.GetValue(data)!);
            var user = UserOf(team, p.GetValue(name)!);
            team.SetPassword(user.Id, Password());
            return $"{user.Name} has another password now.";
        }));
        group.Subcommands.Add(Named("remove", "Lets somebody sign in no more.", [data], [name], p =>
        {
            var team = TeamOf(p.GetValue(data)!);
            var user = UserOf(team, p.GetValue(name)!);
            team.Remove(user.Id);
            return $"{user.Name} can no longer sign in.";
        }));
        return group;
    }

    private static Command Named(string name, string description, Option[] options, Argument[] arguments, Func<ParseResult, string> run)
    {
        var command = new Command(name, description);
        foreach (var argument in arguments)
            command.Arguments.Add(argument);
        foreach (var option in options)
            command.Options.Add(option);
        command.SetAction(parsed =>
        {
            Console.WriteLine(run(parsed));
            return 0;
        });
        return command;
    }

    private static TeamStore TeamOf(string data) => Directory.Exists(data)
        ? new TeamStore(Path.GetFullPath(data), TimeProvider.System)
        : throw new TableFormatException($"There is no folder {data}. Start Jade Orchard with it once, or make it.");

    private static string List(TeamStore team)
    {
        var users = team.Users();
        return users.Count == 0 ? "Nobody can sign in yet. Add the first planner: jade user add NAME --role planner"
            : string.Join('\n', users.Select(u => $"{u.Name}: {Word(u.Role)}, {(u.SignedInAt is { } at ? $"last signed in {at[..10]}" : "has never signed in")}"));
    }

    private static User UserOf(TeamStore team, string name) => team.Named(name) ?? throw new TableFormatException($"There is no user “{name}”; see jade user list.");

    private static Role RoleOf(string text) => Enum.GetValues<Role>().Where(r => Word(r) == text).Select(r => (Role?)r).FirstOrDefault()
        ?? throw new TableFormatException($"A role is planner, writer or reader, not '{text}'.");

    private static string Word(Role role) => role.ToString().ToLower(CultureInfo.InvariantCulture);

    private static string Password()
    {
        if (Console.IsInputRedirected)
            return Console.In.ReadLine() ?? throw new TableFormatException("Give the password on the first line of standard input.");
        var password = Ask("Password: ");
        return Ask("The same again: ") == password ? password : throw new TableFormatException("The two are not the same. Nothing was changed.");
    }

    /// <summary>Reads a line that is not shown.</summary>
    private static string Ask(string prompt)
    {
        Console.Error.Write(prompt);
        var line = new StringBuilder();
        for (var key = Console.ReadKey(intercept: true); key.Key != ConsoleKey.Enter; key = Console.ReadKey(intercept: true))
        {
            if (key.Key == ConsoleKey.Backspace)
                line.Length = Math.Max(0, line.Length - 1);
            else if (!char.IsControl(key.KeyChar))
                line.Append(key.KeyChar);
        }

        Console.Error.WriteLine();
        return line.ToString();
    }
}
