using Assignum.Core.Groups;

namespace Assignum.Core.Posting;

/// <summary>The documents that have lines with prices.</summary>
public enum DocumentType { SalesInvoice, SalesCreditNote, Takings, PurchaseInvoice, PurchaseCreditNote, ProjectInvoice, ProjectCreditNote }

/// <summary>A document whose lines have prices: an invoice, a credit note, the takings of a till.</summary>
public sealed record Document : BusinessEvent
{
    /// <summary>A document with no header yet.</summary>
    public Document() { }

    /// <summary>A document under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Document(EventHeader header, DocumentType type) : base(header) => Type = type;

    /// <summary>Which document it is.</summary>
    public required DocumentType Type { get; init; }
    /// <summary>Prices and discounts include tax.</summary>
    public bool PricesIncludeTax { get; init; }
    /// <summary>The total with tax as its source has it, in document currency, or null.</summary>
    public decimal? Total { get; init; }
    /// <summary>Its lines.</summary>
    public IReadOnlyList<DocumentLine> Lines { get; init; } = [];
    /// <summary>Tax as its source has computed it.</summary>
    public IReadOnlyList<ChargedTax> Tax { get; init; } = [];
    /// <summary>How it was paid on the spot.</summary>
    public IReadOnlyList<Tender> Tenders { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Words<DocumentType>.Of(Type);
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved =>
        Lines.Where(line => line is { StockMoves: true, Item: not null }).Select(line => new StockPlace(line.Item!, line.Location ?? Location));
}

/// <summary>A line of a document.</summary>
public sealed record DocumentLine
{
    /// <summary>Code of an item; exactly one of item, account, item group and asset is given.</summary>
    public string? Item { get; init; }
    /// <summary>Number of an account.</summary>
    public string? Account { get; init; }
    /// <summary>Code of an item group, for goods that have no item of their own.</summary>
    public string? ItemGroup { get; init; }
    /// <summary>Kind of those goods; null: non-stock.</summary>
    public ItemKind? ItemKind { get; init; }
    /// <summary>Code of a fixed asset that is bought or sold.</summary>
    public string? Asset { get; init; }
    /// <summary>What is bought is work in progress of its project, or its cost.</summary>
    public bool ToProject { get; init; }
    /// <summary>Quantity, at most 6 decimals, not 0.</summary>
    public decimal Quantity { get; init; } = 1;
    /// <summary>Price of one unit in document currency, at most 6 decimals, 0 or more.</summary>
    public decimal? Price { get; init; }
    /// <summary>Discount in per cent of the gross, 0 to 100.</summary>
    public decimal? DiscountPercent { get; init; }
    /// <summary>Discount as an amount, 0 to the gross.</summary>
    public decimal? DiscountAmount { get; init; }
    /// <summary>Tax code typed on the line.</summary>
    public string? TaxCode { get; init; }
    /// <summary>Cost of one unit in company currency, at most 6 decimals; null: the item's.</summary>
    public decimal? UnitCost { get; init; }
    /// <summary>Number of the account the stock stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Stock moves with this document: shipped, received, or on credit notes returned.</summary>
    public bool StockMoves { get; init; }
    /// <summary>Cost of one unit at which it was received before the invoice, company currency, at most 6 decimals.</summary>
    public decimal? ReceivedCost { get; init; }
    /// <summary>The amount at which it was received before the invoice, company currency.</summary>
    public decimal? ReceivedAmount { get; init; }
    /// <summary>Location, in place of the document's.</summary>
    public string? Location { get; init; }
    /// <summary>Project, in place of the document's project and task.</summary>
    public string? Project { get; init; }
    /// <summary>Task, in place of the document's.</summary>
    public string? Task { get; init; }
    /// <summary>Place that decides tax, in place of the document's.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Text, in place of the document's.</summary>
    public string? Text { get; init; }
    /// <summary>Line of the event referred to, from 1.</summary>
    public int? RefersToLine { get; init; }
    /// <summary>Dimensions laid over the document's.</summary>
    public Dimensions Dimensions { get; init; } = Dimensions.None;

    /// <summary>What it comes to, document currency; with tax where the prices include it.</summary>
    /// <param name="minorUnits">Minor units of that currency.</param>
    internal (decimal Gross, decimal Discount) Amounts(int minorUnits)
    {
        var gross = Money.Round(Quantity * (Price ?? 0), minorUnits);
        return (gross, DiscountPercent is { } percent ? Money.Round(gross * percent / 100, minorUnits) : (DiscountAmount ?? 0) * Math.Sign(Quantity));
    }

    /// <summary>The gross less the discount, document currency.</summary>
    /// <param name="minorUnits">Minor units of that currency.</param>
    internal decimal Net(int minorUnits)
    {
        var (gross, discount) = Amounts(minorUnits);
        return gross - discount;
    }
}

/// <summary>A tax as the source computed it.</summary>
/// <param name="TaxCode">Code of the tax.</param>
/// <param name="Component">Code of the component, where the tax has several.</param>
/// <param name="Amount">Document currency.</param>
public sealed record ChargedTax(string TaxCode, string? Component, decimal Amount);

/// <summary>A part of what was paid on the spot.</summary>
/// <param name="MoneyAccount">Code of a bank, cash or card account.</param>
/// <param name="Method">Payment method.</param>
/// <param name="GiftCard">Paid with a gift card.</param>
/// <param name="Amount">Document currency; negative when paid out.</param>
public sealed record Tender(string? MoneyAccount, string? Method, bool GiftCard, decimal Amount);
