using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What is bought: goods that the stock room receives and suppliers invoice later, in euros and dollars, and the bills of the month.</summary>
sealed class Buying(World world, Cash money)
{
    const string North = "NORTH";

    static readonly (string Account, decimal Amount, string Text, string Tax)[] Bills =
    [
        ("6110", 1450, "Rent of the yard", "E0"), ("6140", 310, "Electricity", "S20"), ("6130", 145, "Water", "R8"), ("6160", 190, "Insurance", "E0"),
            ("6330", 62, "Telephone", "S20"),
        ("6250", 240, "Advertising", "S20"), ("6310", 280, "Fuel", "S20"), ("6380", 120, "Cleaning", "S20"),
    ];

    /// <summary>A day's deliveries and bills.</summary>
    internal void Day()
    {
        switch (world.Day.DayOfWeek)
        {
            case DayOfWeek.Monday: Order(world.Pick(world.Parties("GOODS")), "POTS", "TOOLS", "COMPOST"); break;
            case DayOfWeek.Tuesday: Order(world.Pick(world.Parties("GOODS")), "SEEDS", "COMPOST"); break;
            case DayOfWeek.Wednesday: Order(world.Pick(world.Parties("GROWERS")), "SAPLINGS"); break;
            case DayOfWeek.Thursday: Order(world.Pick(world.Parties("GOODS")), "SEEDS", "POTS", "TOOLS"); break;
            case DayOfWeek.Friday when world.Once(3): FromAbroad(); break;
        }
        if (world.Day == Stages.BulbsFrom(world.Last))
            Receive(world.Parties("GOODS")[0], [.. world.Items("BULBS").Select(bulb => (bulb, 400m, bulb.Cost!.Value))], North);
        if (world.Day.Day is >= 3 and <= 10 && world.Day.Day - 3 < Bills.Length)
            Bill(Bills[world.Day.Day - 3]);
        if (world.Day.Day == 14)
            Software();
        if (world.Day == world.First.AddMonths(6).AddDays(14))
            Forgotten("TREE-02", 60);
        else if (world.Day == world.First.AddMonths(9).AddDays(5))
            Forgotten("POT-36", 40);
    }

    // Goods of which the bill never came.
    void Forgotten(string code, decimal quantity)
    {
        var (receipt, item) = (world.Number("RCP"), world.Item(code));
        world.Add(new PurchaseReceipt
        {
            Id = receipt, Date = world.Day, Party = world.Parties("OVERSEAS")[0].Code, Connection = "stock-room", Location = North,
            Lines = [new GoodsLine { Item = item.Code, Quantity = quantity, UnitCost = item.Cost!.Value }],
        });
        world.Troubles.Plant("receipts-without-invoice", receipt, quantity * item.Cost!.Value);
    }

    // What runs low comes, up to what a season sells.
    void Order(Party supplier, params string[] groups)
    {
        var low = world.Items(groups).Where(item => !Stages.IsApart(item.Code) && world.Shelves.Of(item.Code, North) < Enough(item) * 0.7m)
            .OrderBy(item => world.Shelves.Of(item.Code, North)).Take(world.Between(2, 6)).ToList();
        if (low.Count > 0)
            Receive(supplier, [.. low.Select(item => (item, Enough(item) / 2, world.About(item.Cost!.Value, 4)))], North);
    }

    static decimal Enough(Item item) => item.Cost > 10 ? 40 : 240;

    void Receive(Party supplier, List<(Item Item, decimal Quantity, decimal Cost)> goods, string place)
    {
        var receipt = world.Number("RCP");
        foreach (var (item, quantity, _) in goods)
            world.Shelves.Put(item.Code, place, quantity);
        world.Add(new PurchaseReceipt
        {
            Id = receipt, Date = world.Day, Party = supplier.Code, Connection = "stock-room", Location = place,
            Lines = [.. goods.Select(g => new GoodsLine { Item = g.Item.Code, Quantity = g.Quantity, UnitCost = g.Cost })],
        });
        world.In(world.Between(3, 12), () => Invoice(supplier, receipt, goods));
    }

