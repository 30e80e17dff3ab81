using Assignum.Core.Groups;
using Assignum.Core.Taxes;

namespace Assignum.Core.Posting;

/// <summary>The subledgers.</summary>
public enum Subledger { Receivables, Payables, Inventory, Purchasing, Tax, Bank, Projects, Assets, Intercompany }

/// <summary>The value that moves: what arose, and what it is in company currency; debit positive.</summary>
/// <param name="Amount">Company currency.</param>
/// <param name="Currency">Currency in which it arose.</param>
/// <param name="DocumentAmount">The amount in that currency.</param>
public readonly record struct Moved(decimal Amount, string Currency, decimal DocumentAmount);

/// <summary>One movement of a subledger, of one kind for each. It is computed from the event and not from the accounts.</summary>
/// <param name="Subledger">The subledger.</param>
/// <param name="Value">What moves.</param>
public abstract record Movement(Subledger Subledger, Moved Value)
{
    /// <summary>The row of the ledger in which the same amount landed: what moves stands on its account. Null where it has none.</summary>
    public EntryRow? Row { get; internal set; }
    /// <summary>Company currency, debit positive.</summary>
    public decimal Amount => Value.Amount;
    /// <summary>What moved, as files name it: "C-10", "SEED-01@NORTH", "CITY/TOWN", "TILL".</summary>
    public abstract string Member { get; }
    /// <summary>Signed quantity, for stock; else null.</summary>
    public virtual decimal? MovedQuantity => null;
    /// <summary>Signed base in company currency, for tax; else null.</summary>
    public virtual decimal? TaxedBase => null;

    /// <summary>It says something: money, quantity without value, or tax at zero.</summary>
    internal bool Counts => Amount != 0 || MovedQuantity is not (null or 0) || TaxedBase is not (null or 0);
}

/// <summary>What a party owes, or is owed: an open item, or a change of one.</summary>
/// <param name="In">Receivables, payables or, of a company of the group, intercompany.</param>
/// <param name="Party">The party.</param>
/// <param name="Document">Id of the event that opened the item.</param>
/// <param name="Due">When the item is due.</param>
/// <param name="Value">What moves.</param>
public sealed record PartyMovement(Subledger In, Party Party, string Document, DateOnly Due, Moved Value) : Movement(In, Value)
{
    /// <summary>The movement that goes with a row of a purpose, in the subledger that owns the purpose's accounts.</summary>
    internal static PartyMovement Of(Rulebooks.Purpose purpose, Party party, string document, DateOnly due, Moved value) =>
        new((Subledger)(int)purpose.Control!.Value, party, document, due, value);

    /// <inheritdoc/>
    public override string Member => Party.Code;
}

/// <summary>Goods that come to stock or leave it, or that are received and not invoiced, or the reverse.</summary>
/// <param name="Of">Inventory or purchasing.</param>
/// <param name="Item">The item; null for goods of a group that have none of their own.</param>
/// <param name="Group">Code of the item group of such goods.</param>
/// <param name="Location">Where; null: said nowhere.</param>
/// <param name="Quantity">Signed; 0 where only the value moves, as with tax that becomes cost.</param>
/// <param name="Value">What moves.</param>
public sealed record StockMovement(Subledger Of, Item? Item, string? Group, Location? Location, decimal Quantity, Moved Value) : Movement(Of, Value)
{
    /// <inheritdoc/>
    public override string Member => $"{Item?.Code ?? Group}@{Location?.Code}";
    /// <inheritdoc/>
    public override decimal? MovedQuantity => Quantity;
}

/// <summary>On which side of tax an entry of the tax subledger stands.</summary>
public enum TaxSide { Output, Input, Reverse }

/// <summary>Base and tax of one component on one document.</summary>
/// <param name="Code">The tax code.</param>
/// <param name="Component">The component.</param>
/// <param name="Side">Output tax, input tax, or tax owed on a purchase by reverse charge.</param>
/// <param name="Base">Company currency, with the sign of its tax.</param>
/// <param name="Value">What moves.</param>
public sealed record TaxMovement(TaxCode Code, TaxComponent Component, TaxSide Side, decimal Base, Moved Value) : Movement(Subledger.Tax, Value)
{
    /// <inheritdoc/>
    public override string Member => Code.Label(Component);
    /// <inheritdoc/>
    public override decimal? TaxedBase => Base;
}

/// <summary>Money at a bank, in a till, or under way from whoever collects it.</summary>
/// <param name="MoneyAccount">Code of the money account; null where a method is given.</param>
/// <param name="Method">Payment method; null where a money account or a connection is given.</param>
/// <param name="Connection">The connection that holds it back; null where it holds nothing.</param>
/// <param name="Value">What moves.</param>
public sealed record MoneyMovement(string? MoneyAccount, string? Method, string? Connection, Moved Value) : Movement(Subledger.Bank, Value)
{
    /// <inheritdoc/>
    public override string Member => (MoneyAccount ?? Method ?? Connection)!.Trim();
}

/// <summary>What of a project moves.</summary>
public enum ProjectPart { WorkInProgress, Billed, Accrued }

/// <summary>Work in progress, what was billed, or revenue accrued of a project.</summary>
/// <param name="Project">Code of the project.</param>
/// <param name="Task">Code of the task; null: the project itself.</param>
/// <param name="Part">What of it.</param>
/// <param name="Value">What moves.</param>
public sealed record ProjectMovement(string Project, string? Task, ProjectPart Part, Moved Value) : Movement(Subledger.Projects, Value)
{
    /// <inheritdoc/>
    public override string Member => Task is null ? Project : $"{Project}/{Task}";
}

/// <summary>What of a fixed asset moves.</summary>
public enum AssetPart { Cost, Depreciation }

/// <summary>Cost or accumulated depreciation of a fixed asset.</summary>
/// <param name="Asset">The asset.</param>
/// <param name="Part">What of it.</param>
/// <param name="Value">What moves.</param>
public sealed record AssetMovement(Asset Asset, AssetPart Part, Moved Value) : Movement(Subledger.Assets, Value)
{
    /// <inheritdoc/>
    public override string Member => Asset.Code;
}
