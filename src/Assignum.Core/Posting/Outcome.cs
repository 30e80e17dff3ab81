using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What became of an event: landed whole, or held whole.</summary>
public abstract record Outcome
{
    /// <summary>Things worth a look that did not stop it.</summary>
    public IReadOnlyList<Warning> Warnings { get; init; } = [];
}

/// <summary>The event waits, whole.</summary>
/// <param name="Reasons">One or more, none twice.</param>
public sealed record Held(IReadOnlyList<HeldReason> Reasons) : Outcome;

/// <summary>The event has landed.</summary>
/// <param name="Rows">Its ledger rows; they balance in company currency. May be empty.</param>
/// <param name="Subledger">Its subledger movements, computed from the event and not from the accounts.</param>
public sealed record Landed(IReadOnlyList<EntryRow> Rows, IReadOnlyList<Movement> Subledger) : Outcome
{
    /// <summary>What it computed for a document, for screens; null for other events.</summary>
    public DocumentTotals? Totals { get; init; }
}

/// <summary>A row that landed although its account asks for care.</summary>
/// <param name="Purpose">What the amount was for.</param>
/// <param name="Account">Number of the account.</param>
/// <param name="Message">One sentence.</param>
public sealed record Warning(Purpose? Purpose, string Account, string Message);

/// <summary>How an account was found.</summary>
public enum AnsweredBy { Ladder, Standing, Line, Control, Given }

/// <summary>One amount on its account.</summary>
public sealed record EntryRow
{
    /// <summary>The account.</summary>
    public required Account Account { get; init; }
    /// <summary>Company currency, debit positive, never 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Currency in which the amount arose.</summary>
    public required string Currency { get; init; }
    /// <summary>The amount in that currency, debit positive.</summary>
    public required decimal DocumentAmount { get; init; }
    /// <summary>What it is for; null where the account is given.</summary>
    public required Purpose? Purpose { get; init; }
    /// <summary>How the account was found.</summary>
    public required AnsweredBy By { get; init; }
    /// <summary>The answering rung, where a ladder answered.</summary>
    public Rung? Rung { get; init; }
    /// <summary>The answering rule, where a ladder answered.</summary>
    public Rule? Rule { get; init; }
    /// <summary>With what it was asked.</summary>
    public required RowContext Context { get; init; }
    /// <summary>Dimensions it carries.</summary>
    public required Dimensions Dimensions { get; init; }

    /// <summary>"itemGroup+partyGroup", "default", "standing", "line", "control" or "given".</summary>
    public string RungName => By == AnsweredBy.Ladder ? Rung!.Name : Words<AnsweredBy>.Of(By);
}

/// <summary>What a row stands with: its facts and what is shown beside them.</summary>
public sealed record RowContext
{
    /// <summary>The facts it resolves with.</summary>
    public required Facts Facts { get; init; }
    /// <summary>Line of the document, from 0; null for rows of the whole document.</summary>
    public int? Line { get; init; }
    /// <summary>The party of the document.</summary>
    public Party? Party { get; init; }
    /// <summary>The item of the line.</summary>
    public Item? Item { get; init; }
    /// <summary>The location.</summary>
    public Location? Location { get; init; }
    /// <summary>"PROJECT" or "PROJECT/TASK".</summary>
    public string? Project { get; init; }
    /// <summary>The line's tax code; on tax rows "CODE" or "CODE/COMPONENT".</summary>
    public string? TaxLabel { get; init; }
    /// <summary>Text of the line, else of the document.</summary>
    public string? Text { get; init; }
    /// <summary>Dimensions of the document.</summary>
    public Dimensions DocumentDimensions { get; init; } = Dimensions.None;
    /// <summary>Dimensions of the line.</summary>
    public Dimensions OwnDimensions { get; init; } = Dimensions.None;
}

/// <summary>What a document comes to, in document currency.</summary>
/// <param name="Lines">Each line's gross, discount, net without tax, and tax code; null for a line that dropped out.</param>
/// <param name="Taxes">Tax by code and component.</param>
/// <param name="Net">Sum of nets.</param>
/// <param name="Tax">Sum of taxes.</param>
public sealed record DocumentTotals(IReadOnlyList<LineTotals?> Lines, IReadOnlyList<TaxTotals> Taxes, decimal Net, decimal Tax)
{
    /// <summary>Total with tax.</summary>
    public decimal Total => Net + Tax;
    /// <summary>1 where the party owes the total, -1 where it is owed it.</summary>
    public int Owes { get; init; } = 1;
}

/// <summary>What a line comes to, in document currency, without tax.</summary>
/// <param name="Gross">Before discount.</param>
/// <param name="Discount">The discount.</param>
/// <param name="Net">After discount.</param>
/// <param name="TaxCode">Its tax code, or null while none is determined.</param>
/// <param name="TaxFrom">How the tax code was found.</param>
public sealed record LineTotals(decimal Gross, decimal Discount, decimal Net, string? TaxCode, string? TaxFrom);

/// <summary>Tax of one component.</summary>
/// <param name="Label">"CODE" or "CODE/COMPONENT".</param>
/// <param name="Percent">Percentage on the tax date.</param>
/// <param name="Base">Its base, document currency.</param>
/// <param name="Tax">The tax, document currency.</param>
public sealed record TaxTotals(string Label, decimal Percent, decimal Base, decimal Tax);
