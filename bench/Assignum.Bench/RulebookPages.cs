using System.Diagnostics;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Bench;

/// <summary>The workbench of a rulebook with 200 item groups, 100 party groups, 50,000 items and 50,000 rules: pages, a changed cell, a release.</summary>
static class RulebookPages
{
    const int ItemGroups = 200, PartyGroups = 100, Items = 50_000, Parties = 2_000, Rules = 50_000, Rounds = 10, Cells = 100;
    const string Grid = "rules/revenue?rung=itemGroup%2BpartyGroup";
    static readonly string[] Paths =
    [
        Grid, Grid + "&handler=cells", "rules/revenue?handler=meters", "rules/revenue?rung=item&handler=cells", "rules/revenue/list", "rules/revenue/gaps", "rules/revenue/ladder", "rules/revenue/ladder?r=itemGroup&r=itemGroup%2BpartyGroup&r=item&r=default", "exceptions",
        "where?q=i-77", "groups/item", "groups/item?q=77", "groups/item?group=G-7&view=lands", "tax", "editions", "draft-state",
    ];

    internal static async Task Run()
    {
        var book = Book();
        await using var database = await BenchDatabase.Make(book);
        await PagesOverHttp.Measure(database, "rules", Paths, "a median of at most 300 ms", Rounds, async (client, token) =>
        {
            await Stages(database, book);
            var (changed, first) = (new List<double>(), new List<double>());
            var stamp = await StampOf(client);
            for (var i = 0; i < 7; i++)
            {
                var watch = new Stopwatch();
                var account = 4000 + i;
                changed.Add(await PagesOverHttp.Post(client, token, "/b/" + Grid + "&handler=cells&stamp=" + stamp, $$"""[{"row":"G-{{150 + i}}","column":"P-{{i}}","text":"{{account}}","own":null,"seen":null,"typed":true}]"""));
                stamp = await StampOf(client);
                watch.Restart();
                await client.GetByteArrayAsync("/b/" + Grid);
                await client.GetByteArrayAsync("/b/rules/revenue?handler=meters");
                first.Add(watch.Elapsed.TotalMilliseconds);
            }
            var block = "[" + string.Join(',', Enumerable.Range(0, Cells).Select(i => $$"""{"row":"G-{{160 + i / 5}}","column":"P-{{10 + i % 5}}","text":"41{{10 + i % 5}}","own":null,"seen":null,"typed":true}""")) + "]";
            Ratio.Say($"rules: a cell changed, answered with what it changes: median {Median(changed):0} ms; the page and all meters after it: median {Median(first):0} ms; a block of {Cells} cells: {await PagesOverHttp.Post(client, token, "/b/" + Grid + "&handler=cells", block):0} ms");
            await Release(database);
        });
    }

    static async Task<string> StampOf(HttpClient client)
    {
        using var grid = System.Text.Json.JsonDocument.Parse(await client.GetStringAsync("/b/" + Grid + "&handler=cells"));
        return grid.RootElement.GetProperty("stamp").GetString()!;
    }

    // Where the time of a saved cell goes, without the page.
    static async Task Stages(BenchDatabase database, Rulebook book)
    {
        var store = new RulebookStore(database.Source);
        var (cells, cache) = (new RuleCells(new Draft(database.Source, store)), new Storage.Posting.RulebookCache(store));
        var released = (await cache.Of(database.Company, default)).Released;
        for (var i = 0; i < 4; i++)
        {
            var times = new List<(string What, double Milliseconds)>();
            var watch = Stopwatch.StartNew();
            FactValue[] when = [new(Fact.ItemGroup, "G-" + (190 + i)), new(Fact.PartyGroup, "P-1")];
            if ((await cells.Set(database.Company, 1, Purpose.Revenue, [new CellEdit(when, "4001", null, null)], new DateOnly(2026, 3, 1), default)).Count > 0)
                throw new InvalidOperationException("The cell was not taken.");
            Took("save");
            var read = await store.Load(database.Company, (await store.StateOf(database.Company, default)).Draft, default);
            Took("read the draft");
            var near = new Storage.Posting.LandingBook(read, released);
            _ = near.Errors;
            Took("errors");
            _ = near.Compiled;
            Took("compile");
            _ = Core.Changes.RulebookDifference.Between(released.Stored.Book, read.Book);
            Took("changes");
            _ = near.Compiled!.Parties;
            foreach (var purpose in new[] { Purpose.Revenue, Purpose.SalesDiscount, Purpose.Receivable })
            {
                _ = Coverage.Of(near.Compiled, purpose, new DateOnly(2026, 3, 1));
                Took("coverage of " + purpose.InWords);
            }
            if (i == 3)
                Ratio.Say($"rules: a saved cell of {book.Rules.Count:N0} rules: {string.Join(", ", times.Select(t => FormattableString.Invariant($"{t.What} {t.Milliseconds:0.0} ms")))}");

            void Took(string what)
            {
                times.Add((what, watch.Elapsed.TotalMilliseconds));
                watch.Restart();
            }
        }
    }

