using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Posting;

/// <summary>Worked examples of purchases, with the figures an accountant can check.</summary>
public class PurchaseTests
{
    internal static readonly Rulebook Nursery = (Book.Nursery with
    {
        Accounts =
        [
            .. Book.Nursery.Accounts, Book.Account("2000", "Payables", AccountClass.Liability) with { Control = Control.Payables },
            Book.Account("2010", "Payables to growers", AccountClass.Liability) with { Control = Control.Payables },
            Book.Account("2050", "Received, not invoiced", AccountClass.Liability) with { Control = Control.Purchasing },
            Book.Account("1210", "Input tax", AccountClass.Asset) with { Control = Control.Tax }, Book.Account("5110", "Price differences", AccountClass.CostOfSales),
            Book.Account("6300", "Other expenses", AccountClass.Expense), Book.Account("6310", "Rent", AccountClass.Expense), Book.Account("5190", "Discounts taken", AccountClass.CostOfSales),
        ],
        Parties = [.. Book.Nursery.Parties.Where(p => p.Code != "S-10"), new Party { Code = "S-10", Name = "Thornwick Seeds", Role = PartyRole.Supplier, TaxGroup = "HOME", ControlAlternates = ["2010"] }],
        TaxCodes =
        [
            .. Book.Nursery.TaxCodes, Book.Tax("RC", 20) with { ReverseCharge = true },
            new TaxCode { Code = "HALF", Components = [new TaxComponent { RecoverablePercent = 50, Rates = [new TaxRate(new DateOnly(2020, 1, 1), 20)] }] },
            new TaxCode
            {
                Code = "TWO",
                Components =
                [
                    new TaxComponent { Code = "STATE", RecoverablePercent = 0, Rates = [new TaxRate(new DateOnly(2020, 1, 1), 6)] },
                    new TaxComponent { Code = "TOWN", Base = TaxBase.NetAndPrevious, RecoverablePercent = 40, Rates = [new TaxRate(new DateOnly(2020, 1, 1), 1.5m)] },
                ],
            },
        ],
    }).With(
        Book.Rule("payable", "2000"), Book.Rule("goods-received-not-invoiced", "2050"), Book.Rule("input-tax", "1210"), Book.Rule("price-variance", "5110"),
        Book.Rule("purchase-expense", "6300"), Book.Rule("purchase-discount", "5190"));

    internal static Document Bill(params DocumentLine[] lines) => new() { Id = "P-1", Type = DocumentType.PurchaseInvoice, Date = Book.Day, Party = "S-10", Lines = lines };

    static Document Note(params DocumentLine[] lines) => Bill(lines) with { Type = DocumentType.PurchaseCreditNote };

    static DocumentLine Rent(decimal price) => new() { Account = "6310", Price = price, TaxCode = "S20" };

    [Fact]
    public void Stock_that_comes_with_the_invoice_is_worth_its_net()
    {
        // 100 × 0.80 = 80.00; 8 % of it is 6.40.
        var landed = Nursery.Lands(Bill(Book.Line("SEED-01", 100, 0.8m) with { StockMoves = true, Location = "NORTH" }));

        Assert.Equal(["1300 inventory 80.00", "1210 input-tax 6.40", "2000 payable -86.40"], landed.Written());
        Assert.Equal(["inventory SEED-01@NORTH 100 80.00", "tax R8 on 80.00 6.40", "payables S-10 -86.40"], landed.Moved());
    }

    [Fact]
    public void Stock_that_has_not_come_waits_for_its_receipt() =>
        Assert.Equal(["2050 goods-received-not-invoiced 80.00", "1210 input-tax 6.40", "2000 payable -86.40"], Nursery.Lands(Bill(Book.Line("SEED-01", 100, 0.8m))).Written());

