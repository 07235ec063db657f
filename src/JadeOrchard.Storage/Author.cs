namespace JadeOrchard.Storage;

/// <summary>Who makes the changes of the current request or job, by name, as history tells it; empty where nobody has to sign in.</summary>
public static class Author
{
    private static readonly AsyncLocal<string?> Name = new();

    public static string Current
    {
        get => Name.Value ?? "";
        set => Name.Value = value;
    }
}
