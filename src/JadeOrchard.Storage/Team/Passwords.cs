using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;

namespace JadeOrchard.Storage.Team;

/// <summary>Passwords as they are stored: by the hasher of ASP.NET Core Identity, PBKDF2 with HMAC-SHA512 and a salt (RFC 8018, 5.2).</summary>
internal static class Passwords
{
    /// <summary>As many rounds as the OWASP Password Storage Cheat Sheet asks of PBKDF2 with HMAC-SHA512 (from memory).</summary>
    private const int Rounds = 210_000;

    // Short ones are guessed; what they are made of is nobody's business (NIST SP 800-63B, 5.1.1.2: no rules of composition, and 64 characters must be possible).
    private const int Shortest = 12;
    private const int Longest = 200;

    private static readonly PasswordHasher<object> Hasher = new(Options.Create(new PasswordHasherOptions { IterationCount = Rounds }));
    private static readonly object Nobody = new();

    /// <summary>Compared with where there is no such user, so that an answer takes as long as for one that there is.</summary>
    private static readonly Lazy<string> OfNobody = new(() => Hash(Guid.NewGuid().ToString()));

    /// <exception cref="TeamException">It is too short or too long, or is the name.</exception>
    public static void Check(string name, string password)
    {
        if (password.Length < Shortest)
            throw new TeamException("password", $"A password has at least {Shortest} characters. Several words with spaces between make a good one.");
        if (password.Length > Longest)
            throw new TeamException("password", $"A password has at most {Longest} characters.");
        if (string.Equals(password.Trim(), name, StringComparison.OrdinalIgnoreCase))
            throw new TeamException("password", "Choose a password that is not the name.");
    }

    public static string Hash(string password) => Hasher.HashPassword(Nobody, password);

    /// <param name="hash">As stored; null where there is no such user.</param>
    /// <param name="password">As it was written.</param>
    /// <returns>Whether it is right, and whether the hash is to be made again since it is of fewer rounds.</returns>
    public static (bool IsRight, bool IsOld) Verify(string? hash, string password)
    {
        // A text of any length could be given here, by anybody.
        if (password.Length > Longest)
            return (false, false);
        var found = Hasher.VerifyHashedPassword(Nobody, hash ?? OfNobody.Value, password);
        return (hash is not null && found != PasswordVerificationResult.Failed, found == PasswordVerificationResult.SuccessRehashNeeded);
    }
}
