using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What an opening item is.</summary>
public enum OpeningKind { Receivable, Payable, CustomerDeposit, SupplierDeposit, Inventory, Receipt }

/// <summary>One open item, stock or receipt with which the books begin.</summary>
public sealed record OpeningItem : BusinessEvent
{
    /// <summary>An item with no header yet.</summary>
    public OpeningItem() { }

    /// <summary>An item under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal OpeningItem(EventHeader header, OpeningKind kind) : base(header) => Kind = kind;

    /// <summary>What it is.</summary>
    public required OpeningKind Kind { get; init; }
    /// <summary>Of a party's item: document currency, not 0, a credit note or overpayment negative. Of goods: their value, company currency.</summary>
    public decimal? Amount { get; init; }
    /// <summary>Code of the item, for goods.</summary>
    public string? Item { get; init; }
    /// <summary>Quantity, for goods; above 0.</summary>
    public decimal? Quantity { get; init; }
    /// <summary>Cost of one unit, company currency; null where the value is given as an amount.</summary>
    public decimal? UnitCost { get; init; }

    /// <summary>It is goods, and no party's item.</summary>
    public bool IsGoods => Kind is OpeningKind.Inventory or OpeningKind.Receipt;
    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => Kind == OpeningKind.Inventory && Item is not null ? [new(Item, Location)] : [];
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "opening-item";
}

/// <summary>The item on its natural side, against the opening balance.</summary>
sealed class OpeningItemRecipe(CompiledRulebook book, OpeningItem opening) : GoodsRecipe<OpeningItem>(book, opening)
{
    Item? item;
    RowContext row = null!;

    internal static EventType Type { get; } = new(OpeningItem.Name, EventFamily.Openings,
    [
        new("kind", FieldKind.Word) { Required = true, Words = Words<OpeningKind>.All }, new("amount", FieldKind.Amount), new("item", FieldKind.Code),
        new("quantity", FieldKind.Amount), new("unitCost", FieldKind.Amount),
    ], static (book, happened) => new OpeningItemRecipe(book, (OpeningItem)happened).Land());

    protected override PartyNeed Party => Happened.Kind switch
    {
        OpeningKind.Receivable or OpeningKind.CustomerDeposit => PartyNeed.Customer,
        OpeningKind.Payable or OpeningKind.SupplierDeposit => PartyNeed.Supplier,
        _ => PartyNeed.None,
    };

    protected override HeldReason? ShapeFault(Shape shape) => Happened.IsGoods ? GoodsFault(shape) : ItemFault(shape);

    HeldReason? ItemFault(Shape shape)
    {
        if (Happened.Item is not null || Happened.Quantity is not null || Happened.UnitCost is not null)
            return HeldReason.Invalid(FirstGiven(),
                $"An opening {Words<OpeningKind>.Of(Happened.Kind).Replace('-', ' ')} is of a party and has no goods. Leave them out.");
        if (Happened.Amount is not { } amount || amount == 0)
            return HeldReason.Invalid("amount", "What is open is missing. Give an amount, not 0; a credit note or an overpayment is negative.");
        return shape.OfMoney(null, "amount", amount);
    }

    string FirstGiven()
    {
        if (Happened.Item is not null)
            return "item";
        return Happened.Quantity is not null ? "quantity" : "unitCost";
    }

    HeldReason? GoodsFault(Shape shape)
    {
        if (Happened.Item is null)
            return HeldReason.Invalid("item", "Which goods they are is missing. Name the item.");
        if (Happened.Quantity is not { } quantity || quantity <= 0)
            return HeldReason.Invalid("quantity", $"The quantity is {Happened.Quantity?.ToString(Written.Plain) ?? "missing"}; it is above 0. Correct it.");
        if (Happened.UnitCost is null == Happened.Amount is null)
            return HeldReason.Invalid("unitCost", "Give what the goods are worth: a cost of one unit or an amount, one of them.");
        return Shape.OfUnits(null, "quantity", quantity) ?? Shape.OfCost(null, "unitCost", Happened.UnitCost)
            ?? (Happened.Amount is { } amount ? shape.OfCompanyMoney(null, "amount", amount) : null);
    }

    protected override HeldReason? Open()
    {
        row = Row;
        if (Happened.Item is not { } code)
            return null;
        if (!Book.Items.TryFind(code, out item))
            return HeldReason.Unknown("item", "item", code, "Add it, or correct the code.");
        var facts = Row.Facts.Copy();
        SetItem(facts, item);
        row = Row with { Facts = facts, Item = item };
        return null;
    }

    protected override void Write()
    {
        if (Happened.IsGoods)
            WriteGoods();
        else
            WriteItem(Happened.Amount!.Value);
    }

    void WriteItem(decimal amount)
    {
        var (purpose, subledger, side) = Happened.Kind switch
        {
            OpeningKind.Receivable => (Purpose.Receivable, Subledger.Receivables, 1),
            OpeningKind.Payable => (Purpose.Payable, Subledger.Payables, -1),
            OpeningKind.CustomerDeposit => (Purpose.CustomerDeposit, Subledger.Receivables, -1),
            _ => (Purpose.SupplierDeposit, Subledger.Payables, 1),
        };
        Entry.Post(purpose, row, side * amount);
        MoveParty(subledger, Amount(side * amount));
        Entry.Post(Purpose.OpeningBalance, row, -side * amount);
    }

    void WriteGoods()
    {
        var quantity = Happened.Quantity!.Value;
        var value = Happened.Amount ?? Posting.Worth(quantity, Happened.UnitCost!.Value);
        var (purpose, subledger, side) = Happened.Kind == OpeningKind.Inventory
            ? (Purpose.Inventory, Subledger.Inventory, 1) : (Purpose.GoodsReceivedNotInvoiced, Subledger.Purchasing, -1);
        Entry.PostCompany(purpose, row, side * value);
        Entry.Move(new StockMovement(subledger, item, null, row.Location, side * quantity, CompanyAmount(side * value)));
        Entry.PostCompany(Purpose.OpeningBalance, Row, -side * value);
    }
}
