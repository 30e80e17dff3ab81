using System.Globalization;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Formats.Events;

namespace Assignum.Bench;

/// <summary>Seeded rulebooks of any size, with questions and invoices that fit them.</summary>
static class Sample
{
    static readonly DateOnly Day = new(2026, 3, 14);
    const int ItemGroups = 100, PartyGroups = 20;

    /// <summary>A rulebook with so many rules for revenue: most of them exceptions for an item and a party, as large ones have.</summary>
    internal static Rulebook Book(int rules)
    {
        var chance = new Random(rules);
        var (items, parties) = (Math.Max(100, rules / 20), Math.Max(50, rules / 100));
        var made = new Dictionary<string, Rule>();
        Add([]);
        for (var i = 0; i < Math.Min(ItemGroups, rules / 10); i++)
            Add([new(Fact.ItemGroup, "IG" + i)]);
        while (made.Count < rules / 2)
            Add(chance.Next(3) switch
            {
                0 => [Item()],
                1 => [new(Fact.ItemGroup, "IG" + chance.Next(ItemGroups)), new(Fact.PartyGroup, "PG" + chance.Next(PartyGroups))],
                _ => [Item(), Party()],
            });
        while (made.Count < rules)
            Add([Item(), Party()]);
        return new Rulebook
        {
            Company = new Company("B", "Bench", "EUR", new CompanyOptions()),
            Accounts = [Account("1100", AccountClass.Asset), Account("2200", AccountClass.Liability), Account("5000", AccountClass.CostOfSales), Account("1300", AccountClass.Asset), Account("6490", AccountClass.Expense), .. Enumerable.Range(0, 200).Select(i => Account(Text(4000 + i), AccountClass.Income))],
            ItemGroups = [.. Enumerable.Range(0, ItemGroups).Select(i => new Group("IG" + i, "", "STANDARD"))], PartyGroups = [.. Enumerable.Range(0, PartyGroups).Select(i => new Group("PG" + i, "", "HOME"))],
            PartyTaxGroups = [new Group("HOME", "")], ItemTaxGroups = [new Group("STANDARD", "")],
            Items = [.. Enumerable.Range(0, items).Select(i => new Item { Code = "I" + i, Kind = ItemKind.Stock, Group = "IG" + i % ItemGroups, Cost = 1.5m })], Parties = [.. Enumerable.Range(0, parties).Select(i => new Party { Code = "P" + i, Group = "PG" + i % PartyGroups })],
            TaxCodes = [new TaxCode { Code = "S20", Components = [new TaxComponent { Rates = [new TaxRate(new(2020, 1, 1), 20)] }] }], TaxRules = [new TaxRule { PartyTaxGroup = "HOME", ItemTaxGroup = "STANDARD", TaxCode = "S20" }],
            Rules = [.. made.Values, Default(Purpose.Receivable, "1100"), Default(Purpose.OutputTax, "2200"), Default(Purpose.CostOfSales, "5000"), Default(Purpose.Inventory, "1300"), Default(Purpose.Rounding, "6490")],
        };

        FactValue Item() => new(Fact.Item, "I" + chance.Next(items));
        FactValue Party() => new(Fact.Party, "P" + chance.Next(parties));
        void Add(FactValue[] when)
        {
            var rule = new Rule { Id = "r" + made.Count, Purpose = Purpose.Revenue, When = when, Account = Text(4000 + chance.Next(200)) };
            made.TryAdd(rule.Key, rule);
        }
    }

    /// <summary>Questions for revenue: an item and a party by chance, with their groups.</summary>
    internal static List<FactValue>[] Questions(Rulebook book, int count)
    {
        var chance = new Random(7);
        return [.. Enumerable.Range(0, count).Select(_ =>
        {
            var (item, party) = (book.Items[chance.Next(book.Items.Count)], book.Parties[chance.Next(book.Parties.Count)]);
            return new List<FactValue> { new(Fact.Item, item.Code), new(Fact.ItemGroup, item.Group!), new(Fact.Party, party.Code), new(Fact.PartyGroup, party.Group!), new(Fact.Currency, "EUR") };
        })];
    }

    /// <summary>Invoices of four lines, half of them shipped.</summary>
    internal static IEnumerable<Document> Invoices(Rulebook book, int count)
    {
        var chance = new Random(11);
        for (var i = 0; i < count; i++)
            yield return new Document
            {
                Id = "INV-" + Text(i), Type = DocumentType.SalesInvoice, Date = Day, Party = book.Parties[chance.Next(book.Parties.Count)].Code, Connection = "web-shop", Text = "Order " + Text(i),
                Lines = [.. Enumerable.Range(0, 4).Select(k => new DocumentLine { Item = book.Items[chance.Next(book.Items.Count)].Code, Quantity = 1 + chance.Next(20), Price = chance.Next(100, 9000) / 100m, DiscountPercent = k == 0 ? 5 : null, StockMoves = k % 2 == 0 })],
            };
    }

    /// <summary>The same as NDJSON.</summary>
    internal static void WriteEvents(string file, Rulebook book, int count) => File.WriteAllLines(file, Invoices(book, count).Select(EventWriter.Write));

    static Account Account(string number, AccountClass accountClass) => new() { Number = number, Name = "Account " + number, Class = accountClass };

    static Rule Default(Purpose purpose, string account) => new() { Id = "d-" + purpose.Name, Purpose = purpose, Account = account };

    static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
}
