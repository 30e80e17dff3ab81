using System.Collections.Immutable;
using Assignum.Core.Charts;
using static Assignum.Core.Charts.AccountClass;

namespace Assignum.Core.Rulebooks;

/// <summary>What an amount of an event is for. The list is closed; its facts are those of 03, in that order.</summary>
public sealed class Purpose
{
    // A purpose of its own carries the name of the class.
    const AccountClass Cost = AccountClass.CostOfSales;

    static readonly List<Purpose> all = [];

    /// <summary>Purpose <c>receivable</c>.</summary>
    public static readonly Purpose Receivable = new("receivable", [Asset],
        "party · partyGroup+currency · partyGroup · currency · []") { Control = Charts.Control.Receivables, TakesAlternates = true };
    /// <summary>Purpose <c>revenue</c>.</summary>
    public static readonly Purpose Revenue = new("revenue", [Income],
        "item+party · item · party · itemGroup+partyGroup+location · itemGroup+partyGroup · itemGroup+location · itemGroup · partyGroup · connection · []")
        { TakesLineChoice = true };
    /// <summary>Purpose <c>sales-discount</c>.</summary>
    public static readonly Purpose SalesDiscount = new("sales-discount", [Income], Revenue) { StandIn = Revenue };
    /// <summary>Purpose <c>sales-return</c>.</summary>
    public static readonly Purpose SalesReturn = new("sales-return", [Income], Revenue) { TakesLineChoice = true, StandIn = Revenue };
    /// <summary>Purpose <c>charge-income</c>.</summary>
    public static readonly Purpose ChargeIncome = new("charge-income", [Income],
        "item · itemGroup+partyGroup · itemGroup · connection · []") { TakesLineChoice = true, StandIn = Revenue };
    /// <summary>Purpose <c>output-tax</c>.</summary>
    public static readonly Purpose OutputTax = new("output-tax", [Liability],
        "taxCode+authority · authority · taxCode+location · taxCode · []") { Control = Charts.Control.Tax };
    /// <summary>Purpose <c>input-tax</c>.</summary>
    public static readonly Purpose InputTax = new("input-tax", [Asset, Liability], OutputTax) { Control = Charts.Control.Tax };
    /// <summary>Purpose <c>customer-deposit</c>.</summary>
    public static readonly Purpose CustomerDeposit = new("customer-deposit", [Liability],
        "party · partyGroup · connection · []") { Control = Charts.Control.Receivables };
    /// <summary>Purpose <c>gift-card</c>.</summary>
    public static readonly Purpose GiftCard = new("gift-card", [Liability], "connection · []");
    /// <summary>Purpose <c>payment-discount-given</c>.</summary>
    public static readonly Purpose PaymentDiscountGiven = new("payment-discount-given", [Income, Expense], "partyGroup · []");
    /// <summary>Purpose <c>payment-discount-taken</c>.</summary>
    public static readonly Purpose PaymentDiscountTaken = new("payment-discount-taken", [Cost, Expense, OtherIncome], "partyGroup · []");
    static readonly Purpose RoundingItself = new("rounding", [Expense, OtherExpense, OtherIncome], "currency · []", listed: false);
    /// <summary>Purpose <c>payment-tolerance</c>.</summary>
    public static readonly Purpose PaymentTolerance = new("payment-tolerance", [Expense, OtherExpense], "partyGroup · []") { StandIn = RoundingItself };
    /// <summary>Purpose <c>cash-difference</c>.</summary>
    public static readonly Purpose CashDifference = new("cash-difference", [Expense, OtherIncome],
        "connection+location · connection · []") { StandIn = RoundingItself };
    /// <summary>Purpose <c>interest-charged</c>.</summary>
    public static readonly Purpose InterestCharged = new("interest-charged", [OtherIncome], "partyGroup · []");
    /// <summary>Purpose <c>reminder-fee</c>.</summary>
    public static readonly Purpose ReminderFee = new("reminder-fee", [OtherIncome], "partyGroup · []");
    /// <summary>Purpose <c>rounding</c>.</summary>
    public static readonly Purpose Rounding = RoundingItself.Listed();
    /// <summary>Purpose <c>payable</c>.</summary>
    public static readonly Purpose Payable = new("payable", [Liability], Receivable) { Control = Charts.Control.Payables, TakesAlternates = true };
    /// <summary>Purpose <c>goods-received-not-invoiced</c>.</summary>
    public static readonly Purpose GoodsReceivedNotInvoiced = new("goods-received-not-invoiced", [Liability],
        "itemGroup+location · itemGroup · location · []") { Control = Charts.Control.Purchasing };
    /// <summary>Purpose <c>purchase-expense</c>.</summary>
    public static readonly Purpose PurchaseExpense = new("purchase-expense", [Expense, Cost, Asset],
        "item+party · item · itemGroup+partyGroup · itemGroup · partyGroup · []") { TakesLineChoice = true };
    /// <summary>Purpose <c>purchase-discount</c>.</summary>
    public static readonly Purpose PurchaseDiscount = new("purchase-discount", [Cost, Expense], PurchaseExpense) { StandIn = PurchaseExpense };
    /// <summary>Purpose <c>price-variance</c>.</summary>
    public static readonly Purpose PriceVariance = new("price-variance", [Cost, Expense], "item · itemGroup · []");
    /// <summary>Purpose <c>supplier-deposit</c>.</summary>
    public static readonly Purpose SupplierDeposit = new("supplier-deposit", [Asset], "party · partyGroup · []") { Control = Charts.Control.Payables };
    /// <summary>Purpose <c>inventory</c>.</summary>
    public static readonly Purpose Inventory = new("inventory", [Asset],
        "item+location · item · itemGroup+location · itemGroup · location · []") { Control = Charts.Control.Inventory };
    /// <summary>Purpose <c>inventory-in-transit</c>.</summary>
    public static readonly Purpose InventoryInTransit = new("inventory-in-transit", [Asset], "itemGroup · []") { Control = Charts.Control.Inventory,
        StandIn = Inventory };
    /// <summary>Purpose <c>cost-of-sales</c>.</summary>
    public static readonly Purpose CostOfSales = new("cost-of-sales", [Cost],
        "item+party · item · itemGroup+partyGroup+location · itemGroup+partyGroup · itemGroup+location · itemGroup · partyGroup · []");
    /// <summary>Purpose <c>stock-difference</c>.</summary>
    public static readonly Purpose StockDifference = new("stock-difference", [Cost, Expense],
        "reason+itemGroup · reason · itemGroup+location · itemGroup · []") { TakesLineChoice = true };
    /// <summary>Purpose <c>stock-revaluation</c>.</summary>
    public static readonly Purpose StockRevaluation = new("stock-revaluation", [Cost, Expense], "itemGroup · []") { StandIn = StockDifference };
    /// <summary>Purpose <c>absorbed-cost</c>.</summary>
    public static readonly Purpose AbsorbedCost = new("absorbed-cost", [Expense, Cost], "item · itemGroup · itemKind · []");
    /// <summary>Purpose <c>production-variance</c>.</summary>
    public static readonly Purpose ProductionVariance = new("production-variance", [Cost, Expense], "itemGroup · []");
    /// <summary>Purpose <c>bank</c>.</summary>
    public static readonly Purpose Bank = new("bank", [Asset],
        "moneyAccount · connection+currency · connection · currency · []") { Control = Charts.Control.Bank };
    /// <summary>Purpose <c>payment-clearing</c>.</summary>
    public static readonly Purpose PaymentClearing = new("payment-clearing", [Asset, Liability],
        "connection+method · connection · method · []") { Control = Charts.Control.Bank };
    /// <summary>Purpose <c>processing-fee</c>.</summary>
    public static readonly Purpose ProcessingFee = new("processing-fee", [Expense], "connection+method · connection · []");
    /// <summary>Purpose <c>held-funds</c>.</summary>
    public static readonly Purpose HeldFunds = new("held-funds", [Asset], "connection · []") { Control = Charts.Control.Bank, StandIn = PaymentClearing };
    /// <summary>Purpose <c>exchange-gain</c>.</summary>
    public static readonly Purpose ExchangeGain = new("exchange-gain", [OtherIncome], "currency · []");
    /// <summary>Purpose <c>unrealised-gain</c>.</summary>
    public static readonly Purpose UnrealisedGain = new("unrealised-gain", [OtherIncome], "currency · []") { StandIn = ExchangeGain };
    /// <summary>Purpose <c>exchange-loss</c>.</summary>
    public static readonly Purpose ExchangeLoss = new("exchange-loss", [OtherExpense], "currency · []");
    /// <summary>Purpose <c>unrealised-loss</c>.</summary>
    public static readonly Purpose UnrealisedLoss = new("unrealised-loss", [OtherExpense], "currency · []") { StandIn = ExchangeLoss };
    /// <summary>Purpose <c>project-wip</c>.</summary>
    public static readonly Purpose ProjectWip = new("project-wip", [Asset], "task · project · projectGroup · []") { Control = Charts.Control.Projects };
    /// <summary>Purpose <c>project-billed</c>.</summary>
    public static readonly Purpose ProjectBilled = new("project-billed", [Liability], ProjectWip) { Control = Charts.Control.Projects };
    /// <summary>Purpose <c>project-accrued-revenue</c>.</summary>
    public static readonly Purpose ProjectAccruedRevenue = new("project-accrued-revenue", [Asset], ProjectWip) { Control = Charts.Control.Projects };
    /// <summary>Purpose <c>project-cost</c>.</summary>
    public static readonly Purpose ProjectCost = new("project-cost", [Cost], ProjectWip);
    /// <summary>Purpose <c>project-revenue</c>.</summary>
    public static readonly Purpose ProjectRevenue = new("project-revenue", [Income], ProjectWip);
    /// <summary>Purpose <c>project-absorbed</c>.</summary>
    public static readonly Purpose ProjectAbsorbed = new("project-absorbed", [Expense, Cost],
        "projectGroup+itemKind · projectGroup · itemKind · []") { StandIn = AbsorbedCost };
    /// <summary>Purpose <c>asset-cost</c>.</summary>
    public static readonly Purpose AssetCost = new("asset-cost", [Asset], "assetGroup · []") { Control = Charts.Control.Assets, TakesLineChoice = true };
    /// <summary>Purpose <c>accumulated-depreciation</c>.</summary>
    public static readonly Purpose AccumulatedDepreciation = new("accumulated-depreciation", [Asset], "assetGroup · []") { Control = Charts.Control.Assets };
    /// <summary>Purpose <c>depreciation</c>.</summary>
    public static readonly Purpose Depreciation = new("depreciation", [Expense], "assetGroup · []");
    /// <summary>Purpose <c>asset-disposal</c>.</summary>
    public static readonly Purpose AssetDisposal = new("asset-disposal", [OtherIncome, OtherExpense], "assetGroup · []");
    /// <summary>Purpose <c>intercompany-receivable</c>.</summary>
    public static readonly Purpose IntercompanyReceivable = new("intercompany-receivable", [Asset], "partner · []") { Control = Charts.Control.Intercompany,
        TakesAlternates = true };
    /// <summary>Purpose <c>intercompany-payable</c>.</summary>
    public static readonly Purpose IntercompanyPayable = new("intercompany-payable", [Liability], "partner · []") { Control = Charts.Control.Intercompany,
        TakesAlternates = true };
    /// <summary>Purpose <c>opening-balance</c>.</summary>
    public static readonly Purpose OpeningBalance = new("opening-balance", [Equity], "[]");
    /// <summary>Purpose <c>retained-earnings</c>.</summary>
    public static readonly Purpose RetainedEarnings = new("retained-earnings", [Equity], "[]");

