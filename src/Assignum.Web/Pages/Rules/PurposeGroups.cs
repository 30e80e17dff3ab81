using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.Rules;

/// <summary>Purposes as the work groups them.</summary>
static class PurposeGroups
{
    /// <summary>The groups, in the order of the work.</summary>
    internal static readonly IReadOnlyList<(string Title, IReadOnlyList<Purpose> Purposes)> All =
    [
        ("Selling", [Purpose.Receivable, Purpose.Revenue, Purpose.SalesDiscount, Purpose.SalesReturn, Purpose.ChargeIncome, Purpose.CustomerDeposit,
            Purpose.GiftCard, Purpose.PaymentDiscountGiven, Purpose.InterestCharged, Purpose.ReminderFee]),
        ("Buying", [Purpose.Payable, Purpose.GoodsReceivedNotInvoiced, Purpose.PurchaseExpense, Purpose.PurchaseDiscount, Purpose.PriceVariance,
            Purpose.SupplierDeposit, Purpose.PaymentDiscountTaken]),
        ("Stock", [Purpose.Inventory, Purpose.InventoryInTransit, Purpose.CostOfSales, Purpose.StockDifference, Purpose.StockRevaluation, Purpose.AbsorbedCost,
            Purpose.ProductionVariance]),
        ("Tax", [Purpose.OutputTax, Purpose.InputTax]),
        ("Money", [Purpose.Bank, Purpose.PaymentClearing, Purpose.ProcessingFee, Purpose.HeldFunds, Purpose.PaymentTolerance, Purpose.CashDifference,
            Purpose.Rounding, Purpose.ExchangeGain, Purpose.ExchangeLoss]),
        ("Projects", [Purpose.ProjectWip, Purpose.ProjectBilled, Purpose.ProjectAccruedRevenue, Purpose.ProjectCost, Purpose.ProjectRevenue,
            Purpose.ProjectAbsorbed]),
        ("Assets", [Purpose.AssetCost, Purpose.AccumulatedDepreciation, Purpose.Depreciation, Purpose.AssetDisposal]),
        ("Closing", [Purpose.IntercompanyReceivable, Purpose.IntercompanyPayable, Purpose.OpeningBalance, Purpose.RetainedEarnings]),
    ];

    /// <summary>What is decided for a purpose, in one sentence.</summary>
    internal static string Decides(Purpose purpose)
    {
        var classes = string.Join(" or ", purpose.Classes.Select(c => Assignum.Core.WordsExtensions.Word(c).Replace('-', ' ')));
        var control = purpose.Control is { } owner ? $", a control account of {Assignum.Core.WordsExtensions.Word(owner)}" : "";
        var standIn = purpose.StandIn is { } other ? $" Where no rung answers, the ladder of {other.Name.Replace('-', ' ')} stands in." : "";
        return $"Which {classes} account {purpose.Name.Replace('-', ' ')} lands on{control}. The first rung with a rule answers.{standIn}";
    }
}