    // A release flips the edition in force: it is measured whole, and what it wrote to the table of rules is counted.
    static async Task Release(BenchDatabase database)
    {
        var rulebooks = new RulebookStore(database.Source);
        var editions = new EditionStore(database.Source, rulebooks);
        await rulebooks.Load(database.Company, null, default);
        var state = await rulebooks.StateOf(database.Company, default);
        await rulebooks.Load(database.Company, state.Draft, default);
        var before = await Written(database);
        var watch = Stopwatch.StartNew();
        if (await editions.Release(database.Company, null, state, "", default) is { } refusal)
            throw new InvalidOperationException(refusal.Message);
        Ratio.Say($"rules: a release of {Rules:N0} rules with 107 changes: {watch.Elapsed.TotalMilliseconds:0} ms, {await Written(database) - before} rows of rules written");
    }

    static async Task<long> Written(BenchDatabase database)
    {
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand("select pg_stat_force_next_flush(); select n_tup_ins + n_tup_upd + n_tup_del from pg_stat_user_tables where relname = 'rule'", connection);
        await using var reader = await command.ExecuteReaderAsync();
        await reader.NextResultAsync();
        await reader.ReadAsync();
        return reader.GetInt64(0);
    }

    static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);

    static Rulebook Book()
    {
        var chance = new Random(3);
        var sample = Sample.Book(1000);
        string Account() => Text(4000 + chance.Next(200));
        var rules = new Dictionary<string, Rule>();
        void Add(params FactValue[] when)
        {
            var rule = new Rule { Id = "r" + rules.Count, Purpose = Purpose.Revenue, When = when, Account = Account() };
            rules.TryAdd(rule.Key, rule);
        }
        Add();
        for (var i = 0; i < ItemGroups - 20; i++)
            Add(new FactValue(Fact.ItemGroup, "G-" + i));
        // Three quarters of the group grid, then exceptions.
        for (var i = 0; i < ItemGroups * 3 / 4; i++)
            for (var p = 0; p < PartyGroups; p++)
                Add(new FactValue(Fact.ItemGroup, "G-" + i), new FactValue(Fact.PartyGroup, "P-" + p));
        while (rules.Count < Rules)
            if (chance.Next(4) == 0)
                Add(new FactValue(Fact.Item, "I-" + chance.Next(Items)), new FactValue(Fact.Party, "C-" + chance.Next(Parties)));
            else
                Add(new FactValue(Fact.Item, "I-" + chance.Next(Items)));
        return sample with
        {
            ItemGroups = [.. Enumerable.Range(0, ItemGroups).Select(i => new Group("G-" + i, "Group " + i, "STANDARD"))], PartyGroups = [.. Enumerable.Range(0, PartyGroups).Select(i => new Group("P-" + i, "Parties " + i, "HOME"))],
            Items = [.. Enumerable.Range(0, Items).Select(i => new Item { Code = "I-" + i, Name = "Item " + i, Kind = ItemKind.Stock, Group = "G-" + i % ItemGroups, Cost = 1 })],
            Parties = [.. Enumerable.Range(0, Parties).Select(i => new Party { Code = "C-" + i, Name = "Customer " + i, Group = "P-" + i % PartyGroups })],
            Rules = [.. rules.Values, .. sample.Rules.Where(r => r.Purpose != Purpose.Revenue).Select(r => r with { Id = "d" + r.Id })],
        };
    }

    static string Text(int number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);
}
