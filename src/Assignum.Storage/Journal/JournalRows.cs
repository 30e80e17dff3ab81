using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Journal;

/// <summary>Which entries are asked for; what is null does not matter.</summary>
/// <param name="Account">Id of an account one of its lines stands on.</param>
/// <param name="Purpose">Purpose of one of its lines.</param>
/// <param name="Party">Id of its party.</param>
/// <param name="From">First date.</param>
/// <param name="To">Last date.</param>
/// <param name="Rule">Row of a rule that answered for one of its lines.</param>
/// <param name="Connection">Where its event came from.</param>
/// <param name="Type">Type of its event.</param>
/// <param name="Document">What the number of its document, or the id of its event, begins with.</param>
/// <param name="Amount">The total of its document, or the amount of one of its lines, whatever the sign.</param>
public sealed record JournalFilter(int? Account, string? Purpose, int? Party, DateOnly? From, DateOnly? To, long? Rule, string? Connection = null,
    string? Type = null, string? Document = null,
    decimal? Amount = null);

/// <summary>All entries that fit a filter, together.</summary>
/// <param name="Entries">How many.</param>
/// <param name="Total">Sum of their documents' totals, or of the lines that fit.</param>
public sealed record JournalSum(long Entries, decimal Total);

/// <summary>Where a page of entries goes on: after this entry, going back in time.</summary>
public readonly record struct JournalPlace(DateOnly Date, long Entry);

/// <summary>An entry as it is listed.</summary>
public sealed record EntryListed(long Id, long Number, DateOnly Date, string Type, string EventId, string? DocumentNumber, string Connection,
    string? PartyCode, string? PartyName, string Text, decimal Total, long? Reverses, decimal? Matching);

/// <summary>A ledger line of an entry.</summary>
public sealed record LedgerLine(int No, int AccountId, string Account, string AccountName, decimal Amount, string Currency, decimal DocumentAmount,
    string? Purpose, string AnsweredBy, string Rung,
    long? RuleRow, string? RuleName, int Edition, IReadOnlyList<FactValue> Facts, string? Item, string? Location, string? Project, string? TaxCode,
        string? Dimensions, string? Text)
{
    /// <summary>Number and name of the account on which it stands now; null: still on its own.</summary>
    public (string Number, string Name)? Now { get; init; }
}

/// <summary>A subledger line of an entry.</summary>
/// <param name="Subledger">The subledger.</param>
/// <param name="Member">What it is of: the party, the item or item group, the tax code's component, the money account or method.</param>
/// <param name="Place">Of goods the location, of tax the side; else null.</param>
/// <param name="Quantity">Of goods.</param>
/// <param name="Base">Of tax, company currency.</param>
/// <param name="Amount">Company currency, debit positive.</param>
public sealed record SubledgerLine(string Subledger, string Member, string? Place, decimal? Quantity, decimal? Base, decimal Amount);

/// <summary>An entry with everything that belongs to it.</summary>
public sealed record EntryWhole(long Id, long Number, DateOnly Date, DateOnly YearStarts, int Edition, DateTime PostedAt, string? PostedBy, string Text,
    long? Reverses, long? ReversedBy,
    long EventId, string SourceId, int Revision, string Connection, string Type, string? DocumentNumber, DateOnly DocumentDate, DateOnly TaxDate,
        DateOnly DueDate, string? PartyCode, string? PartyName, string Received,
    IReadOnlyList<LedgerLine> Lines, IReadOnlyList<SubledgerLine> Subledger)
{
    /// <summary>How its event came: the connection that sent it, or what was typed or uploaded here.</summary>
    public string Source { get; init; } = "";
    /// <summary>The event as prepared, JSON; null where nothing was filled in.</summary>
    public string? Prepared { get; init; }
}
