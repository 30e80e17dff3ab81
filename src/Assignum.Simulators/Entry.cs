using System.Text.Json.Serialization;

namespace Assignum.Simulators;

/// <summary>An entry of a list, as the system has it.</summary>
public sealed record Entry(string Code, string Name)
{
    public string? Kind { get; init; }
    public string? Use { get; init; }
    public decimal? Rate { get; init; }
    public string? Authority { get; init; }
    public string? Category { get; init; }
    public int? Used { get; init; }
    public decimal? Amount { get; init; }
    /// <summary>What it sells for, with tax; nobody outside is told.</summary>
    [JsonPropertyName("price")]
    public decimal? Price { get; init; }
}

/// <summary>A list with its version: each change is a version of its own.</summary>
public sealed class EntryList
{
    readonly Dictionary<string, (Entry? Entry, long Version)> entries = new(StringComparer.OrdinalIgnoreCase);
    readonly List<string> order = [];

    /// <summary>The version of its last change.</summary>
    public long Version { get; private set; }

    /// <summary>The entries that are there.</summary>
    public IReadOnlyList<Entry> All => [.. order.Select(code => entries[code].Entry).OfType<Entry>()];

    /// <summary>Entries that came or changed, and codes that went, after a version.</summary>
    public (IReadOnlyList<Entry> Entries, IReadOnlyList<string> Gone) Since(long version)
    {
        var changed = order.Where(code => entries[code].Version > version).ToList();
        return ([.. changed.Select(code => entries[code].Entry).OfType<Entry>()], [.. changed.Where(code => entries[code].Entry is null)]);
    }

    public bool Has(string code) => entries.TryGetValue(code, out var known) && known.Entry is not null;

    public void Put(Entry entry)
    {
        if (!entries.ContainsKey(entry.Code))
            order.Add(entry.Code);
        entries[entry.Code] = (entry, ++Version);
    }

    public void Take(string code)
    {
        if (Has(code))
            entries[code] = (null, ++Version);
    }
}
