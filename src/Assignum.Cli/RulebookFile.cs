using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Assignum.Formats;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;

namespace Assignum.Cli;

/// <summary>A rulebook file as the commands need it.</summary>
static class RulebookFile
{
    /// <summary>The rulebook ready for landing, or null after its errors went to standard error.</summary>
    internal static CompiledRulebook? Compile(FileInfo file)
    {
        var read = RulebookReader.Read(File.ReadAllBytes(file.FullName));
        IReadOnlyList<Finding> errors = read.Book is null ? read.Findings : RulebookChecks.Errors(read.Book);
        if (errors.Count == 0)
            return new CompiledRulebook(read.Book!);
        using var to = Console.OpenStandardError();
        Print(to, errors);
        return null;
    }

    /// <summary>Everything that is wrong with the file, or with the rulebook in it.</summary>
    internal static IReadOnlyList<Finding> Check(FileInfo file, DateOnly today)
    {
        var read = RulebookReader.Read(File.ReadAllBytes(file.FullName));
        return read.Book is null ? read.Findings : RulebookChecks.Check(read.Book, today);
    }

    internal static void Print(Stream to, IReadOnlyList<Finding> findings)
    {
        var text = new Utf8Text();
        HeldJson.Write(text, findings);
        to.Write(text.Written.Span);
    }
}
