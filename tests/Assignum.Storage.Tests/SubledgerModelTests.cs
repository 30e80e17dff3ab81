using System.Globalization;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Storage.Subledgers;

namespace Assignum.Storage.Tests;

/// <summary>
/// Random sequences of sales, purchases, payments, deposits, cards, payouts, charges, settlements, counts, transfers and takings back, against books kept on paper: dictionaries of open
/// items, stock and receipts. At every step they agree, and every subledger is what stands on its control accounts.
/// </summary>
public sealed class SubledgerModelTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly First = new(2026, 1, 2);
    static readonly (string Item, decimal Cost)[] Items = [("TREE-01", 4.2m), ("POT-12", 1.4m)];
    static readonly string[] Customers = ["C-10", "C-11"], Suppliers = ["S-12", "S-20"];

    /// <summary>What one event changed on paper: so it can be taken back, and what stood on any day is its sum up to then.</summary>
    sealed record Change(DateOnly Day, string Of, string Key, decimal By);

    sealed class Paper(Random chance)
    {
        readonly List<Change> changes = [];
        readonly Dictionary<string, DateOnly> dues = [];
        readonly Dictionary<string, (string Json, List<Change> Changes)> events = [];
        readonly HashSet<DateOnly> used = [];
        int number;
        DateOnly due;

        internal Dictionary<string, decimal> Standing(string of, DateOnly? on = null) => changes.Where(c => c.Of == of && (on is null || c.Day <= on))
            .GroupBy(c => c.Key).Select(g => (g.Key, Sum: g.Sum(c => c.By))).Where(s => s.Sum != 0).ToDictionary(s => s.Key, s => s.Sum);

        DateOnly Today => First.AddDays(number);

        // No two items are due on one day, so that the oldest is one.
        DateOnly DueFrom(DateOnly day)
        {
            var due = day.AddDays(chance.Next(60));
            while (!used.Add(due))
                due = due.AddDays(1);
            return due;
        }

        List<string> Oldest(string of, string party, int side) => [.. Standing(of).Where(s => s.Key.StartsWith(party + "/", StringComparison.Ordinal) && Math.Sign(s.Value) == side)
            .Select(s => s.Key).OrderBy(key => dues[key])];

        internal string Next()
        {
            number++;
            due = DueFrom(Today);
            var (customer, supplier) = (Customers[chance.Next(2)], Suppliers[chance.Next(2)]);
            var (item, cost) = Items[chance.Next(2)];
            var quantity = chance.Next(1, 6);
            return chance.Next(19) switch
            {
                0 or 1 => Opens("sales-invoice", "receivables", customer, 10 * quantity, Line(item, quantity, 10, "Z0", ",\"shipped\":true"), ("stock", item + "@NORTH", -quantity)),
                2 => Opens("sales-credit-note", "receivables", customer, -10 * quantity, Line(item, quantity, 10, "Z0", FormattableString.Invariant($",\"returned\":true,\"unitCost\":{cost}")), ("stock", item + "@NORTH", quantity)),
                3 => Write("purchase-receipt", FormattableString.Invariant($$""" "party":"{{supplier}}","location":"NORTH","lines":[{"item":"{{item}}","quantity":{{quantity}},"unitCost":{{cost}}}] """),
                    [("stock", item + "@NORTH", quantity), ("waits", $"{supplier}/{item}", quantity)]),
                4 => Opens("purchase-invoice", "payables", supplier, -cost * quantity, Line(item, quantity, cost, "E0", ""), ("waits", $"{supplier}/{item}", -quantity)),
                5 or 6 => Pays("customer-payment", "receivables", customer, 1, chance.Next(1, 60)),
                7 => Pays("supplier-payment", "payables", supplier, -1, chance.Next(1, 40)),
                8 => Pays("refund", "receivables", customer, -1, chance.Next(1, 20)),
                9 => Settles(customer),
                10 => Deposit(customer, chance.Next(5, 30)),
                11 => chance.Next(2) == 0
                    ? Write("stock-adjustment", $$""" "location":"NORTH","lines":[{"item":"{{item}}","quantity":-{{quantity}},"reason":"damage"}] """, [("stock", item + "@NORTH", -quantity)])
                    : Write("stock-transfer", $$""" "location":"NORTH","toLocation":"SHOP","lines":[{"item":"{{item}}","quantity":{{quantity}}}] """,
                        [("stock", item + "@NORTH", -quantity), ("stock", item + "@SHOP", quantity)]),
                12 => Owes("late-charge", customer, "\"fee\":" + quantity, quantity),
                13 => Owes("opening-item", customer, $"\"kind\":\"receivable\",\"amount\":{quantity}", quantity),
                14 => chance.Next(2) == 0
                    ? Write("shipment", $$""" "location":"NORTH","lines":[{"item":"{{item}}","quantity":{{quantity}}}] """, [("stock", item + "@NORTH", -quantity)])
                    : Write("shipment-return", FormattableString.Invariant($$""" "location":"NORTH","lines":[{"item":"{{item}}","quantity":{{quantity}},"unitCost":{{cost}}}] """),
                        [("stock", item + "@NORTH", quantity)]),
                15 => Write("takings", $$""" "location":"NORTH","lines":[{{Line(item, quantity, 10, "Z0", ",\"shipped\":true")}}],"tenders":[{"method":"card","amount":{{10 * quantity}}}] """,
                    [("stock", item + "@NORTH", -quantity)]),
                16 => Write("gift-card-used", $$""" "party":"{{customer}}","amount":{{quantity}} """, [.. TakesOldest("receivables", customer, 1, quantity)]),
                17 => Write("payout", $$""" "connection":"card-payments","method":"card","moneyAccount":"MAIN","lines":[{"kind":"receipt","amount":{{10 * quantity}}},{"kind":"fee","amount":1}] """, []),
                _ => TakesBack(),
            };
        }

        string Owes(string type, string party, string rest, decimal amount)
        {
            dues[$"{party}/E{number}"] = due;
            return Write(type, $"\"party\":\"{party}\",{rest}", [("receivables", $"{party}/E{number}", amount)]);
        }

        static string Line(string item, int quantity, decimal price, string tax, string more) =>
            FormattableString.Invariant($$"""{"item":"{{item}}","quantity":{{quantity}},"price":{{price}},"taxCode":"{{tax}}"{{more}}}""");

        string Opens(string type, string of, string party, decimal amount, string line, params (string, string, decimal)[] goods)
        {
            dues[$"{party}/E{number}"] = due;
            return Write(type, $$""" "party":"{{party}}","location":"NORTH","lines":[{{line}}] """, [(of, $"{party}/E{number}", amount), .. goods]);
        }

        string Pays(string type, string of, string party, int side, decimal amount)
        {
            var oldest = Oldest(of, party, side);
            // Every other one names what it pays.
            if (chance.Next(2) == 0 && oldest.Count > 0)
            {
                var key = oldest[chance.Next(oldest.Count)];
                var part = Math.Min(amount, Math.Abs(Standing(of)[key]));
                return Write(type, $$""" "party":"{{party}}","moneyAccount":"MAIN","amount":{{amount}},"settles":[{"event":"{{key[(party.Length + 1)..]}}","amount":{{part}}}] """,
                    [(of, key, -side * part), .. Left(of, party, -side * (amount - part))]);
            }
            return Write(type, $$""" "party":"{{party}}","moneyAccount":"MAIN","amount":{{amount}} """, [.. TakesOldest(of, party, side, amount)]);
        }

        // What is left stands on account, as an item of the event itself.
        (string, string, decimal)[] Left(string of, string party, decimal left)
        {
            dues[$"{party}/E{number}"] = due;
            return left == 0 ? [] : [(of, $"{party}/E{number}", left)];
        }

        IEnumerable<(string, string, decimal)> TakesOldest(string of, string party, int side, decimal amount)
        {
            foreach (var key in Oldest(of, party, side))
            {
                if (amount == 0)
                    break;
                var part = Math.Min(amount, Math.Abs(Standing(of)[key]));
                amount -= part;
                yield return (of, key, -side * part);
            }
            foreach (var left in Left(of, party, -side * amount))
                yield return left;
        }

        string Settles(string party)
        {
            if (Oldest("receivables", party, 1) is not [var owes, ..] || Oldest("receivables", party, -1) is not [var owed, ..])
                return Deposit(party, 7);
            var amount = Math.Min(Standing("receivables")[owes], -Standing("receivables")[owed]);
            string Of(string key, decimal by) => FormattableString.Invariant($$"""{"event":"{{key[(party.Length + 1)..]}}","of":"receivable","amount":{{by}}}""");
            return Write("settlement", $$""" "party":"{{party}}","lines":[{{Of(owes, amount)}},{{Of(owed, -amount)}}] """, [("receivables", owes, -amount), ("receivables", owed, amount)]);
        }

        string Deposit(string party, decimal amount)
        {
            if (Oldest("deposits", party, -1) is [var oldest, ..] && chance.Next(2) == 0)
            {
                var part = Math.Min(amount, -Standing("deposits")[oldest]);
                return Write("deposit-applied", $$""" "party":"{{party}}","amount":{{part}} """, [("deposits", oldest, part), .. TakesOldest("receivables", party, 1, part)]);
            }
            dues[$"{party}/E{number}"] = due;
            return Write("deposit-received", $$""" "party":"{{party}}","amount":{{amount}},"moneyAccount":"MAIN" """, [("deposits", $"{party}/E{number}", -amount)]);
        }

        string TakesBack()
        {
            if (events.Count == 0)
                return Deposit(Customers[0], 9);
            var (id, (json, made)) = events.ElementAt(chance.Next(events.Count));
            events.Remove(id);
            changes.AddRange(made.Select(c => c with { Day = Today, By = -c.By }));
            var first = JsonDocument.Parse(json).RootElement.GetProperty("date").GetString()!;
            return json.Replace($"\"date\":\"{first}\"", $"\"date\":\"{Today:yyyy-MM-dd}\",\"taxDate\":\"{first}\",\"revision\":2,\"withdrawn\":true", StringComparison.Ordinal);
        }

        string Write(string type, string rest, IReadOnlyList<(string Of, string Key, decimal By)> made)
        {
            var json = FormattableString.Invariant($$"""{"id":"E{{number}}","type":"{{type}}","date":"{{Today:yyyy-MM-dd}}","dueDate":"{{due:yyyy-MM-dd}}",{{rest.Trim()}}}""");
            List<Change> own = [.. made.Select(m => new Change(Today, m.Of, m.Key, m.By))];
            events[$"E{number}"] = (json, own);
            changes.AddRange(own);
            return json;
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    [InlineData(24)]
    [InlineData(54)]
    public async Task The_books_are_what_the_paper_says_at_every_step_and_on_any_day(int seed)
    {
        var chance = new Random(seed);
        var company = await nursery.OpenCompany("PAPER" + seed);
        var paper = new Paper(chance);
        for (var delivery = 0; delivery < 24; delivery++)
        {
            var batch = Enumerable.Range(0, chance.Next(1, 5)).Select(_ => paper.Next()).ToList();
            var posted = await nursery.Posting.Post(company, nursery.User, [.. batch.Select(json => Nursery.Event(json))], default);
            Assert.True(posted.All(p => p.Fate == PostingFate.Landed), string.Join("\n", batch.Zip(posted, (json, p) => $"{p.Fate} {p.WhyNot}: {json}")));
            await Agrees(company, paper, null);
        }
        foreach (var day in Enumerable.Range(0, 6).Select(_ => First.AddDays(chance.Next(70))))
            await Agrees(company, paper, day);
    }

    async Task Agrees(int company, Paper paper, DateOnly? on)
    {
        var day = on ?? new DateOnly(2026, 12, 31);
        var (items, stock) = (new OpenItemStore(nursery.Source), new StockStore(nursery.Source));
        var receivables = await items.Of(company, "receivables", null, day, 1000, default);
        Assert.Equal(Sorted(paper.Standing("receivables", on)), Sorted(receivables.Where(i => i.Item.Purpose == "receivable").Select(i => ($"{i.Party}/{i.Item.SourceId}", i.Item.Open))));
        Assert.Equal(Sorted(paper.Standing("deposits", on)), Sorted(receivables.Where(i => i.Item.Purpose == "customer-deposit").Select(i => ($"{i.Party}/{i.Item.SourceId}", i.Item.Open))));
        Assert.Equal(Sorted(paper.Standing("payables", on)), Sorted((await items.Of(company, "payables", null, day, 1000, default)).Select(i => ($"{i.Party}/{i.Item.SourceId}", i.Item.Open))));
        Assert.Equal(receivables.Sum(i => i.Item.Company), (await items.Parties(company, "receivables", day, AgedBy.Due, default)).Sum(p => p.Open));

        var standing = await stock.All(company, day, default);
        Assert.Equal(Sorted(paper.Standing("stock", on)), Sorted(standing.Where(s => s.Quantity != 0).Select(s => ($"{s.Item}@{s.Location}", s.Quantity))));
        // Everything comes at the cost its item has, so that stock is worth its quantity, and never less than nothing while there is any.
        Assert.All(standing, s => Assert.Equal(s.Quantity * Items.Single(i => i.Item == s.Item).Cost, s.Value));
        Assert.Equal(Sorted(paper.Standing("waits", on)), Sorted((await stock.Receipts(company, day, default)).GroupBy(r => $"{r.Party}/{r.Item}")
            .Select(g => (g.Key, By: g.Sum(r => r.Waits))).Where(w => w.By != 0)));

        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        var compared = await new ControlStore(nursery.Source).Compare(company, [.. Nursery.Book.Accounts.Where(a => a.Control is not null)
            .Select(a => (labels.Account(a.Number)!.Value, a.Control!.Value.Word()))], day, default);
        Assert.All(compared, d => Assert.Equal((d.Of, d.Day, d.Ledger, false), (d.Of, d.Day, d.Subledger, d.Apart)));
        Assert.Equal(receivables.Sum(i => i.Item.Company), compared.Where(d => d.Of == "receivables").Sum(d => d.Ledger));
    }

    static IEnumerable<string> Sorted(Dictionary<string, decimal> of) => Sorted(of.Select(o => (o.Key, o.Value)));

    static IEnumerable<string> Sorted(IEnumerable<(string Key, decimal By)> of) => of.Select(o => $"{o.Key} {o.By.ToString("0.##", CultureInfo.InvariantCulture)}").Order(StringComparer.Ordinal);
}
