namespace Assignum.Core.Posting;

/// <summary>What must hold of a document before any code is looked up. The first fault ends the check.</summary>
static class DocumentShape
{
    const int UnitDecimals = 6;
    const int RateDecimals = 12;
    const decimal UnitLimit = 10_000_000_000_000m;

    /// <summary>The first fault, or null.</summary>
    /// <param name="document">The document.</param>
    /// <param name="companyCurrency">Folded code of the company's currency.</param>
    internal static HeldReason? FirstFault(Document document, string companyCurrency)
    {
        var currency = Fold.Of(document.Currency ?? companyCurrency);
        if (!Money.TryMinorUnits(currency, out var minorUnits))
            return HeldReason.Invalid("currency", $"Currency {document.Currency} is no ISO 4217 code. Write one of three letters, such as EUR.");
        return OfHeader(document, currency, companyCurrency, minorUnits)
            ?? FirstOf(document.Lines, (line, i) => OfLine(line, i, document.Project, minorUnits)
                ?? OfReceipt(line, new Place("lines", i), Money.MinorUnits(companyCurrency)))
            ?? FirstOf(document.Tenders, (tender, i) => OfTender(tender, new Place("tenders", i), minorUnits))
            ?? FirstOf(document.Tax, (tax, i) => OfMoney(new Place("tax", i), "amount", tax.Amount, minorUnits));
    }

    static HeldReason? OfHeader(Document document, string currency, string companyCurrency, int minorUnits)
    {
        var traits = DocumentTraits.Of(document.Type);
        if (document.Party is null && !traits.PartyMayLack)
            return HeldReason.Invalid("party", $"The {traits.InWords} has no {(traits.Buys ? "supplier. Name who sells." : "customer. Name who buys.")}");
        if (currency == companyCurrency && document.Rate is { } own && own != 1)
            return HeldReason.Invalid("rate",
                $"A rate of {own} is given for the company's own currency {currency}. Leave the rate empty, or correct the currency.");
        if (currency != companyCurrency && document.Rate is null)
            return HeldReason.Invalid("rate", $"The document is in {currency} and has no rate. Give how many {companyCurrency} one {currency} is.");
        if (document.Rate is { } rate && (rate <= 0 || rate >= UnitLimit || !Money.HasAtMost(rate, RateDecimals)))
            return HeldReason.Invalid("rate", $"The rate is {rate}; it must be above 0, with at most {RateDecimals} decimals.");
        if (document.Project is null && document.Task is not null)
            return HeldReason.Invalid("task", $"Task {document.Task} has no project. Name the project it belongs to.");
        return document.Total is { } total ? OfMoney(null, "total", total, minorUnits) : null;
    }

    static HeldReason? OfLine(DocumentLine line, int index, string? documentProject, int minorUnits)
    {
        var place = new Place("lines", index);
        var named = (line.Item is null ? 0 : 1) + (line.Account is null ? 0 : 1) + (line.ItemGroup is null ? 0 : 1);
        if (named != 1)
            return HeldReason.Invalid(place.ToString(), named == 0
                ? $"{place.InWords}: nothing is sold there. Name an item, an account or an item group."
                : $"{place.InWords}: more than one of item, account and item group is named. Keep one of them.");
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
        if (line.Task is not null && line.Project is null && documentProject is null)
            return HeldReason.Invalid(place.Of("task"), $"{place.InWords}: task {line.Task} has no project. Name the project it belongs to.");
        return OfUnits(place, "quantity", line.Quantity) ?? OfUnits(place, "price", price)
            ?? (line.UnitCost is { } cost ? OfUnits(place, "unitCost", cost) : null)
            ?? (line.UnitCost < 0 ? HeldReason.Invalid(place.Of("unitCost"), $"{place.InWords}: the cost of one unit is {line.UnitCost}. A cost is 0 or more.")
                : null)
            ?? OfDiscount(line, place, price, minorUnits);
    }

    static HeldReason? OfReceipt(DocumentLine line, Place place, int companyMinorUnits)
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
        return line.ReceivedCost is { } cost ? OfUnits(place, field, cost) : OfMoney(place, field, line.ReceivedAmount!.Value, companyMinorUnits);
    }

    static HeldReason? OfDiscount(DocumentLine line, Place place, decimal price, int minorUnits)
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
        return OfMoney(place, "discountAmount", discount, minorUnits);
    }

    static HeldReason? OfTender(Tender tender, Place place, int minorUnits)
    {
        if (tender is { MoneyAccount: not null, Method: not null })
            return HeldReason.Invalid(place.Of("method"), $"{place.InWords}: both a money account and a payment method are named. Keep one of them.");
        if (tender is { MoneyAccount: null, Method: null, GiftCard: false })
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: how it was paid is missing. Name a money account, a payment method or a gift card.");
        return OfMoney(place, "amount", tender.Amount, minorUnits);
    }

    static HeldReason? OfMoney(Place? place, string field, decimal amount, int minorUnits)
    {
        if (Math.Abs(amount) >= Money.Limit)
            return Fault(place, field, $"is {amount}; amounts stay below {Money.Limit:N0}");
        if (Money.HasAtMost(amount, minorUnits))
            return null;
        return Fault(place, field, $"is {amount}; an amount in this currency has at most {minorUnits} decimals");
    }

    static HeldReason? OfUnits(Place place, string field, decimal amount)
    {
        if (Math.Abs(amount) >= UnitLimit)
            return Fault(place, field, $"is {amount}; it stays below {UnitLimit:N0}");
        if (Money.HasAtMost(amount, UnitDecimals))
            return null;
        return Fault(place, field, $"is {amount}; it has at most {UnitDecimals} decimals");
    }

    static HeldReason Fault(Place? place, string field, string what) =>
        HeldReason.Invalid(Place.Field(place, field), $"{(place is { } known ? known.InWords + ": the" : "The")} {Called(field)} {what}. Correct it.");

    static string Called(string field) => field switch
    {
        "unitCost" => "cost of one unit",
        "receivedCost" => "cost of one unit received",
        "receivedAmount" => "amount received",
        "discountAmount" => "discount",
        _ => field,
    };

    static HeldReason? FirstOf<T>(IReadOnlyList<T> things, Func<T, int, HeldReason?> check)
    {
        for (var i = 0; i < things.Count; i++)
            if (check(things[i], i) is { } fault)
                return fault;
        return null;
    }
}
