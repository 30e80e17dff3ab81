using System.Collections.Concurrent;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;

namespace Assignum.Formats.Landing;

/// <summary>Counts of a run.</summary>
/// <param name="Events">Events read.</param>
/// <param name="Held">Events held.</param>
public readonly record struct LandingCounts(long Events, long Held);

/// <summary>Where a run writes to.</summary>
/// <param name="Journal">Journal, CSV.</param>
/// <param name="Held">Reasons of held events, NDJSON.</param>
/// <param name="Subledger">Subledger movements, CSV; or null.</param>
/// <param name="Warnings">Warnings, NDJSON; or null.</param>
public sealed record LandingOutputs(Stream Journal, Stream Held, Stream? Subledger, Stream? Warnings);

/// <summary>Lands a file of events block by block: blocks are computed on all cores, written in their order, and never more than a few at once are in
/// memory.</summary>
public static class LandingRun
{
    /// <summary>Lands all events of a stream.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="events">NDJSON.</param>
    /// <param name="to">The outputs, which stay open.</param>
    public static LandingCounts Run(CompiledRulebook book, Stream events, LandingOutputs to)
    {
        to.Journal.Write(JournalCsv.Header);
        to.Subledger?.Write(SubledgerCsv.Header);
        var idle = new ConcurrentBag<LandedBlock>();
        var underWay = new Queue<Task<LandedBlock>>();
        var counts = new LandingCounts();
        foreach (var block in EventBlocks.Read(events))
        {
            underWay.Enqueue(Task.Run(() => Land(book, block, idle)));
            if (underWay.Count > Environment.ProcessorCount)
                counts = Write(underWay.Dequeue());
        }
        while (underWay.TryDequeue(out var next))
            counts = Write(next);
        return counts;

        LandingCounts Write(Task<LandedBlock> done)
        {
            var landed = done.GetAwaiter().GetResult();
            to.Journal.Write(landed.Journal.Written.Span);
            to.Held.Write(landed.Held.Written.Span);
            to.Subledger?.Write(landed.Subledger.Written.Span);
            to.Warnings?.Write(landed.Warnings.Written.Span);
            var sum = new LandingCounts(counts.Events + landed.Events, counts.Held + landed.HeldEvents);
            idle.Add(landed);
            return sum;
        }
    }

    static LandedBlock Land(CompiledRulebook book, EventBlock block, ConcurrentBag<LandedBlock> idle)
    {
        using (block)
        {
            var landed = idle.TryTake(out var used) ? used : new LandedBlock();
            landed.Land(book, block);
            return landed;
        }
    }
}
