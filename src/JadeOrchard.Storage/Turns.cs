namespace JadeOrchard.Storage;

/// <summary>Lets one at a time through, in the order in which they came: whoever goes again at once does not get ahead of those who wait.</summary>
internal sealed class Turns
{
    private readonly Lock _lock = new();
    private readonly LinkedList<SemaphoreSlim> _waiting = [];
    private bool _isTaken;
    private volatile int _count;

    /// <summary>How many wait.</summary>
    internal int Waiting => _count;

    /// <returns>False where it took longer.</returns>
    public bool Take(TimeSpan patience)
    {
        LinkedListNode<SemaphoreSlim> own;
        lock (_lock)
        {
            if (!_isTaken)
                return _isTaken = true;
            own = _waiting.AddLast(new SemaphoreSlim(0));
            _count = _waiting.Count;
        }

        using var turn = own.Value;
        if (turn.Wait(patience))
            return true;
        lock (_lock)
        {
            // It may have come in the last moment.
            if (own.List is null)
                return true;
            _waiting.Remove(own);
            _count = _waiting.Count;
            return false;
        }
    }

    public void Pass()
    {
        lock (_lock)
        {
            if (_waiting.First is not { } next)
            {
                _isTaken = false;
                return;
            }

            _waiting.RemoveFirst();
            _count = _waiting.Count;
            next.Value.Release();
        }
    }
}
