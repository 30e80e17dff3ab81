using System.Globalization;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.DemoEvents.Year;

/// <summary>The nurseries' world from its first day to its last: what happens on a day, what it makes happen later, and what lies on the shelves.</summary>
sealed class World(Rulebook book, DateOnly first, DateOnly last, int seed)
{
    readonly Random chance = new(seed);
    readonly SortedDictionary<DateOnly, List<Action>> later = [];
    readonly Dictionary<string, int> numbers = new(StringComparer.Ordinal);
    readonly ILookup<string, Item> byGroup = book.Items.ToLookup(i => i.Group ?? "");
    readonly ILookup<string, Party> parties = book.Parties.ToLookup(p => p.Group ?? "");

    internal DateOnly First => first;
    internal DateOnly Last => last;
    internal DateOnly Day { get; private set; }
    internal Shelves Shelves { get; } = new();
    internal Troubles Troubles { get; } = new();
    internal List<BusinessEvent> Events { get; } = [];

    /// <summary>Lets every day happen: what was to happen on it, then what its people do.</summary>
    internal void Run(Action<World> everyDay)
    {
        for (Day = first; Day <= last; Day = Day.AddDays(1))
        {
            everyDay(this);
            // An act may make others happen on the same day.
            while (later.Remove(Day, out var acts))
                acts.ForEach(act => act());
        }
    }

    internal void Add(BusinessEvent happened) => Events.Add(happened);

    /// <summary>Something happens some days from now, on a weekday.</summary>
    internal void In(int days, Action act)
    {
        var on = Day.AddDays(days);
        while (on.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday)
            on = on.AddDays(1);
        if (!later.TryGetValue(on, out var acts))
            later[on] = acts = [];
        acts.Add(act);
    }

    /// <summary>The next number of a series: "WEB-1042".</summary>
    internal string Number(string series, int from = 1001) =>
        $"{series}-{(numbers[series] = numbers.GetValueOrDefault(series, from - 1) + 1).ToString(CultureInfo.InvariantCulture)}";

    internal bool Once(int inSoMany) => chance.Next(inSoMany) == 0;
    internal int Between(int low, int high) => chance.Next(low, high + 1);
    internal T Pick<T>(IReadOnlyList<T> from) => from[chance.Next(from.Count)];
    internal decimal About(decimal amount, int percent) => Money.Round(amount * (100 + chance.Next(-percent, percent + 1)) / 100, 2);

    internal IReadOnlyList<Item> Items(params ReadOnlySpan<string> groups)
    {
        var found = new List<Item>();
        foreach (var group in groups)
            found.AddRange(byGroup[group]);
        return found;
    }

    internal Item Item(string code) => book.Items.First(i => i.Code == code);
    internal IReadOnlyList<Party> Parties(string group) => [.. parties[group]];
    internal string TaxGroupOf(Item item) => item.TaxGroup ?? book.ItemGroups.First(g => g.Code == item.Group).TaxGroup!;

    /// <summary>How lively the season is, in per cent of a middling day: spring and autumn sell, winter rests.</summary>
    internal int Season => Day.Month switch { 3 or 4 or 5 => 145, 9 or 10 => 125, 12 or 1 or 2 => 60, _ => 95 };

    /// <summary>Euros for one dollar, or one crown, on a day.</summary>
    internal decimal RateOf(string currency) =>
        currency == "USD" ? 0.92m + (Day.DayNumber / 7 % 11 - 5) * 0.003m : 0.0857m + (Day.DayNumber / 7 % 7 - 3) * 0.0002m;
}

/// <summary>What lies where, by item and place.</summary>
sealed class Shelves
{
    readonly Dictionary<(string Item, string Place), decimal> there = [];

    internal decimal Of(string item, string place) => there.GetValueOrDefault((item, place));
    internal void Put(string item, string place, decimal quantity) => there[(item, place)] = Of(item, place) + quantity;
    internal void Take(string item, string place, decimal quantity) => Put(item, place, -quantity);
}
