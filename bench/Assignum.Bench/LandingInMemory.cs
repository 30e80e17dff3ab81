using System.Diagnostics;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Bench;

/// <summary>Landing events that are read already: ledger lines a second on one thread, and what the second core adds.</summary>
static class LandingInMemory
{
    internal static void Run()
    {
        var sample = Sample.Book(10_000);
        var watch = Stopwatch.StartNew();
        var book = new CompiledRulebook(sample);
        var compiled = watch.Elapsed.TotalSeconds;
        Document[] events = [.. Sample.Invoices(sample, 60_000)];
        var lines = 0L;
        var seconds = Ratio.Print("memory: two threads, half of the events each", "0.5 × one thread, where two cores are free", () => Parallel.Invoke(() => Land(0, events.Length / 2), () => Land(events.Length / 2, events.Length)), () => lines = Land(0, events.Length));
        watch.Restart();
        lines = Land(0, events.Length);
        Ratio.Say($"memory: {lines / watch.Elapsed.TotalSeconds / 1e6:0.00} M lines/s on one thread ({seconds:0.00} s on two); goal: 1 M lines/s");

        var million = Sample.Book(1_000_000);
        watch.Restart();
        _ = new CompiledRulebook(million);
        Ratio.Say($"memory: a rulebook of 1,000,000 rules compiles in {watch.Elapsed.TotalSeconds:0.00} s, one of 10,000 in {compiled:0.000} s; goal: under 1 s");

        long Land(int from, int to)
        {
            var rows = 0L;
            for (var i = from; i < to; i++)
                rows += ((Landed)Landing.Land(book, events[i])).Rows.Count;
            return rows;
        }
    }
}
