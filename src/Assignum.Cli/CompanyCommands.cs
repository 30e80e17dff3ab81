using System.CommandLine;
using Assignum.Formats.Rulebooks;
using Assignum.Storage;
using Assignum.Storage.Companies;
using Assignum.Storage.Settings;
using Npgsql;
using static Assignum.Cli.ApplicationDatabase;

namespace Assignum.Cli;

/// <summary><c>assignum export</c> and <c>assignum import</c>: the rulebook of a company of the application as a file, and a file into its draft.</summary>
static class CompanyCommands
{
    static readonly Option<string> Company = new("--company") { Required = true, Description = "Code of the company, such as QN." };

    internal static Command Export()
    {
        var edition = new Option<int?>("--edition") { Description = "Number of an edition or of the draft; without it, the edition in force." };
        var file = new Option<FileInfo?>("--out") { Description = "Where to write it; without it, standard output." };
        var command = new Command("export", "Writes the rulebook of a company, assignum-rulebook/1.") { Company, edition, file, Db };
        command.SetAction(parsed => ExitCode.Of(() =>
            With(parsed, (source, company) => Write(source, company, parsed.GetValue(edition), parsed.GetValue(file)).GetAwaiter().GetResult())));
        return command;
    }

    internal static Command Import()
    {
        var rulebook = new Option<FileInfo>("--rulebook") { Required = true, Description = "Rulebook, assignum-rulebook/1." };
        var command = new Command("import",
            "Brings a rulebook into the draft of a company: exit code 0 when the draft says what the file says, 4 when the file is refused.") { Company,
            rulebook, Db };
        command.SetAction(parsed => ExitCode.Of(() =>
        {
            var read = RulebookReader.Read(File.ReadAllBytes(parsed.GetRequiredValue(rulebook).FullName));
            if (read.Book is null)
            {
                using var to = Console.OpenStandardError();
                RulebookFile.Print(to, read.Findings);
                return ExitCode.RulebookRefused;
            }
            return With(parsed, (source, company) =>
            {
                var done = new RulebookIntoDraft(new Draft(source, new RulebookStore(source))).Import(company.Id, null, read.Book,
                    CancellationToken.None).GetAwaiter().GetResult();
                if (done.Refusal is { } refusal)
                    return Refuse(refusal.Message, ExitCode.RulebookRefused);
                Console.Error.WriteLine($"assignum: {done.Changes} settings of {company.Code} changed in the " +
                    $"draft.{(done.Kept.Count == 0 ? "" : $" The file lacks {done.Kept.Count} accounts or members that stay, first {done.Kept[0]}.")}");
                return ExitCode.Done;
            });
        }));
        return command;
    }

    static async Task<int> Write(NpgsqlDataSource source, CompanyRow company, int? edition, FileInfo? file)
    {
        var books = new RulebookStore(source);
        var state = await books.StateOf(company.Id, CancellationToken.None);
        if (edition < 1 || edition > state.Draft)
            return Refuse($"{company.Code} has editions 1 to {state.Edition} and draft {state.Draft}. Choose one of them.", ExitCode.WrongUse);
        var stored = await books.Load(company.Id, edition, CancellationToken.None);
        if (file is null)
        {
            using var to = Console.OpenStandardOutput();
            RulebookWriter.Write(to, stored.Book);
            to.Write("\n"u8);
            return ExitCode.Done;
        }
        using var whole = new WholeFile(file);
        RulebookWriter.Write(whole.Stream, stored.Book);
        whole.Keep();
        return ExitCode.Done;
    }

    static int With(ParseResult parsed, Func<NpgsqlDataSource, CompanyRow, int> act) => ApplicationDatabase.With(parsed, source =>
        new CompanyStore(source).Find(parsed.GetRequiredValue(Company), CancellationToken.None).GetAwaiter().GetResult() is { } company
            ? act(source, company)
            : Refuse($"There is no company {parsed.GetRequiredValue(Company)}. Look at its code in the application.", ExitCode.WrongUse));
}
