using System.CommandLine;
using System.Globalization;
using Assignum.Storage;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Cli;

/// <summary><c>assignum begin</c> and <c>assignum books</c>: the first company of a new installation, and whether the books of all hold together.</summary>
static class InstallationCommands
{
    internal static Command Begin()
    {
        Option<string> company = new("--company") { Required = true, Description = "Code of the first company, such as QN." },
            name = new("--name") { Required = true, Description = "Its name." };
        Option<string> currency = new("--currency") { Required = true, Description = "ISO 4217 code of its books." },
            person = new("--administrator") { Required = true, Description = "Name the first administrator signs in with." };
        var starts = new Option<DateOnly>("--first-day") { Required = true, Description = "First day of its first fiscal year, as 2026-01-01." };
        var command = new Command("begin",
            "Opens the first company and adds its first administrator, where nobody is there yet. Prints the path of the page at which the password is set, " +
                "once.") { company, name, currency, starts, person, ApplicationDatabase.Db };
        command.SetAction(parsed => ExitCode.Of(() => With(parsed, source =>
        {
            if (parsed.GetRequiredValue(currency) is not { Length: 3 } iso || !iso.All(char.IsAsciiLetterUpper))
                return Refuse($"{parsed.GetRequiredValue(currency)} is no currency. Give its ISO 4217 code, as EUR.");
            if (string.IsNullOrWhiteSpace(parsed.GetRequiredValue(company)) || string.IsNullOrWhiteSpace(parsed.GetRequiredValue(person)))
                return Refuse("The company needs a code, and the administrator a name. Give both.");
            var (token, hash) = LinkToken.New();
            if (Beginning.With(source, parsed.GetRequiredValue(company), parsed.GetRequiredValue(name), iso, parsed.GetRequiredValue(starts),
                parsed.GetRequiredValue(person), hash, default).GetAwaiter().GetResult() is { } why)
                return Refuse(why);
            Console.WriteLine("/new-password/" + token);
            Console.Error.WriteLine($"assignum: {parsed.GetRequiredValue(company)} is open. {parsed.GetRequiredValue(person)} sets a password at the path " +
                "above, within a day.");
            return ExitCode.Done;
        })));
        return command;
    }

    internal static Command Books()
    {
        var command = new Command("books",
            "Counts the books of every company line by line, and says whether they hold together: exit code 0 when they do, 5 when they do not.")
            { ApplicationDatabase.Db };
        command.SetAction(parsed => ExitCode.Of(() => With(parsed, source =>
        {
            var all = BooksProof.OfAll(source, default).GetAwaiter().GetResult();
            foreach (var books in all)
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{books.Company}: {books.Entries} entries, {books.Lines} lines, debits {books.Debits:0.00##}; "
                    + $"{books.OutOfBalance} out of balance, {books.MissingNumbers} numbers missing, {books.Adrift} balances adrift, "
                    + $"{books.Homeless} without their other half"));
            return all.TrueForAll(b => b.Sound) ? ExitCode.Done : ExitCode.BooksAdrift;
        })));
        return command;
    }

    // Both need the tables as this version has them.
    static int With(ParseResult parsed, Func<NpgsqlDataSource, int> act) => ApplicationDatabase.With(parsed, source =>
        Database.WhyNot(source, default).GetAwaiter().GetResult() is { } why ? Refuse(why) : act(source));

    static int Refuse(string message) => ApplicationDatabase.Refuse(message, ExitCode.WrongUse);
}
