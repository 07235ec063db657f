using System.Security.Claims;
using JadeOrchard.Server.Projects;
using JadeOrchard.Storage.Team;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.DataProtection;

namespace JadeOrchard.Server.Team;

/// <summary>Sessions of those who have signed in: a cookie that names a session of the team's file, and a token against forged requests.</summary>
public static class SignIn
{
    /// <summary>The header of the token, see <see cref="TokenFor"/>.</summary>
    public const string TokenHeader = "Jade-Token";

    /// <summary>The field of the token in a form.</summary>
    public const string TokenField = "token";

    private const string Scheme = "session";
    private const string Session = "session";

    /// <summary>A session ends where it is not used for so long.</summary>
    private static readonly TimeSpan Idle = TimeSpan.FromDays(7);

    /// <summary>Adds what signing in takes; its keys lie in the data folder, so that sessions survive a restart.</summary>
    /// <param name="services">Of the program.</param>
    /// <param name="data">The data folder.</param>
    /// <param name="isDescribing">The program is only described, and writes nothing.</param>
    public static void Add(IServiceCollection services, string data, bool isDescribing)
    {
        var keys = services.AddDataProtection().SetApplicationName(Services.Product.Name);
        if (isDescribing)
            keys.UseEphemeralDataProtectionProvider();
        else
            keys.PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(data, "keys")));
        services.AddSingleton(provider => new TeamStore(data, provider.GetRequiredService<TimeProvider>()));
        services.AddSingleton<SignInThrottle>();
        services.AddAuthentication(Scheme).AddCookie(Scheme, options =>
        {
            options.Cookie.Name = "jade-session";
            options.Cookie.HttpOnly = true;
            options.Cookie.SecurePolicy = CookieSecurePolicy.Always;
            options.Cookie.SameSite = SameSiteMode.Lax;
            options.Cookie.Path = "/";
            options.ExpireTimeSpan = Idle;
            options.SlidingExpiration = true;
            options.Events.OnValidatePrincipal = context =>
            {
                if (UserOf(context.HttpContext, context.Principal) is null)
                    context.RejectPrincipal();
                return Task.CompletedTask;
            };
        });
        services.AddAntiforgery(options =>
        {
            options.HeaderName = TokenHeader;
            options.FormFieldName = TokenField;
            options.Cookie.Name = "jade-token";
            options.Cookie.HttpOnly = true;
            // It is worth nothing without the session, and on this machine itself there may be no TLS.
            options.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            options.Cookie.SameSite = SameSiteMode.Strict;
            options.Cookie.Path = "/";
            // The program sets a stricter policy of its own for each page.
            options.SuppressXFrameOptionsHeader = true;
        });
    }

    /// <summary>Makes the folder of the keys one that only its user can look into.</summary>
    public static void MakeKeys(string data) => PrivateFiles.MakeFolder(Path.Combine(data, "keys"));

    /// <summary>Reads who sends a request. Only where the team signs in does a session count.</summary>
    public static async Task<User?> Read(HttpContext context)
    {
        var found = await context.AuthenticateAsync(Scheme);
        if (!found.Succeeded)
            return null;
        context.User = found.Principal;
        var user = UserOf(context, found.Principal);
        context.Items[typeof(User)] = user;
        return user;
    }

    /// <returns>Who sends the request; null where nobody has to sign in.</returns>
    public static User? User(this HttpContext context) => context.Items[typeof(User)] as User;

    /// <returns>Whether whoever has signed in still is; true where nobody has to.</returns>
    public static bool IsStillSignedIn(this HttpContext context) => context.User() is null || UserOf(context, context.User) is not null;

    /// <summary>Begins a session, and gives its cookie to the browser.</summary>
    public static async Task Begin(HttpContext context, User user)
    {
        var identity = new ClaimsIdentity(
            [new Claim(ClaimTypes.NameIdentifier, user.Id.ToString()), new Claim(ClaimTypes.Name, user.Name), new Claim(Session, TeamOf(context).Begin(user.Id))], Scheme);
        context.User = new ClaimsPrincipal(identity);
        context.Items[typeof(User)] = user;
        await context.SignInAsync(Scheme, context.User);
    }

    /// <summary>Ends the session, here and for whoever else has its cookie.</summary>
    public static async Task End(HttpContext context)
    {
        if (context.User.FindFirstValue(Session) is { } token)
            TeamOf(context).End(token);
        await context.SignOutAsync(Scheme);
    }

    /// <returns>What has to be sent with each change, so that no page of another site can make one (a synchronized token; OWASP Cross-Site Request Forgery Prevention, from memory).</returns>
    public static string TokenFor(HttpContext context) => context.RequestServices.GetRequiredService<IAntiforgery>().GetAndStoreTokens(context).RequestToken!;

    private static User? UserOf(HttpContext context, ClaimsPrincipal? principal) =>
        principal?.FindFirstValue(Session) is { } token && TeamOf(context).OfSession(token) is { } user && user.Id.ToString() == principal.FindFirstValue(ClaimTypes.NameIdentifier) ? user : null;

    private static TeamStore TeamOf(HttpContext context) => context.RequestServices.GetRequiredService<TeamStore>();
}
