using System.Globalization;
using System.Text.Json.Nodes;

namespace Assignum.Simulators;

/// <summary>Makes the events of systems: the same seed gives the same ones.</summary>
static class Happenings
{
    /// <summary>Fills the feed of a system with the days up to one.</summary>
    internal static void Fill(StandIn system, DateOnly first, DateOnly last, int seed)
    {
        var chance = new Random(seed);
        system.Feed.Types = system.System switch
        {
            "web-shop" => ["sales-invoice", "sales-credit-note"], "till" => ["takings"], "stock-room" => ["stock-adjustment",
                "stock-transfer"],
            "card-payments" => ["payout"], "crew-planner" => ["project-usage"], _ => [],
        };
        var number = 20_000;
        for (var day = first; day <= last; day = day.AddDays(1))
            switch (system.System)
            {
                case "web-shop":
                    for (var left = chance.Next(2, 6); left > 0; left--)
                        system.Feed.Add(Order(system, chance, day, ++number));
                    break;
                case "till" when day.DayOfWeek != DayOfWeek.Sunday:
                    system.Feed.Add(TillDay(system, chance, day));
                    break;
                case "stock-room" when day.DayOfWeek is DayOfWeek.Friday:
                    system.Feed.Add(Count(system, chance, day, ++number));
                    break;
                case "card-payments" when day.DayOfWeek is DayOfWeek.Thursday:
                    system.Feed.Add(Payout(chance, day, ++number));
                    break;
                case "crew-planner" when day.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday):
                    system.Feed.Add(CrewDay(system, chance, day, ++number));
                    break;
            }
    }

    /// <summary>Adds as many orders as are asked for, spread over some days.</summary>
    internal static void Orders(StandIn shop, DateOnly first, int days, int count, int seed)
    {
        var chance = new Random(seed);
        for (var i = 0; i < count; i++)
            shop.Feed.Add(Order(shop, chance, first.AddDays(i * days / count), 100_000 + i));
    }

    static JsonObject Order(StandIn shop, Random chance, DateOnly day, int number)
    {
        var customers = shop.Lists["customers"].All;
        var all = shop.Lists["items"].All;
        // A few are sold that nobody here knows.
        var articles = all.Where(i => i.Kind is "stock" && i.Code.StartsWith(number % 40 == 17 ? "S-2" : "S-1", StringComparison.Ordinal)).ToList();
        var lines = new JsonArray();
        var taxes = new SortedDictionary<string, decimal>(StringComparer.Ordinal);
        void Line(Entry article, int quantity)
        {
            lines.Add(new JsonObject { ["item"] = article.Code, ["name"] = article.Name, ["category"] = article.Category, ["quantity"] = quantity,
                ["price"] = article.Price, ["taxCode"] = article.Use });
            taxes[article.Use!] = taxes.GetValueOrDefault(article.Use!) + (quantity * article.Price!.Value);
        }
        for (var left = chance.Next(1, 4); left > 0; left--)
            Line(articles[chance.Next(articles.Count)], chance.Next(1, 5));
        var delivery = shop.Lists["items"].All.Where(i => i.Category == "C-SHIP").ToList();
        if (delivery.Count > 0)
            Line(delivery[chance.Next(4) == 0 ? 1 % delivery.Count : 0], 1);
        var rates = shop.Lists["tax-codes"].All.ToDictionary(t => t.Code, t => t.Rate ?? 0);
        var credit = chance.Next(25) == 0;
        return new JsonObject
        {
            ["id"] = FormattableString.Invariant($"O-{number}"), ["number"] = FormattableString.Invariant($"O-{number}"),
            ["type"] = credit ? "sales-credit-note" : "sales-invoice", ["at"] = Moment(day, chance), ["party"] = customers[chance.Next(customers.Count)].Code,
            ["location"] = "SHOP", ["pricesInclude"] = "tax", ["text"] = credit ? "Sent back" : "Order of the web shop",
            ["tax"] = new JsonArray([.. taxes.Where(t => rates.GetValueOrDefault(t.Key) > 0).Select(t => new JsonObject { ["taxCode"] = t.Key,
                ["amount"] = Math.Round(t.Value * rates[t.Key] / (100 + rates[t.Key]), 2, MidpointRounding.AwayFromZero) })]),
            ["lines"] = lines,
        };
    }

    static JsonObject TillDay(StandIn till, Random chance, DateOnly day)
    {
        var articles = till.Lists["items"].All;
        var lines = new JsonArray();
        var total = 0m;
        for (var left = chance.Next(2, 6); left > 0; left--)
        {
            var (article, quantity) = (articles[chance.Next(articles.Count)], chance.Next(1, 6));
            lines.Add(new JsonObject { ["item"] = article.Code, ["quantity"] = quantity, ["price"] = article.Price, ["taxCode"] = article.Use });
            total += quantity * article.Price!.Value;
        }
        var card = Math.Round(total * 0.6m, 2);
        return new JsonObject
        {
            // The shop shuts its drawer after midnight on long days; the day is the one it was opened on.
            ["id"] = FormattableString.Invariant($"Z-{day:yyyyMMdd}"), ["type"] = "takings",
                ["at"] = FormattableString.Invariant($"{day.AddDays(1):yyyy-MM-dd}T00:40:00+01:00"),
            ["location"] = "SHOP", ["pricesInclude"] = "tax", ["text"] = "Drawer of the day", ["lines"] = lines,
            ["tenders"] = new JsonArray(new JsonObject { ["moneyAccount"] = "SHOP-CASH", ["amount"] = total - card },
                new JsonObject { ["method"] = "card", ["amount"] = card }),
        };
    }

    static JsonObject Count(StandIn room, Random chance, DateOnly day, int number)
    {
        var articles = room.Lists["items"].All;
        return new JsonObject
        {
            ["id"] = FormattableString.Invariant($"CNT-{number}"), ["type"] = "stock-adjustment", ["at"] = Moment(day, chance), ["location"] = "NORTH",
            ["text"] = "Count of the week", ["lines"] = new JsonArray(new JsonObject { ["item"] = articles[chance.Next(articles.Count)].Code,
                ["quantity"] = -chance.Next(1, 3), ["reason"] = "count" }),
        };
    }

    // Who worked where, and how long.
    static JsonObject CrewDay(StandIn planner, Random chance, DateOnly day, int number)
    {
        var (people, sites) = (planner.Lists["people"].All, planner.Lists["projects"].All);
        var site = sites[chance.Next(sites.Count)].Code.Split('/');
        var used = new JsonObject
        {
            ["id"] = FormattableString.Invariant($"DAY-{number}"), ["type"] = "project-usage", ["at"] = Moment(day, chance), ["project"] = site[0],
            ["text"] = "Crew of the day",
            ["lines"] = new JsonArray([.. people.Where(_ => chance.Next(3) > 0).DefaultIfEmpty(people[0]).Select(person => new JsonObject
            {
                ["person"] = person.Code, ["quantity"] = chance.Next(4, 18) / 2m,
            })]),
        };
        if (site.Length > 1)
            used["task"] = site[1];
        return used;
    }

    static JsonObject Payout(Random chance, DateOnly day, int number)
    {
        var receipts = chance.Next(300, 900) + 0.25m;
        return new JsonObject
        {
            ["id"] = FormattableString.Invariant($"PO-{number}"), ["type"] = "payout", ["at"] = Moment(day, chance), ["method"] = "card",
                ["moneyAccount"] = "MAIN",
            ["text"] = "Cards of the new shop", ["lines"] = new JsonArray(new JsonObject { ["kind"] = "receipt", ["amount"] = receipts },
                new JsonObject { ["kind"] = "fee", ["amount"] = Math.Round(receipts * 0.014m, 2) + 1.5m }),
        };
    }

    static string Moment(DateOnly day, Random chance) =>
        string.Create(CultureInfo.InvariantCulture, $"{day:yyyy-MM-dd}T{chance.Next(7, 22):00}:{chance.Next(60):00}:{chance.Next(60):00}+01:00");
}
