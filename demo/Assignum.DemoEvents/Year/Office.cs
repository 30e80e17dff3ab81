using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What the office writes: the openings, wages, what the bank takes, and the journal by hand that later gave reason to block an account.</summary>
sealed class Office(World world)
{
    static readonly string[] Yard = ["NORTH"], Everywhere = ["NORTH", "SHOP"];

    /// <summary>What was there on the first day.</summary>
    internal void Open()
    {
        foreach (var (item, place, quantity) in from item in world.Items("SEEDS", "SAPLINGS", "POTS", "TOOLS", "COMPOST")
                                                where !Stages.BoughtAbroad.Contains(item.Code)
                                                from place in item.Group == "SAPLINGS" ? Yard : Everywhere
                                                select (item, place, item.Cost > 10 ? 20m : place == "NORTH" ? 200m : 80m))
        {
            world.Shelves.Put(item.Code, place, quantity);
            world.Add(new OpeningItem { Kind = OpeningKind.Inventory, Id = world.Number("OPEN"), Date = world.Day, Item = item.Code, Location = place,
                Quantity = quantity, UnitCost = item.Cost });
            if (Stages.Unsold.Contains(item.Code))
                world.Troubles.Plant("saplings-on-the-old-account", world.Events[^1].Id, quantity * item.Cost!.Value);
        }
        foreach (var party in world.Parties("TRADE").Take(5))
            Opening(OpeningKind.Receivable, party.Code, 100m * world.Between(2, 12));
        foreach (var party in world.Parties("GOODS").Take(3))
            Opening(OpeningKind.Payable, party.Code, 100m * world.Between(3, 9));
        OpenDollars();
        world.Add(new OpeningBalance
        {
            Id = world.Number("OPEN"), Date = world.Day, Text = "Balances of the old books",
            Lines =
            [
                new JournalLine { MoneyAccount = "MAIN", Debit = 48_000 }, new JournalLine { MoneyAccount = "SHOP-CASH", Debit = 400 },
                    new JournalLine { Account = "2410", Credit = 30_000 },
                new JournalLine { Account = "3010", Credit = 25_000 }, new JournalLine { Account = "1520", Debit = 900 },
            ],
        });
    }

    // Dollars for a year of saplings.
    void OpenDollars() => world.Add(new OpeningBalance
    {
        Id = world.Number("OPEN"), Date = world.Day, Text = "Dollars", Currency = "USD", Rate = world.RateOf("USD"),
        Lines = [new JournalLine { MoneyAccount = "DOLLAR", Debit = 16_000 }],
    });

    void Opening(OpeningKind kind, string party, decimal amount) =>
        world.Add(new OpeningItem { Kind = kind, Id = world.Number("OPEN"), Date = world.Day, Party = party, Amount = amount,
            DueDate = world.Day.AddDays(20) });

    /// <summary>A day in the office.</summary>
    internal void Day()
    {
        var end = new DateOnly(world.Day.Year, world.Day.Month, DateTime.DaysInMonth(world.Day.Year, world.Day.Month));
        if (world.Day == end)
            BankCharges();
        if (world.Day.Day == 25)
            Wages();
        // From before the account was blocked.
        if (world.Day == world.First.AddDays(70))
            ByHand();
    }

    void Wages()
    {
        var (yard, shop) = (world.About(4200, 3), world.About(2600, 3));
        var (tax, social) = (Money.Round((yard + shop) * 0.14m, 2), Money.Round((yard + shop) * 0.18m, 2));
        var net = yard + shop - tax - social;
        world.Add(Journal("Wages of the month", Of("6010", "100", yard), Of("6010", "200", shop), new() { Account = "2320", Credit = tax },
            new() { Account = "2330", Credit = social },
            new() { Account = "2310", Credit = net }));
        world.In(2, () => world.Add(Journal("Wages paid", new() { Account = "2310", Debit = net }, new() { MoneyAccount = "MAIN", Credit = net })));
        world.In(12, () => world.Add(Journal("Wage tax and social insurance paid", new() { Account = "2320", Debit = tax }, new() { Account = "2330",
            Debit = social },
            new() { MoneyAccount = "MAIN", Credit = tax + social })));
    }

    static JournalLine Of(string account, string costCentre, decimal debit) =>
        new() { Account = account, Debit = debit, Place = new LinePlace { Dimensions = new Dimensions([new("CC", costCentre)]) } };

    void BankCharges()
    {
        var charge = world.About(14.5m, 10);
        world.Add(Journal("Charges of the bank", new() { Account = "6360", Debit = charge }, new() { MoneyAccount = "MAIN", Credit = charge }));
    }

    void ByHand()
    {
        var journal = Journal("Written off by hand", new() { Account = "6270", Debit = 215.4m }, new() { Account = "1100", Party = "C-14", Credit = 215.4m });
        world.Add(journal);
        world.Troubles.Plant("by-hand-on-receivables", journal.Id, 215.4m);
    }

    ManualJournal Journal(string text, params JournalLine[] lines) => new() { Id = world.Number("JRN"), Date = world.Day, Text = text, Lines = lines };
}
