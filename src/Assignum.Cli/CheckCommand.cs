using System.CommandLine;
using Assignum.Core.Findings;

namespace Assignum.Cli;

/// <summary><c>assignum check</c>: what is wrong with a rulebook file.</summary>
static class CheckCommand
{
    internal static Command Make()
    {
        var rulebook = new Option<FileInfo>("--rulebook") { Required = true, Description = "Rulebook, assignum-rulebook/1." };
        var command = new Command("check", "Prints what is wrong with a rulebook, one finding a line; exit code 4 when something is an error.") { rulebook };
        command.SetAction(parsed => ExitCode.Of(() => Check(parsed.GetRequiredValue(rulebook))));
        return command;
    }

    static int Check(FileInfo rulebook)
    {
        var findings = RulebookFile.Check(rulebook);
        using var to = Console.OpenStandardOutput();
        RulebookFile.Print(to, findings);
        return findings.Any(f => f.Severity == Severity.Error) ? ExitCode.RulebookRefused : ExitCode.Done;
    }
}
