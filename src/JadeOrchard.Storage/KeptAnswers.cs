namespace JadeOrchard.Storage;

/// <summary>Answers that cost a walk through all rows, kept as long as nothing is written.</summary>
/// <param name="most">How many at most; by default more than a planner who pages through one list, then through another, needs.</param>
public sealed class KeptAnswers<T>(int most = 64)
{
    private readonly Lock _lock = new();
    private readonly Dictionary<string, T> _answers = [];
    private long _writes = -1;

    /// <summary>The answer to a question.</summary>
    /// <param name="writes"><see cref="Database.Writes"/> before the answer is computed.</param>
    /// <param name="question">Tells questions apart.</param>
    /// <param name="work">Works it out; not called where the answer is known.</param>
    public T Of(long writes, string question, Func<T> work)
    {
        lock (_lock)
        {
            if (_writes == writes && _answers.TryGetValue(question, out var known))
                return known;
        }

        var answer = work();
        lock (_lock)
        {
            if (_writes > writes)
                return answer;
            if (_writes < writes || _answers.Count >= most)
                _answers.Clear();
            _writes = writes;
            _answers[question] = answer;
        }

        return answer;
    }
}
