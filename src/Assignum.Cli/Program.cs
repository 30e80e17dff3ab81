using System.CommandLine;
using System.Globalization;
using Assignum.Cli;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var root = new RootCommand("Lands business events by a rulebook, checks rulebooks, says where purposes land, and brings in charts of accounts. Works on " +
    "files; only export, import, migrate, begin, books and verify need the application's database.")
{
    LandCommand.Make(), CheckCommand.Make(), WhereCommand.Where(), WhereCommand.Coverage(), ChartCommand.Make(), CompanyCommands.Export(),
        CompanyCommands.Import(), MigrateCommand.Make(), InstallationCommands.Begin(), InstallationCommands.Books(), VerifyCommand.Make(),
};
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    foreach (var error in parsed.Errors)
        Console.Error.WriteLine("assignum: " + error.Message);
    Console.Error.WriteLine("assignum: `assignum --help` shows the commands and their options.");
    return ExitCode.WrongUse;
}
return parsed.Invoke();
