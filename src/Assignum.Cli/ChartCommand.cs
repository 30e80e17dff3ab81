using System.CommandLine;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Cli;

/// <summary><c>assignum chart</c>: the import of a chart without the application: a foreign file in, accounts as rulebooks have them out.</summary>
static class ChartCommand
{
    internal static Command Make()
    {
        var file = new Option<FileInfo>("--file") { Required = true, Description = "Chart of accounts, CSV or XLSX." };
        var sheet = new Option<string?>("--sheet") { Description = "Name of the sheet; without it, the one that looks most like a chart." };
        var map = new Option<FileInfo?>("--map") { Description = "Mapping, assignum-chart-mapping/1; without it, one is proposed and printed." };
        var into = new Option<FileInfo>("--out") { Required = true, Description = "Where to write the accounts, a JSON list as in a rulebook." };
        var refused = new Option<FileInfo>("--refused") { Required = true, Description = "Where to write the refused rows with their reasons, CSV." };
        var command = new Command("chart",
            "Brings a chart of accounts into the form of a rulebook: exit code 0 when all rows are taken, 3 when some are refused, 4 when the file can't be " +
                "read.") { file, sheet, map, into, refused };
        command.SetAction(parsed => ExitCode.Of(() =>
            Bring(parsed.GetRequiredValue(file), parsed.GetValue(sheet), parsed.GetValue(map), parsed.GetRequiredValue(into),
            parsed.GetRequiredValue(refused))));
        return command;
    }

    static int Bring(FileInfo file, string? sheetName, FileInfo? map, FileInfo into, FileInfo refused)
    {
        if (file.Length > SheetFile.LargestFile)
            return Refuse(SheetFile.TooLarge(file.Length), ExitCode.RulebookRefused);
        var read = SheetFile.Read(File.ReadAllBytes(file.FullName));
        if (read.Fault is { } unread)
            return Refuse(unread, ExitCode.RulebookRefused);
        if (sheetName is not null && read.Sheets.All(s => !Core.Fold.Same(s.Name, sheetName)))
            return Refuse($"The file has no sheet {sheetName}. It has {string.Join(", ", read.Sheets.Select(s => s.Name))}.", ExitCode.WrongUse);
        string? fault = null;
        var mapping = map is null ? MappingProposal.For(read.Sheets, sheetName) : MappingJson.Read(File.ReadAllBytes(map.FullName), read.Sheets, out fault);
        if (mapping is null)
            return Refuse(fault!, ExitCode.WrongUse);
        if (map is not null && sheetName is not null)
            mapping = mapping with { Sheet = sheetName };
        var sheet = read.Sheets.First(s => Core.Fold.Same(s.Name, mapping.Sheet));
        if (map is null)
            Console.Out.WriteLine(MappingJson.Write(sheet, mapping));
        return Write(sheet, mapping, into, refused);
    }

    static int Write(Sheet sheet, ChartMapping mapping, FileInfo into, FileInfo refused)
    {
        if (ChartFields.All.Where(f => f.Required && !mapping.Columns.ContainsKey(f.Name)).Select(f => f.Name).ToList() is { Count: > 0 } missing)
            return Refuse($"No column gives {string.Join(" and ", missing)}. Name it under columns of a mapping, and give that with --map.", ExitCode.WrongUse);
        var empty = new ChartBook(new Rulebook { Company = new Company("", "", "EUR", new CompanyOptions()) });
        var plan = ChartImport.Plan(ChartSheet.Rows(sheet, mapping), empty, mapping.Placing, mapping.KindsGiven, mapping.Lenience);
        using var accounts = new WholeFile(into);
        using var refusals = new WholeFile(refused);
        AccountsJson.Write(accounts.Stream, plan.ParentsFirst().Select(r => r.Account!));
        CsvTable.Write(refusals.Stream, RefusedRows.Of(sheet, mapping, plan));
        accounts.Keep();
        refusals.Keep();
        var left = plan.Count(ChartRowFate.Refused);
        Console.Error.WriteLine($"assignum: {plan.Count(ChartRowFate.New)} accounts taken, {left} rows refused.");
        return left == 0 ? ExitCode.Done : ExitCode.SomeHeld;
    }

    static int Refuse(string message, int code)
    {
        Console.Error.WriteLine("assignum: " + message);
        return code;
    }
}
