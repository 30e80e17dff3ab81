using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Posting;

/// <summary>An event is landed whole or held whole; its reasons name the thing and the place.</summary>
public class HoldingTests
{
    [Fact]
    public void A_missing_rule_names_its_purpose_and_the_facts_its_ladder_asks_for()
    {
        var reason = Book.Nursery.Without("revenue").Holds(Book.Invoice(Book.Line("SEED-01", 1, 1)) with { Connection = "web-shop", Method = "card" }).Single();

        Assert.Equal((HeldCause.NoRule, Purpose.Revenue), (reason.Cause, reason.Purpose));
        Assert.Equal(["item SEED-01", "itemGroup SEEDS", "party C-10", "partyGroup TRADE", "connection web-shop"], reason.Facts.Select(f => $"{f.Fact.Name()} {f.Code}"));
    }

    [Fact]
    public void A_missing_tax_rule_names_both_groups()
    {
        var book = Book.Nursery with { TaxRules = [] };

        Assert.Equal(["partyTaxGroup HOME", "itemTaxGroup REDUCED"], book.Holds(Book.Invoice(Book.Line("SEED-01", 1, 1))).Single().Facts.Select(f => $"{f.Fact.Name()} {f.Code}"));
    }

    [Fact]
    public void Every_reason_is_found_and_repeated_ones_come_once()
    {
        var book = Book.Nursery.Without("revenue").Without("output-tax");
        var reasons = book.Holds(Book.Invoice(Book.Line("SEED-01", 1, 1), Book.Line("SEED-01", 2, 1), Book.Line("NIX", 1, 1), Book.Line("POT-99", 1, 1) with { StockMoves = true }));

        // The unknown item; revenue of seeds, once, and of pots; the pot's cost; output tax of both codes.
        Assert.Equal([HeldCause.UnknownCode, HeldCause.NoRule, HeldCause.NoRule, HeldCause.NoCost, HeldCause.NoRule, HeldCause.NoRule], reasons.Select(r => r.Cause));
        Assert.Equal("lines[2].item", reasons[0].Field);
    }

    [Fact]
    public void An_unknown_code_of_the_document_stops_at_once() =>
        Assert.Equal((HeldCause.UnknownCode, "party"), Only(Book.Nursery.Without("revenue").Holds(Book.Invoice(Book.Line("NIX", 1, 1)) with { Party = "C-99" })));

    public static TheoryData<string, string> Malformed => new()
    {
        { "party", "none" }, { "party", "supplier" }, { "currency", "XXX" }, { "rate", "missing" }, { "rate", "own" }, { "rate", "zero" }, { "task", "lonely" }, { "lines[0].quantity", "zero" }, { "lines[0].price", "absent" },
        { "lines[0].price", "negative" }, { "lines[0].quantity", "decimals" }, { "lines[0].discountAmount", "both" }, { "lines[0].discountPercent", "101" }, { "lines[0].discountAmount", "more" }, { "lines[0]", "nothing" }, { "lines[0]", "two" },
        { "total", "decimals" }, { "tenders[0]", "how" }, { "lines[0].taxCode", "purchases" },
    };

