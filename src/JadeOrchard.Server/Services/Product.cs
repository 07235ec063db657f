using System.Net.Http.Headers;

namespace JadeOrchard.Server.Services;

/// <summary>What this program calls itself where it asks others.</summary>
public static class Product
{
    public const string Name = "JadeOrchard";

    /// <summary>Three numbers: "0.4.0".</summary>
    public static string Version { get; } = typeof(Product).Assembly.GetName().Version!.ToString(3);

    /// <summary>For the header User-Agent (RFC 9110, 10.1.5).</summary>
    public static ProductInfoHeaderValue UserAgent { get; } = new(Name, Version);
}
