using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>What holds of every event, whatever its type.</summary>
public class EveryEventTests
{
    static Landed Land(BusinessEvent happened) => Landing.Land(EveryEvent.Compiled, happened) switch
    {
        Landed landed => landed,
        Held held => throw new Xunit.Sdk.XunitException($"{happened} is held: {held.Reasons[0].Message}"),
        _ => throw new InvalidOperationException(),
    };

    static bool IsForeign(BusinessEvent happened) => happened.Currency is not null;

    [Fact]
    public void Its_entry_balances_and_rounding_is_at_most_half_a_minor_unit_for_each_converted_row() => EveryEvent.Any.Sample(happened =>
    {
        var rows = Land(happened).Rows;
        Assert.Equal(0, rows.Sum(r => r.Amount));
        var rounding = rows.Where(r => r.Purpose == Purpose.Rounding).Sum(r => r.Amount);
        var converted = rows.Count(r => r.Currency != "EUR");
        Assert.True(IsForeign(happened) || rounding == 0);
        Assert.True(Math.Abs(rounding) <= 0.005m * (converted + 3), $"{rounding} of {converted} rows");
        Assert.All(rows, r => Assert.True(r.Amount != 0 && Money.HasAtMost(r.Amount, 2)));
    }, iter: 4000);

    // Every purpose has an account of its own that carries its control; a line that names an account by hand is no movement.
    [Fact]
    public void The_movements_of_a_subledger_come_to_the_rows_of_its_control() => EveryEvent.Any.Sample(happened =>
    {
        // What is moved between accounts moves no subledger, and what a line names by hand is its maker's.
        if (happened is StandingTransfer)
            return;
        var landed = Land(happened);
        foreach (var subledger in Enum.GetValues<Subledger>())
        {
            var control = Words<Control>.Parse(Words<Subledger>.Of(subledger));
            var rows = landed.Rows.Where(r => r.Purpose is not null && (r.By == AnsweredBy.Standing ? r.Purpose.Control : r.Account.Control) == control).Sum(r => r.Amount);
            // What is revalued stands by party or money account on the account that is named.
            rows += happened is Revaluation revalued ? revalued.Lines.Where(l => subledger == (l.Party is not null ? Subledger.Payables : Subledger.Bank) && l is not { Party: null, MoneyAccount: null }).Sum(l => l.Amount) : 0;
            var moved = landed.Subledger.Where(m => m.Subledger == subledger).Sum(m => m.Amount);
            Assert.True(rows == moved, $"{subledger}: rows {rows}, movements {moved}, {happened}");
        }
    }, iter: 4000);

    [Fact]
    public void In_the_company_s_own_currency_there_is_neither_exchange_nor_rounding() => EveryEvent.Any.Where(e => !IsForeign(e)).Sample(happened =>
        Assert.DoesNotContain(Land(happened).Rows, r => r.Purpose == Purpose.ExchangeGain || r.Purpose == Purpose.ExchangeLoss || r.Purpose == Purpose.Rounding), iter: 1500);

    [Fact]
    public void What_a_payment_settles_is_what_comes_in_and_each_part_stands_at_its_own_rate() => EveryEvent.Pays.Sample(happened =>
    {
        var payment = (Payment)happened;
        var rate = payment.Rate ?? 1;
        // Slowly, as 04 has it: money by the payment's rate, parts by their own, the difference of each in between.
        var side = payment.Type == PaymentType.CustomerPayment ? -1 : 1;
        var whole = payment.Amount + payment.Discount + payment.Tolerance;
        var expected = new List<(string Purpose, decimal Amount)>();
        void Add(string purpose, decimal amount)
        {
            if (amount != 0)
                expected.Add((purpose, amount));
        }
        void Settle(decimal amount, decimal booked)
        {
            Add((payment.Party == "OURS" ? "intercompany-" : "") + (payment.Type == PaymentType.SupplierPayment ? "payable" : "receivable"), side * booked);
            var exchange = side * (Math.Round(amount * rate, 2, MidpointRounding.AwayFromZero) - booked);
            Add(exchange < 0 ? "exchange-gain" : "exchange-loss", exchange);
        }
        void Settled()
        {
            var rest = whole;
            foreach (var part in payment.Settles)
            {
                rest -= part.Amount;
                Settle(part.Amount, part.CompanyAmount ?? Math.Round(part.Amount * (part.Rate ?? payment.InvoiceRate ?? rate), 2, MidpointRounding.AwayFromZero));
            }
            Settle(rest, Math.Round(rest * (payment.InvoiceRate ?? rate), 2, MidpointRounding.AwayFromZero));
        }
        void Paid()
        {
            Add(payment.MoneyAccount is null ? "payment-clearing" : "bank", -side * Math.Round(payment.Amount * rate, 2, MidpointRounding.AwayFromZero));
            Add(side < 0 ? "payment-discount-given" : "payment-discount-taken", -side * Math.Round(payment.Discount * rate, 2, MidpointRounding.AwayFromZero));
            Add("payment-tolerance", -side * Math.Round(payment.Tolerance * rate, 2, MidpointRounding.AwayFromZero));
        }
        if (side < 0)
            Paid();
        Settled();
        if (side > 0)
            Paid();
        Add("rounding", -expected.Sum(e => e.Amount));
        Assert.Equal(expected, Land(payment).Rows.Select(r => (r.Purpose!.Name, r.Amount)));
    }, iter: 1500);

    [Fact]
    public void What_is_made_is_worth_what_went_into_it_or_its_standard_with_the_variance() => EveryEvent.Makes.Sample(happened =>
    {
        var made = (Production)happened;
        var side = made.Quantity > 0 ? 1 : -1;
        var sum = made.Lines.Sum(l => Math.Round(l.Quantity * (l.UnitCost ?? EveryEvent.Nursery.Items.Single(i => i.Code == l.Item).Cost!.Value), 2, MidpointRounding.AwayFromZero));
        var worth = made.UnitCost is { } cost ? Math.Round(made.Quantity * cost, 2, MidpointRounding.AwayFromZero) : side * sum;
        var rows = Land(made).Rows;
        Assert.Equal(worth, rows.Where(r => r.Context.Line is null && r.Purpose == Purpose.Inventory).Sum(r => r.Amount));
        Assert.Equal((side * sum) - worth, rows.Where(r => r.Purpose == Purpose.ProductionVariance).Sum(r => r.Amount));
    }, iter: 800);

    [Fact]
    public void A_payout_brings_the_bank_what_is_left_of_its_lines() => EveryEvent.PaysOut.Sample(happened =>
    {
        var payout = (Payout)happened;
        var left = payout.Lines.Sum(l => l.Kind switch
        {
            PayoutKind.Receipt or PayoutKind.DisputeWon or PayoutKind.Freed or PayoutKind.Adjustment => l.Amount,
            PayoutKind.Fee => -l.Amount - (l.TaxCode is null or "RC" ? 0 : TaxOf(l)),
            _ => -l.Amount,
        });
        Assert.Equal(left, Land(payout).Rows.Where(r => r.Purpose == Purpose.Bank).Sum(r => r.Amount));
    }, iter: 800);

    static decimal TaxOf(PayoutLine fee)
    {
        decimal Of(decimal on, decimal percent) => Math.Round(on * percent / 100, 2, MidpointRounding.AwayFromZero);
        return fee.TaxCode switch
        {
            "R8" => Of(fee.Amount, 8),
            "HALF" => Of(fee.Amount, 20),
            _ => Of(fee.Amount, 6) + Of(fee.Amount + Of(fee.Amount, 6), 1.5m),
        };
    }
}
