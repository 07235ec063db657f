using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text;
using JadeOrchard.Core.Plan;
using JadeOrchard.Formats.Plan;
using JadeOrchard.Formats.Tables;

namespace JadeOrchard.Formats.Tests.Plan;

/// <summary>Rules of redirects, run by the web servers that they are for (Debian's apache2 and nginx), on loopback.</summary>
[System.Runtime.Versioning.SupportedOSPlatform("linux")]
public sealed class RedirectFileTests : IDisposable
{
    /// <summary>What is asked for, and the status and address that must be answered.</summary>
    private static readonly (string Ask, int Status, string? To)[] Expected =
    [
        ("/old-suits", 301, "https://fenwater.example/suits"), ("/old-suits?utm_source=x", 301, "https://fenwater.example/suits?utm_source=x"), ("/old-suits/more", 404, null), ("/OLD-suits", 404, null),
        ("/shop?id=7", 302, "https://fenwater.example/seven"), ("/shop?id=8", 308, "https://fenwater.example/eight?from=shop"), ("/shop?id=77", 301, "https://fenwater.example/shop-front?id=77"), ("/shop", 301, "https://fenwater.example/shop-front"),
        ("/gone", 410, null), ("/caf%C3%A9", 301, "https://fenwater.example/coffee%20and%20cake"), ("/a+b(c)[d]$", 307, "https://fenwater.example/100%25$x"), ("/quote%22s", 301, "https://fenwater.example/%22"),
        ("/part", 301, "https://fenwater.example/page#part"), ("/elsewhere", 404, null),
    ];

    private static readonly Redirect[] Given =
    [
        new("/old-suits", "https://fenwater.example/suits", 301), new("/shop", "https://fenwater.example/shop-front", 301), new("/shop?id=7", "https://fenwater.example/seven", 302),
        new("/shop?id=8", "https://fenwater.example/eight?from=shop", 308), new("/gone", "", 410), new("/café", "https://fenwater.example/coffee and cake", 301), new("/a+b(c)[d]$", "https://fenwater.example/100%25$x", 307),
        new("/quote\"s", "https://fenwater.example/\"", 301), new("/part", "https://fenwater.example/page#part", 301), new("https://other.example/elsewhere", "https://fenwater.example/", 301),
    ];

    private readonly string _folder = Directory.CreateTempSubdirectory("jade-redirects-").FullName;
    private Process? _server;

