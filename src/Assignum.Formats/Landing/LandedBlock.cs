using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;

namespace Assignum.Formats.Landing;

/// <summary>What the events of one block came to, as text of the formats. Used again and again; for one thread at a time.</summary>
public sealed class LandedBlock
{
    readonly EventReader reader = new();

    /// <summary>Records of the journal.</summary>
    public Utf8Text Journal { get; } = new();
    /// <summary>Records of the subledgers.</summary>
    public Utf8Text Subledger { get; } = new();
    /// <summary>Reasons of held events.</summary>
    public Utf8Text Held { get; } = new();
    /// <summary>Warnings.</summary>
    public Utf8Text Warnings { get; } = new();
    /// <summary>Events read.</summary>
    public int Events { get; private set; }
    /// <summary>Events held.</summary>
    public int HeldEvents { get; private set; }

    /// <summary>Reads, lands and writes each event of a block, forgetting the block before.</summary>
    public void Land(CompiledRulebook book, EventBlock block)
    {
        Forget();
        var minorUnits = Money.MinorUnits(Fold.Of(book.Book.Company.Currency));
        var rest = block.Bytes;
        var number = block.FirstLine;
        while (!rest.IsEmpty)
        {
            var end = rest.IndexOf((byte)'\n');
            var line = end < 0 ? rest : rest[..end];
            rest = end < 0 ? [] : rest[(end + 1)..];
            if (!line.Trim(" \t\r"u8).IsEmpty)
                Land(book, line, number, minorUnits);
            number++;
        }
    }

    void Land(CompiledRulebook book, ReadOnlySpan<byte> json, long number, int minorUnits)
    {
        Events++;
        var read = reader.Read(json, number);
        var outcome = read.Event is { } happened ? Core.Posting.Landing.Land(book, happened) : new Held([read.Fault!]);
        if (outcome.Warnings.Count > 0)
            HeldJson.WriteWarnings(Warnings, read.Id, outcome.Warnings);
        if (outcome is Landed landed)
        {
            JournalCsv.Write(Journal, read.Event!, landed.Rows, minorUnits);
            SubledgerCsv.Write(Subledger, read.Event!, landed.Subledger, minorUnits);
        }
        else if (outcome is Held held)
        {
            HeldEvents++;
            HeldJson.Write(Held, read.Id, held.Reasons);
        }
    }

    void Forget()
    {
        foreach (var text in new[] { Journal, Subledger, Held, Warnings })
            text.Clear();
        (Events, HeldEvents) = (0, 0);
    }
}
