using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Subledgers;

namespace Assignum.Web.Pages.TryOut;

/// <summary>An open item in the form of a payment.</summary>
/// <param name="Item">The item.</param>
/// <param name="Subledger">"receivables" or "payables".</param>
/// <param name="Account">Number of the account it stands on.</param>
/// <param name="RuleToday">Number of the account its rule gives today, where that is another one.</param>
public sealed record SettleRow(PartyItem Item, string Subledger, string Account, string? RuleToday)
{
    /// <summary>The rate it was booked at, where it is in another currency.</summary>
    public decimal Booked => Item.Open == 0 ? 0 : Money.Round(Item.Company / Item.Open, 6);
}

/// <summary>What a payment, a deposit or a settlement can settle, beside what it does settle.</summary>
/// <param name="Key">Whose items they are, and in which currency; empty while nobody is named.</param>
/// <param name="Party">Code of the party.</param>
/// <param name="Currency">Their currency.</param>
/// <param name="Rows">The items, the oldest first.</param>
/// <param name="Terms">The party's terms; null: none.</param>
public sealed record SettlingTable(string Key, string Party, string Currency, IReadOnlyList<SettleRow> Rows, Terms? Terms)
{
    /// <summary>Other currencies in which something is open that this could settle.</summary>
    public IReadOnlyList<string> Others { get; init; } = [];

    /// <summary>Nobody is named yet.</summary>
    public static SettlingTable Empty { get; } = new("", "", "", [], null);

    // What each type settles: purpose, and the side on which that stands.
    static readonly Dictionary<string, (string Purpose, int Side)> sides = new()
    {
        [Words<PaymentType>.Of(PaymentType.CustomerPayment)] = (Purpose.Receivable.Name, 1),
        [Words<PaymentType>.Of(PaymentType.Refund)] = (Purpose.Receivable.Name, -1),
        [Words<PaymentType>.Of(PaymentType.SupplierPayment)] = (Purpose.Payable.Name, -1),
        [Words<AppliedType>.Of(AppliedType.DepositApplied)] = (Purpose.Receivable.Name, 1),
        [Words<AppliedType>.Of(AppliedType.GiftCardUsed)] = (Purpose.Receivable.Name, 1),
        [Words<AppliedType>.Of(AppliedType.DepositSettled)] = (Purpose.Payable.Name, -1),
    };

    /// <summary>Whether events of a type settle items.</summary>
    internal static bool Takes(string type) => type == Settlement.Name || sides.ContainsKey(type);

    /// <summary>Whether an item is on the side that a type settles; a settlement takes both.</summary>
    internal static bool Fits(string type, PartyItem item) => type == Settlement.Name || (sides[type] is var (purpose, side) && item.Purpose == purpose
        && Math.Sign(item.Open) == side);

    /// <summary>Items settle against each other: their amounts are signed, and each says what it is.</summary>
    internal static bool IsSigned(string type) => type == Settlement.Name;

    /// <summary>The row of an event; null where nothing of it is listed.</summary>
    public SettleRow? RowOf(string? id, string? of) =>
        id is null ? null : Rows.FirstOrDefault(r => r.Item.SourceId == id && (of is null || r.Item.Purpose == of));

    /// <summary>Lays the items out in a form: one line each, with what was typed of it, then what was typed of others, then a free line.</summary>
    internal void LayOut(TryOutForm form)
    {
        var typed = form.Lines.Where(line => Text(line, "event") is not null && Text(line, "amount") is not null).ToList();
        form.Lines.Clear();
        foreach (var row in Rows)
        {
            var at = typed.FindIndex(line => Text(line, "event") == row.Item.SourceId && (Text(line, "of") is not { } of || of == row.Item.Purpose));
            form.Lines.Add(new() { ["event"] = row.Item.SourceId, ["of"] = row.Item.Purpose, ["amount"] = at < 0 ? null : Text(typed[at], "amount") });
            if (at >= 0)
                typed.RemoveAt(at);
        }
        form.Lines.AddRange(typed);
        form.AddLine();
    }

    static string? Text(Dictionary<string, string?> line, string name) => line.GetValueOrDefault(name) is { } text && !string.IsNullOrWhiteSpace(text)
        ? text.Trim() : null;

    /// <summary>What an event settles, part by part: signed as the items stand.</summary>
    internal static IReadOnlyList<(string Event, string? Of, decimal Amount, decimal? Company)> PartsOf(BusinessEvent? happened) => happened switch
    {
        Payment p => [.. p.Settles.Select(s => (s.Event, (string?)null, s.Amount, s.CompanyAmount))],
        Applied a => [.. a.Settles.Select(s => (s.Event, (string?)null, s.Amount, s.CompanyAmount))],
        Settlement s => [.. s.Lines.Select(l => (l.Event, (string?)Words<ItemOf>.Of(l.Of), l.Amount, l.CompanyAmount))],
        _ => [],
    };

    /// <summary>What there is to settle with; null for a settlement.</summary>
    internal static decimal? WholeOf(BusinessEvent? happened) => happened switch
    {
        Payment p => p.Amount + p.Discount + p.Tolerance,
        Applied a => a.Amount,
        _ => null,
    };

    /// <summary>What the terms let a payment keep; null where they let it keep nothing more than it says.</summary>
    internal EarlyPayment? Keeps(BusinessEvent? happened, int minorUnits)
    {
        if (Terms is null || happened is not Payment { Type: not PaymentType.Refund, Amount: > 0, Tolerance: 0 } payment)
            return null;
        // A discount that is taken already is not offered once more.
        var terms = payment.Discount == 0 ? Terms : Terms with { DiscountPercent = 0 };
        var early = EarlyPayment.Of(Rows.Select(r => (Math.Abs(r.Item.Open), r.Item.Date)), payment.Amount + payment.Discount, terms, payment.Date, minorUnits);
        return early.Discount + early.LetGo > 0 ? early : null;
    }
}
