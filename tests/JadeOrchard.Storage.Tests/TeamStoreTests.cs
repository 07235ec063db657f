using CsCheck;
using JadeOrchard.Core;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Storage.Tests;

/// <summary>Those who can sign in, on a real file.</summary>
public sealed class TeamStoreTests : IDisposable
{
    private const string Password = "four words and some";

    private readonly string _folder = Directory.CreateTempSubdirectory("jade-team-").FullName;
    private readonly Clock _clock = new();
    private readonly TeamStore _team;

    public TeamStoreTests() => _team = new TeamStore(_folder, _clock);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void WithoutAFileThereIsNobody()
    {
        Assert.Empty(_team.Users());
        Assert.Null(_team.Verify("Ada", Password));
        Assert.Null(_team.OfSession("00"));
        Assert.False(_team.Remove(new UserId(1)));
        _team.End("00");
        Assert.False(File.Exists(_team.File));
    }

    [Fact]
    public void AUserSignsInWithNameAndPassword()
    {
        var ada = _team.Add("  Ada Lind ", Role.Planner, Password);
        Assert.Equal(("Ada Lind", Role.Planner, "2026-11-30T09:00:00Z", null), (ada.Name, ada.Role, ada.AddedAt, ada.SignedInAt));
        Assert.Equal(ada, _team.Verify("ada lind", Password));
        Assert.Null(_team.Verify("Ada Lind", Password + " "));
        Assert.Null(_team.Verify("Ada", Password));
        _clock.Now += TimeSpan.FromHours(1);
        var token = _team.Begin(ada.Id);
        Assert.Equal("2026-11-30T10:00:00Z", _team.OfSession(token)!.SignedInAt);
        Assert.Equal(64, token.Length);
        Assert.NotEqual(token, _team.Begin(ada.Id));
    }

