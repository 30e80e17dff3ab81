using System.Text.Json;

namespace Assignum.Simulators;

/// <summary>A setting a system needs before it can give or take anything.</summary>
public sealed record NeededSetting(string Setting, string Name, string List, string Where, string Value);

/// <summary>What a system has from the start.</summary>
public sealed record SystemData(string Name, string TimeZone, Dictionary<string, List<Entry>> Lists)
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public string? Method { get; init; }
    public string Series { get; init; } = "B";
    public bool TakesBatches { get; init; }
    public IReadOnlyList<NeededSetting> Settings { get; init; } = [];
    /// <summary>Lists that take entries from outside.</summary>
    public IReadOnlyList<string> Takes { get; init; } = ["accounts", "customers", "suppliers", "items", "categories", "projects", "people"];

    internal static SystemData Of(string system)
    {
        using var file = typeof(SystemData).Assembly.GetManifestResourceStream(system + ".json")
            ?? throw new InvalidOperationException($"There is no system {system}.");
        var data = JsonSerializer.Deserialize<SystemData>(file, Json)!;
        return system switch
        {
            "web-shop" => data with { Settings = [new("default-sales-account", "an account for sales of articles without a category", "accounts",
                "Settings, Bookkeeping, Sales", "4050")] },
            "card-payments" => data with { Settings = [new("fee-account", "an account for its fees", "accounts", "Account, Bookkeeping", "A2")] },
            "ql-ledger" => data with { TakesBatches = true, Series = "QL" },
            _ => data,
        };
    }
}
