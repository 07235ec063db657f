using System.Collections;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace JadeOrchard.Server;

/// <summary>How JSON from outside is read: what its description does not allow is an error, and does not become null or half a text further in.</summary>
public static class StrictJson
{
    /// <returns>The options, changed.</returns>
    public static JsonSerializerOptions Strict(this JsonSerializerOptions options)
    {
        options.RespectNullableAnnotations = true;
        options.RespectRequiredConstructorParameters = true;
        options.TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { RefuseWhatAnnotationsDoNotTell } };
        return options;
    }

    private static void RefuseWhatAnnotationsDoNotTell(JsonTypeInfo type)
    {
        switch (type.Kind)
        {
            case JsonTypeInfoKind.Object:
                var texts = type.Properties.Where(p => p.PropertyType == typeof(string) && p.Get is not null).Select(p => p.Get!).ToList();
                type.OnDeserialized = read => Check(texts.Select(get => get(read)));
                break;
            case JsonTypeInfoKind.Enumerable when type.ElementType is { IsValueType: false }:
                type.OnDeserialized = read => Check(((IEnumerable)read).Cast<object?>().Select(e => e ?? throw new JsonException("A list has an entry that is null.")));
                break;
        }
    }

    /// <summary>SQLite's functions end a text at a null character, so that what holds one could not be undone.</summary>
    private static void Check(IEnumerable<object?> values)
    {
        if (values.Any(v => v is string text && text.Contains('\0', StringComparison.Ordinal)))
            throw new JsonException("A text holds a null character.");
    }
}
