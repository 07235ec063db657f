using System.Globalization;

namespace JadeOrchard.Storage.Results;

/// <summary>When the schedule of captures last ran.</summary>
/// <param name="Says">What came of it, in a sentence.</param>
public sealed record Recapture(DateOnly RanOn, string Says);

/// <summary>The schedule of captures.</summary>
public static class RecaptureStore
{
    /// <returns>Null where it never ran.</returns>
    public static Recapture? Last(Session session) => session.First(
        "select ran_on, says from recapture", r => new Recapture(DateOnly.ParseExact(r.GetString(0), "yyyy-MM-dd", CultureInfo.InvariantCulture), r.GetString(1)));

    public static void Save(WriteSession session, DateOnly day, string says) => session.Execute(
        "insert or replace into recapture values (1, @day, @says)", ("day", day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)), ("says", says));
}
