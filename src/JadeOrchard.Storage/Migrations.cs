using System.Globalization;
using Microsoft.Data.Sqlite;

namespace JadeOrchard.Storage;

/// <summary>Brings a database to the newest shape. A migration is never edited after it landed; a change is a new one.</summary>
internal static class Migrations
{
    private static readonly string[] All = [Migration1.Sql, Migration2.Sql, Migration3.Sql, Migration4.Sql, Migration5.Sql, Migration6.Sql, Migration7.Sql, Migration8.Sql, Migration9.Sql, Migration10.Sql, Migration11.Sql, Migration12.Sql, Migration13.Sql, Migration14.Sql, Migration15.Sql, Migration16.Sql, Migration17.Sql, Migration18.Sql];

    /// <summary>The shape that this program writes.</summary>
    public static int Newest => All.Length;

    /// <summary>From this one on, triggers are not made by migrations but by <see cref="UndoLog.Install"/>.</summary>
    private const int FirstWithImages = 5;

    /// <param name="connection">Of a database of any older shape, or of none.</param>
    /// <param name="until">How many to apply, for a test that needs an older shape; nothing is recorded for undo in that.</param>
    public static void Apply(SqliteConnection connection, int? until = null)
    {
        using var transaction = connection.BeginTransaction();
        using var session = new WriteSession(connection, transaction);
        var version = session.Count("pragma user_version");
        if (version > All.Length)
            throw new NewerDatabaseException($"This data was written by a newer Jade Orchard (version {version} of its shape, {All.Length} is known here). Start that one.");
        if (version == 1 && FirstShape.IsIn(session))
            FirstShape.Replace(session);
        var last = until ?? All.Length;
        Migration15.Register(connection);
        for (var next = (int)version; next < last; next++)
        {
            if (next >= FirstWithImages)
                UndoLog.DropTriggers(session);
            session.Execute(All[next]);
        }

        if (version < last && last == All.Length)
            UndoLog.Install(session);
        session.Execute("pragma user_version = " + last.ToString(CultureInfo.InvariantCulture));
        transaction.Commit();
    }
}
