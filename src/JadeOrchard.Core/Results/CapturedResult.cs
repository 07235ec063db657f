namespace JadeOrchard.Core.Results;

/// <summary>One result of one keyword, as it was captured.</summary>
/// <param name="Phrase">The keyword as given.</param>
/// <param name="NormalForm">Its identity.</param>
/// <param name="Position">From 1.</param>
/// <param name="Url">As it was captured.</param>
/// <param name="Identity">What it is compared by.</param>
/// <param name="Title">Null where it is not given.</param>
/// <param name="Snippet">Null where it is not given.</param>
/// <param name="CapturedOn">Captures are told apart by day; null where it is not given.</param>
public sealed record CapturedResult(
    string Phrase, string NormalForm, int Position, string Url, string Identity, string? Title, string? Snippet, DateOnly? CapturedOn);
