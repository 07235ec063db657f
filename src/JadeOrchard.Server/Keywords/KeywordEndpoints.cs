using JadeOrchard.Storage.Keywords;

namespace JadeOrchard.Server.Keywords;

/// <summary>The researched keywords.</summary>
public static class KeywordEndpoints
{
    public static void MapKeywords(this RouteGroupBuilder api)
    {
        api.MapGet("/keywords", ([AsParameters] Listing listing, [AsParameters] KeywordFilter filter, Orchard orchard) =>
                orchard.Database.Read(session => KeywordStore.List(session, listing.ToQuery(), filter)))
            .WithName("keywords");

        api.MapGet("/keywords.csv", ([AsParameters] Listing listing, [AsParameters] KeywordFilter filter, Orchard orchard) => Listing.Csv(
                "keywords.csv",
                ["keyword", "volume", "difficulty", "title_matches", "intent", "cpc", "captured_on", "cluster"],
                orchard.Database.Read(session => KeywordStore.List(session, listing.ToExport(), filter)).Rows.Select(k => new object?[]
                {
                    k.Phrase, k.Volume, k.Difficulty, k.TitleMatches, k.Intent?.ToString().ToLowerInvariant(), k.Cpc, k.CapturedOn?.ToString("yyyy-MM-dd", null), k.ClusterName,
                })))
            .ExcludeFromDescription();
    }
}
