using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.TryOut;

/// <summary>What the form of a priced document is called and asks for; the form itself is the same for all of them.</summary>
public sealed record DocumentForm
{
    /// <summary>The types that can be tried here, in the order they are offered.</summary>
    public static IReadOnlyList<DocumentForm> All { get; } =
    [
        Selling(DocumentType.SalesInvoice, "Ships", "Goods leave with the invoice"), Selling(DocumentType.SalesCreditNote, "Returned", "Goods come back with the credit note"),
        Buying(DocumentType.PurchaseInvoice, "Comes now", "Goods come with the invoice"), Buying(DocumentType.PurchaseCreditNote, "Goes back", "Goods go back with the credit note"),
    ];

    /// <summary>What tells its type from others.</summary>
    public required DocumentTraits Traits { get; init; }
    /// <summary>"customer" or "supplier".</summary>
    public required string Party { get; init; }
    /// <summary>List to choose the party from.</summary>
    public required string PartyList { get; init; }
    /// <summary>The question where no party is named.</summary>
    public required string WhoAsked { get; init; }
    /// <summary>The question where a line names nothing.</summary>
    public required string WhatAsked { get; init; }
    /// <summary>What the party and the lines are, for the empty form: "a customer and what is sold".</summary>
    public required string Begin { get; init; }
    /// <summary>Title of the column that says stock moves.</summary>
    public required string Moves { get; init; }
    /// <summary>What a tick there means.</summary>
    public required string MovesMeans { get; init; }
    /// <summary>Title of the location: where goods leave, or where they come to.</summary>
    public required string Place { get; init; }
    /// <summary>What lines that name an account are for.</summary>
    public required Purpose Of { get; init; }
    /// <summary>The account of the party.</summary>
    public required Purpose Owed { get; init; }

    /// <summary>"sales-invoice".</summary>
    public string Name => Core.Words<DocumentType>.Of(Traits.Type);
    /// <summary>"Sales invoice".</summary>
    public string Title => Showing.Show.Title(Traits.InWords);
    /// <summary>Starts with goods moving: an invoice over goods usually does.</summary>
    public bool MovesAtFirst => !Traits.IsReturn;

    /// <summary>The form of a type; that of sales invoices where none is named.</summary>
    public static DocumentForm Find(string? name) => All.FirstOrDefault(form => form.Name == name) ?? All[0];

    /// <summary>Whether a role does not do for it.</summary>
    internal PartyRole Other => Traits.Buys ? PartyRole.Customer : PartyRole.Supplier;

    static DocumentForm Selling(DocumentType type, string moves, string means) => new()
    {
        Traits = DocumentTraits.Of(type), Party = "customer", PartyList = "customer", WhoAsked = "Who buys?", WhatAsked = "What is sold?", Begin = "a customer and what is sold", Moves = moves, MovesMeans = means,
        Place = DocumentTraits.Of(type).IsReturn ? "Back to" : "From", Of = DocumentTraits.Of(type).IsReturn ? Purpose.SalesReturn : Purpose.Revenue, Owed = Purpose.Receivable,
    };

    static DocumentForm Buying(DocumentType type, string moves, string means) => new()
    {
        Traits = DocumentTraits.Of(type), Party = "supplier", PartyList = "supplier", WhoAsked = "Who sells?", WhatAsked = "What is bought?", Begin = "a supplier and what is bought", Moves = moves, MovesMeans = means,
        Place = DocumentTraits.Of(type).IsReturn ? "From" : "To", Of = Purpose.PurchaseExpense, Owed = Purpose.Payable,
    };
}
