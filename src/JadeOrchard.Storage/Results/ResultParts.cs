using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;

namespace JadeOrchard.Storage.Results;

/// <summary>The position of a URL in a list.</summary>
internal readonly record struct Rank(int Position, long UrlId);

/// <summary>Results of a list that were written together: one row of the database.</summary>
internal static class ResultParts
{
    /// <summary>However often the rows of a file name the same list, a part is not larger.</summary>
    private const int MaxResults = 200;

    private static readonly JsonSerializerOptions Json = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Reads "position,url_id,position,url_id,…".</summary>
    public static IEnumerable<Rank> Ranks(string ranks)
    {
        var position = -1;
        var number = 0L;
        for (var i = 0; i <= ranks.Length; i++)
        {
            if (i < ranks.Length && ranks[i] != ',')
            {
                number = (number * 10) + ranks[i] - '0';
                continue;
            }

            if (position < 0)
            {
                position = (int)number;
            }
            else
            {
                yield return new Rank(position, number);
                position = -1;
            }

            number = 0;
        }
    }

    /// <returns>What the list shows of each of its results, in the order of the ranks.</returns>
    public static IReadOnlyList<(string Url, string? Title, string? Snippet)> Shown(string shown) =>
        [.. JsonSerializer.Deserialize<string?[]>(shown, Json)!.Chunk(3).Select(s => (s[0]!, s[1], s[2]))];

    /// <summary>Writes results one after another; those of the same list that follow each other become one part.</summary>
    internal sealed class Writer(WriteSession session) : IDisposable
    {
        private readonly RowBuffer _insert = new(session, "insert or fail into result_part (list_id, ranks, shown)", 4, 3);
        private readonly StringBuilder _ranks = new();
        private readonly List<string?> _shown = [];
        private ResultListId _list;

        public void Add(ResultListId list, int position, long urlId, string url, string? title, string? snippet)
        {
            if (list != _list || _shown.Count == 3 * MaxResults)
                EndPart();
            _list = list;
            if (_ranks.Length > 0)
                _ranks.Append(',');
            _ranks.Append(position).Append(',').Append(urlId);
            _shown.Add(url);
            _shown.Add(title);
            _shown.Add(snippet);
        }

        public void Flush()
        {
            EndPart();
            _insert.Flush();
        }

        public void Dispose()
        {
            EndPart();
            _insert.Dispose();
        }

        private void EndPart()
        {
            if (_shown.Count == 0)
                return;
            _insert.Add(_list, _ranks.ToString(), JsonSerializer.Serialize(_shown, Json));
            _ranks.Clear();
            _shown.Clear();
        }
    }
}
