namespace JadeOrchard.Storage.Tests;

/// <summary>Writes with that of the derived data on which the stores themselves look; the chain is in the server.</summary>
internal static class Writing
{
    public static T Write<T>(this Database database, Func<WriteSession, T> write, string? undoLabel = null) => database.Change(undoLabel, session =>
    {
        var answer = write(session);
        Results.CaptureStore.RefreshKeywords(session, null);
        return answer;
    });

    public static void Write(this Database database, Action<WriteSession> write, string? undoLabel = null) => database.Write(
        session =>
        {
            write(session);
            return 0;
        },
        undoLabel);
}
