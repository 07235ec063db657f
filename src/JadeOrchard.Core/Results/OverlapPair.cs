namespace JadeOrchard.Core.Results;

/// <summary>Two keywords and how many results they share.</summary>
/// <param name="A">Index of a keyword; less than <paramref name="B"/>.</param>
/// <param name="B">Index of the other.</param>
/// <param name="Count">Their overlap.</param>
public readonly record struct OverlapPair(int A, int B, int Count);
