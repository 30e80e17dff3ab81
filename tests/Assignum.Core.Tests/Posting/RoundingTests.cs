using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Posting;

/// <summary>What rounding takes up is bounded, and what comes to nothing is in neither ledger nor subledger.</summary>
public class RoundingTests
{
    static Document InCurrency(string currency, decimal rate, params DocumentLine[] lines) => Book.Invoice(lines) with { Currency = currency, Rate = rate };

    [Theory]
    [InlineData(0, 2, "0.00")]
    [InlineData(1, 2, "0.005")]
    [InlineData(5, 2, "0.025")]
    [InlineData(5, 0, "2.5")]
    [InlineData(3, 3, "0.0015")]
    public void Rounding_explains_half_a_minor_unit_for_each_converted_row(int converted, int minorUnits, string most) =>
        Assert.Equal(decimal.Parse(most, System.Globalization.CultureInfo.InvariantCulture), Rounding.Most(converted, minorUnits));

    [Fact]
    public void What_rounding_does_not_explain_never_lands()
    {
        var (entry, open, reasons) = Draft(InCurrency("USD", 1.115m, Book.Line("SEED-01", 1, 1)));
        entry.Post(Purpose.Revenue, open.Lines[0].Context, -1.00m);
        entry.Post(Purpose.Receivable, open.Posting.Row, 1.01m);
        entry.PostRounding();

        // −1.12 and 1.13: 0.01 is what two converted rows may differ by.
        Assert.Empty(reasons);

        entry.Post(Purpose.Receivable, open.Posting.Row, 1.00m);
        entry.PostRounding();

        Assert.Equal(HeldCause.Unbalanced, Assert.Single(reasons).Cause);
    }

    [Fact]
    public void In_the_companys_own_currency_nothing_is_rounded_away()
    {
        var (entry, open, reasons) = Draft(Book.Invoice(Book.Line("SEED-01", 1, 1)));
        entry.Post(Purpose.Revenue, open.Lines[0].Context, -0.01m);
        entry.PostRounding();

        Assert.Equal(HeldCause.Unbalanced, Assert.Single(reasons).Cause);
        Assert.DoesNotContain(entry.Rows, r => r.Purpose == Purpose.Rounding);
    }

    [Fact]
    public void An_amount_that_rounds_to_nothing_moves_neither_ledger_nor_subledger()
    {
        var landed = Book.Nursery.Lands(InCurrency("JPY", 0.004m, Book.Line("DELIV", 1, 1)) with { Tenders = [new Tender("CASH", null, false, 1)] });

        Assert.Empty(landed.Rows);
        Assert.Empty(landed.Subledger);
    }

    [Fact]
    public void Tax_at_zero_and_quantity_without_value_stay_in_their_subledgers()
    {
        var book = Book.Nursery with { Items = [.. Book.Nursery.Items.Select(i => i with { Cost = 0 })] };
        var landed = book.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true, TaxCode = "Z0" }));

        Assert.Contains(landed.Subledger, s => s is StockMovement { Quantity: -10, Amount: 0 });
        Assert.Contains(landed.Subledger, s => s is TaxMovement { Base: -25, Amount: 0 });
    }

    static (EntryDraft Entry, OpenDocument Open, List<HeldReason> Reasons) Draft(Document document)
    {
        var book = new CompiledRulebook(Book.Nursery);
        var reasons = new List<HeldReason>();
        Assert.Null(OpenDocument.Open(book, document, reasons, out var open));
        return (new EntryDraft(book, open.Posting, reasons), open, reasons);
    }
}

/// <summary>The base of a tax that stands on the taxes before it.</summary>
public class CompoundBaseTests
{
    static readonly Rulebook TwoTaxes = Book.Nursery with
    {
        TaxCodes =
        [
            .. Book.Nursery.TaxCodes,
            new TaxCode { Code = "CITY", Components = [Component("STATE", 6, TaxBase.Net), Component("TOWN", 1.5m, TaxBase.NetAndPrevious)] },
        ],
        TaxRules = [],
    };

    static TaxComponent Component(string code, decimal percent, TaxBase on) =>
        new() { Code = code, Base = on, Rates = [new TaxRate(new DateOnly(2020, 1, 1), percent)] };

    [Theory]
    // Computed: 6 % of 24.90 is 1.494, so 1.49; the town's tax stands on 26.39.
    [InlineData("0", -26.39)]
    // Charged 1.50, a cent more: the town's tax stands on 26.40.
    [InlineData("1.50", -26.40)]
    public void Counts_them_as_they_were_taken(string charged, decimal townBase)
    {
        var state = decimal.Parse(charged, System.Globalization.CultureInfo.InvariantCulture);
        var invoice = Book.Invoice(Book.Line("DELIV", 1, 24.90m) with { TaxCode = "CITY" }) with { Tax = state == 0 ? []
            : [new ChargedTax("CITY", "STATE", state)] };

        Assert.Equal(townBase, TwoTaxes.Lands(invoice).Subledger.OfType<TaxMovement>().Single(t => t.Member == "CITY/TOWN").Base);
    }
}

/// <summary>Goods leave the account they stand on, whatever has become of it.</summary>
public class StandingAccountTests
{
    static Document Shipped(string standsOn) => Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true, StandsOn = standsOn });

    [Fact]
    public void An_account_that_is_closed_since_still_lets_its_stock_go()
    {
        var old = Book.Account("1310", "Old stock", AccountClass.Asset) with { Control = Control.Inventory };

        Assert.Contains("1310 inventory -8.50", Book.Nursery.WithAccount(old with { Active = false }).Lands(Shipped("1310")).Written());
        Assert.Contains("1310 inventory -8.50", Book.Nursery.WithAccount(old with { ValidTo = new DateOnly(2025, 12, 31) }).Lands(Shipped("1310")).Written());
    }

    [Fact]
    public void Nothing_ever_stood_on_a_heading() =>
        Assert.Equal(HeldCause.AccountNotPostable, Assert.Single(Book.Nursery.Holds(Shipped("6"))).Cause);
}