    static readonly Dictionary<string, Purpose> byName = all.ToDictionary(p => p.Name);

    Purpose(string name, ImmutableArray<AccountClass> classes, string ladder, bool listed = true)
        : this(name, classes, ReadLadder(ladder), listed) { }

    Purpose(string name, ImmutableArray<AccountClass> classes, Purpose sameLadderAs)
        : this(name, classes, sameLadderAs.DefaultLadder, listed: true) { }

    Purpose(string name, ImmutableArray<AccountClass> classes, ImmutableArray<Rung> ladder, bool listed)
    {
        Name = name;
        Classes = classes;
        DefaultLadder = ladder;
        if (listed)
            Listed();
    }

    /// <summary>All purposes, in the order of 03.</summary>
    public static IReadOnlyList<Purpose> All => all;

    /// <summary>Name in the formats: "cost-of-sales".</summary>
    public string Name { get; }
    /// <summary>Name on screens: "Cost of sales".</summary>
    public string Title => char.ToUpperInvariant(InWords[0]) + InWords[1..];
    /// <summary>Name in the middle of a sentence: "cost of sales".</summary>
    public string InWords => Name == "project-wip" ? "project work in progress" : Name.Replace('-', ' ');
    /// <summary>Place in <see cref="All"/>.</summary>
    public int Index { get; private set; }
    /// <summary>Classes its accounts should have.</summary>
    public ImmutableArray<AccountClass> Classes { get; }
    /// <summary>The subledger that should own its accounts, or null.</summary>
    public Control? Control { get; private init; }
    /// <summary>Whether an account named by the event's line answers.</summary>
    public bool TakesLineChoice { get; private init; }
    /// <summary>Whether a control alternate chosen by the document answers.</summary>
    public bool TakesAlternates { get; private init; }
    /// <summary>The purpose whose ladder is tried when its own does not answer, or null.</summary>
    public Purpose? StandIn { get; private init; }
    /// <summary>The ladder a company has that has not replaced it.</summary>
    public ImmutableArray<Rung> DefaultLadder { get; }

