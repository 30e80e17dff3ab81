using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

public class CreditNoteTests
{
    [Fact]
    public void A_credit_note_is_the_mirror_on_sales_returns()
    {
        var note = Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true }, Book.Line("DELIV", 1, 5)) with { Type = DocumentType.SalesCreditNote };

        Assert.Equal(["4320 sales-return 25.00", "5000 cost-of-sales -8.50", "1300 inventory 8.50", "4210 charge-income 5.00", "2200 output-tax 2.00", "2200 output-tax 1.00", "1100 receivable -33.00"], Book.Nursery.Lands(note).Written());
    }
}

public class TakingsTests
{
    static Document Takings(params Tender[] tenders) => new()
    {
        Id = "TILL-1", Type = DocumentType.Takings, Date = Book.Day, Connection = "till", PricesIncludeTax = true, Party = "C-10", Tenders = tenders, Lines = [Book.Line("POT-12", 1, 12)],
    };

    [Fact]
    public void Tenders_take_the_place_of_the_receivable()
    {
        var landed = Book.Nursery.Lands(Takings(new Tender("CASH", null, false, 5), new Tender(null, "card", false, 4), new Tender(null, null, true, 3)));

        Assert.Equal(["4030 revenue -10.00", "2200 output-tax -2.00", "1000 bank 5.00", "1050 payment-clearing 4.00", "2120 gift-card 3.00"], landed.Written());
    }

    [Fact]
    public void What_tenders_and_total_differ_by_lands_by_cash_difference()
    {
        var landed = Book.Nursery.Lands(Takings(new Tender("CASH", null, false, 11.95m)));

        Assert.Equal("6490 cash-difference 0.05", landed.Written()[^1]);
        Assert.Equal(Purpose.CashDifference, landed.Rows[^1].Purpose);
    }

    [Fact]
    public void An_invoice_paid_on_the_spot_frees_its_receivable_tender_by_tender()
    {
        var invoice = Book.Invoice(Book.Line("POT-12", 1, 10)) with { Tenders = [new Tender("CASH", null, false, 7), new Tender(null, "card", false, 5)] };

        Assert.Equal(["4030 revenue -10.00", "2200 output-tax -2.00", "1100 receivable 12.00", "1000 bank 7.00", "1100 receivable -7.00", "1050 payment-clearing 5.00", "1100 receivable -5.00"], Book.Nursery.Lands(invoice).Written());
    }
}

/// <summary>Whatever is sold, at whatever price, rate and rounding: every entry balances to the minor unit.</summary>
public class BalancePropertyTests
{
    static readonly Gen<DocumentLine> AnyLine =
        from item in Gen.OneOf("SEED-01", "POT-12", "DELIV")
        from quantity in Gen.Int[-2000, 2000].Where(q => q != 0)
        from price in Gen.Int[0, 5_000_000]
        from discount in Gen.Int[0, 100]
        from ships in Gen.Bool
        select new DocumentLine { Item = item, Quantity = quantity / 10m, Price = price / 1000m, DiscountPercent = discount, StockMoves = ships };

    static readonly Gen<Document> AnyDocument =
        from type in Gen.OneOf(DocumentType.SalesInvoice, DocumentType.SalesCreditNote, DocumentType.Takings)
        from lines in AnyLine.Array[1, 8]
        from inclusive in Gen.Bool
        from rate in Gen.Int[0, 3_000_000]
        from tender in Gen.Int[-10_000, 10_000]
        select new Document
        {
            Id = "X", Type = type, Date = Book.Day, Party = "C-10", Lines = lines, PricesIncludeTax = inclusive, Currency = rate == 0 ? null : "USD", Rate = rate == 0 ? null : rate / 1_000_000m,
            Tenders = type == DocumentType.SalesCreditNote ? [] : [new Tender("CASH", null, false, tender / 100m)],
        };

    [Fact]
    public void Every_entry_balances() => Gen.Select(AnyDocument, Gen.Bool, Gen.Bool).Sample((document, byLine, separate) =>
    {
        var book = Book.Nursery.WithOptions(new CompanyOptions { TaxRounding = byLine ? TaxRounding.Line : TaxRounding.Document, SeparateDiscounts = separate });
        var landed = Assert.IsType<Landed>(Landing.Land(new CompiledRulebook(book), document));

        Assert.Equal(0, landed.Rows.Sum(r => r.Amount));
        Assert.All(landed.Rows, r => Assert.NotEqual(0, r.Amount));
        Assert.All(landed.Rows, r => Assert.True(Money.HasAtMost(r.Amount, 2)));
        // Two amounts a line, one for each of the two tax codes, the total, two for each tender, and what the cash differs by.
        var converted = document.Currency is null ? 0 : 2 * document.Lines.Count + 2 + 1 + 2 * document.Tenders.Count + 1;
        Assert.InRange(landed.Rows.Where(r => r.Purpose == Purpose.Rounding).Sum(r => r.Amount), -0.005m * converted, 0.005m * converted);
        Assert.All(landed.Subledger.Where(s => s.Amount == 0), s => Assert.True(s.MovedQuantity is not (null or 0) || s.TaxedBase is not (null or 0)));
    }, iter: 2000);

    [Fact]
    public void Inclusive_prices_come_back_as_net_and_tax() => AnyLine.Array[1, 8].Sample(lines =>
    {
        var totals = Book.Nursery.Lands(Book.Invoice(lines) with { PricesIncludeTax = true }).Totals!;
        var inclusive = lines.Sum(l => Money.Round(l.Quantity * l.Price!.Value, 2) - Money.Round(Money.Round(l.Quantity * l.Price.Value, 2) * l.DiscountPercent!.Value / 100, 2));

        Assert.Equal(inclusive, totals.Total);
    }, iter: 1000);
}

public class HandingOutTests
{
    [Fact]
    public void The_example_of_three_equal_lines() => Assert.Equal([0.34m, 0.33m, 0.33m], HandingOut.Over(1, [0.33m, 0.33m, 0.33m], [1, 1, 1], 2));

    [Fact]
    public void Units_go_to_the_largest_bases_first_and_from_the_start_again() =>
        Assert.Equal([0.02m, 0.03m, 0.02m], HandingOut.Over(0.07m, [0, 0, 0], [1, -5, 1], 2));

    [Fact]
    public void Nothing_is_lost_and_nothing_invented() => Gen.Select(Gen.Int[-100_000, 100_000], Gen.Int[-50_000, 50_000].Array[1, 12]).Sample((whole, shares) =>
        Assert.Equal(whole / 100m, HandingOut.Over(whole / 100m, [.. shares.Select(s => s / 100m)], [.. shares.Select(s => (decimal)s)], 2).Sum()));
}
