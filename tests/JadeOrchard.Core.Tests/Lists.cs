using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Results;

namespace JadeOrchard.Core.Tests;

/// <summary>Result lists and keywords in few words, for tests.</summary>
internal static class Lists
{
    /// <summary>Lists of URL numbers, best first.</summary>
    public static ResultLists Of(params int[][] lists)
    {
        var builder = new ResultLists.Builder();
        for (var k = 0; k < lists.Length; k++)
        {
            for (var i = 0; i < lists[k].Length; i++)
                builder.Add(k, i + 1, lists[k][i]);
        }

        var count = lists.SelectMany(l => l).DefaultIfEmpty(-1).Max() + 1;
        return builder.Build(lists.Length, [.. Enumerable.Range(0, count).Select(u => $"https://u.example/{u:D4}")]);
    }

    public static Keyword[] Keywords(params (string Phrase, long? Volume)[] keywords) =>
        [.. keywords.Select(k => new Keyword(k.Phrase, KeywordNormalForm.Of(k.Phrase), k.Volume))];
}
