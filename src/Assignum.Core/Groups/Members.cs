namespace Assignum.Core.Groups;

/// <summary>What kind of thing an item is; decides whether stock moves with it.</summary>
public enum ItemKind { Stock, Service, Labour, Overhead, NonStock, Charge }

/// <summary>What a party is to the company.</summary>
public enum PartyRole { Customer, Supplier, Both }

/// <summary>A posting group or tax group of parties, items, projects or assets.</summary>
/// <param name="Code">Its code; compares by its fold.</param>
/// <param name="Name">Its name.</param>
/// <param name="TaxGroup">The tax group its members have when they have none of their own, or null.</param>
public sealed record Group(string Code, string Name, string? TaxGroup = null);

/// <summary>A customer or a supplier.</summary>
public sealed record Party
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Customer, supplier or both.</summary>
    public PartyRole Role { get; init; }
    /// <summary>Posting group, or null while it has none.</summary>
    public string? Group { get; init; }
    /// <summary>Its own tax group; null: that of its posting group.</summary>
    public string? TaxGroup { get; init; }
    /// <summary>The place that decides its tax where the event names none.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Numbers of the control accounts a document may choose in place of the usual one.</summary>
    public IReadOnlyList<string> ControlAlternates { get; init; } = [];
}

/// <summary>A thing sold, bought, stocked or used.</summary>
public sealed record Item
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Its kind.</summary>
    public required ItemKind Kind { get; init; }
    /// <summary>Posting group, or null while it has none.</summary>
    public string? Group { get; init; }
    /// <summary>Its own tax group; null: that of its posting group.</summary>
    public string? TaxGroup { get; init; }
    /// <summary>Cost of one unit in company currency, at most 6 decimals; null when unknown.</summary>
    public decimal? Cost { get; init; }
}

/// <summary>A place where goods are or are sold.</summary>
/// <param name="Code">Its code; compares by its fold.</param>
/// <param name="Name">Its name.</param>
public sealed record Location(string Code, string Name);

/// <summary>A task of a project.</summary>
/// <param name="Code">Its code within the project.</param>
/// <param name="Name">Its name.</param>
/// <param name="Group">Its own posting group; null: that of the project.</param>
public sealed record ProjectTask(string Code, string Name, string? Group = null);

/// <summary>A project with its tasks.</summary>
public sealed record Project
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Posting group, or null.</summary>
    public string? Group { get; init; }
    /// <summary>How its revenue and cost are recognised, or null.</summary>
    public string? Method { get; init; }
    /// <summary>Its tasks.</summary>
    public IReadOnlyList<ProjectTask> Tasks { get; init; } = [];
}
