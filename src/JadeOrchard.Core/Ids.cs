using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace JadeOrchard.Core;

#pragma warning disable CA1036 // Ids are sorted, so that the order of rows decides nothing, but none is greater than another.

/// <summary>The number that names something in a project. Each kind of thing has its own type, so that no page is taken for a cluster.</summary>
public interface IId
{
    /// <summary>Its number in the database and in JSON.</summary>
    long Value { get; }
}

/// <summary>An id of one kind.</summary>
public interface IId<TSelf> : IId, IComparable<TSelf>
    where TSelf : struct, IId<TSelf>
{
    /// <returns>The id with this number.</returns>
    static abstract TSelf Of(long value);
}

/// <summary>Names a keyword.</summary>
[JsonConverter(typeof(IdConverter<KeywordId>))]
public readonly record struct KeywordId(long Value) : IId<KeywordId>
{
    /// <inheritdoc/>
    public static KeywordId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out KeywordId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(KeywordId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a brief.</summary>
[JsonConverter(typeof(IdConverter<BriefId>))]
public readonly record struct BriefId(long Value) : IId<BriefId>
{
    /// <inheritdoc/>
    public static BriefId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out BriefId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(BriefId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a version of a text.</summary>
[JsonConverter(typeof(IdConverter<BriefTextId>))]
public readonly record struct BriefTextId(long Value) : IId<BriefTextId>
{
    /// <inheritdoc/>
    public static BriefTextId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out BriefTextId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(BriefTextId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a list of keywords.</summary>
[JsonConverter(typeof(IdConverter<ListId>))]
public readonly record struct ListId(long Value) : IId<ListId>
{
    /// <inheritdoc/>
    public static ListId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out ListId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(ListId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a saved filter.</summary>
[JsonConverter(typeof(IdConverter<FilterId>))]
public readonly record struct FilterId(long Value) : IId<FilterId>
{
    /// <inheritdoc/>
    public static FilterId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out FilterId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(FilterId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a source of keywords.</summary>
[JsonConverter(typeof(IdConverter<SourceId>))]
public readonly record struct SourceId(long Value) : IId<SourceId>
{
    /// <inheritdoc/>
    public static SourceId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out SourceId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(SourceId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a captured result list.</summary>
[JsonConverter(typeof(IdConverter<ResultListId>))]
public readonly record struct ResultListId(long Value) : IId<ResultListId>
{
    /// <inheritdoc/>
    public static ResultListId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out ResultListId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(ResultListId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a cluster.</summary>
[JsonConverter(typeof(IdConverter<ClusterId>))]
public readonly record struct ClusterId(long Value) : IId<ClusterId>
{
    /// <inheritdoc/>
    public static ClusterId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out ClusterId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(ClusterId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a topic.</summary>
[JsonConverter(typeof(IdConverter<TopicId>))]
public readonly record struct TopicId(long Value) : IId<TopicId>
{
    /// <inheritdoc/>
    public static TopicId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out TopicId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(TopicId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a subtopic that a planner noted.</summary>
[JsonConverter(typeof(IdConverter<SubtopicId>))]
public readonly record struct SubtopicId(long Value) : IId<SubtopicId>
{
    /// <inheritdoc/>
    public static SubtopicId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out SubtopicId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(SubtopicId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>A change of a page that a planner entered.</summary>
[JsonConverter(typeof(IdConverter<EnteredChangeId>))]
public readonly record struct EnteredChangeId(long Value) : IId<EnteredChangeId>
{
    /// <inheritdoc/>
    public static EnteredChangeId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out EnteredChangeId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(EnteredChangeId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a page of the site, existing or planned.</summary>
[JsonConverter(typeof(IdConverter<PageId>))]
public readonly record struct PageId(long Value) : IId<PageId>
{
    /// <inheritdoc/>
    public static PageId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out PageId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(PageId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a search query with performance.</summary>
[JsonConverter(typeof(IdConverter<QueryId>))]
public readonly record struct QueryId(long Value) : IId<QueryId>
{
    /// <inheritdoc/>
    public static QueryId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out QueryId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(QueryId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names what was decided to do about a finding.</summary>
[JsonConverter(typeof(IdConverter<PlanStepId>))]
public readonly record struct PlanStepId(long Value) : IId<PlanStepId>
{
    /// <inheritdoc/>
    public static PlanStepId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out PlanStepId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(PlanStepId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a step of the plan.</summary>
[JsonConverter(typeof(IdConverter<StepId>))]
public readonly record struct StepId(long Value) : IId<StepId>
{
    /// <inheritdoc/>
    public static StepId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out StepId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(StepId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a part of a step.</summary>
[JsonConverter(typeof(IdConverter<StepPartId>))]
public readonly record struct StepPartId(long Value) : IId<StepPartId>
{
    /// <inheritdoc/>
    public static StepPartId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out StepPartId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(StepPartId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a job; a scan or an import bears the id of its job.</summary>
[JsonConverter(typeof(IdConverter<JobId>))]
public readonly record struct JobId(long Value) : IId<JobId>
{
    /// <inheritdoc/>
    public static JobId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out JobId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(JobId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a step of the history.</summary>
[JsonConverter(typeof(IdConverter<UndoStepId>))]
public readonly record struct UndoStepId(long Value) : IId<UndoStepId>
{
    /// <inheritdoc/>
    public static UndoStepId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out UndoStepId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(UndoStepId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names somebody who can sign in.</summary>
[JsonConverter(typeof(IdConverter<UserId>))]
public readonly record struct UserId(long Value) : IId<UserId>
{
    /// <inheritdoc/>
    public static UserId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out UserId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(UserId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>Names a time at which a finding was first seen or went away.</summary>
[JsonConverter(typeof(IdConverter<FindingSeenId>))]
public readonly record struct FindingSeenId(long Value) : IId<FindingSeenId>
{
    /// <inheritdoc/>
    public static FindingSeenId Of(long value) => new(value);

    /// <returns>True where a route or a query holds a number.</returns>
    public static bool TryParse(string? text, out FindingSeenId id) => Ids.TryParse(text, out id);

    /// <inheritdoc/>
    public int CompareTo(FindingSeenId other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>What all ids have in common.</summary>
internal static class Ids
{
    public static bool TryParse<TId>(string? text, out TId id)
        where TId : struct, IId<TId>
    {
        var isNumber = long.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value);
        id = TId.Of(value);
        return isNumber;
    }
}

/// <summary>An id is a plain number in JSON.</summary>
public sealed class IdConverter<TId> : JsonConverter<TId>
    where TId : struct, IId<TId>
{
    /// <inheritdoc/>
    public override TId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => TId.Of(reader.GetInt64());

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, TId value, JsonSerializerOptions options) => writer.WriteNumberValue(value.Value);

    /// <inheritdoc/>
    public override TId ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        Ids.TryParse<TId>(reader.GetString(), out var id) ? id : throw new JsonException();

    /// <inheritdoc/>
    public override void WriteAsPropertyName(Utf8JsonWriter writer, TId value, JsonSerializerOptions options) => writer.WritePropertyName(value.Value.ToString(CultureInfo.InvariantCulture));
}
