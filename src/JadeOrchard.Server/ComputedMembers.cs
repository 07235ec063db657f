using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace JadeOrchard.Server;

/// <summary>Tells the description of the API that members which a type computes from its others, or has from the start, are in every answer.</summary>
internal static class ComputedMembers
{
    public static Task Describe(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancellation)
    {
        // A request need not send what follows from the rest of it.
        if (schema.Properties is null || context.JsonTypeInfo.Type.Name.EndsWith("Request", StringComparison.Ordinal))
            return Task.CompletedTask;
        foreach (var member in context.JsonTypeInfo.Properties.Where(p => p.AssociatedParameter is null && (p.Set is null || !p.IsSetNullable)))
        {
            if (!schema.Properties.TryGetValue(member.Name, out var property))
                continue;
            (schema.Required ??= new HashSet<string>()).Add(member.Name);
            if (!member.IsGetNullable && property is OpenApiSchema own)
                own.Type &= ~JsonSchemaType.Null;
        }

        return Task.CompletedTask;
    }
}
