using JadeOrchard.Storage;

namespace JadeOrchard.Server;

/// <summary>Says in the answer to a change what it touched, so that only that is read again, and the undo step it made; and tells other windows.</summary>
public static class ChangedHeaders
{
    /// <summary>Areas with commas between, in camel case; empty where nothing was changed.</summary>
    public const string Changed = "Jade-Changed";

    /// <summary>The label of the undo step, percent-encoded (RFC 3986, 2.1); absent where there is none.</summary>
    public const string Step = "Jade-Step";

    public static async Task Add(HttpContext context, Func<Task> next)
    {
        // What is done to projects as a whole can change anything.
        if (HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method) || context.Request.Path.StartsWithSegments("/api/projects"))
        {
            await next();
            return;
        }

        var areas = ChangedAreas.Watch();
        context.Response.OnStarting(() =>
        {
            context.Response.Headers[Changed] = string.Join(",", ChangeFeed.Names(areas.Areas));
            if (areas.Step is { } step)
                context.Response.Headers[Step] = Uri.EscapeDataString(step);
            return Task.CompletedTask;
        });
        try
        {
            await next();
        }
        finally
        {
            if (areas.Areas.Count > 0)
                context.RequestServices.GetRequiredService<ChangeFeed>().Tell(context, areas.Areas, areas.Says);
        }
    }
}
