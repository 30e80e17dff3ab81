using System.Collections.Frozen;
using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>Which items and parties can meet a purpose at all; the same for coverage and for the checks.</summary>
public static class Occurrence
{
    static readonly FrozenSet<Purpose> OfStock = new[] { Purpose.Inventory, Purpose.CostOfSales, Purpose.StockDifference, Purpose.PriceVariance,
        Purpose.StockRevaluation, Purpose.InventoryInTransit }.ToFrozenSet();

    static readonly FrozenSet<Purpose> OfCustomers = new[]
    {
        Purpose.Receivable, Purpose.Revenue, Purpose.SalesDiscount, Purpose.SalesReturn, Purpose.ChargeIncome, Purpose.CustomerDeposit, Purpose.GiftCard,
            Purpose.PaymentDiscountGiven,
        Purpose.InterestCharged, Purpose.ReminderFee, Purpose.CostOfSales,
    }.ToFrozenSet();

    static readonly FrozenSet<Purpose> OfSuppliers = new[] { Purpose.Payable, Purpose.PurchaseExpense, Purpose.PurchaseDiscount, Purpose.SupplierDeposit,
        Purpose.PaymentDiscountTaken }.ToFrozenSet();

    /// <summary>Whether items of a kind can meet a purpose.</summary>
    public static bool CanMeet(this ItemKind kind, Purpose purpose)
    {
        if (OfStock.Contains(purpose))
            return kind == ItemKind.Stock;
        if (purpose == Purpose.ChargeIncome)
            return kind == ItemKind.Charge;
        if (purpose == Purpose.Revenue || purpose == Purpose.SalesReturn)
            return kind != ItemKind.Charge;
        return purpose != Purpose.PurchaseExpense || kind != ItemKind.Stock;
    }

    /// <summary>Whether parties of a role can meet a purpose.</summary>
    public static bool CanMeet(this PartyRole role, Purpose purpose) =>
        role == PartyRole.Both
        || (OfCustomers.Contains(purpose) ? role == PartyRole.Customer : !OfSuppliers.Contains(purpose) || role == PartyRole.Supplier);
}
