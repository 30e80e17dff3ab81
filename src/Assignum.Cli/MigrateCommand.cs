using System.CommandLine;
using Assignum.Storage;
using Npgsql;

namespace Assignum.Cli;

/// <summary><c>assignum migrate</c>: brings the database up to date, with its owner's connection. The application never has it.</summary>
static class MigrateCommand
{
    static readonly Option<string?> Owner = new("--owner") { Description = "Connection string of the database's owner; without it, ASSIGNUM_DB_OWNER." };

    internal static Command Make()
    {
        var command = new Command("migrate", "Brings the application's database up to date. Several may run at once: one migrates, the others wait.") { Owner };
        command.SetAction(parsed => ExitCode.Of(() =>
        {
            if ((parsed.GetValue(Owner) ?? Environment.GetEnvironmentVariable("ASSIGNUM_DB_OWNER")) is not { Length: > 0 } owner)
            {
                Console.Error.WriteLine("assignum: No owner's connection is given. Set ASSIGNUM_DB_OWNER, or give --owner.");
                return ExitCode.WrongUse;
            }
            try
            {
                var run = Database.Migrate(owner);
                Console.Error.WriteLine(run.Count == 0 ? "assignum: The database is up to date."
                    : $"assignum: {run.Count} {(run.Count == 1 ? "migration" : "migrations")} run, up to {run[^1]}.");
                return ExitCode.Done;
            }
            catch (Exception fault) when (fault is NpgsqlException { SqlState: null } or ArgumentException)
            {
                Console.Error.WriteLine($"assignum: The database can't be reached: {fault.Message} Check the connection string.");
                return ExitCode.WrongUse;
            }
        }));
        return command;
    }
}
