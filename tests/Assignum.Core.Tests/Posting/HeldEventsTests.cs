using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Posting;

/// <summary>What holds an event of stock, money, journals and openings: the thing, the place, the fix.</summary>
public class HeldEventsTests
{
    static (HeldCause Cause, string? Field)[] Reasons(BusinessEvent happened, CompiledRulebook? book = null) =>
        Landing.Land(book ?? EveryEvent.Compiled, happened) is Held held ? [.. held.Reasons.Select(r => (r.Cause, r.Field))] : [];

    static void Invalid(string field, BusinessEvent happened) => Assert.Equal([(HeldCause.Invalid, field)], Reasons(happened));

    static Payment Pays(decimal amount, params SettledPart[] parts) =>
        new() { Id = "P", Date = Book.Day, Type = PaymentType.CustomerPayment, Party = "C-10", Amount = amount, MoneyAccount = "MAIN", Settles = parts };

    static GoodsLine Goods(string item, decimal quantity = 1) => new() { Item = item, Quantity = quantity };

    static JournalLine By(string account, decimal debit) => new() { Account = account, Debit = debit > 0 ? debit : null, Credit = debit < 0 ? -debit : null };

    static ManualJournal Journal(params JournalLine[] lines) => new() { Id = "J", Date = Book.Day, Lines = lines };

    [Fact]
    public void Money_is_above_zero_comes_to_one_place_and_is_of_a_party_that_fits()
    {
        Invalid("amount", Pays(0));
        Invalid("amount", Pays(1.005m));
        Invalid("moneyAccount", Pays(1) with { MoneyAccount = null });
        Invalid("method", Pays(1) with { Method = "card" });
        Invalid("party", Pays(1) with { Party = null });
        Invalid("party", Pays(1) with { Party = "S-10" });
        Invalid("party", Pays(1) with { Type = PaymentType.SupplierPayment });
        Invalid("invoiceRate", Pays(1) with { InvoiceRate = 0.9m });
        Invalid("discount", Pays(1) with { Discount = -1 });
        Assert.Equal([(HeldCause.UnknownCode, "party")], Reasons(Pays(1) with { Party = "C-99" }));
    }

    [Fact]
    public void More_is_never_settled_than_there_is_to_settle_with()
    {
        Assert.Empty(Reasons(Pays(10, new SettledPart { Event = "I", Amount = 10 })));
        Assert.Empty(Reasons(Pays(10, new SettledPart { Event = "I", Amount = 10.5m }) with { Discount = 0.5m }));
        Invalid("settles", Pays(10, new SettledPart { Event = "I", Amount = 6 }, new SettledPart { Event = "K", Amount = 4.01m }));
        Invalid("settles[0].amount", Pays(10, new SettledPart { Event = "I", Amount = 0 }));
        Invalid("settles[0].companyAmount", Pays(10, new SettledPart { Event = "I", Amount = 4, CompanyAmount = 5 }));
        Assert.Equal([(HeldCause.UnknownCode, "settles[0].account")], Reasons(Pays(10, new SettledPart { Event = "I", Amount = 4, Account = "9999" })));
    }

    [Fact]
    public void What_is_settled_may_stand_on_an_account_that_is_closed_but_never_on_a_heading()
    {
        Assert.Empty(Reasons(Pays(10, new SettledPart { Event = "I", Amount = 4, Account = "OLD" })));
        Assert.Equal(HeldCause.AccountNotPostable, Reasons(Pays(10, new SettledPart { Event = "I", Amount = 4, Account = "6" })).Single().Cause);
    }

    [Fact]
    public void Goods_have_a_quantity_and_a_cost_and_a_line_with_an_unknown_code_drops_out()
    {
        Invalid("lines[0].quantity", new Shipment { Id = "S", Date = Book.Day, Lines = [Goods("SEED-01", 0)] });
        Assert.Equal([(HeldCause.NoCost, null)], Reasons(new Shipment { Id = "S", Date = Book.Day, Lines = [Goods("POT-99")] }));
        Assert.Equal([(HeldCause.UnknownCode, "lines[0].item"), (HeldCause.NoCost, null)],
            Reasons(new Shipment { Id = "S", Date = Book.Day, Lines = [Goods("NONE"), Goods("POT-99")] }));
        // What is not kept in stock needs no cost to leave.
        Assert.Empty(Reasons(new Shipment { Id = "S", Date = Book.Day, Lines = [Goods("DELIV")] }));
        Assert.Equal([(HeldCause.UnknownCode, "toLocation")], Reasons(new StockTransfer { Id = "T", Date = Book.Day, ToLocation = "MOON" }));
    }

    [Fact]
    public void Only_stock_is_made_and_what_goes_into_it_is_above_zero()
    {
        var made = new Production { Id = "M", Date = Book.Day, Item = "POT-12", Quantity = 1, Lines = [Goods("WORK")] };
        Assert.Empty(Reasons(made));
        Invalid("item", made with { Item = "WORK" });
        Invalid("quantity", made with { Quantity = 0 });
        Invalid("lines[0].quantity", made with { Lines = [Goods("WORK", -1)] });
        Invalid("lines[0].standsOn", made with { Lines = [Goods("WORK") with { StandsOn = "1300" }] });
    }

