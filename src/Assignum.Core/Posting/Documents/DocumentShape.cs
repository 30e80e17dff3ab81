namespace Assignum.Core.Posting;

/// <summary>What must hold of a document before any code is looked up. The first fault ends the check.</summary>
static class DocumentShape
{
    /// <summary>The first fault, or null.</summary>
    /// <param name="document">The document.</param>
    /// <param name="companyCurrency">Folded code of the company's currency.</param>
    internal static HeldReason? FirstFault(Document document, string companyCurrency)
    {
        var traits = DocumentTraits.Of(document.Type);
        if (Shape.OfHeader(document, companyCurrency, out var shape) is { } malformed)
            return malformed;
        if (document.Party is null && !traits.PartyMayLack)
            return HeldReason.Invalid("party", $"The {traits.InWords} has no {(traits.Buys ? "supplier. Name who sells." : "customer. Name who buys.")}");
        Money.TryMinorUnits(Fold.Of(document.Currency ?? companyCurrency), out var minorUnits);
        if (traits.OfProject && document.Project is null && document.Lines.Any(line => line.Project is null))
            return HeldReason.Invalid("project", $"The {traits.InWords} has a line without a project. Name the project on the document, or on every line.");
        return (document.Total is { } total ? shape.OfMoney(null, "total", total) : null)
            ?? Shape.FirstOf(document.Lines, (line, i) => OfLine(line, i, document.Project, shape, minorUnits)
                ?? OfAsset(line, new Place("lines", i), traits) ?? OfProject(line, new Place("lines", i), document.Project) ?? OfReceipt(line,
                    new Place("lines", i), shape))
            ?? Shape.FirstOf(document.Tenders, (tender, i) => OfTender(tender, new Place("tenders", i), shape))
            ?? Shape.FirstOf(document.Tax, (tax, i) => shape.OfMoney(new Place("tax", i), "amount", tax.Amount));
    }

    static HeldReason? OfLine(DocumentLine line, int index, string? documentProject, Shape shape, int minorUnits)
    {
        var place = new Place("lines", index);
        var named = (line.Item is null ? 0 : 1) + (line.Account is null ? 0 : 1) + (line.ItemGroup is null ? 0 : 1)
            + (line.Asset is null ? 0 : 1);
        if (named != 1)
            return HeldReason.Invalid(place.ToString(), named == 0
                ? $"{place.InWords}: nothing is sold there. Name an item, an account, an item group or a fixed asset."
                : $"{place.InWords}: more than one of item, account, item group and fixed asset is named. Keep one of them.");
        if (line.ItemKind is not null && line.ItemGroup is null)
            return HeldReason.Invalid(place.Of("itemKind"),
                $"{place.InWords}: a kind of item goes with an item group only; an item has its own kind. Leave it out.");
        if (line.Quantity == 0)
            return HeldReason.Invalid(place.Of("quantity"), $"{place.InWords}: the quantity is 0. Leave the line out, or give a quantity.");
        if (line.Price is not { } price)
            return HeldReason.Invalid(place.Of("price"), $"{place.InWords}: the price is missing. Give the price of one unit; 0 is allowed.");
        if (price < 0)
            return HeldReason.Invalid(place.Of("price"),
                $"{place.InWords}: the price is {price}. A price is 0 or more; turn the sign of the quantity instead.");
        return Shape.OfTask(place, line.Task, line.Project, documentProject)
            ?? Shape.OfUnits(place, "quantity", line.Quantity) ?? Shape.OfUnits(place, "price", price)
            ?? (line.UnitCost is { } cost ? Shape.OfUnits(place, "unitCost", cost) : null)
            ?? (line.UnitCost < 0 ? HeldReason.Invalid(place.Of("unitCost"), $"{place.InWords}: the cost of one unit is {line.UnitCost}. A cost is 0 or more.")
                : null)
            ?? OfDiscount(line, place, price, shape, minorUnits);
    }

