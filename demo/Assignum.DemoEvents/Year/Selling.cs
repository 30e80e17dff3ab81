using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What is sold: web orders, trade and council invoices, sales abroad, and the days of the till.</summary>
sealed class Selling(World world, Cash money)
{
    const string Shop = "SHOP", North = "NORTH";
    readonly IReadOnlyList<Party> web = [.. world.Parties("RETAIL").Where(p => p.Code != "C-30")];
    int webOrders, tillDays;

    /// <summary>A day's sales.</summary>
    internal void Day()
    {
        var weekday = world.Day.DayOfWeek;
        for (var left = world.Between(0, 5) * world.Season; left > 0 && world.Between(1, 100) <= left; left -= 100)
            WebOrder();
        if (weekday != DayOfWeek.Sunday)
            Till();
        if (weekday is DayOfWeek.Saturday or DayOfWeek.Sunday)
            return;
        for (var left = world.Between(0, 3) * world.Season; left > 0 && world.Between(1, 100) <= left; left -= 100)
            Invoice(world.Pick(world.Parties("TRADE")), "Trade order", 30);
        if (world.Once(4))
            Council();
        if (world.Once(6))
            Abroad();
        if (world.Once(25))
            Group();
    }

    void WebOrder()
    {
        var (party, lines) = (world.Pick(web), Order(Shop, 2.4m, 1 + world.Between(0, 2), 5, "SEEDS", "SEEDS", "POTS", "TOOLS"));
        var id = world.Number("WEB");
        if (lines.Count == 0)
            return;
        lines.Add(new() { Item = world.Once(4) ? "DELIV-F" : "DELIV-L", Price = world.Once(4) ? 14.5m : 6.9m });
        // The shop sells a bench that nobody has made an item for.
        if (++webOrders % 160 == 0)
        {
            world.Add(Document(id, party, [.. lines, new() { Item = "BENCH-OAK", Price = 189 }], "web-shop", Shop, "Web order"));
            world.Troubles.Plant("item-nobody-made", id, 189);
            return;
        }
        OnSuspense(id, lines);
        world.Add(Document(id, party, lines, "web-shop", Shop, "Web order"));
        money.CardPayment(id, party, Bill.Total(world, lines, Bill.Home));
        Ship(id, party, lines, Shop, world.Between(0, 2));
        if (world.Once(60))
            ComesBack(id, party, lines[0]);
    }

    void OnSuspense(string id, List<DocumentLine> lines)
    {
        // Nobody has said where vouchers and plant boxes belong: the default is suspense.
        if (world.Once(4))
            lines.Add(new() { Item = "PACK-BX", Quantity = world.Between(1, 4), Price = 1.5m });
        if (world.Once(14))
            lines.Add(new() { Item = world.Once(3) ? "VOU-50" : "VOU-25", Price = world.Once(3) ? 50 : 25 });
        foreach (var line in lines.Where(line => world.Item(line.Item!).Group is "PACKING" or "VOUCHER"))
            world.Troubles.Plant("revenue-on-suspense", id, Bill.Net(line));
    }

    void ComesBack(string id, Party party, DocumentLine sold) => world.In(9, () =>
    {
        var back = sold with { Quantity = 1, StockMoves = true };
        world.Add(Document(world.Number("CRN"), party, [back], "web-shop", Shop, "Sent back") with { Type = DocumentType.SalesCreditNote, RefersTo = id });
        world.Shelves.Put(back.Item!, Shop, 1);
        money.CardRefund(party, Bill.Total(world, [back], Bill.Home));
    });

