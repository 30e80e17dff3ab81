using System.CommandLine;
using Assignum.Core.Findings;

namespace Assignum.Cli;

/// <summary><c>assignum check</c>: what is wrong with a rulebook file.</summary>
static class CheckCommand
{
    internal static Command Make()
    {
        var rulebook = new Option<FileInfo>("--rulebook") { Required = true, Description = "Rulebook, assignum-rulebook/1." };
        var date = new Option<DateOnly?>("--date") { Description = "Day on which tax codes must have a rate, YYYY-MM-DD; today when left out." };
        var command = new Command("check", "Prints what is wrong with a rulebook, one finding a line; exit code 4 when something is an error.")
        {
            rulebook, date,
        };
        command.SetAction(parsed => ExitCode.Of(() =>
            Check(parsed.GetRequiredValue(rulebook), parsed.GetValue(date) ?? DateOnly.FromDateTime(DateTime.UtcNow))));
        return command;
    }

    static int Check(FileInfo rulebook, DateOnly today)
    {
        var findings = RulebookFile.Check(rulebook, today);
        using var to = Console.OpenStandardOutput();
        RulebookFile.Print(to, findings);
        return findings.Any(f => f.Severity == Severity.Error) ? ExitCode.RulebookRefused : ExitCode.Done;
    }
}
