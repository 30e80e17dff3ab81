using System.Collections.Immutable;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests;

/// <summary>A small nursery to test with: seeds, pots and delivery, sold to a trade customer and one abroad. Tests change what they are about.</summary>
static class Book
{
    internal static readonly DateOnly Day = new(2026, 3, 14);

    internal static Rulebook Nursery { get; } = new()
    {
        Company = new Company("QN", "Quillmoss Nurseries", "EUR", new CompanyOptions()),
        Accounts =
        [
            Account("1100", "Trade receivables", AccountClass.Asset) with { Control = Control.Receivables, Manual = ManualPolicy.Block },
            Account("1120", "Council receivables", AccountClass.Asset) with { Control = Control.Receivables, Manual = ManualPolicy.Block },
            Account("1000", "Bank", AccountClass.Asset) with { Control = Control.Bank }, Account("1050", "Cards", AccountClass.Asset) with { Control = Control.Bank },
            Account("1300", "Stock", AccountClass.Asset) with { Control = Control.Inventory }, Account("1310", "Old stock", AccountClass.Asset) with { Control = Control.Inventory, Manual = ManualPolicy.Warn },
            Account("2120", "Vouchers", AccountClass.Liability), Account("2200", "Output tax", AccountClass.Liability) with { Control = Control.Tax },
            Account("4000", "Sales", AccountClass.Income), Account("4010", "Sales of seeds", AccountClass.Income), Account("4030", "Sales of pots", AccountClass.Income),
            Account("4210", "Delivery", AccountClass.Income), Account("4310", "Discounts", AccountClass.Income), Account("4320", "Returns", AccountClass.Income),
            Account("5000", "Cost of sales", AccountClass.CostOfSales), Account("6490", "Differences", AccountClass.Expense), Account("6", "Expenses", AccountClass.Expense) with { Kind = AccountKind.Heading },
        ],
        PartyGroups = [new Group("TRADE", "Trade", "HOME"), new Group("EXPORT", "Export", "ABROAD")],
        ItemGroups = [new Group("SEEDS", "Seeds", "REDUCED"), new Group("POTS", "Pots", "STANDARD"), new Group("DELIVERY", "Delivery", "STANDARD")],
        PartyTaxGroups = [new Group("HOME", "Home"), new Group("ABROAD", "Abroad")],
        ItemTaxGroups = [new Group("STANDARD", "Standard"), new Group("REDUCED", "Reduced")],
        Parties = [new Party { Code = "C-10", Name = "Larkfield Gardens", Group = "TRADE", ControlAlternates = ["1120"] }, new Party { Code = "C-70", Name = "Moosbach", Group = "EXPORT" }, new Party { Code = "S-10", Role = PartyRole.Supplier }],
        Items =
        [
            new Item { Code = "SEED-01", Name = "Field poppy", Kind = ItemKind.Stock, Group = "SEEDS", Cost = 0.85m }, new Item { Code = "POT-12", Kind = ItemKind.Stock, Group = "POTS", Cost = 1.4m },
            new Item { Code = "POT-99", Kind = ItemKind.Stock, Group = "POTS" }, new Item { Code = "DELIV", Kind = ItemKind.Charge, Group = "DELIVERY" },
        ],
        Locations = [new Location("NORTH", "North yard"), new Location("SHOP", "Shop")],
        Projects = [new Project { Code = "P-1", Tasks = [new ProjectTask("10", "Hedge")] }],
        TaxCodes = [Tax("S20", 20), Tax("R8", 8), Tax("Z0", 0)],
        TaxRules =
        [
            new TaxRule { PartyTaxGroup = "HOME", ItemTaxGroup = "STANDARD", TaxCode = "S20" }, new TaxRule { PartyTaxGroup = "HOME", ItemTaxGroup = "REDUCED", TaxCode = "R8" },
            new TaxRule { PartyTaxGroup = "ABROAD", TaxCode = "Z0" },
        ],
        Rules =
        [
            Rule("receivable", "1100"), Rule("revenue", "4000"), Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS")), Rule("revenue", "4030", (Fact.ItemGroup, "POTS")), Rule("charge-income", "4210"),
            Rule("sales-return", "4320"), Rule("output-tax", "2200"), Rule("inventory", "1300"), Rule("cost-of-sales", "5000"), Rule("rounding", "6490"), Rule("bank", "1000"), Rule("payment-clearing", "1050"), Rule("gift-card", "2120"),
        ],
    };

