using System.CommandLine;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Landing;

namespace Assignum.Cli;

/// <summary><c>assignum land</c>: from a rulebook and events to a journal, file to file.</summary>
static class LandCommand
{
    internal static Command Make()
    {
        var rulebook = new Option<FileInfo>("--rulebook") { Required = true, Description = "Rulebook, assignum-rulebook/1." };
        var events = new Option<FileInfo>("--events") { Required = true, Description = "Events, NDJSON, one a line." };
        var journal = new Option<FileInfo>("--journal") { Required = true, Description = "Where to write the journal, CSV." };
        var held = new Option<FileInfo>("--held") { Required = true, Description = "Where to write why events are held, NDJSON." };
        var subledger = new Option<FileInfo?>("--subledger") { Description = "Where to write the subledger movements, CSV." };
        var command = new Command("land", "Lands events: exit code 0 when all landed, 3 when some are held, 4 when the rulebook is refused.") { rulebook,
            events, journal, held, subledger };
        command.SetAction(parsed => ExitCode.Of(() => RulebookFile.Compile(parsed.GetRequiredValue(rulebook)) is not { } book
            ? ExitCode.RulebookRefused
            : Land(book, parsed.GetRequiredValue(events), parsed.GetRequiredValue(journal), parsed.GetRequiredValue(held), parsed.GetValue(subledger))));
        return command;
    }

    static int Land(CompiledRulebook book, FileInfo events, FileInfo journal, FileInfo held, FileInfo? subledger)
    {
        using var from = new FileStream(events.FullName, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.SequentialScan);
        using var toJournal = new WholeFile(journal);
        using var toHeld = new WholeFile(held);
        using var toSubledger = subledger is null ? null : new WholeFile(subledger);
        using var warnings = Console.OpenStandardError();
        var counts = LandingRun.Run(book, from, new LandingOutputs(toJournal.Stream, toHeld.Stream, toSubledger?.Stream, warnings));
        toJournal.Keep();
        toHeld.Keep();
        toSubledger?.Keep();
        return counts.Held == 0 ? ExitCode.Done : ExitCode.SomeHeld;
    }
}
