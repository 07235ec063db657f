using System.Text.Json;
using System.Text.Json.Serialization;
using JadeOrchard.Core.Findings;

namespace JadeOrchard.Storage.Findings;

/// <summary>A finding as it was computed, with ids.</summary>
/// <param name="Key">See <see cref="FindingKey"/>.</param>
/// <param name="Kind">What is to be decided.</param>
/// <param name="IsPlanned">See <see cref="Finding.IsPlanned"/>.</param>
/// <param name="Content">All else.</param>
public sealed record ComputedFinding(string Key, FindingKind Kind, bool IsPlanned, FindingContent Content);

/// <summary>What a finding is about and what shows it, with ids, as it is stored. What is zero is left out.</summary>
/// <param name="Clusters">See <see cref="Finding.Clusters"/>.</param>
/// <param name="Pages">See <see cref="Finding.Pages"/>.</param>
public sealed record FindingContent(
    StoredStake[] Clusters, PageId[] Pages, KeywordId? KeywordId, string? Folder, double AtStake, double Confidence, StoredSign[] Signs)
{
    /// <summary>Between codes of signs.</summary>
    internal const string Separator = " | ";

    /// <summary>The codes of its kinds of signs, the strongest first: "rivals-in-results | split-traffic".</summary>
    internal string SignCodes => string.Join(Separator, Signs.Select(s => s.Kind).Distinct().Select(k => k.Code()));

    /// <summary>"both rank, traffic splits": each kind of sign, the strongest first.</summary>
    internal string Says => string.Join(", ", Signs.GroupBy(s => s.Kind).Select(g => FindingText.Brief(g.Key, Count(g), Pages.Length)));

    internal string ToJson() => JsonSerializer.Serialize(this, FindingJson.Default.FindingContent);

    /// <returns>How many keywords show signs of a kind; how many signs there are where no keyword does, or links that are missing.</returns>
    private static int Count(IGrouping<SignKind, StoredSign> signs) =>
        signs.Key is SignKind.SupportToPillar or SignKind.PillarToSupport or SignKind.Orphan || !signs.Any(s => s.Facts.Any(f => f.KeywordId is not null))
            ? signs.Count()
            : signs.SelectMany(s => s.Facts).Select(f => f.KeywordId).Distinct().Count();

    internal static FindingContent Of(string json) => JsonSerializer.Deserialize(json, FindingJson.Default.FindingContent)!;
}

/// <summary>What is at stake in one cluster.</summary>
public readonly record struct StoredStake(ClusterId Id, double AtStake);

/// <summary>See <see cref="Sign"/>.</summary>
public sealed record StoredSign(SignKind Kind, ClusterId? ClusterId, ClusterId? OtherClusterId, PageId? PageId, PageId[] Others, double AtStake, StoredFact[] Facts);

/// <summary>See <see cref="SignFact"/>.</summary>
public readonly record struct StoredFact(KeywordId? KeywordId, double Position, double OtherPosition, double AtStake, double Share = 0, double Count = 0);

/// <summary>Writes and reads contents without looking at their types: there are tens of thousands of them.</summary>
[JsonSourceGenerationOptions(DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault, UseStringEnumConverter = true)]
[JsonSerializable(typeof(FindingContent))]
internal sealed partial class FindingJson : JsonSerializerContext;