    /// <summary>Neither passwords nor what browsers hold can be read from the file, which only its user can read.</summary>
    [Fact]
    public void TheFileGivesNothingAway()
    {
        var ada = _team.Add("Ada", Role.Planner, Password);
        var token = _team.Begin(ada.Id);
        var text = System.Text.Encoding.Latin1.GetString(File.ReadAllBytes(_team.File));
        Assert.DoesNotContain(Password, text, StringComparison.Ordinal);
        Assert.DoesNotContain(token, text, StringComparison.Ordinal);
        Assert.Contains("Ada", text, StringComparison.Ordinal);
        if (!OperatingSystem.IsWindows())
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(_team.File));
        // The same password is stored differently each time: it is salted.
        _team.Add("Bo", Role.Reader, Password);
        Assert.Equal(2, Hashes().Distinct().Count());
    }

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("a\nb")]
    [InlineData("a\u0000b")]
    [InlineData("Ada\u202eadA")]
    [InlineData("0123456789012345678901234567890123456789012345678901234567890")]
    public void WhatIsNoNameIsRefused(string name) => Assert.Equal("name", Assert.Throws<TeamException>(() => _team.Add(name, Role.Reader, Password)).Field);

    /// <summary>Half a surrogate pair is no text; the attribute of a theory could not hold it.</summary>
    [Fact]
    public void HalfACharacterIsNoName() => Assert.Equal("name", Assert.Throws<TeamException>(() => _team.Add("\ud800", Role.Reader, Password)).Field);

    /// <summary>Names that look the same are the same: case, width and composed letters do not tell two people apart (Unicode Standard Annex 15).</summary>
    [Theory]
    [InlineData("Åsa", "åSA")]
    [InlineData("Åsa", "A\u030asa")]
    [InlineData("Ada", "Ａｄａ")]
    [InlineData("ﬁn", "fin")]
    public void NamesThatLookTheSameAreTheSame(string name, string like)
    {
        var user = _team.Add(name, Role.Reader, Password);
        Assert.Contains("already", Assert.Throws<TeamException>(() => _team.Add(like, Role.Reader, Password)).Message, StringComparison.Ordinal);
        Assert.Equal(user, _team.Verify(like, Password));
        Assert.Equal(user, _team.Named(like));
    }

    [Theory]
    [InlineData("short")]
    [InlineData("elevenchars")]
    [InlineData("")]
    [InlineData(" Ada of the lake ")]
    public void APasswordIsLongEnoughAndNotTheName(string password) =>
        Assert.Equal("password", Assert.Throws<TeamException>(() => _team.Add("Ada of the Lake", Role.Reader, password)).Field);

    [Fact]
    public void PasswordsOfAnyLettersWork() => Gen.String[Gen.Char['\u0020', '\ud7ff'], 12, 40].Sample(password =>
    {
        using var tests = new TeamStoreTests();
        if (password.Trim() == "Ada")
            return;
        tests._team.Add("Ada", Role.Planner, password);
        Assert.NotNull(tests._team.Verify("Ada", password));
        Assert.Null(tests._team.Verify("Ada", password + "x"));
    }, iter: 4, threads: 1);

    /// <summary>Whatever is asked as a name or password by whoever has not signed in, nobody is found and nothing fails.</summary>
    [Theory]
    [InlineData("' or 1=1 --")]
    [InlineData("\0")]
    public void StrangeNamesFindNobody(string name)
    {
        _team.Add("Ada", Role.Planner, Password);
        Assert.Null(_team.Verify(name, Password));
        Assert.Null(_team.Verify("Ada", new string('x', 1_000_000)));
    }

    [Fact]
    public void ASessionEndsWhenItIsEndedAndWhenItIsOld()
    {
        var ada = _team.Add("Ada", Role.Planner, Password);
        var (first, second) = (_team.Begin(ada.Id), _team.Begin(ada.Id));
        _team.End(first);
        Assert.Null(_team.OfSession(first));
        Assert.Equal("Ada", _team.OfSession(second)!.Name);
        _clock.Now += TimeSpan.FromDays(31);
        Assert.Null(_team.OfSession(second));
        _team.Begin(ada.Id);
        Assert.Equal(1, Count("session"));
    }

    [Fact]
    public void ChangesOfAUserEndTheirSessionsAndNobodyElses()
    {
        var (ada, bo) = (_team.Add("Ada", Role.Planner, Password), _team.Add("Bo", Role.Reader, Password));
        var (adas, bos) = (_team.Begin(ada.Id), _team.Begin(bo.Id));
        Assert.True(_team.SetRole(bo.Id, Role.Writer));
        Assert.Null(_team.OfSession(bos));
        Assert.Equal(Role.Writer, _team.OfSession(_team.Begin(bo.Id))!.Role);
        bos = _team.Begin(bo.Id);
        Assert.True(_team.SetPassword(bo.Id, "another four words"));
        Assert.Null(_team.OfSession(bos));
        Assert.NotNull(_team.Verify("Bo", "another four words"));
        bos = _team.Begin(bo.Id);
        Assert.True(_team.Remove(bo.Id));
        Assert.Null(_team.OfSession(bos));
        Assert.NotNull(_team.OfSession(adas));
        // A new user of the name is somebody else, and no session of before is theirs.
        Assert.NotEqual(bo.Id, _team.Add("Bo", Role.Planner, Password).Id);
        Assert.Null(_team.OfSession(bos));
        foreach (var id in new[] { bo.Id, new UserId(99) })
        {
            Assert.False(_team.SetRole(id, Role.Reader));
            Assert.False(_team.SetPassword(id, Password));
            Assert.False(_team.Remove(id));
        }
    }

    [Fact]
    public void OnePlannerIsAlwaysLeft()
    {
        var (ada, bo) = (_team.Add("Ada", Role.Planner, Password), _team.Add("Bo", Role.Planner, Password));
        Assert.True(_team.SetRole(ada.Id, Role.Reader));
        Assert.Null(Assert.Throws<TeamException>(() => _team.SetRole(bo.Id, Role.Writer)).Field);
        Assert.Throws<TeamException>(() => _team.Remove(bo.Id));
        Assert.True(_team.SetRole(bo.Id, Role.Planner));
        Assert.True(_team.Remove(ada.Id));
    }

    /// <summary>Two at once do not take each other's being a planner away.</summary>
    [Fact]
    public async Task OnePlannerIsLeftWhoeverIsQuicker()
    {
        var planners = Enumerable.Range(0, 4).Select(i => _team.Add($"Planner {i}", Role.Planner, Password).Id).ToList();
        var kept = await Task.WhenAll(planners.Select(id => Task.Run(() =>
        {
            try
            {
                return !new TeamStore(_folder, _clock).Remove(id);
            }
            catch (TeamException)
            {
                return true;
            }
        })));
        Assert.Single(kept, k => k);
        Assert.Single(_team.Users());
    }

    private IEnumerable<string> Hashes()
    {
        using var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={_team.File};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "select password_hash from user";
        using var reader = command.ExecuteReader();
        var hashes = new List<string>();
        while (reader.Read())
            hashes.Add(reader.GetString(0));
        return hashes;
    }

    private long Count(string table)
    {
        using var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={_team.File};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // From the tests alone.
        command.CommandText = $"select count(*) from {table}";
#pragma warning restore CA2100
        return (long)command.ExecuteScalar()!;
    }

    private sealed class Clock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 11, 30, 9, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }
}
