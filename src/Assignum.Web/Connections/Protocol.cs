using System.Text.Json;
using System.Text.Json.Serialization;

namespace Assignum.Web.Connections;

/// <summary>What a system says of itself; docs/schemas/adapter.openapi.json has every word of it.</summary>
public sealed record Health(string System, string Name, DateTimeOffset Clock)
{
    /// <summary>Version of the system.</summary>
    public string? Version { get; init; }
    /// <summary>Its lists.</summary>
    public IReadOnlyList<HealthList> Lists { get; init; } = [];
    /// <summary>Types of events it gives.</summary>
    public IReadOnlyList<string> EventTypes { get; init; } = [];
    /// <summary>Day of its oldest event; null: none.</summary>
    public DateOnly? OldestEvent { get; init; }
    /// <summary>How many events it has.</summary>
    public int Events { get; init; }
    /// <summary>What it lacks before it can give or take anything.</summary>
    public IReadOnlyList<MissingSetting> Missing { get; init; } = [];
    /// <summary>It takes batches of entries.</summary>
    public bool TakesBatches { get; init; }
    /// <summary>Time zone of its days, IANA.</summary>
    public string? TimeZone { get; init; }
    /// <summary>Name of the method its money comes by, where it pays out.</summary>
    public string? Method { get; init; }
}

/// <summary>A list of a system.</summary>
/// <param name="List">Which.</param>
/// <param name="Version">Its version.</param>
/// <param name="Entries">How many entries it has.</param>
/// <param name="Takes">It takes new entries.</param>
public sealed record HealthList(string List, long Version, int Entries, bool Takes);

/// <summary>A setting a system lacks.</summary>
/// <param name="Setting">Its name there.</param>
/// <param name="Name">What it is for, in words.</param>
/// <param name="List">The list of ours it is chosen from.</param>
/// <param name="Where">Where it is set there.</param>
public sealed record MissingSetting(string Setting, string Name, string List, string Where);

/// <summary>A list as it is sent.</summary>
public sealed record SentList(long Version, bool Whole, IReadOnlyList<WireEntry> Entries, IReadOnlyList<string>? Gone);

/// <summary>An entry of a list as it is sent.</summary>
public sealed record WireEntry(string Code, string Name, string? Kind, string? Use, decimal? Rate, string? Authority, string? Category, int? Used,
    decimal? Amount);

/// <summary>What came of entries that were to be added.</summary>
public sealed record Added(long Version, IReadOnlyList<string> Codes, IReadOnlyList<NotAdded>? Refused);

/// <summary>An entry that was not added.</summary>
public sealed record NotAdded(string Code, string Reason);

/// <summary>A page of events.</summary>
/// <param name="Events">The events, each as it is.</param>
/// <param name="Next">Cursor of what comes after them.</param>
/// <param name="More">There are more already.</param>
public sealed record EventPage(IReadOnlyList<string> Events, string Next, bool More);

/// <summary>What a system answered to a batch.</summary>
/// <param name="Number">The number it has there; null: it was refused.</param>
/// <param name="Reasons">Why, by line; empty where it was taken.</param>
public sealed record BatchAnswer(string? Number, IReadOnlyList<BatchReason> Reasons);

/// <summary>Why a line of a batch was not taken.</summary>
/// <param name="Line">Number of the line, from 1; 0: the whole batch.</param>
/// <param name="Reason">Why.</param>
public sealed record BatchReason(int Line, string Reason);

/// <summary>How what systems send is read.</summary>
static class Wire
{
    internal static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.AllowReadingFromString, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };
}
