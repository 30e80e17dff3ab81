using Assignum.Core;

namespace Assignum.Storage.Connections;

/// <summary>How far a connection is.</summary>
public enum ConnectionState
{
    /// <summary>It has a name; nobody has reached the other system yet.</summary>
    Made,
    /// <summary>The other system answers; its events are not taken yet.</summary>
    Reached,
    /// <summary>Its events are taken.</summary>
    Running,
    /// <summary>It was stopped by somebody.</summary>
    Stopped,
}

/// <summary>What becomes of an item of theirs that has no match.</summary>
public enum UnknownItems
{
    /// <summary>The event is held.</summary>
    Hold,
    /// <summary>The line lands by the item group of its category, and is counted.</summary>
    ByCategory,
}

/// <summary>What becomes of events that would post, or change what is posted.</summary>
public enum Taking
{
    /// <summary>They post by themselves.</summary>
    Post,
    /// <summary>They wait until somebody has looked at them.</summary>
    Review,
}

/// <summary>How the events of a connection are taken.</summary>
public sealed record Switches
{
    /// <summary>New events.</summary>
    public Taking Events { get; init; }
    /// <summary>Revisions and withdrawals of what is posted.</summary>
    public Taking Revisions { get; init; }
    /// <summary>Refunds are taken.</summary>
    public bool Refunds { get; init; } = true;
    /// <summary>Payouts with money that the provider holds or frees post like others; else they wait for review.</summary>
    public bool HeldFunds { get; init; } = true;
    /// <summary>Payouts with disputes post like others; else they wait for review.</summary>
    public bool Disputes { get; init; } = true;
    /// <summary>The first day whose events are taken; null: all.</summary>
    public DateOnly? From { get; init; }
    /// <summary>Items without a match.</summary>
    public UnknownItems Items { get; init; }
    /// <summary>Party for what names one without a match; null: held.</summary>
    public string? Collective { get; init; }
}

/// <summary>A company of the group that is a connection of another one.</summary>
/// <param name="Here">Id of the company whose connection it is.</param>
/// <param name="There">Id of the company that it is.</param>
public sealed record PartnerLink(int Here, int There);

/// <summary>A link to another system.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Code">Its code; events name it, and rules ask for it.</param>
/// <param name="Name">Its name.</param>
/// <param name="Address">Where the other system is; null: it sends by itself.</param>
/// <param name="Secret">What we show it, encrypted; null: none.</param>
/// <param name="HookSecret">What it signs with, encrypted; null: none.</param>
/// <param name="State">How far it is.</param>
/// <param name="TimeZone">IANA name of the zone in which its days are counted.</param>
/// <param name="DayEnd">What happens before this time of night belongs to the day before.</param>
/// <param name="Switches">How its events are taken.</param>
/// <param name="Answer">What it last answered when it was asked how it is, JSON; null: never.</param>
/// <param name="Cursor">How far its events have been fetched; null: not at all.</param>
/// <param name="FedAt">When its events were last fetched; null: never.</param>
/// <param name="FailingSince">Since when it can't be fetched from; null: it can.</param>
/// <param name="Fault">Why not, in a sentence.</param>
/// <param name="Stamp">Counts its changes; a save says which it saw.</param>
public sealed record ConnectionRow(int Id, string Code, string Name, string? Address, string? Secret, string? HookSecret, ConnectionState State,
    string TimeZone, TimeOnly DayEnd, Switches Switches, string? Answer, string? Cursor, DateTime? FedAt, DateTime? FailingSince, string? Fault, long Stamp)
{
    /// <summary>The company of our group that it is; null: another system.</summary>
    public PartnerLink? Partner { get; init; }
    /// <summary>Its code as events are told apart by it.</summary>
    public string Source => Fold.Of(Code);
}
