using JadeOrchard.Storage.Team;

namespace JadeOrchard.Cli.Tests;

/// <summary>Users on the command line: the first one is added here.</summary>
public sealed class UserCommandTests : IDisposable
{
    private readonly Jade _jade = new();

    public void Dispose() => _jade.Dispose();

    private TeamStore Team => new(_jade.Folder, TimeProvider.System);

    [Fact]
    public void TheFirstPlannerIsAddedWithAPasswordFromStandardInput()
    {
        Assert.Contains("Nobody can sign in yet", _jade.Run("user", "list", "--data", _jade.Folder).Output, StringComparison.Ordinal);
        var (status, output, error) = _jade.Given("four words and some\nmore\n", "user", "add", "Ada Lind", "--role", "planner", "--data", _jade.Folder);
        Assert.True(status == 0, error);
        Assert.Equal("Ada Lind can sign in as a planner.", output.Trim());
        Assert.Equal(Role.Planner, Team.Verify("Ada Lind", "four words and some")!.Role);
        Assert.Equal("Ada Lind: planner, has never signed in", _jade.Run("user", "list", "--data", _jade.Folder).Output.Trim());
    }

    [Fact]
    public void RolesAndPasswordsChangeAndUsersGo()
    {
        Team.Add("Ada", Role.Planner, "four words and some");
        _jade.Given("four words and some", "user", "add", "Bo", "--data", _jade.Folder);
        Assert.Equal(Role.Reader, Team.Named("Bo")!.Role);
        Assert.Equal(0, _jade.Run("user", "role", "bo", "writer", "--data", _jade.Folder).Status);
        Assert.Equal(Role.Writer, Team.Named("Bo")!.Role);
        Assert.Equal(0, _jade.Given("another four words\n", "user", "password", "Bo", "--data", _jade.Folder).Status);
        Assert.NotNull(Team.Verify("Bo", "another four words"));
        Assert.Equal(0, _jade.Run("user", "remove", "Bo", "--data", _jade.Folder).Status);
        Assert.Null(Team.Named("Bo"));
    }

    [Theory]
    [InlineData("", "standard input", "user", "add", "Cy", "--role", "planner")]
    [InlineData("short", "at least 12 characters", "user", "add", "Cy")]
    [InlineData("four words and some", "already", "user", "add", "ADA")]
    [InlineData("four words and some", "planner, writer or reader", "user", "add", "Cy", "--role", "admin")]
    [InlineData("", "no user “Cy”", "user", "remove", "Cy")]
    [InlineData("", "only planner", "user", "remove", "Ada")]
    [InlineData("", "only planner", "user", "role", "Ada", "reader")]
    public void WhatCannotBeDoneIsSaidAndChangesNothing(string input, string says, params string[] arguments)
    {
        Team.Add("Ada", Role.Planner, "four words and some");
        var (status, _, error) = _jade.Given(input, [.. arguments, "--data", _jade.Folder]);
        Assert.Equal(2, status);
        Assert.Contains(says, error, StringComparison.Ordinal);
        Assert.Equal([("Ada", Role.Planner)], Team.Users().Select(u => (u.Name, u.Role)));
    }

    [Fact]
    public void AFolderThatIsNotThereIsNamed()
    {
        var (status, _, error) = _jade.Run("user", "list", "--data", _jade.Path("none"));
        Assert.Equal(2, status);
        Assert.Contains(_jade.Path("none"), error, StringComparison.Ordinal);
        Assert.Equal(2, _jade.Run("user", "list").Status);
    }
}