    static int made;

    internal static Account Account(string number, string name, AccountClass accountClass) => new() { Number = number, Name = name, Class = accountClass };

    internal static TaxCode Tax(string code, decimal percent) => new() { Code = code, Components = [new TaxComponent { Rates = [new TaxRate(new DateOnly(2020, 1, 1), percent)] }] };

    internal static Rule Rule(string purpose, string account, params (Fact Fact, string Code)[] when) =>
        new() { Id = "r" + Interlocked.Increment(ref made), Purpose = Purpose.Find(purpose)!, Account = account, When = [.. when.Select(w => new FactValue(w.Fact, w.Code))] };

    internal static Rulebook With(this Rulebook book, params Rule[] rules) => book with { Rules = [.. book.Rules, .. rules] };

    internal static Rulebook Without(this Rulebook book, string purpose) => book with { Rules = [.. book.Rules.Where(r => r.Purpose.Name != purpose)] };

    internal static Rulebook WithOptions(this Rulebook book, CompanyOptions options) => book with { Company = book.Company with { Options = options } };

    internal static Rulebook WithLadder(this Rulebook book, string purpose, params Rung[] rungs) =>
        book with { Ladders = new Dictionary<Purpose, ImmutableArray<Rung>>(book.Ladders) { [Purpose.Find(purpose)!] = [.. rungs] } };

    internal static Rulebook WithAccount(this Rulebook book, Account account) => book with { Accounts = [.. book.Accounts.Where(a => a.Number != account.Number), account] };

    /// <summary>An invoice to C-10 over lines.</summary>
    internal static Document Invoice(params DocumentLine[] lines) => new() { Id = "INV-1", Type = DocumentType.SalesInvoice, Date = Day, Party = "C-10", Lines = lines };

    internal static DocumentLine Line(string item, decimal quantity, decimal price) => new() { Item = item, Quantity = quantity, Price = price };

    internal static Landed Lands(this Rulebook book, Document document) =>
        Landing.Land(new CompiledRulebook(book), document) is Landed landed ? landed
        : throw new Xunit.Sdk.XunitException("Held: " + string.Join(" ", ((Held)Landing.Land(new CompiledRulebook(book), document)).Reasons.Select(r => r.Message)));

    internal static IReadOnlyList<HeldReason> Holds(this Rulebook book, Document document) => Assert.IsType<Held>(Landing.Land(new CompiledRulebook(book), document)).Reasons;

    /// <summary>The movements: "inventory SEED-01@NORTH -10 -8.50", "tax R8 on -25.00 -2.00".</summary>
    internal static string[] Moved(this Landed landed) => [.. landed.Subledger.Select(m => FormattableString.Invariant(
        $"{Words<Subledger>.Of(m.Subledger)} {m.Member}{(m.MovedQuantity is { } q ? FormattableString.Invariant($" {q:0.##}") : "")}{(m.TaxedBase is { } b ? FormattableString.Invariant($" on {b:0.00}") : "")} {m.Amount:0.00}"))];

    /// <summary>The entry as an accountant writes it: "4010 revenue −23.75", debit positive.</summary>
    internal static string[] Written(this Landed landed) =>
        [.. landed.Rows.Select(r => FormattableString.Invariant($"{r.Account.Number} {r.Purpose} {r.Amount:0.00}"))];
}
