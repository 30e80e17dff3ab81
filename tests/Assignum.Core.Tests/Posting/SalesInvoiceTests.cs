using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Posting;

/// <summary>Worked examples, with the figures an accountant can check.</summary>
public class SalesInvoiceTests
{
    [Fact]
    public void Ten_packets_less_five_per_cent_land_on_revenue_tax_and_receivable()
    {
        // 10 × 2.50 = 25.00, less 5 % = 1.25: 23.75. 8 % of it is 1.90.
        var landed = Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { DiscountPercent = 5 }));

        Assert.Equal(["4010 revenue -23.75", "2200 output-tax -1.90", "1100 receivable 25.65"], landed.Written());
    }

    [Fact]
    public void Shipped_stock_moves_to_cost_of_sales_directly_after_its_revenue()
    {
        // 10 × 0.85 = 8.50.
        var landed = Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true }));

        Assert.Equal(["4010 revenue -25.00", "5000 cost-of-sales 8.50", "1300 inventory -8.50", "2200 output-tax -2.00", "1100 receivable 27.00"], landed.Written());
    }

    [Fact]
    public void Stock_leaves_the_account_it_stands_on()
    {
        var landed = Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true, StandsOn = "1310" }));

        Assert.Equal(("1310", "standing"), (landed.Rows[2].Account.Number, landed.Rows[2].RungName));
    }

    [Fact]
    public void Charges_have_a_purpose_of_their_own() =>
        Assert.Contains("4210 charge-income -6.90", Book.Nursery.Lands(Book.Invoice(Book.Line("DELIV", 1, 6.9m))).Written());

    [Fact]
    public void Separate_discounts_stand_on_their_own_account()
    {
        var book = Book.Nursery.WithOptions(new CompanyOptions { SeparateDiscounts = true }).With(Book.Rule("sales-discount", "4310"));
        var landed = book.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { DiscountPercent = 5 }));

        Assert.Equal(["4010 revenue -25.00", "4310 sales-discount 1.25", "2200 output-tax -1.90", "1100 receivable 25.65"], landed.Written());
    }

    [Fact]
    public void Tax_is_rounded_once_over_the_document_or_line_by_line()
    {
        // Three lines of 0.30 at 8 %: 0.90 × 8 % = 0.072, rounded 0.07; line by line 0.024, rounded 0.02 each, 0.06.
        var invoice = Book.Invoice([.. Enumerable.Repeat(Book.Line("SEED-01", 1, 0.3m), 3)]);

        Assert.Contains("2200 output-tax -0.07", Book.Nursery.Lands(invoice).Written());
        Assert.Contains("2200 output-tax -0.06", Book.Nursery.WithOptions(new CompanyOptions { TaxRounding = TaxRounding.Line }).Lands(invoice).Written());
    }

    [Fact]
    public void Half_a_cent_is_rounded_away_from_zero()
    {
        // 0.125 × 1 = 0.13, and −0.125 × 1 = −0.13.
        Assert.Equal(-0.13m, Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 1, 0.125m))).Rows[0].Amount);
        Assert.Equal(0.13m, Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", -1, 0.125m))).Rows[0].Amount);
    }

    [Fact]
    public void A_negative_quantity_changes_the_sides() =>
        Assert.Equal(["4010 revenue 25.00", "2200 output-tax 2.00", "1100 receivable -27.00"], Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", -10, 2.5m))).Written());

    [Fact]
    public void Components_are_computed_and_rounded_alone_one_on_top_of_the_other()
    {
        // 6 % of 100.00 = 6.00; 1.5 % of 106.00 = 1.59.
        var code = new TaxCode
        {
            Code = "CITY",
            Components =
            [
                new TaxComponent { Code = "STATE", Authority = "STATE-BOARD", Rates = [new TaxRate(default, 6)] },
                new TaxComponent { Code = "TOWN", Authority = "TOWN-HALL", Base = TaxBase.NetAndPrevious, Rates = [new TaxRate(default, 1.5m)] },
            ],
        };
        var book = (Book.Nursery with { TaxCodes = [.. Book.Nursery.TaxCodes, code] }).WithAccount(Book.Account("2240", "Town", AccountClass.Liability)).With(Book.Rule("output-tax", "2240", (Fact.Authority, "TOWN-HALL")));
        var landed = book.Lands(Book.Invoice(Book.Line("POT-12", 1, 100) with { TaxCode = "city" }));

        Assert.Equal(["4030 revenue -100.00", "2200 output-tax -6.00", "2240 output-tax -1.59", "1100 receivable 107.59"], landed.Written());
        Assert.Equal(["CITY/STATE", "CITY/TOWN"], landed.Rows.Where(r => r.Purpose == Purpose.OutputTax).Select(r => r.Context.TaxLabel!));
    }

    [Fact]
    public void The_rate_valid_on_the_tax_date_holds()
    {
        var code = new TaxCode { Code = "S20", Components = [new TaxComponent { Rates = [new TaxRate(new(2020, 1, 1), 19), new TaxRate(new(2026, 1, 1), 20)] }] };
        var book = Book.Nursery with { TaxCodes = [code, .. Book.Nursery.TaxCodes.Skip(1)] };
        var invoice = Book.Invoice(Book.Line("POT-12", 1, 100));

        Assert.Contains("2200 output-tax -20.00", book.Lands(invoice).Written());
        Assert.Contains("2200 output-tax -19.00", book.Lands(invoice with { TaxDate = new(2025, 12, 31) }).Written());
        Assert.Equal(HeldCause.NoTaxRule, book.Holds(invoice with { TaxDate = new(2019, 12, 31) })[0].Cause);
    }

    [Fact]
    public void Inclusive_prices_hand_their_nets_out_to_the_cent()
    {
        // 3 × 1.00 with 20 % in it: tax 0.50, net 2.50; each line 0.83, one cent left for the first.
        var landed = Book.Nursery.Lands(Book.Invoice([.. Enumerable.Repeat(Book.Line("POT-12", 1, 1), 3)]) with { PricesIncludeTax = true });

        Assert.Equal(["4030 revenue -0.84", "4030 revenue -0.83", "4030 revenue -0.83", "2200 output-tax -0.50", "1100 receivable 3.00"], landed.Written());
    }

    [Fact]
    public void Another_currency_is_converted_amount_by_amount_and_the_rest_is_rounding()
    {
        // 3 lines of 1.00 at 1.115: 1.12 each (3.36); tax 0.24 → 0.27; total 3.24 → 3.61. Unbalanced by 0.02.
        var landed = Book.Nursery.Lands(Book.Invoice([.. Enumerable.Repeat(Book.Line("SEED-01", 1, 1), 3)]) with { Currency = "USD", Rate = 1.115m });

        Assert.Equal(["4010 revenue -1.12", "4010 revenue -1.12", "4010 revenue -1.12", "2200 output-tax -0.27", "1100 receivable 3.61", "6490 rounding 0.02"], landed.Written());
        Assert.Equal(("USD", -1.00m), (landed.Rows[0].Currency, landed.Rows[0].DocumentAmount));
        Assert.Equal("EUR", landed.Rows[^1].Currency);
    }

    [Fact]
    public void Tax_as_charged_is_taken_within_a_cent_for_each_line_and_holds_beyond()
    {
        var invoice = Book.Invoice(Book.Line("SEED-01", 10, 2.5m)) with { Tax = [new ChargedTax("R8", null, 2.01m)] };

        Assert.Equal(["4010 revenue -25.00", "2200 output-tax -2.01", "1100 receivable 27.01"], Book.Nursery.Lands(invoice).Written());
        Assert.Equal(HeldCause.TaxDiffers, Book.Nursery.Holds(invoice with { Tax = [new ChargedTax("R8", null, 2.02m)] }).Single().Cause);
        Assert.Contains("2200 output-tax -2.50", Book.Nursery.WithOptions(new CompanyOptions { TaxTolerance = 0.5m }).Lands(invoice with { Tax = [new ChargedTax("R8", null, 2.5m)] }).Written());
    }

    [Fact]
    public void A_total_that_differs_from_the_computed_one_holds_the_event()
    {
        var invoice = Book.Invoice(Book.Line("SEED-01", 10, 2.5m));

        Assert.Equal(3, Book.Nursery.Lands(invoice with { Total = 27 }).Rows.Count);
        Assert.Equal(HeldCause.TotalDiffers, Book.Nursery.Holds(invoice with { Total = 27.01m }).Single().Cause);
    }

    [Fact]
    public void A_line_s_account_answers_for_revenue()
    {
        var landed = Book.Nursery.Lands(Book.Invoice(new DocumentLine { Account = "4000", Price = 50, TaxCode = "S20" }));

        Assert.Equal(("4000", "line"), (landed.Rows[0].Account.Number, landed.Rows[0].RungName));
    }

    [Theory]
    [InlineData(ManualPolicy.Block, true, 0)]
    [InlineData(ManualPolicy.Warn, false, 1)]
    [InlineData(ManualPolicy.Open, false, 0)]
    public void A_control_account_named_by_a_line_is_an_entry_by_hand(ManualPolicy policy, bool held, int warnings)
    {
        var book = Book.Nursery.WithAccount(Book.Account("1310", "Old stock", AccountClass.Asset) with { Control = Control.Inventory, Manual = policy });
        var outcome = Landing.Land(new CompiledRulebook(book), Book.Invoice(new DocumentLine { Account = "1310", Price = 50, TaxCode = "S20" }));

        Assert.Equal(held, outcome is Held { Reasons: [{ Cause: HeldCause.ManualBlocked, Account: "1310" }] });
        Assert.Equal(warnings, outcome.Warnings.Count);
    }

    [Fact]
    public void A_document_may_choose_a_control_alternate_of_its_party()
    {
        var invoice = Book.Invoice(Book.Line("SEED-01", 1, 1)) with { Control = "1120" };

        Assert.Equal(("1120", "control"), (Book.Nursery.Lands(invoice).Rows[^1].Account.Number, Book.Nursery.Lands(invoice).Rows[^1].RungName));
        Assert.Equal(HeldCause.ControlNotPermitted, Book.Nursery.Holds(invoice with { Control = "1000" }).Single().Cause);
        Assert.Equal("1100", Book.Nursery.Lands(invoice with { Control = "1100" }).Rows[^1].Account.Number);
    }

    [Fact]
    public void Reverse_charge_on_a_sale_has_no_tax_line()
    {
        var book = Book.Nursery with { TaxCodes = [.. Book.Nursery.TaxCodes, Book.Tax("RC", 20) with { ReverseCharge = true }] };
        var invoice = Book.Invoice(Book.Line("POT-12", 1, 100) with { TaxCode = "RC" });

        Assert.Equal(["4030 revenue -100.00", "1100 receivable 100.00"], book.Lands(invoice).Written());
        Assert.Equal(HeldCause.Invalid, book.Holds(invoice with { PricesIncludeTax = true }).Single().Cause);
    }

    [Theory]
    [InlineData(LineText.Line, "Poppies", "Spring order", "Spring order")]
    [InlineData(LineText.Document, "Spring order", "Spring order", "Spring order")]
    public void Lines_show_their_own_text_or_that_of_the_document_as_the_company_has_chosen(LineText from, string first, string second, string party)
    {
        var book = Book.Nursery with { Company = Book.Nursery.Company with { Options = new CompanyOptions { LineText = from } } };
        var invoice = Book.Invoice(Book.Line("SEED-01", 1, 1) with { Text = "Poppies" }, Book.Line("SEED-01", 1, 1)) with { Text = "Spring order" };
        var rows = book.Lands(invoice).Rows;

        Assert.Equal((first, second, party), (rows[0].Context.Text, rows[1].Context.Text, rows[^1].Context.Text));
    }

    [Fact]
    public void Subledgers_come_from_the_event_and_not_from_the_accounts()
    {
        var landed = Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true, Location = "NORTH" }));

        Assert.Equal(["inventory SEED-01@NORTH -10 -8.50", "tax R8 on -25.00 -2.00", "receivables C-10 27.00"], landed.Moved());
    }

    [Fact]
    public void What_comes_to_nothing_lands_without_an_entry() => Assert.Empty(Book.Nursery.Lands(Book.Invoice(Book.Line("SEED-01", 1, 0))).Rows);
}
