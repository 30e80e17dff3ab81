using System.Text;

namespace Assignum.Formats.Events;

/// <summary>An example of every type of event, in the demo's scenario: what forms can start from, and what docs/posting.md works out.</summary>
public static class EventSamples
{
    static readonly Lazy<Dictionary<string, string>> All = new(Read);

    /// <summary>The example of a type as one line of JSON; null for a type that has none.</summary>
    public static string? Of(string type) => All.Value.GetValueOrDefault(type);

    static Dictionary<string, string> Read()
    {
        using var from = typeof(EventSamples).Assembly.GetManifestResourceStream("samples.ndjson")!;
        using var lines = new StreamReader(from, Encoding.UTF8);
        var reader = new EventReader();
        var samples = new Dictionary<string, string>(StringComparer.Ordinal);
        while (lines.ReadLine() is { } line)
            if (reader.Read(Encoding.UTF8.GetBytes(line), samples.Count + 1).Event is { } happened)
                samples[happened.TypeName] = line;
        return samples;
    }
}
