using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;

namespace JadeOrchard.Formats.Plan;

/// <summary>A step with a due date, for a calendar.</summary>
/// <param name="Id">Names it wherever it is exported, so that importing it again updates it.</param>
/// <param name="Summary">"Refresh /guides/first-kayak".</param>
/// <param name="Description">In several lines.</param>
/// <param name="Url">The page.</param>
/// <param name="IsDropped">It is cancelled.</param>
/// <param name="ChangedAt">When it was changed last.</param>
public sealed record CalendarStep(string Id, DateOnly Due, string Summary, string Description, string Url, string Owner, bool IsDropped, DateTimeOffset ChangedAt);

/// <summary>Steps as an iCalendar file (RFC 5545): an event for each, all day long.</summary>
public static class StepCalendar
{
    /// <returns>The file; lines folded at 75 octets and text escaped as the standard asks.</returns>
    public static string Write(string name, IEnumerable<CalendarStep> steps)
    {
        var calendar = new Calendar { ProductId = "-//Jade Orchard//Plan//EN", Method = "PUBLISH" };
        calendar.AddProperty("X-WR-CALNAME", name);
        foreach (var step in steps)
        {
            var changed = new CalDateTime(step.ChangedAt.UtcDateTime);
            var entry = new CalendarEvent
            {
                Uid = step.Id,
                DtStamp = changed,
                LastModified = changed,
                Start = new CalDateTime(step.Due),
                End = new CalDateTime(step.Due.AddDays(1)),
                Summary = step.Summary,
                Description = step.Description,
                Transparency = TransparencyType.Transparent,
                Status = step.IsDropped ? EventStatus.Cancelled : EventStatus.Confirmed,
            };
            if (Uri.TryCreate(step.Url, UriKind.Absolute, out var url))
                entry.Url = url;
            if (step.Owner.Length > 0)
                entry.Contacts = [step.Owner];
            calendar.Events.Add(entry);
        }

        return new CalendarSerializer().SerializeToString(calendar)!;
    }
}
