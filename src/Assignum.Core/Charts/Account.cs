namespace Assignum.Core.Charts;

/// <summary>Where an account stands in the statements.</summary>
public enum AccountClass { Asset, Liability, Equity, Income, CostOfSales, Expense, OtherIncome, OtherExpense }

/// <summary>Whether an account takes postings or is there for reading only.</summary>
public enum AccountKind { Posting, Heading, Subtotal }

/// <summary>The subledger that owns a control account.</summary>
public enum Control { Receivables, Payables, Inventory, Purchasing, Tax, Bank, Projects, Assets, Intercompany }

/// <summary>What happens when somebody writes on an account by hand: it passes, passes with a warning, or is blocked.</summary>
public enum ManualPolicy { Open, Warn, Block }

/// <summary>What an account asks of a dimension.</summary>
public enum DimensionNeed { Optional, Required, Barred }

/// <summary>One account of a company's chart.</summary>
public sealed record Account
{
    /// <summary>The number as it is shown; compares by its fold. Unique in the chart.</summary>
    public required string Number { get; init; }
    /// <summary>The name as it is shown.</summary>
    public required string Name { get; init; }
    /// <summary>Class in the statements.</summary>
    public required AccountClass Class { get; init; }
    /// <summary>Only accounts of kind <see cref="AccountKind.Posting"/> take postings.</summary>
    public AccountKind Kind { get; init; } = AccountKind.Posting;
    /// <summary>Number of the heading it stands under, or null at the top.</summary>
    public string? Parent { get; init; }
    /// <summary>The subledger that owns it, or null.</summary>
    public Control? Control { get; init; }
    /// <summary>Policy for entries by hand.</summary>
    public ManualPolicy Manual { get; init; }
    /// <summary>Item tax group for lines that name the account, or null.</summary>
    public string? ItemTaxGroup { get; init; }
    /// <summary>Tax code for lines that name the account, or null.</summary>
    public string? TaxCode { get; init; }
    /// <summary>An inactive account takes no postings.</summary>
    public bool Active { get; init; } = true;
    /// <summary>First posting date it takes, inclusive; null: no limit.</summary>
    public DateOnly? ValidFrom { get; init; }
    /// <summary>Last posting date it takes, inclusive; null: no limit.</summary>
    public DateOnly? ValidTo { get; init; }
    /// <summary>A suspense account: landings on it are counted and shown.</summary>
    public bool Suspense { get; init; }
    /// <summary>What it asks of each dimension; one that is not named is optional.</summary>
    public IReadOnlyDictionary<string, DimensionNeed> Dimensions { get; init; } = NoDimensions;

    /// <summary>No demands on dimensions.</summary>
    public static readonly IReadOnlyDictionary<string, DimensionNeed> NoDimensions = new Dictionary<string, DimensionNeed>();

    /// <summary>Whether something may be posted to it on a date: a posting account, active and valid.</summary>
    public bool TakesPostingsOn(DateOnly date) =>
        Kind == AccountKind.Posting && Active && !(ValidFrom > date) && !(ValidTo < date);

    /// <summary>Why nothing can be posted to it on a date, as the end of a sentence; null when it can.</summary>
    public string? WhyNotPostable(DateOnly date) =>
        Kind == AccountKind.Heading ? "is a heading"
        : Kind == AccountKind.Subtotal ? "is a subtotal"
        : !Active ? "is not active"
        : ValidFrom > date ? $"is valid only from {ValidFrom:yyyy-MM-dd}"
        : ValidTo < date ? $"is valid only to {ValidTo:yyyy-MM-dd}"
        : null;
}
