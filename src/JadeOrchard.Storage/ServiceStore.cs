namespace JadeOrchard.Storage;

/// <summary>A service of the outside world.</summary>
public enum ServiceName
{
    Search,
    Suggestions,
    Research,
    Rankings,
    Performance,
    Drafting,
}

/// <summary>Where a service is reached.</summary>
/// <param name="Address">Empty where none is given.</param>
/// <param name="Header">The header in which its key goes.</param>
/// <param name="HasKey">A key is kept; it is never told.</param>
public sealed record ServiceRow(ServiceName Name, string Address, string Header, bool HasKey);

/// <summary>Addresses and keys of the services. They are in no undo step, so that a key is in one place only.</summary>
public static class ServiceStore
{
    public const string DefaultHeader = "X-Api-Key";

    public static IReadOnlyList<ServiceRow> All(Session session)
    {
        var rows = session.List(
            "select s.name, s.address, s.header, exists (select 1 from service_key k where k.name = s.name) from service s",
            r => new ServiceRow(r.Enum<ServiceName>(0), r.GetString(1), r.GetString(2), r.GetInt64(3) == 1));
        return [.. Enum.GetValues<ServiceName>().Select(name => rows.FirstOrDefault(r => r.Name == name) ?? new ServiceRow(name, "", DefaultHeader, false))];
    }

    /// <returns>The key; null where there is none. For requests to the service alone.</returns>
    public static string? Key(Session session, ServiceName name) => session.Scalar("select key from service_key where name = @name", ("name", name.Stored())) as string;

    /// <param name="session">The transaction.</param>
    /// <param name="name">Which service.</param>
    /// <param name="address">Empty for none.</param>
    /// <param name="header">The header of the key.</param>
    /// <param name="key">Null to leave the key as it is; empty to forget it. With another scheme, host or port it is forgotten as well: it was given to the one before.</param>
    public static void Save(WriteSession session, ServiceName name, string address, string header, string? key)
    {
        var before = session.Scalar("select address from service where name = @name", ("name", name.Stored())) as string ?? "";
        session.Execute(
            "insert into service (name, address, header) values (@name, @address, @header) on conflict (name) do update set address = excluded.address, header = excluded.header",
            ("name", name.Stored()), ("address", address), ("header", header));
        if (key is null && OriginOf(before) == OriginOf(address))
            return;
        session.ForgetForGood("delete from service_key where name = @name", ("name", name.Stored()));
        if (key is { Length: > 0 })
            session.Execute("insert into service_key (name, key) values (@name, @key)", ("name", name.Stored()), ("key", key));
    }

    private static string OriginOf(string address) => Uri.TryCreate(address, UriKind.Absolute, out var url) ? url.GetLeftPart(UriPartial.Authority) : "";
}