    public void Dispose()
    {
        if (_server is { HasExited: false })
        {
            _server.Kill(entireProcessTree: true);
            _server.WaitForExit(5_000);
        }

        _server?.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    [Fact]
    public async Task ApacheAnswersAsTheTableSays()
    {
        var port = FreePort();
        Write("rules.conf", RedirectFormat.Apache);
        Directory.CreateDirectory(Path.Combine(_folder, "site"));
        File.SetUnixFileMode(_folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute | UnixFileMode.OtherRead | UnixFileMode.OtherExecute | UnixFileMode.GroupRead | UnixFileMode.GroupExecute);
        File.WriteAllText(Path.Combine(_folder, "apache.conf"), $"""
            ServerRoot "{_folder}"
            ServerName fenwater.example
            Listen 127.0.0.1:{port}
            PidFile {_folder}/pid
            ErrorLog {_folder}/error.log
            {(Environment.UserName == "root" ? "User www-data\nGroup www-data" : "")}
            LoadModule mpm_event_module /usr/lib/apache2/modules/mod_mpm_event.so
            LoadModule authz_core_module /usr/lib/apache2/modules/mod_authz_core.so
            LoadModule rewrite_module /usr/lib/apache2/modules/mod_rewrite.so
            DocumentRoot "{_folder}/site"
            <VirtualHost *:{port}>
            Include {_folder}/rules.conf
            </VirtualHost>
            """);
        await AnswersAsExpected(port, "/usr/sbin/apache2", "-f", $"{_folder}/apache.conf", "-DFOREGROUND");
    }

    [Fact]
    public async Task NginxAnswersAsTheTableSays()
    {
        var port = FreePort();
        Write("rules.conf", RedirectFormat.Nginx);
        Directory.CreateDirectory(Path.Combine(_folder, "site"));
        File.WriteAllText(Path.Combine(_folder, "nginx.conf"), $$"""
            daemon off;
            master_process off;
            pid {{_folder}}/pid;
            error_log {{_folder}}/error.log;
            events { }
            http {
              access_log off;
              client_body_temp_path {{_folder}}/t1; proxy_temp_path {{_folder}}/t2; fastcgi_temp_path {{_folder}}/t3; uwsgi_temp_path {{_folder}}/t4; scgi_temp_path {{_folder}}/t5;
              server {
                listen 127.0.0.1:{{port}};
                root {{_folder}}/site;
                include {{_folder}}/rules.conf;
              }
            }
            """);
        await AnswersAsExpected(port, "/usr/sbin/nginx", "-p", _folder, "-c", $"{_folder}/nginx.conf");
    }

    [Theory]
    [InlineData("from,to\n/a,/b\n/b,https://x.example/a\n", "/a /b")]
    [InlineData("from,to\nhttps://www.x.example/a,http://X.example/a\n", "https://www.x.example/a")]
    public void LoopsAreFoundAcrossPathsAndAddresses(string csv, string loop) =>
        Assert.Equal(loop, string.Join(' ', RedirectFile.Resolve(RedirectFile.Read(Csv(csv))).Loops.Single()));

    [Theory]
    [InlineData("to,status\n/a,301\n", "columns from and to")]
    [InlineData("from,to,status\n/a,/b,200\n", "line 2: '200' is not the status of a redirect")]
    [InlineData("from,to\nfoo,/b\n", "line 2: 'foo' is neither")]
    [InlineData("from,to\n/a,//evil.example\n", "line 2: '//evil.example' is neither")]
    [InlineData("from,to\n/a,javascript:alert(1)\n", "is neither")]
    [InlineData("from,to\n/a,/b\n/a,/c\n", "line 3: '/a' is there twice, first in line 2")]
    [InlineData("from,to,status\n/a,/b,410\n", "leads nowhere")]
    public void WhatIsWrongIsSaidWithItsLine(string csv, string says) =>
        Assert.Contains(says, Assert.Throws<TableFormatException>(() => RedirectFile.Read(Csv(csv))).Message, StringComparison.Ordinal);

    private string Csv(string text)
    {
        var path = Path.Combine(_folder, "redirects.csv");
        File.WriteAllText(path, text);
        return path;
    }

    private void Write(string name, RedirectFormat format)
    {
        using var stream = File.Create(Path.Combine(_folder, name));
        RedirectFile.Write(stream, Given, format);
    }

    private async Task AnswersAsExpected(int port, string program, params string[] arguments)
    {
        _server = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardError = true, RedirectStandardOutput = true })!;
        using var client = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri($"http://127.0.0.1:{port}") };
        for (var i = 0; i < 100 && !_server.HasExited; i++)
        {
            try
            {
                using var up = await client.GetAsync(new Uri("/", UriKind.Relative));
                break;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(50);
            }
        }

        Assert.False(_server.HasExited, _server.HasExited ? await _server.StandardError.ReadToEndAsync() : "");
        var found = new List<(string, int, string?)>();
        foreach (var (ask, _, _) in Expected)
        {
            var (status, to) = await Ask(port, ask);
            found.Add((ask, status, to));
        }

        // nginx has no way to say a dollar sign but its percent-encoding.
        Assert.Equal(Expected.Select(e => (e.Ask, e.Status, program.EndsWith("nginx", StringComparison.Ordinal) ? e.To?.Replace("$", "%24", StringComparison.Ordinal) : e.To)), found);
    }

    /// <summary>Asks as it is written; an HTTP client would escape some of it.</summary>
    private static async Task<(int Status, string? Location)> Ask(int port, string target)
    {
        using var client = new TcpClient();
        await client.ConnectAsync(IPAddress.Loopback, port);
        await using var stream = client.GetStream();
        await stream.WriteAsync(Encoding.ASCII.GetBytes($"GET {target} HTTP/1.1\r\nHost: fenwater.example\r\nConnection: close\r\n\r\n"));
        using var reader = new StreamReader(stream, Encoding.Latin1);
        var lines = (await reader.ReadToEndAsync()).Split("\r\n");
        return (int.Parse(lines[0].Split(' ')[1], System.Globalization.CultureInfo.InvariantCulture), lines.FirstOrDefault(l => l.StartsWith("Location: ", StringComparison.OrdinalIgnoreCase))?["Location: ".Length..]);
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
