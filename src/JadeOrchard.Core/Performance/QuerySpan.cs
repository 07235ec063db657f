namespace JadeOrchard.Core.Performance;

/// <summary>What a query got on a page in a span of days.</summary>
/// <param name="Position">Average, weighted by impressions; of no meaning without impressions.</param>
public readonly record struct QuerySpan(long Clicks, long Impressions, double Position);
