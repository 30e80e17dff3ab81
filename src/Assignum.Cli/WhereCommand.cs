using System.CommandLine;
using System.Globalization;
using Assignum.Core.Rulebooks;
using Assignum.Formats;
using Assignum.Formats.Landing;

namespace Assignum.Cli;

/// <summary><c>assignum where</c> and <c>assignum coverage</c>: where purposes land, and how far their rules reach.</summary>
static class WhereCommand
{
    static readonly Option<FileInfo> Rulebook = new("--rulebook") { Required = true, Description = "Rulebook, assignum-rulebook/1." };
    static readonly Option<string?> Date = new("--date") { Description = "Posting date, YYYY-MM-DD; without it, today." };

    static readonly (Option<string?> Option, Fact Fact)[] Members =
    [
        (new("--party") { Description = "Code of a party; its group follows." }, Fact.Party),
            (new("--item") { Description = "Code of an item; its group and kind follow." }, Fact.Item),
        (new("--item-group") { Description = "Code of an item group, instead of an item." }, Fact.ItemGroup),
            (new("--location") { Description = "Code of a location." }, Fact.Location),
        (new("--connection") { Description = "Code of a connection." }, Fact.Connection), (new("--method") { Description = "Payment method." }, Fact.Method),
        (new("--currency") { Description = "ISO 4217 code; without it, the company's." }, Fact.Currency),
            (new("--tax-code") { Description = "Code of a tax code." }, Fact.TaxCode),
    ];

    internal static Command Where()
    {
        var command = new Command("where", "Prints for each purpose the account it lands on, the rung and the rule, one JSON object a line.") { Rulebook,
            Date };
        foreach (var (option, _) in Members)
            command.Add(option);
        command.SetAction(parsed => ExitCode.Of(() =>
        {
            if (DateOf(parsed) is not { } date)
                return ExitCode.WrongUse;
            if (RulebookFile.Compile(parsed.GetRequiredValue(Rulebook)) is not { } book)
                return ExitCode.RulebookRefused;
            var given = Members.Select(m => (m.Fact, m.Option.Name, Code: parsed.GetValue(m.Option))).Where(g => g.Code is not null).ToList();
            foreach (var (fact, option, code) in given)
                if (!book.Knows(fact, code!))
                {
                    Console.Error.WriteLine($"assignum: {option} {code}: the rulebook has no {fact.InWords()} of that code. Correct the code.");
                    return ExitCode.WrongUse;
                }
            string? Of(Fact fact) => given.FirstOrDefault(g => g.Fact == fact).Code;
            var asked = new Asked
            {
                Party = Of(Fact.Party), Item = Of(Fact.Item), ItemGroup = Of(Fact.ItemGroup), TaxCode = Of(Fact.TaxCode), Currency = Of(Fact.Currency),
                Further = [.. given.Where(g => g.Fact is Fact.Location or Fact.Connection or Fact.Method).Select(g => new FactValue(g.Fact, g.Code!))],
            };
            return Print(text => WhereJson.Write(text, Whereabouts.Of(book, Whereabouts.FactsOf(book, asked), date)));
        }));
        return command;
    }

    internal static Command Coverage()
    {
        var command = new Command("coverage",
            "Prints for each purpose how many combinations answer at which rung, reach suspense, or reach nothing, one JSON object a line.") { Rulebook, Date };
        command.SetAction(parsed => ExitCode.Of(() =>
        {
            if (DateOf(parsed) is not { } date)
                return ExitCode.WrongUse;
            if (RulebookFile.Compile(parsed.GetRequiredValue(Rulebook)) is not { } book)
                return ExitCode.RulebookRefused;
            return Print(text => WhereJson.Write(text, Purpose.All.Select(p => Core.Rulebooks.Coverage.Of(book, p, date))));
        }));
        return command;
    }

    static DateOnly? DateOf(ParseResult parsed)
    {
        if (parsed.GetValue(Date) is not { } written)
            return DateOnly.FromDateTime(DateTime.Today);
        if (DateOnly.TryParseExact(written, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date))
            return date;
        Console.Error.WriteLine($"assignum: --date {written} is no date. Write it as YYYY-MM-DD, such as 2026-03-14.");
        return null;
    }

    static int Print(Action<Utf8Text> write)
    {
        var text = new Utf8Text();
        write(text);
        using var to = Console.OpenStandardOutput();
        to.Write(text.Written.Span);
        return ExitCode.Done;
    }
}
