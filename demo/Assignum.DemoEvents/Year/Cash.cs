using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What is paid: customers, cards and their payouts, the till's drawer, deposits and reminders.</summary>
sealed class Cash(World world)
{
    // What was paid ahead, by councils and to growers, to be taken off what is paid.
    readonly Dictionary<string, decimal> ahead = new(StringComparer.Ordinal);
    decimal cards, refunded, drawer;
    int payouts;

    /// <summary>An order of the web is paid by card at once.</summary>
    internal void CardPayment(string invoice, Party party, decimal total)
    {
        cards += total;
        world.Add(new Payment
        {
            Type = PaymentType.CustomerPayment, Id = world.Number("CARD"), Date = world.Day, Party = party.Code, Connection = "card-payments",
                Method = "card", Amount = total,
            Settles = [new SettledPart { Event = invoice, Amount = total }],
        });
    }

    internal void CardRefund(Party party, decimal total)
    {
        refunded += total;
        world.Add(new Payment
        {
            Type = PaymentType.Refund, Id = world.Number("BACK"), Date = world.Day, Party = party.Code, Connection = "card-payments", Method = "card",
                Amount = total,
        });
    }

    internal void TakenAtTheTill(decimal card, decimal cash) => (cards, drawer) = (cards + card, drawer + cash);

    /// <summary>A customer pays when it is due or a little later; some early, with their discount.</summary>
    internal void CustomerPays(string invoice, Party party, decimal total, int dueIn, string? currency = null)
    {
        var early = currency is null && party.Group == "TRADE" && world.Once(6);
        var days = early ? 8 : dueIn + world.Between(-6, 16);
        // Two or three never do by themselves.
        if (world.Once(45))
            return;
        world.In(days, () =>
        {
            var discount = early ? Money.Round(total * 0.02m, 2) : 0;
            var off = TakeAhead(party, total - 1);
            world.Add(new Payment
            {
                Type = PaymentType.CustomerPayment, Id = world.Number("PAY"), Date = world.Day, Party = party.Code, MoneyAccount = "MAIN",
                    Amount = total - discount - off, Discount = discount,
                Currency = currency, Rate = currency is null ? null : world.RateOf(currency), Text = off == 0 && world.Once(3) ? invoice : $"Payment of {invoice}",
                Settles = SaysWhatItPays(party) ? [new SettledPart { Event = invoice, Amount = total }] : [],
            });
        });
    }

    /// <summary>What was paid ahead is taken off what is paid now.</summary>
    internal decimal TakeAhead(Party party, decimal atMost)
    {
        var off = Math.Min(ahead.GetValueOrDefault(party.Code), atMost);
        ahead[party.Code] = ahead.GetValueOrDefault(party.Code) - off;
        return off;
    }

    // Some always name the invoice; of the others, and of who pays ahead, the oldest is settled first.
    static bool SaysWhatItPays(Party party) => party.Group != "COUNCIL" && (party.Code[^1] - '0') % 3 == 0;

    /// <summary>A day's work with money.</summary>
    internal void Day()
    {
        if (world.Day.DayOfWeek == DayOfWeek.Tuesday)
            Payout();
        if (world.Day.DayOfWeek == DayOfWeek.Monday && drawer > 100)
            BankTheDrawer();
        if (world.Day.Day == 5)
            Deposit();
        if (world.Day.Day is 12 or 26)
            world.Add(new GiftCardSold { Id = world.Number("GIFT"), Date = world.Day, Party = "C-30", Connection = "till", Method = "card",
                Amount = 25 * world.Between(1, 4), Text = "Gift card" });
        if (world.Day.Day == 20)
            world.Add(new LateCharge
            {
                Id = world.Number("LATE"), Date = world.Day, Party = world.Pick(world.Parties("TRADE")).Code, Interest = world.About(3.4m, 40), Fee = 5,
                    Text = "Reminder",
            });
        if (world.Day.Day == 9 && world.Day.Month % 3 == 0)
            SupplierDeposit();
    }

    void Payout()
    {
        if (cards < 50)
            return;
        var lines = new List<PayoutLine> { new(PayoutKind.Receipt, cards, null) };
        if (refunded > 0)
            lines.Add(new(PayoutKind.Refund, refunded, null));
        lines.Add(new(PayoutKind.Fee, Money.Round(cards * 0.014m, 2) + 1.5m, "E0"));
        if (++payouts % 12 == 0)
            lines.Add(new(PayoutKind.Held, 40, null));
        else if (payouts % 12 == 2 && payouts > 12)
            lines.Add(new(PayoutKind.Freed, 40, null));
        world.Add(new Payout
        {
            Id = world.Number("OUT"), Date = world.Day, Connection = "card-payments", Method = "card", MoneyAccount = "MAIN", Lines = lines,
                Text = "Cards of the week",
        });
        (cards, refunded) = (0, 0);
    }

    void BankTheDrawer()
    {
        var banked = Math.Floor(drawer / 10) * 10;
        drawer -= banked;
        world.Add(new ManualJournal
        {
            Id = world.Number("JRN"), Date = world.Day, Text = "Cash of the shop, banked",
            Lines = [new JournalLine { MoneyAccount = "MAIN", Debit = banked }, new JournalLine { MoneyAccount = "SHOP-CASH", Credit = banked }],
        });
    }

    // A council pays ahead, and its deposit is held against the next invoice it has open.
    void Deposit()
    {
        var (party, amount) = (world.Pick(world.Parties("COUNCIL")).Code, 100m * world.Between(2, 9));
        Deposit(party, amount, "DEP", "Paid ahead for planting", DepositType.DepositReceived, (DepositType.DepositReturned, 20),
            (AppliedType.DepositApplied, 25));
    }

    void SupplierDeposit() =>
        Deposit(world.Pick(world.Parties("GROWERS")).Code, 100m * world.Between(3, 8), "ADV", "Saplings ordered for next season", DepositType.DepositPaid,
            (DepositType.DepositRecovered, 40), (AppliedType.DepositSettled, 30));

    // One in four comes back; the others are applied.
    void Deposit(string party, decimal amount, string series, string text, DepositType comes, (DepositType Type, int Days) back,
        (AppliedType Type, int Days) applied)
    {
        var id = world.Number(series);
        world.Add(new Deposit { Type = comes, Id = id, Date = world.Day, Party = party, MoneyAccount = "MAIN", Amount = amount, Text = text });
        if (world.Once(4))
            world.In(back.Days, () => world.Add(new Deposit { Type = back.Type, Id = world.Number(series), Date = world.Day, Party = party,
                MoneyAccount = "MAIN", Amount = amount, RefersTo = id }));
        else
            world.In(applied.Days, () =>
            {
                ahead[party] = ahead.GetValueOrDefault(party) + amount;
                world.Add(new Applied { Type = applied.Type, Id = world.Number(series), Date = world.Day, Party = party, Amount = amount, RefersTo = id });
            });
    }
}
