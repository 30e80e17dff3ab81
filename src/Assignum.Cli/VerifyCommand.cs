using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using Assignum.Storage;
using Assignum.Storage.Companies;
using Assignum.Storage.Proving;

namespace Assignum.Cli;

/// <summary><c>assignum verify</c>: the books of a company prove themselves.</summary>
static class VerifyCommand
{
    internal static Command Make()
    {
        Option<string> company = new("--company") { Required = true, Description = "Code of the company, such as QN." };
        Option<FileInfo[]> heads = new("--head")
        {
            Description = "A chain's head that was kept at a close, as the file that was exported; it must still be in the chain. May be given many times.",
        };
        var command = new Command("verify",
            "Checks the chain of digests of a company's books, the numbers, sums and balances. Prints what it counted, the head " +
            "of each year's chain and what is wrong: exit code 0 when nothing is, 5 otherwise.") { company, heads, ApplicationDatabase.Db };
        command.SetAction(parsed => ExitCode.Of(() => ApplicationDatabase.With(parsed, source =>
        {
            if (Database.WhyNot(source, default).GetAwaiter().GetResult() is { } why)
                return ApplicationDatabase.Refuse(why, ExitCode.WrongUse);
            var code = parsed.GetRequiredValue(company);
            if (new CompanyStore(source).Find(code, default).GetAwaiter().GetResult() is not { } found)
                return ApplicationDatabase.Refuse($"There is no company {code}.", ExitCode.WrongUse);
            var kept = new List<ChainHead>();
            foreach (var file in parsed.GetValue(heads) ?? [])
                if (ReadHead(file) is { } head)
                    kept.Add(head);
                else
                    return ApplicationDatabase.Refuse($"{file.Name} is no head of a chain. Give the file as it was exported at the close.", ExitCode.WrongUse);
            var books = new BooksVerifying(source).Verify(found.Id, found.Code, kept, default).GetAwaiter().GetResult();
            Print(books);
            return books.Sound ? ExitCode.Done : ExitCode.BooksAdrift;
        })));
        return command;
    }

    static ChainHead? ReadHead(FileInfo file)
    {
        try
        {
            using var json = JsonDocument.Parse(File.ReadAllBytes(file.FullName));
            var root = json.RootElement;
            return new(DateOnly.ParseExact(root.GetProperty("year").GetString()!, "yyyy-MM-dd", CultureInfo.InvariantCulture),
                root.GetProperty("place").GetInt64(), root.GetProperty("digest").GetString()!);
        }
        catch (Exception fault) when (fault is IOException or JsonException or KeyNotFoundException or FormatException or InvalidOperationException
            or ArgumentNullException)
        {
            return null;
        }
    }

    static void Print(VerifiedBooks books)
    {
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{books.Company}: {books.Events} events in chains, {books.Entries} entries, {books.Lines} lines, {books.Movements} movements"));
        foreach (var head in books.Heads)
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"year from {head.Year:yyyy-MM-dd}: {head.Place} events, head {head.Digest}"));
        foreach (var fault in books.Faults)
            Console.WriteLine(fault.Message);
        if (books.More > 0)
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"and {books.More} more like these"));
        Console.WriteLine(books.Sound ? "Nothing is wrong." : string.Create(CultureInfo.InvariantCulture, $"{books.Faults.Count + books.More} faults."));
    }
}
