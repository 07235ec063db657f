using System.Text.Json.Serialization.Metadata;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace JadeOrchard.Server;

/// <summary>Tells the description of the API that an id is a whole number.</summary>
internal static class IdSchemas
{
    public static Task Describe(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancellation)
    {
        var type = context.JsonTypeInfo.Type;
        if (IsId(type))
            (schema.Type, schema.Format) = (JsonSchemaType.Integer | (Nullable.GetUnderlyingType(type) is null ? 0 : JsonSchemaType.Null), "int64");
        else if (context.JsonTypeInfo.ElementType is { } element && IsId(element))
        {
            var number = new OpenApiSchema { Type = JsonSchemaType.Integer, Format = "int64" };
            if (context.JsonTypeInfo.Kind == JsonTypeInfoKind.Dictionary)
                schema.AdditionalProperties = number;
            else
                schema.Items = number;
        }

        return Task.CompletedTask;
    }

    /// <summary>What is read from a route or a query is described as text where it is no type of the platform.</summary>
    public static Task Describe(OpenApiOperation operation, OpenApiOperationTransformerContext context, CancellationToken cancellation)
    {
        foreach (var parameter in context.Description.ParameterDescriptions.Where(p => p.ParameterDescriptor is { } descriptor && IsId(descriptor.ParameterType)))
        {
            if (operation.Parameters?.FirstOrDefault(p => p.Name == parameter.Name)?.Schema is OpenApiSchema schema)
                (schema.Type, schema.Format) = (JsonSchemaType.Integer, "int64");
        }

        return Task.CompletedTask;
    }

    /// <returns>The name under which a type is described once; null where it is described in its place.</returns>
    public static string? NameOf(JsonTypeInfo type) => IsId(type.Type) ? null : OpenApiOptions.CreateDefaultSchemaReferenceId(type);

    private static bool IsId(Type type) => typeof(IId).IsAssignableFrom(Nullable.GetUnderlyingType(type) ?? type);
}