    /// <summary>What the party owes or is owed counts between companies where it is one of the group.</summary>
    /// <param name="party">The party, or null.</param>
    internal Purpose With(Groups.Party? party)
    {
        if (party?.Partner is null || !(this == Receivable || this == Payable))
            return this;
        return this == Receivable ? IntercompanyReceivable : IntercompanyPayable;
    }

    /// <summary>The purpose of a name, exact to the letter; null when there is none.</summary>
    public static Purpose? Find(string name) => byName.GetValueOrDefault(name);

    /// <summary>The purpose itself and those whose ladders are tried after its own, in that order.</summary>
    public IEnumerable<Purpose> Chain()
    {
        for (var purpose = this; purpose is not null; purpose = purpose.StandIn)
            yield return purpose;
    }

    /// <inheritdoc/>
    public override string ToString() => Name;

    // Rounding stands in for purposes that come before it in 03's order, so it is made before it is listed.
    Purpose Listed()
    {
        Index = all.Count;
        all.Add(this);
        return this;
    }

    static ImmutableArray<Rung> ReadLadder(string ladder) =>
        [.. ladder.Split(" · ").Select(rung => rung == "[]" ? Rung.Default : new Rung([.. rung.Split('+').Select(ReadFact)]))];

    static Fact ReadFact(string name) => FactNames.TryParse(name, out var fact) ? fact : throw new ArgumentException(name);
}
