using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.DemoEvents.Year;

/// <summary>Thirteen months of Quillmoss Landscapes: crews at gardens, what the gardens take from the yard and from others, what clients are billed and pay,
/// the machines, and what is paid to the nurseries.</summary>
sealed class Landscapes
{
    const int Seed = 20251102;
    const string Bank = "OFFICE";

    // A garden: from and up to which month the crew is there, its task in each phase, hours of a week, who pays and how much a stage.
    static readonly Site[] Sites =
    [
        new("L-1", "K-1", 0, 9, ["10", "20", "20", "30"], 26, 11_600, [1, 3, 5, 7, 9]),
        new("L-2", "K-2", 1, 5, ["10", "20"], 30, 11_200, [3, 5]),
        new("L-3", "K-3", 6, 12, [null], 9, 6_300, [8, 11]),
        new("L-5", "K-4", 5, 12, ["10", "20", "20"], 34, 9_800, [6, 8, 10, 11]),
    ];

    readonly World world;
    readonly IReadOnlyList<Payment> fromLandscapes;
    readonly DateOnly first;

    Landscapes(World world, IReadOnlyList<Payment> fromLandscapes) => (this.world, this.fromLandscapes, first) = (world, fromLandscapes, world.First);

    /// <summary>What happened up to a day.</summary>
    /// <param name="book">The rulebook of the landscapers.</param>
    /// <param name="nurseries">The same months of the nurseries, whose bills are paid.</param>
    internal static IReadOnlyList<BusinessEvent> Of(Rulebook book, Thirteen nurseries)
    {
        var world = new World(book, nurseries.First, nurseries.Last, Seed);
        var paid = nurseries.Events.OfType<Payment>().Where(p => p is { Type: PaymentType.CustomerPayment, Party: "QL" }).ToList();
        // One payment is on its way: the nurseries have it, the landscapers' office has not written it yet.
        var made = new Landscapes(world, paid.Count > 1 ? paid[..^1] : paid);
        world.Run(_ => made.Day());
        return world.Events;
    }

    int Month => (world.Day.Year - first.Year) * 12 + world.Day.Month - first.Month;

    void Day()
    {
        if (world.Day == first)
            Open();
        if (world.Day.DayOfWeek == DayOfWeek.Monday)
            FillTheYard();
        if (world.Day.DayOfWeek == DayOfWeek.Friday)
            foreach (var site in Sites.Where(s => Month >= s.From && Month <= s.To && world.Day < world.Last.AddDays(-2)))
                Week(site);
        Machines();
        if (world.Day.Day == 24)
            foreach (var site in Sites.Where(s => s.Billed.Contains(Month)))
                Bill(site);
        if (world.Day.Day == 26)
            Care();
        if (world.Day.Day == 6)
            Office();
        foreach (var payment in fromLandscapes.Where(p => p.Date == world.Day))
            PayTheNurseries(payment);
    }

    void Open()
    {
        foreach (var item in world.Items("PLANTS", "STONE"))
        {
            world.Shelves.Put(item.Code, "YARD", 40);
            world.Add(new OpeningItem { Kind = OpeningKind.Inventory, Id = world.Number("OPEN"), Date = world.Day, Item = item.Code, Location = "YARD",
                Quantity = 40, UnitCost = item.Cost });
        }
        world.Add(new OpeningItem { Kind = OpeningKind.Project, Id = world.Number("OPEN"), Date = world.Day, Project = "L-1", Task = "10", Cost = 2_340 });
        world.Add(new OpeningItem { Kind = OpeningKind.Asset, Id = world.Number("OPEN"), Date = world.Day, Asset = "VAN-L", Cost = 27_500,
            Accumulated = 6_875 });
        world.Add(new OpeningBalance
        {
            Id = world.Number("OPEN"), Date = world.Day, Text = "Balances of the old books",
            Lines =
            [
                new JournalLine { Account = "101000", Debit = 64_000 }, new JournalLine { Account = "241000", Credit = 28_000 },
                new JournalLine { Account = "301000", Credit = 50_000 },
            ],
        });
    }

    // What runs low is bought from the yards.
    void FillTheYard()
    {
        foreach (var (supplier, group) in new[] { ("Y-1", "STONE"), ("Y-2", "PLANTS") })
        {
            var low = world.Items(group).Where(item => world.Shelves.Of(item.Code, "YARD") < 25).ToList();
            if (low.Count == 0)
                continue;
            var lines = low.ConvertAll(item => new DocumentLine
            {
                Item = item.Code, Quantity = 40, Price = world.About(item.Cost!.Value, 3), StockMoves = true,
            });
            foreach (var item in low)
                world.Shelves.Put(item.Code, "YARD", 40);
            Buy(supplier, lines, "For the yard", "YARD");
        }
    }

    void Week(Site site)
    {
        var task = site.Tasks[Math.Min((Month - site.From) * site.Tasks.Length / (site.To - site.From + 1), site.Tasks.Length - 1)];
        var plans = task == "10";
        var lines = new List<UsageLine>
        {
            plans ? new() { Item = "DRAW", Quantity = world.Between(6, 14) } : new() { Item = "HOUR", Quantity = site.Hours + world.Between(-6, 8) },
        };
        if (!plans)
        {
            lines.Add(new() { Item = "HOUR-L", Quantity = world.Between(2, 6) });
            var used = world.Pick(world.Items(task == "30" ? "PLANTS" : "STONE"));
            var quantity = Math.Min(world.Between(2, 9), world.Shelves.Of(used.Code, "YARD"));
            if (quantity > 0)
            {
                world.Shelves.Take(used.Code, "YARD", quantity);
                lines.Add(new() { Item = used.Code, Quantity = quantity });
            }
        }
        world.Add(new ProjectUsage { Id = world.Number("WORK"), Date = world.Day, Project = site.Project, Task = task, Location = "YARD", Lines = lines,
            Text = "Crew of the week" });
        if (!plans && world.Once(4))
            Buy("Y-3", [new DocumentLine
            {
                Item = "CREW-X", Quantity = world.Between(1, 3), Price = 420, ToProject = true, Project = site.Project, Task = task,
            }], "Paving");
    }

