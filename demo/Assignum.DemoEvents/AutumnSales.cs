using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.DemoEvents;

/// <summary>An autumn of sales at Quillmoss Nurseries: trade and councils by invoice, web customers through the shop, the till on Saturdays.</summary>
sealed class AutumnSales(Rulebook book, Random chance)
{
    static readonly DateOnly First = new(2026, 9, 1);
    const int Invoices = 46, Days = 80;

    readonly Party[] home = [.. book.Parties.Where(p => p.Group is "TRADE" or "COUNCIL" or "GROUP")];
    readonly Party[] web = [.. book.Parties.Where(p => p.Group == "RETAIL" && p.Code is not "C-30")];
    readonly Party[] abroad = [.. book.Parties.Where(p => p.Group == "EXPORT")];
    readonly ILookup<string, Item> byGroup = book.Items.ToLookup(i => i.Group!);

    internal IEnumerable<Document> Events()
    {
        var days = Enumerable.Range(0, Invoices).Select(_ => chance.Next(Days)).Order().ToList();
        for (var i = 0; i < Invoices; i++)
            yield return Invoice(i + 1, First.AddDays(days[i]));
        yield return CreditNote();
        for (var saturday = new DateOnly(2026, 10, 3); saturday < new DateOnly(2026, 10, 24); saturday = saturday.AddDays(7))
            yield return Takings(saturday);
    }

    Document Invoice(int number, DateOnly date)
    {
        var kind = chance.Next(10);
        var (party, goods, connection) = kind switch
        {
            < 6 => (Pick(home), "SEEDS SAPLINGS POTS TOOLS COMPOST", null),
            < 9 => (Pick(web), "SEEDS SEEDS POTS TOOLS", "web-shop"),
            // What is reduced at home has no tax rule abroad yet.
            _ => (Pick(abroad), "POTS TOOLS", (string?)null),
        };
        var lines = Enumerable.Range(0, 1 + chance.Next(4)).Select(_ => Line(Pick(byGroup[Pick(goods.Split(' '))].ToArray()))).ToList();
        if (connection is not null)
            lines.Add(new DocumentLine { Item = chance.Next(4) == 0 ? "DELIV-F" : "DELIV-L", Price = chance.Next(4) == 0 ? 14.5m : 6.9m });
        else if (party.Group == "COUNCIL" || chance.Next(6) == 0)
            lines.Add(new DocumentLine { Item = chance.Next(2) == 0 ? "DES-H" : "DES-P", Quantity = 1 + chance.Next(12), Price = 64 });
        if (number % 9 == 0)
            lines.Add(new DocumentLine { Item = "PACK-BX", Quantity = 4, Price = 1.5m, Text = "Plant boxes, not returned" });
        return new Document
        {
            Id = FormattableString.Invariant($"INV-{1000 + number}"), Number = FormattableString.Invariant($"2026-{1000 + number}"),
                Type = DocumentType.SalesInvoice, Date = date, DueDate = date.AddDays(30),
            Party = party.Code, Connection = connection, Location = connection is null ? "NORTH" : "SHOP", Lines = lines,
            Text = connection is null ? "Autumn order" : "Web order",
            Currency = party.Code == "C-73" ? "NOK" : null, Rate = party.Code == "C-73" ? 0.0857m : null,
        };
    }

    DocumentLine Line(Item item) => new()
    {
        Item = item.Code, Quantity = 1 + chance.Next(item.Cost > 10 ? 6 : 40), Price = Money.Round(item.Cost!.Value * (decimal)(1.7 + chance.NextDouble()),
            1), StockMoves = true,
        DiscountPercent = chance.Next(5) == 0 ? 5 : null,
    };

    static Document CreditNote() => new()
    {
        Id = "CRN-2001", Number = "C-2001", Type = DocumentType.SalesCreditNote, Date = new(2026, 11, 12), Party = "C-12", Location = "NORTH",
            Text = "Frost on the way",
        Lines = [new DocumentLine { Item = "TREE-05", Quantity = 25, Price = 2.1m, StockMoves = true }],
    };

    Document Takings(DateOnly date)
    {
        var lines = Enumerable.Range(0, 5).Select(_ => Line(Pick(byGroup[Pick(["SEEDS", "POTS", "TOOLS",
            "COMPOST"])].ToArray()))).Select(l => l with { Quantity = 1 + chance.Next(6), DiscountPercent = null }).ToList();
        var total = lines.Sum(l => Money.Round(l.Quantity * l.Price!.Value, 2));
        var card = Money.Round(total * 0.6m, 2);
        return new Document
        {
            Id = $"TILL-{date:yyyyMMdd}", Type = DocumentType.Takings, Date = date, Connection = "till", Location = "SHOP", PricesIncludeTax = true,
                Party = "C-30", Lines = lines, Text = "Saturday at the shop",
            // A few cents are always missing from the drawer.
            Tenders = [new Tender("SHOP-CASH", null, false, total - card - 0.05m), new Tender(null, "card", false, card)],
        };
    }

    T Pick<T>(IReadOnlyList<T> from) => from[chance.Next(from.Count)];
}
