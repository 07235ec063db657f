using System.Reflection;
using NetArchTest.Rules;

namespace JadeOrchard.Server.Tests;

/// <summary>Who may know whom.</summary>
public class ArchitectureTests
{
    private static readonly string[] Floors = ["Core", "Storage", "Formats", "Server", "Cli", "StandIns"];

    [Theory]
    [InlineData(typeof(Core.Results.Overlap), "")]
    [InlineData(typeof(Storage.Database), "Core")]
    [InlineData(typeof(Formats.Tables.DelimitedFile), "Core")]
    [InlineData(typeof(Program), "Core Storage Formats")]
    [InlineData(typeof(StandIns.Generator), "Formats Core")]
    public void AFloorKnowsNoOtherThanItMay(Type type, string mayKnow)
    {
        var own = type.Assembly.GetName().Name!;
        string[] forbidden = [.. Floors.Except(mayKnow.Split(' ')).Select(f => "JadeOrchard." + f).Where(f => f != own)];
        Assert.Empty(type.Assembly.GetReferencedAssemblies().Select(a => a.Name).Intersect(forbidden));
        Assert.True(Types.InAssembly(type.Assembly).ShouldNot().HaveDependencyOnAny(forbidden).GetResult().IsSuccessful);
    }

    [Fact]
    public void CoreDoesNoInputOrOutput()
    {
        var result = Types.InAssembly(typeof(Core.Results.Overlap).Assembly)
            .ShouldNot().HaveDependencyOnAny("Microsoft.AspNetCore", "Microsoft.Data.Sqlite", "System.Net.Http", "System.IO.File", "System.IO.Directory")
            .GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Theory]
    [InlineData(typeof(Core.IId))]
    [InlineData(typeof(Storage.Database))]
    public void AnIdHasATypeOfItsOwn(Type inAssembly)
    {
        const BindingFlags declared = BindingFlags.Public | BindingFlags.Instance | BindingFlags.Static | BindingFlags.DeclaredOnly;
        var plain = inAssembly.Assembly.GetExportedTypes().SelectMany(type => type.GetProperties(declared).Select(p => (Type: p.PropertyType, p.Name))
                .Concat(type.GetMethods(declared).Cast<MethodBase>().Concat(type.GetConstructors(declared))
                    .SelectMany(m => m.GetParameters()).Select(p => (Type: p.ParameterType, Name: p.Name ?? "")))
                .Where(m => m.Name.EndsWith("Id", StringComparison.OrdinalIgnoreCase) || m.Name.EndsWith("Ids", StringComparison.OrdinalIgnoreCase))
                .Where(m => Mentions(m.Type, typeof(long)))
                .Select(m => $"{type.Name}.{m.Name}"))
            .Distinct();
        Assert.Empty(plain);

        static bool Mentions(Type type, Type sought) =>
            type == sought || (type.GetElementType() is { } element && Mentions(element, sought)) || type.GetGenericArguments().Any(a => Mentions(a, sought));
    }

    [Fact]
    public void TheProjectIsTheOneDoorForWrites()
    {
        using var server = Mono.Cecil.AssemblyDefinition.ReadAssembly(typeof(Program).Assembly.Location);
        var callers = server.MainModule.Types.SelectMany(WithNested)
            .Where(t => t.Methods.Where(m => m.HasBody).SelectMany(m => m.Body.Instructions).Any(i =>
                i.Operand is Mono.Cecil.MethodReference { Name: nameof(Storage.Database.Change) } called && called.DeclaringType.FullName == typeof(Storage.Database).FullName))
            .Select(t => t.FullName.Split('/')[0])
            .Distinct();
        Assert.Equal([typeof(Project).FullName], callers);

        // Nor is there another way: only stores may write SQL, and what makes a session is the database alone.
        Assert.True(Types.InAssembly(typeof(Program).Assembly).ShouldNot().HaveDependencyOn("Microsoft.Data.Sqlite").GetResult().IsSuccessful);
        Assert.Empty(typeof(Storage.WriteSession).GetConstructors());
        string[] sql = ["Execute", "Command", "Scalar", "Count", "List", "Each", "First", "Touching"];
        Assert.Empty(typeof(Storage.WriteSession).GetMethods().Select(m => m.Name).Intersect(sql));
    }

    [Fact]
    public void NoDerivedStepReadsWhatALaterOneWrites()
    {
        var chain = typeof(Program).Assembly.GetType("JadeOrchard.Server.Derived.Chain")!.GetField("Steps")!.GetValue(null)!;
        static Storage.Data Of(object step, string property) => (Storage.Data)step.GetType().GetProperty(property)!.GetValue(step)!;
        var steps = ((System.Collections.IEnumerable)chain).Cast<object>().ToList();
        Assert.True(steps.Count > 10);
        for (var i = 0; i < steps.Count; i++)
        {
            var later = steps.Skip(i + 1).Aggregate(Storage.Data.None, (kinds, step) => kinds | Of(step, "Writes"));
            Assert.True((Of(steps[i], "Reads") & later) == Storage.Data.None, $"{steps[i].GetType().Name} runs before {Of(steps[i], "Reads") & later} is written.");
        }
    }

    private static IEnumerable<Mono.Cecil.TypeDefinition> WithNested(Mono.Cecil.TypeDefinition type) => type.NestedTypes.SelectMany(WithNested).Prepend(type);

    [Fact]
    public void NothingKnowsTheStandIns()
    {
        foreach (var assembly in new[] { typeof(Program).Assembly, typeof(Storage.Database).Assembly, typeof(Formats.Tables.DelimitedFile).Assembly, Assembly.Load("jade") })
            Assert.DoesNotContain("JadeOrchard.StandIns", assembly.GetReferencedAssemblies().Select(a => a.Name));
    }
}
