using System.Text.Json;
using Assignum.Core.Rulebooks;
using Assignum.Formats;
using Assignum.Formats.Events;
using Assignum.Formats.Landing;

namespace Assignum.Bench;

/// <summary>File to file: against reading the same NDJSON with the framework's reader and writing the same CSV.</summary>
static class LandingFiles
{
    internal static void Run()
    {
        var folder = Directory.CreateTempSubdirectory("assignum-bench").FullName;
        var (events, journal, copied) = (Path.Combine(folder, "E.ndjson"), Path.Combine(folder, "J.csv"), Path.Combine(folder, "C.csv"));
        try
        {
            var sample = Sample.Book(10_000);
            var book = new CompiledRulebook(sample);
            Sample.WriteEvents(events, sample, 200_000);
            Land(book, events, journal);
            var written = File.ReadAllBytes(journal);
            Stages(book, events);
            Ratio.Print("land: file to file, 200,000 events", "at most 2 ×", () => Land(book, events, journal), () => ReadAndWrite(events, copied, written));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    // Where the time goes, on one thread: reading the events, landing them, writing the rows. Few are kept, or collecting garbage would be measured.
    static void Stages(CompiledRulebook book, string events)
    {
        const int kept = 10_000, times = 20;
        var (lines, reader, text) = (File.ReadLines(events).Take(kept).Select(System.Text.Encoding.UTF8.GetBytes).ToArray(), new EventReader(), new Utf8Text());
        var read = Array.ConvertAll(lines, line => reader.Read(line, 1).Event!);
        var landed = Array.ConvertAll(read, happened => (Core.Posting.Landed)Core.Posting.Landing.Land(book, happened));
        var reading = Seconds(i => reader.Read(lines[i], 1));
        var landing = Seconds(i => Core.Posting.Landing.Land(book, read[i]));
        var writing = Seconds(i =>
        {
            text.Clear();
            JournalCsv.Write(text, read[i], landed[i].Rows, 2);
        });
        Ratio.Say($"land: {kept * times:N0} events on one thread: reading {reading:0.00} s, landing {landing:0.00} s, writing {writing:0.00} s");

        static double Seconds(Action<int> act)
        {
            var watch = new System.Diagnostics.Stopwatch();
            for (var round = -1; round < times; round++)
            {
                if (round == 0)
                    watch.Start();
                for (var i = 0; i < kept; i++)
                    act(i);
            }
            return watch.Elapsed.TotalSeconds;
        }
    }

    static void Land(CompiledRulebook book, string events, string journal)
    {
        using var from = File.OpenRead(events);
        using var to = File.Create(journal);
        LandingRun.Run(book, from, new LandingOutputs(to, Stream.Null, null, null));
    }

    static void ReadAndWrite(string events, string journal, byte[] written)
    {
        using var from = File.OpenRead(events);
        using var to = File.Create(journal);
        var at = 0;
        foreach (var block in EventBlocks.Read(from))
        {
            var rest = block.Bytes;
            while (!rest.IsEmpty)
            {
                var end = rest.IndexOf((byte)'\n');
                Walk(end < 0 ? rest : rest[..end]);
                rest = end < 0 ? [] : rest[(end + 1)..];
            }
            // As much of the journal as belongs to so many events, record by record.
            for (var wanted = Math.Min(written.Length, at + block.Bytes.Length * 2); at < wanted;)
            {
                var record = written.AsSpan(at, written.AsSpan(at).IndexOf((byte)'\n') + 1);
                to.Write(record);
                at += record.Length;
            }
            block.Dispose();
        }
        to.Write(written.AsSpan(at));
    }

    static void Walk(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json);
        while (reader.Read())
        {
            if (reader.TokenType is JsonTokenType.PropertyName or JsonTokenType.String)
                reader.GetString();
            else if (reader.TokenType == JsonTokenType.Number)
                reader.GetDecimal();
        }
    }
}
