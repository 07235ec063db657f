namespace JadeOrchard.Core.Topics;

/// <summary>Two things that belong together, and how much.</summary>
/// <param name="A">The smaller index.</param>
/// <param name="B">The greater index; the same as <paramref name="A"/> for a link with itself.</param>
/// <param name="Weight">Above 0.</param>
public readonly record struct Link(int A, int B, double Weight);
