global using static JadeOrchard.Server.Tests.Answers;
using System.Text.Json;

namespace JadeOrchard.Server.Tests;

/// <summary>What tests look for in answers.</summary>
internal static class Answers
{
    public static List<JsonElement> Rows(JsonElement list) => [.. list.GetProperty("rows").EnumerateArray()];

    public static string Text(JsonElement element, string name) => element.GetProperty(name).GetString() ?? "";

    public static long Id(JsonElement element, string property = "id") => element.GetProperty(property).GetInt64();
}
