namespace Assignum.Core.Posting;

/// <summary>What tells one type of priced document from another; recipes, shape, readers, writers and forms ask here, and nowhere for the type
/// itself.</summary>
public sealed record DocumentTraits
{
    static readonly DocumentTraits[] ByType =
    [
        new() { Type = DocumentType.SalesInvoice, StockWord = "shipped", TakesTenders = true },
        new() { Type = DocumentType.SalesCreditNote, StockWord = "returned", IsReturn = true },
        new() { Type = DocumentType.Takings, StockWord = "shipped", TakesTenders = true, PartyMayLack = true },
        new() { Type = DocumentType.PurchaseInvoice, StockWord = "received", Buys = true, TakesReceipt = true },
        new() { Type = DocumentType.PurchaseCreditNote, StockWord = "returned", Buys = true, IsReturn = true },
        new() { Type = DocumentType.ProjectInvoice, StockWord = "shipped", TakesTenders = true, OfProject = true },
        new() { Type = DocumentType.ProjectCreditNote, StockWord = "returned", IsReturn = true, OfProject = true },
    ];

    /// <summary>The type.</summary>
    public required DocumentType Type { get; init; }
    /// <summary>The company buys: its party is a supplier.</summary>
    public bool Buys { get; init; }
    /// <summary>The mirror of an invoice.</summary>
    public bool IsReturn { get; init; }
    /// <summary>The word on a line that says stock moves with it: "shipped", "returned" or "received".</summary>
    public required string StockWord { get; init; }
    /// <summary>It may say how it was paid on the spot.</summary>
    public bool TakesTenders { get; init; }
    /// <summary>Its lines may say at what cost goods were received before.</summary>
    public bool TakesReceipt { get; init; }
    /// <summary>It bills a project: every line has one, and what is billed stands there until it is recognised.</summary>
    public bool OfProject { get; init; }
    /// <summary>The party may be missing; it must then say how it was paid.</summary>
    public bool PartyMayLack { get; init; }

    /// <summary>"sales invoice".</summary>
    public string InWords => Words<DocumentType>.Of(Type).Replace('-', ' ');
    /// <summary>What the party owes by it counts positive, what it is owed negative.</summary>
    public int Owes => Buys == IsReturn ? 1 : -1;

    /// <summary>All words for it.</summary>
    public static IReadOnlyCollection<string> StockWords { get; } = [.. ByType.Select(traits => traits.StockWord).Distinct()];

    /// <summary>Those of a type.</summary>
    public static DocumentTraits Of(DocumentType type) => ByType[(int)type];
}