    void Ship(string of, Party party, IReadOnlyList<DocumentLine> lines, string place, int days)
    {
        var goods = lines.Where(line => world.Item(line.Item!).Kind == ItemKind.Stock).ToList();
        foreach (var line in goods)
            world.Shelves.Take(line.Item!, place, line.Quantity);
        if (goods.Count > 0)
            world.In(days, () =>
            {
                var id = world.Number("SHP");
                world.Add(new Shipment
                {
                    Id = id, Date = world.Day, Party = party.Code, Connection = "stock-room", Location = place, RefersTo = of,
                    Lines = [.. goods.Select(line => new GoodsLine { Item = line.Item!, Quantity = line.Quantity })],
                });
                // Bulbs are new, and nobody has said yet where their cost lands when they are sold.
                if (party.Group != "COUNCIL" && goods.Where(line => IsBulb(line.Item!)).ToList() is { Count: > 0 } bulbs)
                    world.Troubles.Plant("one-missing-rule", id, bulbs.Sum(line => Money.Round(line.Quantity * world.Item(line.Item!).Cost!.Value, 2)));
            });
    }

    bool IsBulb(string item) => world.Item(item).Group == "BULBS";

    void Invoice(Party party, string text, int dueIn, Func<string, decimal[]>? percents = null)
    {
        var lines = Order(North, 1.75m, world.Between(1, 4), 40, "SEEDS", "SAPLINGS", "SAPLINGS", "POTS", "TOOLS", "COMPOST");
        if (lines.Count == 0)
            return;
        if (world.Once(7))
            lines.Add(new() { Item = world.Once(2) ? "DES-H" : "DES-P", Quantity = world.Between(1, 10), Price = 64 });
        var id = world.Number("INV");
        var total = Bill.Total(world, lines, percents ?? Bill.Home);
        // What is ordered for spring is invoiced in the last days of March and goes out when the frost is over.
        var spring = world.Day.Month == 3 && world.Day.Day >= 24 && party.Group == "TRADE";
        var later = spring || lines.Exists(line => IsBulb(line.Item!)) || world.Once(2);
        world.Add(Document(id, party, [.. lines.Select(line => line with { StockMoves = !later && world.Item(line.Item!).Kind == ItemKind.Stock })], null,
            North,
            spring ? "Spring order" : text) with { DueDate = world.Day.AddDays(dueIn) });
        if (spring)
            world.Troubles.Plant("invoiced-in-march-shipped-in-april", id, lines.Where(line => world.Item(line.Item!).Kind == ItemKind.Stock).Sum(Bill.Net));
        if (later)
            Ship(id, party, lines, North, spring ? 12 : world.Between(1, 4));
        else
            foreach (var line in lines.Where(line => world.Item(line.Item!).Kind == ItemKind.Stock))
                world.Shelves.Take(line.Item!, North, line.Quantity);
        money.CustomerPays(id, party, total, dueIn);
    }

    void Council()
    {
        var party = world.Pick(world.Parties("COUNCIL"));
        Invoice(party, "Parks and verges", 45, party.TaxArea is null ? Bill.Home : Bill.District);
    }

    void Group() => Invoice(world.Parties("GROUP")[0], "For the gardens of QL", 30);

    void Abroad()
    {
        var party = world.Pick(world.Parties("EXPORT"));
        var id = world.Number("EXP");
        // What is reduced at home has no tax rule abroad: two such invoices wait for one.
        if (world.Day >= Stages.BulbsFrom(world.Last).AddMonths(1) && world.Troubles.Planted.GetValueOrDefault("no-tax-rule") is not { Count: >= 2 })
        {
            var seeds = new DocumentLine { Item = "SEED-04", Quantity = 20, Price = 7.5m };
            world.Add(Document(id, party, [seeds], null, North, "Seeds abroad"));
            world.Troubles.Plant("no-tax-rule", id, Bill.Net(seeds));
            return;
        }
        var lines = Goods(North, 1.9m, world.Between(1, 3), 30, "POTS", "TOOLS");
        if (lines.Count == 0)
            return;
        var (currency, rate) = party.Code == "C-73" ? ("NOK", world.RateOf("NOK")) : ((string?)null, (decimal?)null);
        lines = lines.ConvertAll(line => line with { StockMoves = true, Price = rate is { } each ? Money.Round(line.Price!.Value / each, 1) : line.Price });
        foreach (var line in lines)
            world.Shelves.Take(line.Item!, North, line.Quantity);
        world.Add(Document(id, party, lines, null, North, "Order from abroad") with { Currency = currency, Rate = rate, DueDate = world.Day.AddDays(30) });
        money.CustomerPays(id, party, Bill.Total(world, lines, Bill.Abroad), 30, currency);
    }