    // An asset is neither shipped nor received: it is there from the invoice on.
    static HeldReason? OfAsset(DocumentLine line, Place place, DocumentTraits traits)
    {
        if (traits.OfProject && (line.Asset ?? line.Account) is not null)
            return HeldReason.Invalid(place.Of(line.Asset is null ? "account" : "asset"),
                $"{place.InWords}: a {traits.InWords} bills items and item groups. Name one of them.");
        if (line.Asset is null)
            return null;
        var field = line switch
        {
            { StockMoves: true } => traits.StockWord,
            { ReceivedCost: not null } => "receivedCost",
            { ReceivedAmount: not null } => "receivedAmount",
            { StandsOn: not null } => "standsOn",
            _ => null,
        };
        return field is null ? null : HeldReason.Invalid(place.Of(field),
            $"{place.InWords}: {field} does not go with a fixed asset. Leave it out.");
    }

    static HeldReason? OfProject(DocumentLine line, Place place, string? documentProject)
    {
        if (!line.ToProject)
            return null;
        if ((line.Project ?? documentProject) is null)
            return HeldReason.Invalid(place.Of("toProject"),
                $"{place.InWords}: it is for a project, and none is named. Name the project, or leave toProject out.");
        return line.Account is null && line.Asset is null ? null : HeldReason.Invalid(place.Of("toProject"),
            $"{place.InWords}: what goes to a project is an item or an item group, not an account or a fixed asset. Name the item, or leave toProject out.");
    }

    static HeldReason? OfReceipt(DocumentLine line, Place place, Shape shape)
    {
        if (line is { ReceivedCost: null, ReceivedAmount: null })
            return null;
        var field = line.ReceivedCost is null ? "receivedAmount" : "receivedCost";
        if (line is { ReceivedCost: not null, ReceivedAmount: not null })
            return HeldReason.Invalid(place.Of("receivedAmount"),
                $"{place.InWords}: what was received is given as a cost of one unit and as an amount. Keep one of them.");
        if (line.Item is null)
            return HeldReason.Invalid(place.Of(field),
                $"{place.InWords}: only an item can have been received before the invoice. Name the item, or leave {field} out.");
        if (line.StockMoves)
            return HeldReason.Invalid(place.Of(field), $"{place.InWords}: the goods are received with this invoice and before it. Keep received or {field}.");
        if (line.ReceivedCost < 0)
            return HeldReason.Invalid(place.Of(field), $"{place.InWords}: the cost of one unit received is {line.ReceivedCost}. A cost is 0 or more.");
        return line.ReceivedCost is { } cost ? Shape.OfUnits(place, field, cost) : shape.OfCompanyMoney(place, field, line.ReceivedAmount!.Value);
    }

    static HeldReason? OfDiscount(DocumentLine line, Place place, decimal price, Shape shape, int minorUnits)
    {
        if (line is { DiscountPercent: not null, DiscountAmount: not null })
            return HeldReason.Invalid(place.Of("discountAmount"), $"{place.InWords}: a discount is given in per cent and as an amount. Keep one of them.");
        if (line.DiscountPercent is < 0 or > 100)
            return HeldReason.Invalid(place.Of("discountPercent"),
                $"{place.InWords}: the discount is {line.DiscountPercent} %; it goes {(line.DiscountPercent > 100 ? "up to 100" : "from 0 to 100")}.");
        if (line.DiscountAmount is not { } discount)
            return null;
        var gross = Math.Abs(Money.Round(line.Quantity * price, minorUnits));
        if (discount < 0 || discount > gross)
            return HeldReason.Invalid(place.Of("discountAmount"), $"{place.InWords}: the discount is {discount}; it goes from 0 to the gross of {gross}.");
        return shape.OfMoney(place, "discountAmount", discount);
    }

    static HeldReason? OfTender(Tender tender, Place place, Shape shape)
    {
        if (tender is { MoneyAccount: not null, Method: not null })
            return HeldReason.Invalid(place.Of("method"), $"{place.InWords}: both a money account and a payment method are named. Keep one of them.");
        if (tender is { MoneyAccount: null, Method: null, GiftCard: false })
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: how it was paid is missing. Name a money account, a payment method or a gift card.");
        return shape.OfMoney(place, "amount", tender.Amount);
    }
}