    [Fact]
    public void What_was_received_before_at_another_cost_leaves_a_price_difference()
    {
        // Received at 100 × 0.85 = 85.00, invoiced at 80.00.
        var line = Book.Line("SEED-01", 100, 0.8m) with { ReceivedCost = 0.85m };

        Assert.Equal(["2050 goods-received-not-invoiced 85.00", "5110 price-variance -5.00", "1210 input-tax 6.40", "2000 payable -86.40"], Nursery.Lands(Bill(line)).Written());
        Assert.Contains("purchasing SEED-01@ 100 85.00", Nursery.Lands(Bill(line)).Moved());
        Assert.Equal(Nursery.Lands(Bill(line)).Written(), Nursery.Lands(Bill(line with { ReceivedCost = null, ReceivedAmount = 85 })).Written());
    }

    [Fact]
    public void Stock_and_what_was_received_stand_on_the_account_they_stand_on()
    {
        Assert.Equal("1310", Nursery.Lands(Bill(Book.Line("SEED-01", 100, 0.8m) with { StockMoves = true, StandsOn = "1310" })).Rows[0].Account.Number);
        Assert.Equal("standing", Nursery.Lands(Bill(Book.Line("SEED-01", 100, 0.8m) with { ReceivedCost = 1, StandsOn = "2050" })).Rows[0].RungName);
    }

    [Fact]
    public void An_account_named_on_the_line_is_its_expense() =>
        Assert.Equal(["6310 purchase-expense 1200.00", "1210 input-tax 240.00", "2000 payable -1440.00"], Nursery.Lands(Bill(Rent(1200))).Written());

    [Fact]
    public void A_discount_stands_apart_where_the_company_says_so_but_never_on_stock()
    {
        var book = Nursery.WithOptions(new CompanyOptions { SeparateDiscounts = true });
        var bill = Bill(Rent(100) with { DiscountPercent = 10 }, Book.Line("SEED-01", 10, 1) with { DiscountPercent = 10, StockMoves = true });

        Assert.Equal(["6310 purchase-expense 100.00", "5190 purchase-discount -10.00", "1300 inventory 9.00", "1210 input-tax 18.00", "1210 input-tax 0.72", "2000 payable -117.72"],
            book.Lands(bill).Written());
    }

    [Fact]
    public void By_reverse_charge_the_tax_is_owed_and_recovered_and_the_supplier_gets_the_net()
    {
        var landed = Nursery.Lands(Bill(Rent(100) with { TaxCode = "RC" }));

        Assert.Equal(["6310 purchase-expense 100.00", "1210 input-tax 20.00", "2200 output-tax -20.00", "2000 payable -100.00"], landed.Written());
        Assert.Equal(["tax RC on 100.00 20.00", "tax RC on -100.00 -20.00"], landed.Moved().Where(m => m.StartsWith("tax", StringComparison.Ordinal)));
        Assert.Equal([TaxSide.Input, TaxSide.Reverse], landed.Subledger.OfType<TaxMovement>().Select(t => t.Side));
    }

    [Fact]
    public void Tax_that_is_not_recovered_is_cost_of_the_lines_it_belongs_to()
    {
        // 20 % of 0.05 + 0.05 + 100 is 20.02; half, 10.01, is recovered. Own shares 0.01, 0.01 and 10.00 are 10.02: the line with the largest net gives the cent.
        var landed = Nursery.Lands(Bill([.. new[] { 0.05m, 0.05m, 100m }.Select(net => Rent(net) with { TaxCode = "HALF" })]));

        Assert.Equal(
            ["6310 purchase-expense 0.05", "6310 purchase-expense 0.05", "6310 purchase-expense 100.00", "1210 input-tax 10.01", "6310 purchase-expense 0.01", "6310 purchase-expense 0.01",
                "6310 purchase-expense 9.99", "2000 payable -120.12"], landed.Written());
    }

    [Fact]
    public void Of_components_each_hands_out_its_own_part_one_on_top_of_the_other()
    {
        // 6 % of 100 = 6.00, none recovered; 1.5 % of 106 = 1.59, of which 40 % = 0.64 is recovered and 0.95 is cost.
        var landed = Nursery.Lands(Bill(Book.Line("SEED-01", 100, 1) with { TaxCode = "TWO", StockMoves = true }));

        Assert.Equal(["1300 inventory 100.00", "1300 inventory 6.00", "1210 input-tax 0.64", "1300 inventory 0.95", "2000 payable -107.59"], landed.Written());
        Assert.Equal(["inventory SEED-01@ 100 100.00", "tax TWO/STATE on 100.00 0.00", "inventory SEED-01@ 0 6.00", "tax TWO/TOWN on 106.00 0.64", "inventory SEED-01@ 0 0.95", "payables S-10 -107.59"],
            landed.Moved());
    }

