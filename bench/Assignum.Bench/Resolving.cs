using System.Collections.Frozen;
using Assignum.Core.Rulebooks;
using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Toolchains.InProcess.Emit;

namespace Assignum.Bench;

/// <summary>One amount by the default revenue ladder, at four sizes, against one look-up in a frozen table of a million.</summary>
[Config(typeof(HereAndShort)), MemoryDiagnoser]
public class Resolving
{
    const int Questions = 1 << 14, Million = 1_000_000;
    static readonly DateOnly Day = new(2026, 3, 14);
    CompiledRulebook book = null!;
    Facts[] facts = [];
    FrozenDictionary<long, int> table = FrozenDictionary<long, int>.Empty;
    long[] keys = [];

    /// <summary>Rules of the rulebook.</summary>
    [Params(1_000, 10_000, 100_000, 1_000_000)]
    public int Rules { get; set; }

    /// <summary>In this process, so that the bench needs no project file beside it.</summary>
    sealed class HereAndShort : ManualConfig
    {
        public HereAndShort() => AddJob(Job.ShortRun.WithIterationCount(7).WithToolchain(InProcessEmitToolchain.Instance));
    }

    [GlobalSetup]
    public void Setup()
    {
        var sample = Sample.Book(Rules);
        book = new CompiledRulebook(sample);
        facts = [.. Sample.Questions(sample, Questions).Select(q => book.FactsOf(q))];
        var chance = new Random(3);
        table = Enumerable.Range(0, Million).ToFrozenDictionary(i => i * 7919L, i => i);
        keys = [.. Enumerable.Range(0, Questions).Select(_ => chance.Next(Million) * 7919L)];
    }

    [Benchmark(Baseline = true, OperationsPerInvoke = Questions)]
    public long OneLookUpInAFrozenTableOfAMillion()
    {
        var sum = 0L;
        foreach (var key in keys)
            sum += table[key];
        return sum;
    }

    [Benchmark(OperationsPerInvoke = Questions)]
    public long ResolveRevenue()
    {
        var sum = 0L;
        foreach (var asked in facts)
            sum += book.Resolve(Purpose.Revenue, asked, Day).RuleAt;
        return sum;
    }
}
