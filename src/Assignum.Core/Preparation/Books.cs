using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>What stands in the books, as far as events ask for it: stock, open items, fixed assets. Kept in posting order while a batch is prepared.</summary>
public sealed class Books
{
    /// <summary>Stock by item and place.</summary>
    public StockOnHand Stock { get; } = new();
    /// <summary>Open items by party.</summary>
    public OpenItems Items { get; } = new();
    /// <summary>Invoices and what was credited of them.</summary>
    public Invoices Invoices { get; } = new();
    /// <summary>What waits for its invoice or its receipt.</summary>
    public Receipts Receipts { get; } = new();
    /// <summary>Fixed assets.</summary>
    public AssetsOnHand Assets { get; } = new();
    /// <summary>Currencies and days whose rate was asked for.</summary>
    public HashSet<(string Currency, DateOnly Day)> RatesAsked { get; } = [];

    readonly Dictionary<(string, DateOnly), (decimal Rate, DateOnly Of)> rates = [];

    /// <summary>Lays down the rate that holds on a day.</summary>
    /// <param name="currency">Folded code.</param>
    /// <param name="day">The day asked for.</param>
    /// <param name="rate">Company currency for one unit.</param>
    /// <param name="of">The day it is of.</param>
    public void SetRate(string currency, DateOnly day, decimal rate, DateOnly of) => rates[(currency, day)] = (rate, of);

    internal (decimal Rate, DateOnly Of)? RateOf(string currency, DateOnly day)
    {
        RatesAsked.Add((currency, day));
        return rates.TryGetValue((currency, day), out var rate) ? rate : null;
    }

    /// <summary>Parties whose terms of payment were asked for, by the folds of their codes.</summary>
    public HashSet<string> TermsAsked { get; } = [];

    readonly Dictionary<string, Terms> terms = [];

    /// <summary>Lays down the terms of a party.</summary>
    public void SetTerms(string party, Terms of) => terms[Fold.Of(party)] = of;

    internal Terms? TermsOf(string party)
    {
        TermsAsked.Add(Fold.Of(party));
        return terms.GetValueOrDefault(Fold.Of(party));
    }

    /// <summary>What was asked for.</summary>
    public bool AnyAsked =>
        Stock.Asked.Count + Items.Asked.Count + Invoices.Asked.Count + Receipts.Asked.Count + Assets.Asked.Count + RatesAsked.Count + TermsAsked.Count > 0;

    /// <summary>The cost change that an event has made needful; null where all stock is worth what came and left.</summary>
    /// <param name="happened">The event, applied.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    public StockValue? CostChangeAfter(BusinessEvent happened, int minorUnits) => CostCorrection.After(happened, Stock, minorUnits);

    /// <summary>What an event was, and has moved, stands there from now on.</summary>
    /// <param name="happened">The event.</param>
    /// <param name="landed">How it landed; of one that is withdrawn it does not matter.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    /// <returns>To which lines of receipts its movements belong.</returns>
    public IReadOnlyDictionary<StockMovement, IReadOnlyList<ReceiptPart>> Apply(BusinessEvent happened, Landed? landed, int minorUnits)
    {
        Invoices.Apply(happened);
        if (happened.Withdrawn || landed is null)
            return NoParts;
        foreach (var moved in landed.Subledger)
        {
            if (moved is StockMovement ofStock)
                Stock.Apply(ofStock);
            else if (moved is PartyMovement ofParty)
                Items.Apply(ofParty, happened.Id);
            else if (moved is AssetMovement ofAsset)
                Assets.Apply(ofAsset);
        }
        return Receipts.Apply(happened, landed, minorUnits);
    }

    static readonly Dictionary<StockMovement, IReadOnlyList<ReceiptPart>> NoParts = [];
}