    [Theory]
    [MemberData(nameof(Malformed))]
    public void What_is_malformed_names_its_field(string field, string how)
    {
        var line = Book.Line("SEED-01", 1, 1);
        var sound = Book.Invoice(line);
        var broken = (field, how) switch
        {
            ("party", "none") => sound with { Party = null },
            ("party", "supplier") => sound with { Party = "S-10" },
            ("currency", _) => sound with { Currency = "XXX" },
            ("rate", "missing") => sound with { Currency = "USD" },
            ("rate", "own") => sound with { Rate = 2 },
            ("rate", _) => sound with { Currency = "USD", Rate = 0 },
            ("task", _) => sound with { Task = "10" },
            ("lines[0].quantity", "zero") => Book.Invoice(line with { Quantity = 0 }),
            ("lines[0].quantity", _) => Book.Invoice(line with { Quantity = 1.0000001m }),
            ("lines[0].price", "absent") => Book.Invoice(line with { Price = null }),
            ("lines[0].price", _) => Book.Invoice(line with { Price = -1 }),
            ("lines[0].discountAmount", "both") => Book.Invoice(line with { DiscountPercent = 1, DiscountAmount = 1 }),
            ("lines[0].discountAmount", _) => Book.Invoice(line with { DiscountAmount = 1.01m }),
            ("lines[0].discountPercent", _) => Book.Invoice(line with { DiscountPercent = 101 }),
            ("lines[0]", "nothing") => Book.Invoice(line with { Item = null }),
            ("lines[0]", _) => Book.Invoice(line with { Account = "4000" }),
            ("total", _) => sound with { Total = 1.001m },
            ("tenders[0]", _) => sound with { Tenders = [new Tender(null, null, false, 1)] },
            _ => Book.Invoice(line with { TaxCode = "P20" }),
        };
        var book = Book.Nursery with { TaxCodes = [.. Book.Nursery.TaxCodes, Book.Tax("P20", 20) with { Direction = Taxes.TaxDirection.Purchases }] };

        Assert.Equal((HeldCause.Invalid, field), Only(book.Holds(broken)));
    }

    [Theory]
    [InlineData("kind")]
    [InlineData("inactive")]
    [InlineData("later")]
    [InlineData("ended")]
    public void An_account_that_takes_no_posting_holds_the_event_and_names_its_rule(string why)
    {
        var seeds = Book.Account("4010", "Sales of seeds", AccountClass.Income);
        var book = Book.Nursery.WithAccount(why switch
        {
            "kind" => seeds with { Kind = AccountKind.Subtotal }, "inactive" => seeds with { Active = false },
            "later" => seeds with { ValidFrom = Book.Day.AddDays(1) }, _ => seeds with { ValidTo = Book.Day.AddDays(-1) },
        });
        var reason = book.Holds(Book.Invoice(Book.Line("SEED-01", 1, 1))).Single();

        Assert.Equal((HeldCause.AccountNotPostable, "4010"), (reason.Cause, reason.Account));
        Assert.NotNull(reason.Rule);
    }

    [Fact]
    public void Required_dimensions_must_be_there_and_barred_ones_must_not_be_on_the_line()
    {
        var book = Book.Nursery.WithAccount(Book.Account("4010", "Sales of seeds", AccountClass.Income) with { Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required, ["SITE"] = DimensionNeed.Barred } });
        var centre = new Dimensions([new("cc", "100")]);
        var site = new Dimensions([new("SITE", "N")]);
        var invoice = Book.Invoice(Book.Line("SEED-01", 1, 1));

        Assert.Equal(HeldCause.DimensionMissing, book.Holds(invoice).Single().Cause);
        Assert.Equal(HeldCause.DimensionBarred, book.Holds(Book.Invoice(Book.Line("SEED-01", 1, 1) with { Dimensions = centre.With(site) })).Single().Cause);
        Assert.Equal("cc=100", book.Lands(invoice with { Dimensions = centre.With(site) }).Rows[0].Dimensions.ToString());
        Assert.Equal("cc=100;SITE=N", book.Lands(invoice with { Dimensions = centre.With(site) }).Rows[^1].Dimensions.ToString());
    }

    [Fact]
    public void Amounts_beyond_what_the_books_hold_are_refused_and_not_a_fault_of_ours() =>
        Assert.All(Book.Nursery.Holds(Book.Invoice(Book.Line("SEED-01", 9_999_999_999_999, 9_999_999_999_999))), r => Assert.Equal(HeldCause.Invalid, r.Cause));

    static (HeldCause, string?) Only(IReadOnlyList<HeldReason> reasons) => (Assert.Single(reasons).Cause, reasons[0].Field);
}