    [Fact]
    public void A_journal_balances_and_each_line_names_one_thing_and_one_side()
    {
        Assert.Equal([(HeldCause.Unbalanced, null)], Reasons(Journal(By("6300", 10), By("6310", -9))));
        Invalid("lines[0]", Journal(By("6300", 10) with { MoneyAccount = "MAIN" }));
        Invalid("lines[0]", Journal(By("6300", 10) with { Credit = 10 }));
        Invalid("lines[0]", Journal(new JournalLine { Debit = 10 }));
        Invalid("lines[0].of", Journal(new JournalLine { Party = "B-10", Debit = 10 }, By("6300", -10)));
        Invalid("lines", Journal());
        Assert.Empty(Reasons(Journal(new JournalLine { Party = "B-10", Of = PartySide.Payable, Debit = 10 }, By("6300", -10) with { Party = "C-10" })));
    }

    [Fact]
    public void A_control_account_is_blocked_by_hand_or_warned_of_as_its_policy_says_and_reached_by_its_party()
    {
        Assert.Equal([(HeldCause.ManualBlocked, null)], Reasons(Journal(By("1100", 10), By("6300", -10))));
        var landed = (Landed)Landing.Land(EveryEvent.Compiled, Journal(By("1310", 10), By("6300", -10)));
        Assert.Contains("ledger and subledger differ", Assert.Single(landed.Warnings).Message, StringComparison.Ordinal);
        var party = (Landed)Landing.Land(EveryEvent.Compiled, Journal(new JournalLine { Party = "C-10", Debit = 10 }, By("6300", -10)));
        Assert.Equal(("receivable", "default"), (party.Rows[0].Purpose!.Name, party.Rows[0].RungName));
        Assert.Equal("given", party.Rows[1].RungName);
        Assert.Single(party.Subledger);
    }

    [Fact]
    public void Openings_of_what_is_kept_by_item_come_as_items_whatever_the_policy()
    {
        Assert.Equal([(HeldCause.ManualBlocked, null)], Reasons(new OpeningBalance { Id = "O", Date = Book.Day, Lines = [By("1310", 10)] }));
        Assert.Empty(Reasons(new OpeningBalance { Id = "O", Date = Book.Day, Lines = [By("1210", 10)] }));
        Invalid("amount", new OpeningItem { Id = "O", Date = Book.Day, Kind = OpeningKind.Receivable, Party = "C-10", Amount = 0 });
        Invalid("quantity", new OpeningItem { Id = "O", Date = Book.Day, Kind = OpeningKind.Inventory, Item = "SEED-01", Amount = 5 });
        Invalid("unitCost", new OpeningItem { Id = "O", Date = Book.Day, Kind = OpeningKind.Receipt, Item = "SEED-01", Quantity = 5 });
    }

    [Fact]
    public void A_year_s_end_takes_out_income_and_expense_only_also_from_accounts_that_are_closed()
    {
        static YearEnd End(string account) => new() { Id = "Y", Date = Book.Day, FiscalYear = "2026", Lines = [new ClosedBalance(account, 10, Dimensions.None)] };
        Assert.Equal([(HeldCause.Invalid, "lines[0].account")], Reasons(End("1300")));
        var closed = new CompiledRulebook(EveryEvent.Nursery with { Accounts = [.. EveryEvent.Nursery.Accounts, Book.Account("6999", "Closed", AccountClass.Expense) with { Active = false, Manual = ManualPolicy.Block }] });
        Assert.Empty(Reasons(End("6999"), closed));
    }

    [Fact]
    public void A_settlement_comes_to_what_is_let_go_and_a_payout_is_in_company_currency()
    {
        static SettlementLine Item(decimal amount) => new() { Event = "I", Of = ItemOf.Receivable, Amount = amount };
        Assert.Empty(Reasons(new Settlement { Id = "S", Date = Book.Day, Party = "C-10", Lines = [Item(10), Item(-10)] }));
        Invalid("lines", new Settlement { Id = "S", Date = Book.Day, Party = "C-10", Lines = [Item(10), Item(-9)] });
        var payout = new Payout { Id = "P", Date = Book.Day, Connection = "cards", Method = "card", MoneyAccount = "MAIN", Lines = [new PayoutLine(PayoutKind.Receipt, 5, null)] };
        Assert.Empty(Reasons(payout));
        Invalid("currency", payout with { Currency = "USD", Rate = 0.9m });
        Invalid("method", payout with { Method = null });
        Invalid("lines[0].taxCode", payout with { Lines = [new PayoutLine(PayoutKind.Receipt, 5, "R8")] });
        Invalid("lines[0].amount", payout with { Lines = [new PayoutLine(PayoutKind.Fee, -5, null)] });
    }

    [Fact]
    public void Without_perpetual_stock_only_what_is_no_stock_posts_and_a_closing_by_count_posts_whatever_the_option()
    {
        var periodic = new CompiledRulebook(EveryEvent.Nursery with { Company = EveryEvent.Nursery.Company with { Options = new CompanyOptions { PerpetualStock = false } } });
        IReadOnlyList<EntryRow> Rows(BusinessEvent happened) => ((Landed)Landing.Land(periodic, happened)).Rows;
        Assert.Empty(Rows(new Shipment { Id = "S", Date = Book.Day, Lines = [Goods("SEED-01")] }));
        Assert.Equal(["purchase-expense", "goods-received-not-invoiced"], Rows(new PurchaseReceipt { Id = "R", Date = Book.Day, Lines = [Goods("SEED-01"), Goods("BOX", 10)] }).Select(r => r.Purpose!.Name));
        Assert.Empty(Rows(new Production { Id = "M", Date = Book.Day, Item = "POT-12", Quantity = 1, Lines = [Goods("WORK")] }));
        Assert.Equal(["inventory", "cost-of-sales"], Rows(new StockValue { Id = "V", Date = Book.Day, ByCount = true, Lines = [new ValueLine { ItemGroup = "SEEDS", Amount = 5 }] }).Select(r => r.Purpose!.Name));
    }
}
