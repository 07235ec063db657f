using JadeOrchard.Storage.Team;

namespace JadeOrchard.Server.Team;

/// <summary>Who may use an endpoint where everybody signs in. What says nothing of it can be read by readers and changed by planners.</summary>
/// <param name="Roles">Those who may.</param>
/// <param name="NeedsUser">Only who has signed in.</param>
public sealed record Access(IReadOnlyList<Role> Roles, bool NeedsUser = true)
{
    private static readonly Access Planners = new([Role.Planner]);
    private static readonly Access Readers = new([Role.Planner, Role.Reader]);
    internal static readonly Access Everybody = new(Enum.GetValues<Role>());
    internal static readonly Access Anybody = new(Enum.GetValues<Role>(), NeedsUser: false);

    /// <returns>Who may use what a request asks for; <paramref name="endpoint"/> is null where there is nothing at its address.</returns>
    public static Access Of(Endpoint? endpoint, string method) =>
        endpoint?.Metadata.GetMetadata<Access>() ?? (HttpMethods.IsGet(method) || HttpMethods.IsHead(method) ? Readers : Planners);

    internal static Access OfReaders => Readers;

    internal static Access OfPlanners => Planners;
}

/// <summary>Says of an endpoint who may use it, where that is not what its method tells.</summary>
public static class AccessConventions
{
    /// <summary>It changes nothing, though it is no GET.</summary>
    public static T ForReaders<T>(this T endpoint) where T : IEndpointConventionBuilder => endpoint.WithMetadata(Access.OfReaders);

    /// <summary>It gives away more than a reader is to have.</summary>
    public static T ForPlanners<T>(this T endpoint) where T : IEndpointConventionBuilder => endpoint.WithMetadata(Access.OfPlanners);

    /// <summary>Writers too, of whatever concerns nobody else.</summary>
    public static T ForEverybody<T>(this T endpoint) where T : IEndpointConventionBuilder => endpoint.WithMetadata(Access.Everybody);

    /// <summary>Who has not signed in too.</summary>
    public static T ForAnybody<T>(this T endpoint) where T : IEndpointConventionBuilder => endpoint.WithMetadata(Access.Anybody);
}
