using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Posting;

public class ReclassificationTests
{
    static Reclassification Moved(params MovedBalance[] lines) => new() { Id = "M-1", Date = Book.Day, From = "4010", To = "4030", Lines = lines };

    static MovedBalance Part(decimal amount, string? dimensions = null) => new(amount, null, null, null, dimensions is null ? Dimensions.None : new Dimensions([KeyValuePair.Create("CC", dimensions)]));

    static Outcome Land(Reclassification moved, Func<Account, Account>? change = null) =>
        Landing.Land(new CompiledRulebook(Book.Nursery with { Accounts = [.. Book.Nursery.Accounts.Select(a => change?.Invoke(a) ?? a)] }), moved);

    [Fact]
    public void Each_part_leaves_the_one_account_and_comes_to_the_other()
    {
        var landed = Assert.IsType<Landed>(Land(Moved(Part(-120.50m), Part(20))));

        Assert.Equal(["4010 120.50", "4030 -120.50", "4010 -20", "4030 20"], landed.Rows.Select(r => FormattableString.Invariant($"{r.Account.Number} {r.Amount}")));
        Assert.Equal(0, landed.Rows.Sum(r => r.Amount));
        Assert.All(landed.Rows, r => Assert.Equal(("given", null), (r.RungName, r.Purpose)));
        Assert.Empty(landed.Subledger);
    }

    [Fact]
    public void A_balance_may_leave_an_inactive_account_and_may_not_come_to_one()
    {
        Assert.IsType<Landed>(Land(Moved(Part(5)), a => a.Number == "4010" ? a with { Active = false } : a));
        Assert.Equal(HeldCause.AccountNotPostable, Assert.Single(Assert.IsType<Held>(Land(Moved(Part(5)), a => a.Number == "4030" ? a with { Active = false } : a)).Reasons).Cause);
    }

    [Fact]
    public void Dimensions_go_along_and_are_asked_for_where_the_balance_arrives()
    {
        Account Asks(Account a) => a.Number == "4030" ? a with { Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required } } : a;

        Assert.Equal("CC=100", Assert.IsType<Landed>(Land(Moved(Part(5, "100")), Asks)).Rows[1].Dimensions.ToString());
        Assert.Equal(HeldCause.DimensionMissing, Assert.Single(Assert.IsType<Held>(Land(Moved(Part(5)), Asks)).Reasons).Cause);
        Assert.Equal("CC=900", Assert.IsType<Landed>(Land(Moved(Part(5)), a => Asks(a) with { DimensionDefaults = new Dictionary<string, string> { ["CC"] = "900" } })).Rows[1].Dimensions.ToString());
    }

    [Fact]
    public void What_is_malformed_names_its_field()
    {
        Assert.Equal("lines[0].amount", FieldOf(Moved(Part(0))));
        Assert.Equal("lines[0].amount", FieldOf(Moved(Part(1.005m))));
        Assert.Equal("lines", FieldOf(Moved()));
        Assert.Equal("to", FieldOf(Moved(Part(1)) with { To = "4010" }));
        Assert.Equal("from", FieldOf(Moved(Part(1)) with { From = "77" }));

        static string? FieldOf(Reclassification moved) => Assert.Single(Assert.IsType<Held>(Land(moved)).Reasons).Field;
    }
}

public class AccountLimitTests
{
    static Outcome Land(Document document, string number, Func<Account, Account> change) =>
        Landing.Land(new CompiledRulebook(Book.Nursery with { Accounts = [.. Book.Nursery.Accounts.Select(a => a.Number == number ? change(a) : a)] }), document);

    static Document Invoice(string? currency = null) => new()
    {
        Id = "1", Type = DocumentType.SalesInvoice, Date = Book.Day, Party = "C-10", Currency = currency, Rate = currency is null ? null : 0.9m,
        Lines = [new DocumentLine { Item = "SEED-01", Quantity = 10, Price = 2.5m, StockMoves = true }],
    };

    [Fact]
    public void An_account_limited_to_currencies_takes_no_document_in_another()
    {
        var held = Assert.IsType<Held>(Land(Invoice("USD"), "4010", a => a with { Currencies = ["EUR"] }));

        Assert.Equal(HeldCause.AccountNotPostable, Assert.Single(held.Reasons).Cause);
        Assert.IsType<Landed>(Land(Invoice("USD"), "4010", a => a with { Currencies = ["USD"] }));
    }

    [Fact]
    public void What_arises_in_company_currency_passes_whatever_the_limit() => Assert.IsType<Landed>(Land(Invoice("USD"), "1300", a => a with { Currencies = ["USD"] }));

    [Fact]
    public void A_control_account_for_suppliers_takes_no_customer() =>
        Assert.Contains("suppliers only", Assert.Single(Assert.IsType<Held>(Land(Invoice(), "1100", a => a with { PartyRole = Groups.PartyRole.Supplier })).Reasons).Message, StringComparison.Ordinal);

    [Fact]
    public void An_account_gives_a_dimension_its_own_value_where_none_is_given()
    {
        var landed = Assert.IsType<Landed>(Land(Invoice(), "4010", a => a with { Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required }, DimensionDefaults = new Dictionary<string, string> { ["cc"] = "300" } }));
        Assert.Equal("cc=300", landed.Rows.Single(r => r.Account.Number == "4010").Dimensions.ToString());

        var own = Assert.IsType<Landed>(Land(Invoice() with { Dimensions = new Dimensions([KeyValuePair.Create("CC", "100")]) }, "4010", a => a with { DimensionDefaults = new Dictionary<string, string> { ["CC"] = "300" } }));
        Assert.Equal("CC=100", own.Rows.Single(r => r.Account.Number == "4010").Dimensions.ToString());
    }
}
