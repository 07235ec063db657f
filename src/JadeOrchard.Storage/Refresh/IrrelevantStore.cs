namespace JadeOrchard.Storage.Refresh;

/// <summary>Queries that the planner called irrelevant, for one page or for all.</summary>
public static class IrrelevantStore
{
    /// <returns>The normal forms; without a page, for all pages.</returns>
    public static IReadOnlyList<(string NormalForm, PageId? PageId)> All(Session session) => session.List(
        "select normal_form, page_id from irrelevant_query order by irrelevant_id", r => (r.GetString(0), r.GetInt64(1) == 0 ? (PageId?)null : r.Id<PageId>(1)));

    /// <summary>Calls a query irrelevant; one that is so already stays as it is.</summary>
    public static void Add(WriteSession session, string normalForm, PageId? pageId, DateTimeOffset now) => session.Execute(
        "insert or ignore into irrelevant_query (normal_form, page_id, made_at) values (@form, @page, @now)", ("form", normalForm), ("page", pageId?.Value ?? 0), ("now", now.UtcDateTime.ToString("O")));

    /// <summary>Takes that back, for a page and for all pages.</summary>
    public static void Remove(WriteSession session, string normalForm, PageId? pageId) => session.Execute(
        "delete from irrelevant_query where normal_form = @form and page_id in (0, @page)", ("form", normalForm), ("page", pageId?.Value ?? 0));
}
