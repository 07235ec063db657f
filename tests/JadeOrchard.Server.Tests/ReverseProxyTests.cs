using System.Diagnostics;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using System.Text.RegularExpressions;
using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Tests;

/// <summary>Jade Orchard behind a real reverse proxy with TLS, set up as the guide says.</summary>
public sealed partial class ReverseProxyTests : IDisposable
{
    /// <summary>The proxy comes from an address of its own, so that whoever asks it is not taken for a proxy too.</summary>
    private const string ProxyAddress = "127.0.0.2";

    private readonly TeamApplication _app = new(ProxyAddress);
    private readonly string _folder = Directory.CreateTempSubdirectory("jade-nginx-").FullName;
    private readonly int _port = ServerProcess.FreePort();
    private Process? _nginx;

    public void Dispose()
    {
        if (_nginx is { HasExited: false })
        {
            _nginx.Kill(entireProcessTree: true);
            _nginx.WaitForExit();
        }

        _nginx?.Dispose();
        Directory.Delete(_folder, recursive: true);
        _app.Dispose();
    }

    [GeneratedRegex("```nginx\n(.*?)```", RegexOptions.Singleline)]
    private static partial Regex Block();

    /// <summary>What the guide shows for nginx, on ports of ours and with a certificate of ours.</summary>
    private async Task<HttpClient> Proxy()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=localhost", key, HashAlgorithmName.SHA256);
        using var certificate = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(1));
        var ours = certificate.GetCertHashString();
        await File.WriteAllTextAsync(Path.Combine(_folder, "cert.pem"), certificate.ExportCertificatePem());
        await File.WriteAllTextAsync(Path.Combine(_folder, "key.pem"), key.ExportPkcs8PrivateKeyPem());
        var server = Block().Match(await File.ReadAllTextAsync(SourceTree.Path("docs/guide/administrators.md"))).Groups[1].Value;
        foreach (var (told, here) in new[]
        {
            ("listen 443 ssl", $"listen 127.0.0.1:{_port} ssl"),
            ("/etc/ssl/certs/plan.example.pem", $"{_folder}/cert.pem"),
            ("/etc/ssl/private/plan.example.key", $"{_folder}/key.pem"),
            ("proxy_http_version 1.1;", $"proxy_http_version 1.1; proxy_bind {ProxyAddress};"),
            ("http://127.0.0.1:5182", _app.TeamAddress.GetLeftPart(UriPartial.Authority)),
        })
        {
            Assert.Contains(told, server, StringComparison.Ordinal);
            server = server.Replace(told, here, StringComparison.Ordinal);
        }

        await File.WriteAllTextAsync(Path.Combine(_folder, "nginx.conf"), $$"""
            daemon off;
            pid {{_folder}}/pid;
            error_log stderr;
            events {}
            http {
              access_log off;
              client_body_temp_path {{_folder}}; proxy_temp_path {{_folder}}; fastcgi_temp_path {{_folder}}; uwsgi_temp_path {{_folder}}; scgi_temp_path {{_folder}};
            {{server}}
            }
            """);
        var start = new ProcessStartInfo(File.Exists("/usr/sbin/nginx") ? "/usr/sbin/nginx" : "nginx", ["-p", _folder, "-c", Path.Combine(_folder, "nginx.conf")]) { RedirectStandardError = true };
        _nginx = Process.Start(start)!;
        var says = _nginx.StandardError.ReadToEndAsync();
        var http = new HttpClient(new SocketsHttpHandler { UseCookies = true, SslOptions = new() { RemoteCertificateValidationCallback = (_, other, _, _) => other!.GetCertHashString() == ours } })
        {
            BaseAddress = new Uri($"https://localhost:{_port}"),
        };
        for (var i = 0; i < 100; i++)
        {
            Assert.False(_nginx.HasExited, _nginx.HasExited ? await says : "");
            try
            {
                await http.GetAsync("/api/session");
                return http;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(50);
            }
        }

        throw new TimeoutException("nginx did not start.");
    }

    [Fact]
    public async Task SigningInWorksThroughTheProxyOfTheGuide()
    {
        _app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var http = await Proxy();
        Assert.Equal(401, (int)(await http.GetAsync("/api/project")).StatusCode);
        // As a browser does, with where the page comes from.
        http.DefaultRequestHeaders.Add("Origin", $"https://localhost:{_port}");
        var answer = await http.PostAsJsonAsync("/api/session", new { name = "Ada", password = TeamApplication.Password });
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        Assert.All(answer.Headers.GetValues("Set-Cookie"), c => Assert.Contains("secure", c, StringComparison.OrdinalIgnoreCase));
        http.DefaultRequestHeaders.Add("Jade-Token", Text(await answer.Content.ReadFromJsonAsync<JsonElement>(), "token"));
        // The handler keeps cookies as a browser does: secure ones come back over HTTPS alone.
        var events = await http.GetAsync("/api/jobs/events", HttpCompletionOption.ResponseHeadersRead);
        using var reader = new StreamReader(await events.Content.ReadAsStreamAsync());
        Assert.True((await http.PostAsJsonAsync("/api/keywords/paste", new { text = "kayak" })).IsSuccessStatusCode);
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        var told = "";
        while (!told.Contains("Paste a keyword", StringComparison.Ordinal))
            told += await reader.ReadLineAsync(patience.Token) ?? throw new EndOfStreamException(told);
        Assert.Contains("\"author\":\"Ada\"", told, StringComparison.Ordinal);
    }

    /// <summary>Whoever guesses is told apart by the address that the proxy saw, whatever they claim before it.</summary>
    [Fact]
    public async Task WhoGuessesThroughTheProxyHasToWaitWhateverTheyClaim()
    {
        _app.Team.Add("Ada", Role.Planner, TeamApplication.Password);
        using var http = await Proxy();
        for (var i = 0; i <= 5; i++)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/api/session") { Content = JsonContent.Create(new { name = "Ada", password = "a guess" }) };
            request.Headers.Add("X-Forwarded-For", $"203.0.113.{i}");
            Assert.Equal(i < 5 ? 401 : 429, (int)(await http.SendAsync(request)).StatusCode);
        }
    }
}
