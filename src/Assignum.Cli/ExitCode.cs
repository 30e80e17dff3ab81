namespace Assignum.Cli;

/// <summary>Exit codes of the command line, as docs/formats.md has them.</summary>
static class ExitCode
{
    internal const int Done = 0;
    internal const int OurFault = 1;
    internal const int WrongUse = 2;
    internal const int SomeHeld = 3;
    internal const int RulebookRefused = 4;
    internal const int BooksAdrift = 5;

    /// <summary>Runs a command; a file that can't be read or written is wrong use, anything else unforeseen is our fault.</summary>
    internal static int Of(Func<int> command)
    {
        try
        {
            return command();
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"assignum: {fault.Message} Check the path and its permissions.");
            return WrongUse;
        }
        catch (Exception fault)
        {
            Console.Error.WriteLine($"assignum: a fault of ours: {fault}");
            return OurFault;
        }
    }
}