    void Machines()
    {
        if (world.Day == first.AddDays(19))
            Buy("Y-5", [new DocumentLine { Asset = "DIG-1", Price = 31_500, TaxCode = "S20" }], "Digger");
        else if (world.Day == first.AddMonths(5).AddDays(8))
            Buy("Y-5", [new DocumentLine { Asset = "SAW-1", Price = 2_880, TaxCode = "S20" }], "Stone saw");
        if (world.Day.Day == 12)
            Buy("Y-4", [new DocumentLine { Item = "DIESEL", Quantity = world.Between(160, 280), Price = 1.42m }], "Diesel");
    }

    void Bill(Site site)
    {
        var id = world.Number("LINV", 201);
        var net = world.About(site.Stage, 6);
        world.Add(new Document
        {
            Id = id, Number = id, Type = DocumentType.ProjectInvoice, Date = world.Day, DueDate = world.Day.AddDays(30), Party = site.Client,
            Project = site.Project, Lines = [new DocumentLine { Item = "WORK", Price = net }], Text = "Stage as agreed",
        });
        // The inn pays late, when it pays.
        if (site.Client != "K-3")
            Paid(site.Client, id, net * 1.2m, 30 + world.Between(-5, 12));
    }

    // Care by the hour: the same men, billed when the month ends. The yard of the nurseries is cared for too.
    void Care()
    {
        var hours = world.Between(9, 16);
        world.Add(new ProjectUsage { Id = world.Number("WORK"), Date = world.Day, Project = "L-4", Lines = [new UsageLine { Item = "HOUR", Quantity = hours }],
            Text = "Care of the month" });
        var id = world.Number("LINV", 201);
        world.Add(new Document
        {
            Id = id, Number = id, Type = DocumentType.ProjectInvoice, Date = world.Day, DueDate = world.Day.AddDays(14), Party = "K-5", Project = "L-4",
            Lines = [new DocumentLine { Item = "CARE-H", Quantity = hours, Price = 52 }], Text = "Care of the month",
        });
        Paid("K-5", id, hours * 52 * 1.2m, 14 + world.Between(0, 9));
        if (Month % 4 != 2)
            return;
        id = world.Number("LINV", 201);
        world.Add(new Document
        {
            Id = id, Number = id, Type = DocumentType.SalesInvoice, Date = world.Day, DueDate = world.Day.AddDays(30), Party = "QN",
            Lines = [new DocumentLine { Item = "CARE-H", Quantity = 6, Price = 48 }], Text = "Paths of the nurseries",
        });
    }

    void Office() => world.Add(new ManualJournal
    {
        Id = world.Number("JRN"), Date = world.Day, Text = "Wages of the office and rent of the yard",
        Lines =
        [
            new JournalLine { Account = "601000", Debit = 2_150 }, new JournalLine { Account = "611000", Debit = 640 },
            new JournalLine { Account = "529000", Debit = 4_300 }, new JournalLine { Account = "101000", Credit = 7_090 },
        ],
    });

    void Buy(string supplier, IReadOnlyList<DocumentLine> lines, string text, string? location = null)
    {
        var id = world.Number("BILL");
        world.Add(new Document
        {
            Id = id, Number = id, Type = DocumentType.PurchaseInvoice, Date = world.Day, DueDate = world.Day.AddDays(30), Party = supplier, Location = location,
            Lines = lines, Text = text,
        });
        var total = Year.Bill.Total(world, lines.Where(line => line.Asset is null), Year.Bill.Home)
            + lines.Where(line => line.Asset is not null).Sum(line => line.Price!.Value * 1.2m);
        world.In(world.Between(12, 30), () => world.Add(new Payment
        {
            Type = PaymentType.SupplierPayment, Id = world.Number("SUP"), Date = world.Day, Party = supplier, MoneyAccount = Bank, Amount = total,
            Settles = [new SettledPart { Event = id, Amount = total }],
        }));
    }

    void Paid(string client, string id, decimal total, int days) => world.In(days, () => world.Add(new Payment
    {
        Type = PaymentType.CustomerPayment, Id = world.Number("PAY"), Date = world.Day, Party = client, MoneyAccount = Bank,
            Amount = Money.Round(total, 2),
        Settles = [new SettledPart { Event = id, Amount = Money.Round(total, 2) }],
    }));

    // What the nurseries had on a day left the landscapers' bank that day.
    void PayTheNurseries(Payment got) => world.Add(new Payment
    {
        Type = PaymentType.SupplierPayment, Id = world.Number("SUP"), Date = world.Day, Party = "QN", MoneyAccount = Bank,
            Amount = got.Amount, Discount = got.Discount,
    });

    /// <summary>A garden in the making.</summary>
    sealed record Site(string Project, string Client, int From, int To, string?[] Tasks, int Hours, decimal Stage, int[] Billed);
}
