using Assignum.Core.Posting;

namespace Assignum.Core.Consolidating;

/// <summary>A sales document of one company of the group as the purchase document that it is for the other one.</summary>
public static class Mirror
{
    /// <summary>Types of documents that have a mirror, as the formats spell them.</summary>
    public static IReadOnlyList<string> Types { get; } = [.. new[]
    {
        DocumentType.SalesInvoice, DocumentType.SalesCreditNote, DocumentType.ProjectInvoice, DocumentType.ProjectCreditNote,
    }.Select(Words<DocumentType>.Of)];

    /// <summary>
    /// Mirrors a document. Its codes stay those of the seller, for the buyer to match; what only the seller knows (places, projects, costs, standing
    /// accounts, dimensions, how it was paid) is left out. What is shipped is received.
    /// </summary>
    /// <param name="sold">The seller's document, of one of <see cref="Types"/>.</param>
    /// <param name="seller">Code of the party that the seller is for the buyer.</param>
    /// <param name="sellersCurrency">Currency of the seller's books.</param>
    /// <param name="buyersCurrency">Currency of the buyer's books.</param>
    /// <param name="total">What it comes to with tax, document currency; null: not known.</param>
    public static Document Of(Document sold, string seller, string sellersCurrency, string buyersCurrency, decimal? total)
    {
        var currency = Fold.Of(sold.Currency ?? sellersCurrency);
        var foreign = currency != Fold.Of(buyersCurrency);
        return new Document
        {
            Id = sold.Id, Revision = sold.Revision, Withdrawn = sold.Withdrawn, Type = DocumentTraits.Of(sold.Type).IsReturn ? DocumentType.PurchaseCreditNote
                : DocumentType.PurchaseInvoice,
            Date = sold.Date, DocumentDate = sold.DocumentDate, TaxDate = sold.TaxDate, DueDate = sold.DueDate, Number = sold.Number ?? sold.Id, Party = seller,
            // The seller's rate is the buyer's only where both keep their books in one currency.
            Currency = foreign ? currency : null, Rate = foreign && Fold.Same(sellersCurrency, buyersCurrency) ? sold.Rate : null, Text = sold.Text,
            RefersTo = sold.RefersTo, PricesIncludeTax = sold.PricesIncludeTax, Total = total, Tax = sold.Tax, Lines = [.. sold.Lines.Select(Mirrored)],
        };
    }

    static DocumentLine Mirrored(DocumentLine line) => new()
    {
        Item = line.Item, Account = line.Account, ItemGroup = line.ItemGroup, ItemKind = line.ItemKind, Asset = line.Asset, Quantity = line.Quantity,
        Price = line.Price, DiscountPercent = line.DiscountPercent, DiscountAmount = line.DiscountAmount, TaxCode = line.TaxCode, StockMoves = line.StockMoves,
        Text = line.Text, RefersToLine = line.RefersToLine,
    };
}
