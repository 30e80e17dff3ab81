using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.DemoEvents.Year;

/// <summary>A time in which one edition was in force.</summary>
/// <param name="From">Its first day.</param>
/// <param name="Note">What its releaser wrote.</param>
/// <param name="Book">The rulebook that was released.</param>
sealed record Stage(DateOnly From, string Note, Rulebook Book);

/// <summary>The editions of thirteen months: an early one with its mistakes, the one that mended them, and one with a group that lacks a rule.</summary>
static class Stages
{
    internal static readonly string[] BoughtAbroad = ["TREE-13", "TREE-14", "TREE-15"];

    /// <summary>Saplings that nobody has asked for since the first day: their stock stands where it was put.</summary>
    internal static readonly string[] Unsold = ["TREE-11", "TREE-12"];

    /// <summary>Whether stock of an item goes ways of its own.</summary>
    internal static bool IsApart(string item) => BoughtAbroad.Contains(item) || Unsold.Contains(item);

    internal static DateOnly MendedFrom(DateOnly first) => first.AddMonths(4);

    internal static DateOnly BulbsFrom(DateOnly last) => new DateOnly(last.Year, last.Month, 1).AddMonths(-1);

    internal static IReadOnlyList<Stage> Of(Rulebook book, DateOnly first, DateOnly last) =>
    [
        new(first, "First settings of the nurseries.", Early(book)),
        new(MendedFrom(first), "Saplings from abroad are stock, all saplings on 1310; receivables no longer by hand.", book),
        new(BulbsFrom(last), "Bulbs, new this autumn.", WithBulbs(book)),
    ];

    // What was bought abroad went to cost at once, the other saplings to an account that has been given up since, and anybody could write on receivables.
    static Rulebook Early(Rulebook book) => book with
    {
        Accounts = [.. book.Accounts.Select(a => a.Number == "1100" ? a with { Manual = ManualPolicy.Open } : a)],
        Rules =
        [
            .. book.Rules.Select(r => r.Purpose == Purpose.Inventory && r.Account == "1310" ? r with { Account = "1360" } : r),
            .. BoughtAbroad.Select(item => new Rule { Id = "early-" + item, Purpose = Purpose.Inventory, When = [new FactValue(Fact.Item, item)],
                Account = "5020" }),
        ],
    };

    internal static Rulebook WithBulbs(Rulebook book) => book with
    {
        ItemGroups = [.. book.ItemGroups, new Group("BULBS", "Bulbs", "REDUCED")],
        Items =
        [
            .. book.Items, Bulb("BULB-01", "Snowdrop, ten bulbs", 1.10m), Bulb("BULB-02", "Wild daffodil, ten bulbs", 1.60m), Bulb("BULB-03",
                "Squill, ten bulbs", 0.90m),
        ],
        Rules =
        [
            .. book.Rules,
            new Rule { Id = "bulbs-revenue", Purpose = Purpose.Revenue, When = [new FactValue(Fact.ItemGroup, "BULBS")], Account = "4010" },
            new Rule { Id = "bulbs-stock", Purpose = Purpose.Inventory, When = [new FactValue(Fact.ItemGroup, "BULBS")], Account = "1320" },
        ],
    };

    static Item Bulb(string code, string name, decimal cost) => new() { Code = code, Name = name, Kind = ItemKind.Stock, Group = "BULBS", Cost = cost };
}
