namespace JadeOrchard.Cli;

/// <summary>Gives each distinct name an index from 0, in the order in which they come.</summary>
internal sealed class Names
{
    private readonly Dictionary<string, int> _indexes = new(StringComparer.Ordinal);
    private readonly List<string> _names = [];

    public IReadOnlyList<string> All => _names;

    public int IndexOf(string name)
    {
        if (_indexes.TryGetValue(name, out var index))
            return index;
        _indexes[name] = _names.Count;
        _names.Add(name);
        return _names.Count - 1;
    }

    public int? Find(string name) => _indexes.TryGetValue(name, out var index) ? index : null;
}
