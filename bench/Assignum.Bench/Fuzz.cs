using System.Diagnostics;
using System.Globalization;
using System.Text;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Charts;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Bench;

/// <summary>
/// Feeds broken and hostile events, rulebooks and sheets to what reads them. Each kind runs in a process of its own, so that an end of the process is seen for
/// what it is;
/// anything but an answer in words counts as a fault.
/// </summary>
static class Fuzz
{
    const int Lines = 100_000, LinesAtOnce = 1_000, Rulebooks = 1_000, Sheets = 500;
    static readonly string[] Kinds = ["fuzz-events", "fuzz-rulebooks", "fuzz-sheets", "fuzz-large"];

    /// <summary>Runs all kinds.</summary>
    /// <returns>Whether none crashed and none gave a fault of ours.</returns>
    internal static async Task<bool> Run()
    {
        var sound = true;
        foreach (var kind in Kinds)
        {
            using var child = Process.Start(new ProcessStartInfo("dotnet", [typeof(Fuzz).Assembly.Location, kind]))
                ?? throw new InvalidOperationException("A process can't be started.");
            await child.WaitForExitAsync();
            if (child.ExitCode != 0)
                Console.WriteLine($"{kind}: FAULT, the process ended with {child.ExitCode}");
            sound &= child.ExitCode == 0;
        }
        return sound;
    }

    /// <summary>Runs one kind in this process, and says how it went.</summary>
    /// <returns>Whether there was no fault of ours.</returns>
    internal static bool Run(string kind)
    {
        var watch = Stopwatch.StartNew();
        var (done, refused, faults) = kind switch
        {
            "fuzz-events" => Events(),
            "fuzz-rulebooks" => Books(),
            "fuzz-sheets" => SheetFiles(),
            _ => LargeSheet(),
        };
        using var self = Process.GetCurrentProcess();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{kind}: {done} read, {refused} of them refused or held in words, {faults.Count} faults of ours; {watch.Elapsed.TotalSeconds:0.0} s, at most {self.PeakWorkingSet64 >> 20} MB"));
        foreach (var fault in faults.Take(10))
            Console.WriteLine("  " + fault);
        return faults.Count == 0;
    }

    static string File(string name) => Path.Combine(RunningApplication.Root, "demo/qn", name);

    static (long Done, long Refused, List<string> Faults) Events()
    {
        var book = new CompiledRulebook(RulebookReader.Read(System.IO.File.ReadAllBytes(File("rulebook.json"))).Book!);
        var seeds = System.IO.File.ReadAllLines(File("events.ndjson"));
        var (mutate, faults, held) = (new Mutations(1), new List<string>(), 0L);
        for (var batch = 0; batch < Lines / LinesAtOnce; batch++)
        {
            var lines = Enumerable.Range(0, LinesAtOnce).Select(_ =>
                mutate.Json(seeds[mutate.Below(seeds.Length)], seeds[mutate.Below(seeds.Length)])).ToList();
            try { held += Land(book, lines); }
            catch (Exception)
            {
                // One of them; which?
                foreach (var line in lines)
                    try { Land(book, [line]); }
                    catch (Exception e) { faults.Add($"{e.GetType().Name}: {e.Message} | {line[..Math.Min(300, line.Length)]}"); }
            }
        }
        return (Lines, held, faults);
    }

    /// <summary>Lands lines; every line is an event that lands or is held, unless it is blank.</summary>
    static long Land(CompiledRulebook book, IReadOnlyList<string> lines)
    {
        using var from = new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n"));
        var counts = LandingRun.Run(book, from, new LandingOutputs(Stream.Null, Stream.Null, Stream.Null, Stream.Null));
        if (counts.Events != lines.Count(l => !string.IsNullOrWhiteSpace(l)))
            throw new InvalidOperationException($"{lines.Count} lines gave {counts.Events} events.");
        return counts.Held;
    }

    static (long Done, long Refused, List<string> Faults) Books()
    {
        var seed = System.IO.File.ReadAllText(File("rulebook.json"));
        var events = System.IO.File.ReadAllLines(File("events.ndjson"));
        var (mutate, faults, refused) = (new Mutations(2), new List<string>(), 0L);
        for (var i = 0; i < Rulebooks; i++)
        {
            var text = mutate.Json(seed, seed);
            try
            {
                if (RulebookReader.Read(Encoding.UTF8.GetBytes(text)) is { Book: { } book })
                    Land(new CompiledRulebook(book), events);
                else
                    refused++;
            }
            catch (Exception e) { faults.Add($"rulebook {i}: {e.GetType().Name}: {e.Message}"); }
        }
        return (Rulebooks, refused, faults);
    }

    static (long Done, long Refused, List<string> Faults) SheetFiles()
    {
        var seed = HostileSheets.Sound();
        var (mutate, faults, refused) = (new Mutations(3), new List<string>(), 0L);
        for (var i = 0; i < Sheets; i++)
        {
            var file = i % 2 == 0 ? mutate.Bytes(seed) : HostileSheets.WithParts(part => i % 4 == 1 ? mutate.Bytes(part) : HostileSheets.Worse(part, mutate));
            try
            {
                var read = SheetFile.Read(file);
                if (read.Fault is not null)
                    refused++;
                foreach (var sheet in read.Sheets)
                    MappingProposal.For(sheet);
            }
            catch (Exception e) { faults.Add($"sheet {i}: {e.GetType().Name}: {e.Message}"); }
        }
        return (Sheets, refused, faults);
    }

    /// <summary>A sheet about as large as a file may be.</summary>
    static (long Done, long Refused, List<string> Faults) LargeSheet()
    {
        var path = Path.Combine(Path.GetTempPath(), $"assignum-large-{Environment.ProcessId}.xlsx");
        try
        {
            HostileSheets.WriteLarge(path, SheetFile.LargestFile);
            var size = new FileInfo(path).Length;
            var watch = Stopwatch.StartNew();
            var read = SheetFile.Read(System.IO.File.ReadAllBytes(path));
            var took = watch.Elapsed;
            // The worker keeps what it read until somebody looks.
            var kept = ReadSheetsJson.Write(read).Length;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"fuzz-large: {size / 1e6:0.0} MB, {read.Sheets.Sum(s => s.Rows.Count)} rows, {read.Fault ?? read.Said}: read in {took.TotalSeconds:0.0} s, kept as {kept / 1e6:0.0} MB in {(watch.Elapsed - took).TotalSeconds:0.0} s"));
            return (1, read.Fault is null ? 0 : 1, []);
        }
        finally
        {
            System.IO.File.Delete(path);
        }
    }
}
