using Assignum.Core.Groups;

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

/// <summary>On which side of tax an account is used: it decides whether a tax setting is missed.</summary>
public enum TaxRelevance { None, Sales, Purchases, CapitalPurchases }

/// <summary>One account of a company's chart, with everything that can change a landing. What only describes it stands in
/// <see cref="AccountDescription"/>.</summary>
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
    /// <summary>On which side of tax it is used; null: not said.</summary>
    public TaxRelevance? TaxRelevance { get; init; }
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

    /// <summary>Values it gives to dimensions that neither the line nor the document gives.</summary>
    public IReadOnlyDictionary<string, string> DimensionDefaults { get; init; } = NoDefaults;
    /// <summary>Currencies in which documents may land on it; empty: any. What arises in company currency always may.</summary>
    public IReadOnlyList<string> Currencies { get; init; } = [];
    /// <summary>Roles of the parties a control account takes: customer, supplier; null: either.</summary>
    public PartyRole? PartyRole { get; init; }

    /// <summary>No values of dimensions.</summary>
    public static readonly IReadOnlyDictionary<string, string> NoDefaults = new Dictionary<string, string>();
    /// <summary>No demands on dimensions.</summary>
    public static readonly IReadOnlyDictionary<string, DimensionNeed> NoDimensions = new Dictionary<string, DimensionNeed>();

    /// <summary>Whether something may be posted to it on a date: a posting account, active and valid.</summary>
    public bool TakesPostingsOn(DateOnly date) =>
        Kind == AccountKind.Posting && Active && !(ValidFrom > date) && !(ValidTo < date);

    /// <summary>Whether a document in a currency may land on it.</summary>
    public bool TakesCurrency(string currency) => Currencies.Count == 0 || Currencies.Any(c => Fold.Same(c, currency));

    /// <summary>Whether a party of a role may stand on it.</summary>
    public bool TakesRole(PartyRole role) => PartyRole is null or Groups.PartyRole.Both || role is Groups.PartyRole.Both || role == PartyRole;

    /// <summary>Whether the other has the same settings; labels (number, name, class, place) do not count.</summary>
    public bool SameSetting(Account other) =>
        (this with { Number = other.Number, Name = other.Name, Parent = other.Parent, Dimensions = other.Dimensions,
            DimensionDefaults = other.DimensionDefaults, Currencies = other.Currencies }) == other
        && Same(Dimensions, other.Dimensions) && Same(DimensionDefaults, other.DimensionDefaults) && Currencies.SequenceEqual(other.Currencies);

    static bool Same<T>(IReadOnlyDictionary<string, T> a, IReadOnlyDictionary<string, T> b) =>
        a.Count == b.Count && a.All(x => b.TryGetValue(x.Key, out var y) && EqualityComparer<T>.Default.Equals(x.Value, y));

    /// <summary>Why nothing can be posted to it on a date, as the end of a sentence; null when it can.</summary>
    public string? WhyNotPostable(DateOnly date)
    {
        if (Kind == AccountKind.Heading)
            return "is a heading";
        if (Kind == AccountKind.Subtotal)
            return "is a subtotal";
        if (!Active)
            return "is not active";
        if (ValidFrom > date)
            return $"is valid only from {ValidFrom:yyyy-MM-dd}";
        if (ValidTo < date)
            return $"is valid only to {ValidTo:yyyy-MM-dd}";
        return null;
    }
}
