extern alias outside;

using System.Reflection;
using NetArchTest.Rules;
using outside::Assignum.Simulators;

namespace Assignum.Web.Tests;

/// <summary>Dependencies point one way, and the core is pure.</summary>
public class ArchitectureTests
{
    static readonly Assembly Core = typeof(Core.Fold).Assembly, Formats = typeof(Formats.Utf8Text).Assembly, Storage = typeof(Storage.Database).Assembly, Web = typeof(Program).Assembly, Cli = Assembly.Load("assignum");

    static string[] OurReferences(Assembly assembly) => [.. assembly.GetReferencedAssemblies().Select(r => r.Name!).Where(n => n.StartsWith("Assignum", StringComparison.OrdinalIgnoreCase)).Order(StringComparer.Ordinal)];

    [Fact]
    public void Each_project_depends_on_what_stands_below_it()
    {
        Assert.Empty(OurReferences(Core));
        Assert.Equal(["Assignum.Core"], OurReferences(Formats));
        Assert.Equal(["Assignum.Core"], OurReferences(Storage));
        Assert.Equal(["Assignum.Core", "Assignum.Formats", "Assignum.Storage"], OurReferences(Cli));
        Assert.Equal(["Assignum.Core", "Assignum.Formats", "Assignum.Storage"], OurReferences(Web));
        // The stand-ins are the outside.
        Assert.Empty(OurReferences(typeof(StandIn).Assembly));
    }

    [Fact]
    public void The_core_references_nothing_but_the_runtime() => Assert.All(Core.GetReferencedAssemblies(), r => Assert.StartsWith("System.", r.Name, StringComparison.Ordinal));

    [Fact]
    public void The_core_has_no_input_no_output_no_threads_and_no_network()
    {
        var result = Types.InAssembly(Core).ShouldNot().HaveDependencyOnAny("System.IO", "System.Threading.Tasks", "System.Net", "System.Data", "System.Console", "System.Diagnostics.Process", "System.Random", "System.TimeProvider").GetResult();

        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public void The_core_has_no_clock()
    {
        var called = Core.GetTypes().SelectMany(t => t.GetMethods(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Static | BindingFlags.Instance | BindingFlags.DeclaredOnly)).SelectMany(CallsOf);

        Assert.DoesNotContain(called, m => m.DeclaringType?.FullName is "System.DateTime" or "System.DateTimeOffset" or "System.TimeProvider" or "System.Diagnostics.Stopwatch");
    }

    // Calls, read out of the method's instructions: call (28) and callvirt (6F), each followed by a token.
    static IEnumerable<MethodBase> CallsOf(MethodInfo method)
    {
        var code = method.GetMethodBody()?.GetILAsByteArray() ?? [];
        for (var i = 0; i + 4 < code.Length; i++)
            if (code[i] is 0x28 or 0x6F)
            {
                MethodBase? called = null;
                try { called = method.Module.ResolveMethod(BitConverter.ToInt32(code, i + 1), method.DeclaringType!.GetGenericArguments(), method.IsGenericMethod ? method.GetGenericArguments() : null); }
                catch (ArgumentException) { }
                if (called is not null)
                    yield return called;
            }
    }
}
