using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What the stock room and the glasshouse do: goods to the shop, counts, losses, saplings potted on.</summary>
sealed class Yard(World world)
{
    const string North = "NORTH", Shop = "SHOP", Glass = "GLASS", Room = "stock-room";

    /// <summary>A day in the yard.</summary>
    internal void Day()
    {
        switch (world.Day.DayOfWeek)
        {
            case DayOfWeek.Monday: ToTheShop("SEEDS", "COMPOST", "BULBS"); break;
            case DayOfWeek.Thursday: ToTheShop("POTS", "TOOLS", "BULBS"); break;
            case DayOfWeek.Wednesday: Potting(); break;
        }
        if (world.Day.Day is 15 or 28)
            Count();
        if (world.Day.Day == 8 && world.Day.Month % 3 == 0)
            NewCost();
    }

    void ToTheShop(params string[] groups)
    {
        var lines = world.Items(groups).Where(item => world.Shelves.Of(item.Code, Shop) < Wanted(item)).OrderBy(item => world.Shelves.Of(item.Code,
            Shop)).Take(14)
            .Select(item => new GoodsLine { Item = item.Code, Quantity = Math.Min(Wanted(item) * 2, Math.Floor(world.Shelves.Of(item.Code,
                North) / 2)) }).Where(line => line.Quantity >= 1).ToList();
        if (lines.Count == 0)
            return;
        foreach (var line in lines)
            world.Shelves.Take(line.Item, North, line.Quantity);
        var (id, far) = (world.Number("MOVE"), world.Once(5));
        world.Add(new StockTransfer { Id = id, Date = world.Day, Connection = Room, Location = North, ToLocation = Shop,
            OnTheWay = far ? OnTheWay.Dispatch : null, Lines = lines });
        if (far)
            world.In(1, () =>
            {
                world.Add(new StockTransfer { Id = world.Number("MOVE"), Date = world.Day, Connection = Room, Location = North, ToLocation = Shop,
                    OnTheWay = OnTheWay.Arrival, RefersTo = id, Lines = lines });
                Arrived(lines);
            });
        else
            Arrived(lines);
    }

    void Arrived(List<GoodsLine> lines) => lines.ForEach(line => world.Shelves.Put(line.Item, Shop, line.Quantity));

    static decimal Wanted(Item item) => item.Cost > 10 ? 8 : 50;

    // Saplings grow on in the glasshouse: pots, compost, work and heat go in.
    void Potting()
    {
        var (grown, quantity) = (world.Pick(world.Items("SAPLINGS").Where(i => !Stages.IsApart(i.Code)).ToList()), 20m * world.Between(1, 3));
        var (pots, compost) = (quantity, Math.Ceiling(quantity / 20));
        if (world.Shelves.Of("POT-09", North) < pots || world.Shelves.Of("COMP-50", North) < compost)
            return;
        world.Shelves.Take("POT-09", North, pots);
        world.Shelves.Take("COMP-50", North, compost);
        world.Shelves.Put(grown.Code, Glass, quantity);
        world.Add(new Production
        {
            Id = world.Number("GROW"), Date = world.Day, Connection = Room, Location = Glass, Item = grown.Code, Quantity = quantity,
                UnitCost = world.Once(3) ? grown.Cost : null,
            Lines =
            [
                new GoodsLine { Item = "POT-09", Quantity = pots, Place = new LinePlace { Location = North } }, new GoodsLine { Item = "COMP-50",
                    Quantity = compost, Place = new LinePlace { Location = North } },
                new GoodsLine { Item = "WORK-H", Quantity = quantity / 20 }, new GoodsLine { Item = "HEAT-D", Quantity = 1 },
            ],
        });
        world.In(6, () =>
        {
            world.Shelves.Take(grown.Code, Glass, quantity);
            world.Shelves.Put(grown.Code, North, quantity);
            world.Add(new StockTransfer { Id = world.Number("MOVE"), Date = world.Day, Connection = Room, Location = Glass, ToLocation = North,
                Lines = [new GoodsLine { Item = grown.Code, Quantity = quantity }] });
        });
    }

    void Count()
    {
        var lines = world.Items("SEEDS", "POTS", "TOOLS", "COMPOST").Where(item => world.Shelves.Of(item.Code, Shop) > 5 && world.Once(9)).Take(6)
            .Select(item => new GoodsLine { Item = item.Code, Quantity = world.Once(4) ? 1 : -world.Between(1, 3), Reason = world.Pick(["count", "damage",
                "sample"]) }).ToList();
        if (lines.Count == 0)
            return;
        lines.ForEach(line => world.Shelves.Put(line.Item, Shop, line.Quantity));
        world.Add(new StockAdjustment { Id = world.Number("COUNT"), Date = world.Day, Connection = Room, Location = Shop, Lines = lines });
    }

    void NewCost() => world.Add(new StockValue
    {
        Id = world.Number("COST"), Date = world.Day, Location = North, Text = "Frost in the yard",
        Lines = [new ValueLine { Item = world.Pick(world.Items("SAPLINGS").Where(i => !Stages.IsApart(i.Code)).ToList()).Code, Amount = -world.About(24, 30) }],
    });
}