    void Invoice(Party supplier, string receipt, List<(Item Item, decimal Quantity, decimal Cost)> goods)
    {
        // Now and then the invoice is dearer than what was ordered.
        var dearer = world.Once(8) ? 1.02m : 1;
        var lines = goods.ConvertAll(g => new DocumentLine { Item = g.Item.Code, Quantity = g.Quantity, Price = Money.Round(g.Cost * dearer, 2) });
        var id = world.Number("BILL");
        world.Add(Document(id, supplier, lines, $"Goods of {receipt}") with { RefersTo = world.Once(2) ? receipt : null });
        Pays(supplier, id, Year.Bill.Total(world, lines, Year.Bill.Home));
    }

    // Saplings from abroad, in dollars; while they went to cost, what was received is money on a wrong account.
    void FromAbroad()
    {
        var supplier = world.Pick(world.Parties("OVERSEAS"));
        var rate = world.RateOf("USD");
        var lines = Stages.BoughtAbroad.Select(world.Item).Where(item => world.Shelves.Of(item.Code, North) < 300)
            .Select(item => new DocumentLine { Item = item.Code, Quantity = 120, Price = Money.Round(item.Cost!.Value / rate, 2), StockMoves = true,
                TaxCode = "O0" }).ToList();
        if (lines.Count == 0)
            return;
        var id = world.Number("BILL");
        foreach (var line in lines)
            world.Shelves.Put(line.Item!, North, line.Quantity);
        world.Add(Document(id, supplier, lines, "Saplings from abroad") with { Currency = "USD", Rate = rate, Location = North });
        if (world.Day < Stages.MendedFrom(world.First))
            world.Troubles.Plant("saplings-from-abroad-as-cost", id, lines.Sum(line => Money.Round(Year.Bill.Net(line) * rate, 2)));
        Pays(supplier, id, lines.Sum(Year.Bill.Net), "USD");
    }

    void Bill((string Account, decimal Amount, string Text, string Tax) bill)
    {
        var (supplier, net) = (world.Pick(world.Parties("SERVICES").Where(p => p.Code.StartsWith("S-", StringComparison.Ordinal)).ToList()),
            world.About(bill.Amount, 12));
        var id = world.Number("BILL");
        world.Add(Document(id, supplier, [new DocumentLine { Account = bill.Account, Price = net, TaxCode = bill.Tax }], bill.Text));
        Pays(supplier, id, net + Money.Round(net * (bill.Tax switch { "S20" => 20, "R8" => 8, _ => 0 }) / 100, 2));
    }

    // The tax on services from abroad is owed and recovered by oneself.
    void Software()
    {
        var (supplier, net) = (world.Parties("OVERSEAS")[0], world.About(89, 5));
        var id = world.Number("BILL");
        world.Add(Document(id, supplier, [new DocumentLine { Account = "6340", Price = net, TaxCode = "RC20" }], "Software of the month"));
        Pays(supplier, id, net);
    }

    /// <summary>A machine of the supplier who sells saplings and machines, on the payable account for machines.</summary>
    internal void Machine()
    {
        var supplier = world.Parties("GROWERS").First(p => p.ControlAlternates.Count > 0);
        var id = world.Number("BILL");
        world.Add(Document(id, supplier, [new DocumentLine { Account = "6370", Price = 1180, TaxCode = "S20" }],
            "Potting machine, second hand") with { Control = supplier.ControlAlternates[0] });
        world.Troubles.Plant("on-the-alternate-control-account", id, 1416);
    }

    void Pays(Party supplier, string id, decimal total, string? currency = null) => world.In(world.Between(14, 32), () =>
    {
        var discount = currency is null && world.Once(7) ? Money.Round(total * 0.02m, 2) : 0;
        var off = money.TakeAhead(supplier, total - discount - 1);
        world.Add(new Payment
        {
            Type = PaymentType.SupplierPayment, Id = world.Number("SUP"), Date = world.Day, Party = supplier.Code,
            MoneyAccount = currency is null ? "MAIN" : "DOLLAR", Amount = total - discount - off, Discount = discount, Currency = currency,
            Rate = currency is null ? null : world.RateOf(currency),
            // A deposit settles the oldest, and so does what is paid to who has had one.
            Settles = supplier.Group == "GROWERS" ? [] : [new SettledPart { Event = id, Amount = total }],
        });
    });

    Document Document(string id, Party supplier, IReadOnlyList<DocumentLine> lines, string text) => new()
    {
        Id = id, Number = id, Type = DocumentType.PurchaseInvoice, Date = world.Day, DueDate = world.Day.AddDays(30), Party = supplier.Code, Lines = lines,
            Text = text,
    };
}
