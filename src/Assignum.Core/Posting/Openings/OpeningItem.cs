using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What an opening item is.</summary>
public enum OpeningKind { Receivable, Payable, CustomerDeposit, SupplierDeposit, Inventory, Receipt, Project, Asset }

/// <summary>One open item, stock, receipt, project or fixed asset with which the books begin.</summary>
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

    /// <summary>Code of the fixed asset.</summary>
    public string? Asset { get; init; }
    /// <summary>Work in progress of a project, signed, or cost of an asset, above 0; company currency.</summary>
    public decimal? Cost { get; init; }
    /// <summary>What of a project has been billed and not recognised, company currency, signed.</summary>
    public decimal? Billed { get; init; }
    /// <summary>Revenue of a project that is accrued, company currency, signed.</summary>
    public decimal? Accrued { get; init; }
    /// <summary>Depreciation of an asset that has accumulated, 0 to its cost.</summary>
    public decimal? Accumulated { get; init; }

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
sealed class OpeningItemRecipe(CompiledRulebook book, OpeningItem opening) : AssetRecipe<OpeningItem>(book, opening)
{
    Item? item;
    Asset? asset;
    RowContext row = null!;

    internal static EventType Type { get; } = new(OpeningItem.Name, EventFamily.Openings,
    [
        new("kind", FieldKind.Word) { Required = true, Words = Words<OpeningKind>.All }, new("amount", FieldKind.Amount), new("item", FieldKind.Code),
        new("quantity", FieldKind.Amount), new("unitCost", FieldKind.Amount), new("asset", FieldKind.Code), new("cost", FieldKind.Amount),
        new("billed", FieldKind.Amount), new("accrued", FieldKind.Amount), new("accumulated", FieldKind.Amount),
    ], static (book, happened) => new OpeningItemRecipe(book, (OpeningItem)happened).Land());

    protected override PartyNeed Party => Happened.Kind switch
    {
        OpeningKind.Receivable or OpeningKind.CustomerDeposit => PartyNeed.Customer,
        OpeningKind.Payable or OpeningKind.SupplierDeposit => PartyNeed.Supplier,
        _ => PartyNeed.None,
    };

    protected override HeldReason? ShapeFault(Shape shape) => OtherKindFault() ?? Happened.Kind switch
    {
        OpeningKind.Inventory or OpeningKind.Receipt => GoodsFault(shape),
        OpeningKind.Project => ProjectFault(shape),
        OpeningKind.Asset => AssetFault(shape),
        _ => ItemFault(shape),
    };

    // The fields that say what is open, each with the kinds it goes with.
    HeldReason? OtherKindFault()
    {
        var party = Party.Required;
        (string Name, bool Given, bool Fits)[] fields =
        [
            ("amount", Happened.Amount is not null, party || Happened.IsGoods), ("item", Happened.Item is not null, Happened.IsGoods),
            ("quantity", Happened.Quantity is not null, Happened.IsGoods), ("unitCost", Happened.UnitCost is not null, Happened.IsGoods),
            ("asset", Happened.Asset is not null, Happened.Kind == OpeningKind.Asset),
            ("cost", Happened.Cost is not null, Happened.Kind is OpeningKind.Asset or OpeningKind.Project),
            ("billed", Happened.Billed is not null, Happened.Kind == OpeningKind.Project),
            ("accrued", Happened.Accrued is not null, Happened.Kind == OpeningKind.Project),
            ("accumulated", Happened.Accumulated is not null, Happened.Kind == OpeningKind.Asset),
        ];
        var wrong = Array.Find(fields, field => field is { Given: true, Fits: false }).Name;
        return wrong is null ? null : HeldReason.Invalid(wrong,
            $"{wrong} does not go with an opening {Words<OpeningKind>.Of(Happened.Kind).Replace('-', ' ')}. Leave it out.");
    }

    HeldReason? ItemFault(Shape shape) => Happened.Amount is not { } amount || amount == 0
        ? HeldReason.Invalid("amount", "What is open is missing. Give an amount, not 0; a credit note or an overpayment is negative.")
        : shape.OfMoney(null, "amount", amount);

    HeldReason? ProjectFault(Shape shape)
    {
        if (Happened.Project is null)
            return HeldReason.Invalid("project", "Which project is open is missing. Name the project.");
        if (Happened is { Cost: null or 0, Billed: null or 0, Accrued: null or 0 })
            return HeldReason.Invalid("cost", "Nothing of the project is open. Give its cost, what was billed or what is accrued.");
        return shape.OfCompanyMoney(null, "cost", Happened.Cost ?? 0) ?? shape.OfCompanyMoney(null, "billed", Happened.Billed ?? 0)
            ?? shape.OfCompanyMoney(null, "accrued", Happened.Accrued ?? 0);
    }

    HeldReason? AssetFault(Shape shape) => Happened.Asset is null
        ? HeldReason.Invalid("asset", "Which fixed asset it is, is missing. Name the asset.")
        : CostFault(shape, Happened.Cost ?? 0, Happened.Accumulated ?? 0);

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
        if (Happened.Asset is { } named)
            return Find(named, "asset", out asset);
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
        switch (Happened.Kind)
        {
            case OpeningKind.Inventory or OpeningKind.Receipt: WriteGoods(); break;
            case OpeningKind.Project: WriteProject(); break;
            case OpeningKind.Asset: WriteAsset(); break;
            default: WriteItem(Happened.Amount!.Value); break;
        }
    }

    void WriteProject()
    {
        var (cost, billed, accrued) = (Happened.Cost ?? 0, Happened.Billed ?? 0, Happened.Accrued ?? 0);
        WriteProject(Purpose.ProjectWip, cost);
        WriteProject(Purpose.ProjectBilled, -billed);
        WriteProject(Purpose.ProjectAccruedRevenue, accrued);
        Entry.PostCompany(Purpose.OpeningBalance, Row, billed - cost - accrued);
    }

    void WriteProject(Purpose purpose, decimal amount)
    {
        Entry.PostCompany(purpose, Row, amount);
        Entry.Move(ProjectPlace.Movement(Book, purpose, Row.Facts, CompanyAmount(amount))!);
    }

    void WriteAsset()
    {
        var (cost, accumulated) = (Happened.Cost!.Value, Happened.Accumulated ?? 0);
        var its = RowOf(asset!);
        WriteCost(asset!, its, cost);
        WriteAccumulated(asset!, its, -accumulated);
        Entry.PostCompany(Purpose.OpeningBalance, Row, accumulated - cost);
    }

    void WriteItem(decimal amount)
    {
        var (purpose, side) = Happened.Kind switch
        {
            OpeningKind.Receivable => (Purpose.Receivable, 1),
            OpeningKind.Payable => (Purpose.Payable, -1),
            OpeningKind.CustomerDeposit => (Purpose.CustomerDeposit, -1),
            _ => (Purpose.SupplierDeposit, 1),
        };
        WriteParty(purpose, row, side * amount);
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