    void Till()
    {
        var lines = Goods(Shop, 2.6m, world.Between(3, 7), 6, "SEEDS", "POTS", "TOOLS", "COMPOST").ConvertAll(line => line with { StockMoves = true,
            DiscountPercent = null });
        if (lines.Count == 0)
            return;
        foreach (var line in lines)
            world.Shelves.Take(line.Item!, Shop, line.Quantity);
        var total = lines.Sum(Bill.Net);
        var card = Money.Round(total * 0.6m, 2);
        var id = $"TILL-{world.Day:yyyyMMdd}";
        var takings = Document(id, world.Parties("RETAIL")[0], lines, "till", Shop, "A day at the shop") with
        {
            Type = DocumentType.Takings, PricesIncludeTax = true, DueDate = null, Number = null,
            // A few cents are always missing from the drawer.
            Tenders = [new Tender("SHOP-CASH", null, false, total - card - 0.05m), new Tender(null, "card", false, card)],
        };
        tillDays++;
        if (tillDays % 60 == 0)
            takings = WithOwnTax(takings, tillDays == 300 ? 1.00m : 0.01m);
        world.Add(takings);
        if (takings.Tax.Count == 0 || tillDays != 300)
            money.TakenAtTheTill(card, total - card - 0.05m);
    }

    // The till reckons its own tax: a cent off is taken as it is, a euro is asked about.
    Document WithOwnTax(Document takings, decimal off)
    {
        var standard = takings.Lines.Where(line => world.TaxGroupOf(world.Item(line.Item!)) == "STANDARD").Sum(Bill.Net);
        if (standard == 0)
            return takings;
        world.Troubles.Plant(off < 1 ? "tax-off-by-a-cent" : "tax-off-by-a-euro", takings.Id, off);
        return takings with { Tax = [new ChargedTax("S20", null, Money.Round(standard * 20 / 120, 2) + off)] };
    }

    List<DocumentLine> Order(string place, decimal margin, int lines, int most, params string[] groups) =>
        Goods(place, margin, lines, most, world.Day > Stages.BulbsFrom(world.Last) && world.Once(5) ? ["BULBS"] : groups);

    List<DocumentLine> Goods(string place, decimal margin, int lines, int most, params string[] groups)
    {
        var made = new List<DocumentLine>();
        for (var i = 0; i < lines; i++)
        {
            var item = world.Pick(world.Items(world.Pick(groups)));
            var quantity = Math.Min(world.Between(1, item.Cost > 10 ? Math.Min(most, 6) : most), Math.Floor(world.Shelves.Of(item.Code, place) / 2));
            if (quantity >= 1 && !Stages.Unsold.Contains(item.Code) && !made.Exists(line => line.Item == item.Code))
                made.Add(new() { Item = item.Code, Quantity = quantity, Price = Money.Round(item.Cost!.Value * margin, 1),
                    DiscountPercent = most > 6 && world.Once(6) ? 5 : null });
        }
        return made;
    }

    Document Document(string id, Party party, IReadOnlyList<DocumentLine> lines, string? connection, string place, string text) => new()
    {
        Id = id, Number = id, Type = DocumentType.SalesInvoice, Date = world.Day, DueDate = world.Day.AddDays(connection is null ? 30 : 0),
            Party = party.Code, Connection = connection,
        Location = place, Text = text, Lines = lines,
    };
}
