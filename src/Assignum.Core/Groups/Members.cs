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
    /// <summary>Code of the company of the group that it is; null: it is none.</summary>
    public string? Partner { get; init; }
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

/// <summary>When the cost and revenue of a project count.</summary>
public enum ProjectMethod
{
    /// <summary>As the work goes on: by the part of its estimated cost that has been spent.</summary>
    PercentageOfCompletion,
    /// <summary>All of it when it is finished.</summary>
    CompletedContract,
    /// <summary>Revenue when it is invoiced, cost when it arises; no work in progress.</summary>
    AtInvoice,
}

/// <summary>A project with its tasks.</summary>
public sealed record Project
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Posting group, or null.</summary>
    public string? Group { get; init; }
    /// <summary>How its revenue and cost are recognised; null: not said yet, and work in progress is kept.</summary>
    public ProjectMethod? Method { get; init; }
    /// <summary>Nothing of it waits for a recognition: cost and revenue land as they arise.</summary>
    public bool IsAtInvoice => Method == ProjectMethod.AtInvoice;
    /// <summary>Its tasks.</summary>
    public IReadOnlyList<ProjectTask> Tasks { get; init; } = [];
}

/// <summary>How the cost of a fixed asset is spread over its life.</summary>
public enum AssetMethod { StraightLine, DecliningBalance }

/// <summary>A fixed asset.</summary>
public sealed record Asset
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Posting group, or null while it has none.</summary>
    public string? Group { get; init; }
    /// <summary>Its own item tax group; null: that of its posting group.</summary>
    public string? TaxGroup { get; init; }
    /// <summary>How it is depreciated; null: it is not.</summary>
    public AssetMethod? Method { get; init; }
    /// <summary>Months of its life, above 0, by straight line; the longest life by declining balance, or null.</summary>
    public int? LifeMonths { get; init; }
    /// <summary>Per cent of the book value in a year, above 0 and below 100, by declining balance.</summary>
    public decimal? Percent { get; init; }
    /// <summary>What is left at the end of its life, company currency, 0 or more.</summary>
    public decimal Residual { get; init; }

    /// <summary>Which of its values can't be meant, and what to write; null: none.</summary>
    public string? WhyMalformed
    {
        get
        {
            if (LifeMonths is < 1)
                return $"its life is {LifeMonths} months. Give one month or more.";
            if (Percent is <= 0 or >= 100)
                return $"it is depreciated by {Percent} % a year. Give more than 0 and less than 100.";
            return Residual < 0 ? $"its residual value is {Residual}. Give 0 or more." : null;
        }
    }

    /// <summary>What its method needs and it lacks, in words; null: nothing.</summary>
    public string? Lacks => Method switch
    {
        AssetMethod.StraightLine when LifeMonths is null => "a life in months",
        AssetMethod.DecliningBalance when Percent is null => "a percentage a year",
        _ => null,
    };
}

/// <summary>A company of the group.</summary>
/// <param name="Code">Its code; compares by its fold.</param>
/// <param name="Name">Its name.</param>
public sealed record Partner(string Code, string Name);