    [Fact]
    public void A_credit_note_gives_back_goods_at_their_cost_and_the_rest_is_a_price_difference()
    {
        // 10 × 0.85 = 8.50 leave, 8.00 come back.
        var landed = Nursery.Lands(Note(Book.Line("SEED-01", 10, 0.8m) with { StockMoves = true }));

        Assert.Equal(["1300 inventory -8.50", "5110 price-variance 0.50", "1210 input-tax -0.64", "2000 payable 8.64"], landed.Written());
        Assert.Equal(["inventory SEED-01@ -10 -8.50", "tax R8 on -8.00 -0.64", "payables S-10 8.64"], landed.Moved());
    }

    [Fact]
    public void A_credit_note_over_goods_that_stay_lowers_their_price() =>
        Assert.Equal(["5110 price-variance -8.00", "1210 input-tax -0.64", "2000 payable 8.64"], Nursery.Lands(Note(Book.Line("SEED-01", 10, 0.8m))).Written());

    [Fact]
    public void The_document_may_choose_a_control_account_of_the_supplier()
    {
        Assert.Equal("2010", Nursery.Lands(Bill(Rent(1)) with { Control = "2010" }).Rows[^1].Account.Number);
        Assert.Equal(HeldCause.ControlNotPermitted, Nursery.Holds(Bill(Rent(1)) with { Control = "1300" }).Single().Cause);
    }

    [Fact]
    public void Goods_that_are_not_kept_in_stock_are_expense_whatever_was_received()
    {
        var book = Nursery.WithOptions(new CompanyOptions { PerpetualStock = false });

        Assert.Equal("6300 purchase-expense 80.00", book.Lands(Bill(Book.Line("SEED-01", 100, 0.8m) with { ReceivedCost = 0.85m })).Written()[0]);
    }

    public static TheoryData<Document, string> Malformed => new()
    {
        { Bill(Rent(1)) with { Party = null }, "party" }, { Bill(Rent(1)) with { Party = "C-10" }, "party" },
        { Bill(Rent(1) with { ReceivedCost = 1 }), "lines[0].receivedCost" }, { Bill(Book.Line("SEED-01", 1, 1) with { ReceivedCost = 1, ReceivedAmount = 1 }), "lines[0].receivedAmount" },
        { Bill(Book.Line("SEED-01", 1, 1) with { ReceivedAmount = 1, StockMoves = true }), "lines[0].receivedAmount" }, { Bill(Book.Line("SEED-01", 1, 1) with { ReceivedAmount = 1.001m }), "lines[0].receivedAmount" },
        { Bill(Book.Line("SEED-01", 1, 1) with { ReceivedCost = -1 }), "lines[0].receivedCost" },
    };

    [Theory]
    [MemberData(nameof(Malformed))]
    public void What_is_malformed_is_named_by_its_field(Document bill, string field) =>
        Assert.Equal((HeldCause.Invalid, field), Nursery.Holds(bill).Select(r => (r.Cause, r.Field)).Single());

    [Fact]
    public void A_tax_code_for_sales_is_refused_and_reverse_charge_can_not_be_in_prices()
    {
        var book = Nursery with { TaxCodes = [.. Nursery.TaxCodes.Select(t => t.Code == "S20" ? t with { Direction = TaxDirection.Sales } : t)] };

        Assert.Contains("for sales only", book.Holds(Bill(Rent(1))).Single().Message, StringComparison.Ordinal);
        Assert.Equal(HeldCause.Invalid, Nursery.Holds(Bill(Rent(1) with { TaxCode = "RC" }) with { PricesIncludeTax = true }).Single().Cause);
        Assert.Equal(HeldCause.TaxDiffers, Nursery.Holds(Bill(Rent(1) with { TaxCode = "RC" }) with { Tax = [new ChargedTax("RC", null, 0.2m)] }).Single().Cause);
    }
}
