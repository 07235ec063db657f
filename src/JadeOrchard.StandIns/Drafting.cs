namespace JadeOrchard.StandIns;

/// <summary>Asks for texts from the facts of a brief.</summary>
/// <param name="Kind">title, description, outline, introduction, answer or section.</param>
/// <param name="Language">Two letters, ISO 639-1.</param>
/// <param name="Primary">The keyword that the page is for.</param>
/// <param name="Keywords">All of the page, the primary first.</param>
/// <param name="Questions">To be answered.</param>
/// <param name="Terms">Words that ranking pages share.</param>
/// <param name="Sections">Headings of the outline.</param>
/// <param name="Facts">What may be said, in sentences.</param>
/// <param name="For">The question or heading that it is for; null for the page as a whole.</param>
/// <param name="Notes">On tone and audience.</param>
public sealed record DraftRequest(
    string Kind, string Language, string Primary, IReadOnlyList<string> Keywords, IReadOnlyList<string> Questions, IReadOnlyList<string> Terms, IReadOnlyList<string> Sections, IReadOnlyList<string> Facts, string? For = null, string? Notes = null);

/// <summary>Texts to choose from; of an outline one heading a line.</summary>
public sealed record DraftAnswer(IReadOnlyList<string> Alternatives);

/// <summary>Writes simple, true sentences from the facts of a brief: it says nothing that is not among them.</summary>
internal static class Drafting
{
    private const int MostSections = 3, MostFacts = 4;

    /// <returns>Null where the kind is none of those of the contract.</returns>
    public static DraftAnswer? Of(DraftRequest request)
    {
        var (primary, sections) = (Capital(request.Primary), request.Sections.Select(s => s.TrimEnd('?', '.')).ToList());
        var others = request.Keywords.Skip(1).Take(MostSections).ToList();
        return request.Kind switch
        {
            "title" => Answer(
                others.Count > 0 ? $"{primary}, with {Listed(others.Take(2))}" : primary,
                sections.Count > 0 ? $"{primary}: {Lower(sections[0])}" : "",
                request.Questions.Count > 0 ? $"{primary}: {Lower(request.Questions[0])}" : ""),
            "description" => Answer(
                sections.Count > 0 ? $"{primary}: {Listed(sections.Take(MostSections).Select(Lower))}." : $"{primary}.",
                request.Questions.Count > 0 ? $"{request.Questions[0].TrimEnd('?')}? {primary}: {Listed(request.Terms.Take(MostSections))}." : ""),
            "outline" => Answer(
                Lines(request.Sections.Concat(request.Questions)),
                Lines(request.Questions.Concat(request.Sections)),
                request.Sections.Count + request.Questions.Count == 0 ? Lines(request.Keywords.Select(Capital)) : ""),
            "introduction" => Answer(
                Sentences([$"This page is about {request.Primary}.", sections.Count > 0 ? $"It tells of {Listed(sections.Take(MostSections).Select(Lower))}." : "", request.Questions.Count > 0 ? $"It answers: {request.Questions[0].TrimEnd('?')}?" : ""]),
                request.Facts.Count > 0 ? Sentences([request.Facts[0], sections.Count > 0 ? $"Below: {Listed(sections.Take(MostSections).Select(Lower))}." : ""]) : ""),
            "answer" or "section" => Answer(
                request.Facts.Count > 0 ? Sentences(request.Facts.Take(MostFacts)) : "",
                Sentences([$"{Capital(request.For ?? request.Primary).TrimEnd('?')} belongs to {request.Primary}.", request.Terms.Count > 0 ? $"Pages on it speak of {Listed(request.Terms.Take(MostSections))}." : ""])),
            _ => null,
        };
    }

    private static string Lines(IEnumerable<string> headings) => string.Join('\n', headings.Distinct(StringComparer.OrdinalIgnoreCase));

    private static DraftAnswer Answer(params IEnumerable<string> texts) => new([.. texts.Where(t => t.Length > 0).Distinct(StringComparer.Ordinal)]);

    private static string Sentences(IEnumerable<string> sentences) => string.Join(' ', sentences.Where(s => s.Length > 0).Select(s => s is [.., '.' or '?' or '!'] ? s : s + "."));

    private static string Listed(IEnumerable<string> parts) => parts.ToList() is { Count: > 1 } all ? $"{string.Join(", ", all.Take(all.Count - 1))} and {all[^1]}" : string.Concat(parts);

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string Lower(string text) => text.Length < 2 || char.IsUpper(text[1]) ? text : char.ToLowerInvariant(text[0]) + text[1..];
}
