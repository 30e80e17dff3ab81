using System.CommandLine;
using Assignum.Storage;
using Npgsql;

namespace Assignum.Cli;

/// <summary>The application's database, for the commands that work on it.</summary>
static class ApplicationDatabase
{
    internal static readonly Option<string?> Db = new("--db")
    {
        Description = "Connection string of the application's database; without it, ASSIGNUM_DB, else that of ./run.",
    };

    /// <summary>Runs a command on the database that is named; where none is, or it can't be reached, says so.</summary>
    internal static int With(ParseResult parsed, Func<NpgsqlDataSource, int> act)
    {
        if ((parsed.GetValue(Db) ?? Environment.GetEnvironmentVariable("ASSIGNUM_DB")) is not { Length: > 0 } connection)
            return Refuse("No database is named. Start the application with ./run, set ASSIGNUM_DB, or give --db.", ExitCode.WrongUse);
        try
        {
            using var source = Database.Open(connection);
            return act(source);
        }
        catch (Exception fault) when (fault is NpgsqlException { SqlState: null } or ArgumentException)
        {
            return Refuse($"The database can't be reached: {fault.Message} Check the connection string, and that ./run is running.", ExitCode.WrongUse);
        }
    }

    internal static int Refuse(string message, int code)
    {
        Console.Error.WriteLine("assignum: " + message);
        return code;
    }
}
