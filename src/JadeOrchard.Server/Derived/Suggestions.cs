using JadeOrchard.Storage;
using JadeOrchard.Storage.PageMap;

namespace JadeOrchard.Server.Derived;

/// <summary>Which page is suggested for each cluster.</summary>
internal sealed class Suggestions : IDerivedStep
{
    public Data Reads => Data.Clusters | Data.Grouping | Data.Image;

    public Data Writes => Data.Suggestions;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (derivation.Board is not { } board)
        {
            PageMapStore.SaveSuggestions(session, new Dictionary<ClusterId, StoredSuggestion?>(), [], isAll: true);
            return;
        }

        var changed = board.SuggestionsChanged(session);
        var saved = (changed ?? board.Table.InOrder()).ToDictionary(board.IdOf, board.Suggested);
        if (changed is null)
        {
            session.Touch(Data.Suggestions);
            session.Beside(() => PageMapStore.SaveSuggestions(session, saved, board.Snapshot.PageIds, isAll: true));
            return;
        }

        session.Touch(Data.Suggestions, [.. saved.Keys]);
        PageMapStore.SaveSuggestions(session, saved, board.Snapshot.PageIds, isAll: false);
    }
}
