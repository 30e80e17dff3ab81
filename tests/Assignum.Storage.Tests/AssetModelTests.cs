using Assignum.Storage.Assets;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Fixed assets from bill to scrap: the register equals its control accounts at every step, what a month is depreciated by is posted once, and a life
/// sums to cost less residual.</summary>
public sealed class AssetModelTests(Nursery nursery) : IClassFixture<Nursery>
{
    AssetStore Store => new(nursery.Source, nursery.Posting, new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept));

    Task<StoredRulebook> Book(int company) => nursery.Rulebooks.Load(company, null, default);

    Task<decimal> Stands(int company, params string[] accounts) => nursery.Ask<decimal>($"select coalesce(sum(l.amount), 0) from line l join account a on a.id = l.account_id where l.company_id = {company} and a.number in ('{string.Join("','", accounts)}')");

    async Task Post(int company, string json) => Assert.All(await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default),
        p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));

    async Task<decimal> Depreciate(int company, DateOnly to)
    {
        var proposed = await Store.Propose(company, await Store.All(company, await Book(company), to, default), to, 2, default);
        if (await Store.Made(company, proposed, to, default) is not { } made)
            return 0;
        Assert.Null((await Store.Post(company, nursery.User, made, default)).WhyNot);
        return made.Lines.Sum(l => l.Amount);
    }

    async Task EqualsItsControlAccounts(int company, DateOnly on)
    {
        var register = await Store.All(company, await Book(company), on, default);
        Assert.Equal(await Stands(company, "1610", "1620"), register.Sum(a => a.Cost));
        Assert.Equal(-await Stands(company, "1615", "1625"), register.Sum(a => a.Accumulated));
    }

    [Fact]
    public async Task A_van_is_bought_depreciated_by_month_and_sold_and_the_register_equals_its_control_accounts_all_the_way()
    {
        var company = await nursery.OpenCompany("VAN");
        await Post(company, """{"id":"BUY","type":"purchase-invoice","date":"2026-01-16","party":"S-10","lines":[{"asset":"VAN-1","price":22000,"taxCode":"S20"}]}""");
        await EqualsItsControlAccounts(company, new(2026, 1, 31));

        // 18,000 over 60 months are 300 a month; of January sixteen days of thirty-one.
        Assert.Equal(154.84m, await Depreciate(company, new(2026, 1, 31)));
        Assert.Equal(0, await Depreciate(company, new(2026, 1, 31)));
        for (var month = 2; month <= 6; month++)
        {
            Assert.Equal(300, await Depreciate(company, new DateOnly(2026, month, 1).AddMonths(1).AddDays(-1)));
            await EqualsItsControlAccounts(company, new DateOnly(2026, month, 1).AddMonths(1).AddDays(-1));
        }
        await Post(company, """{"id":"SELL","type":"sales-invoice","date":"2026-07-01","party":"C-10","lines":[{"asset":"VAN-1","price":19000,"taxCode":"S20"}]}""");
        await Post(company, """{"id":"GONE","type":"asset-disposal","date":"2026-07-01","asset":"VAN-1","cost":22000,"accumulated":1654.84}""");
        await EqualsItsControlAccounts(company, new(2026, 7, 1));
        Assert.Equal((0, 0), (await Stands(company, "1610"), await Stands(company, "1615")));
        // Sold for 19,000, in the books at 20,345.16.
        Assert.Equal(1_345.16m, await Stands(company, "7040"));
        var van = (await Store.All(company, await Book(company), new(2026, 7, 31), default)).Single(a => a.Asset.Code == "VAN-1");
        Assert.True(van.IsGone);
        Assert.Equal(0, await Depreciate(company, new(2026, 7, 31)));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task Bought_more_transferred_taken_back_and_depreciated_in_any_order_the_register_equals_its_control_accounts(int seed)
    {
        var (chance, company, day) = (new Random(seed), await nursery.OpenCompany("ASSETS" + seed), new DateOnly(2026, 1, 3));
        var cost = new Dictionary<string, decimal> { ["VAN-1"] = 0, ["VAN-2"] = 0, ["GLASS-1"] = 0 };
        var bought = new List<(string Json, string Asset, decimal Price)>();
        for (var step = 0; step < 30; step++)
        {
            day = day.AddDays(chance.Next(1, 12));
            var asset = cost.Keys.ElementAt(chance.Next(3));
            switch (chance.Next(5))
            {
                case 0 or 1:
                    var price = chance.Next(60_000, 900_000) / 100m;
                    bought.Add((FormattableString.Invariant($$"""{"id":"B{{step}}","type":"purchase-invoice","date":"{{day:yyyy-MM-dd}}","party":"S-10","lines":[{"asset":"{{asset}}","price":{{price}},"taxCode":"S20"}]"""), asset, price));
                    await Post(company, bought[^1].Json + "}");
                    cost[asset] += price;
                    break;
                case 2 when bought.Count > 0:
                    // A bill is revised to another price.
                    var (json, of, was) = bought[^1];
                    bought.RemoveAt(bought.Count - 1);
                    var more = was + 100;
                    await Post(company, json.Replace(FormattableString.Invariant($"\"price\":{was}"), FormattableString.Invariant($"\"price\":{more}"), StringComparison.Ordinal) + ""","revision":2}""");
                    cost[of] += 100;
                    break;
                default:
                    await Depreciate(company, day);
                    break;
            }
            await EqualsItsControlAccounts(company, day);
            Assert.Equal(cost, (await Store.All(company, await Book(company), day, default)).ToDictionary(a => a.Asset.Code, a => a.Cost));
        }
        Assert.All(await Store.All(company, await Book(company), day, default), a => Assert.InRange(a.Accumulated, 0, a.Cost));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
    }

    [Fact]
    public async Task What_goes_off_an_asset_has_to_be_there_also_when_a_disposal_is_revised_or_comes_with_the_bill()
    {
        var company = await nursery.OpenCompany("OFF");
        await Post(company, """{"id":"BUY","type":"purchase-invoice","date":"2026-01-16","party":"S-10","lines":[{"asset":"VAN-1","price":1000,"taxCode":"S20"}]}""");
        Assert.Contains("VAN-1", await WhyNot(Off("GONE", 1, 1200, 0)), StringComparison.Ordinal);
        Assert.Contains("stands at a cost of 1,000.00 EUR, and 1,200.00 EUR of it goes", await WhyNot(Off("GONE", 2, 1200, 0)), StringComparison.Ordinal);
        Assert.Contains("is depreciated by 0.00 EUR, and 50.00 EUR", await WhyNot(Off("GONE", 3, 600, 50)), StringComparison.Ordinal);
        Assert.Null(await WhyNot(Off("GONE", 4, 600, 0)));
        // What the earlier revision took is there again for the next; one that takes too much leaves it as it was.
        Assert.Null(await WhyNot(Off("GONE", 5, 900, 0)));
        Assert.NotNull(await WhyNot(Off("GONE", 6, 1100, 0)));
        Assert.Equal(100, await Stands(company, "1610"));
        Assert.Contains("VAN-1 itself", await WhyNot("""{"id":"SELF","type":"asset-transfer","date":"2026-07-01","from":"VAN-1","to":"VAN-1","cost":10}"""), StringComparison.Ordinal);

        // A bill and what goes of it, sent together.
        var posted = await nursery.Posting.Post(company, nursery.User, [Nursery.Event(
            """{"id":"MORE","type":"purchase-invoice","date":"2026-07-02","party":"S-10","lines":[{"asset":"VAN-2","price":500,"taxCode":"S20"}]}"""),
            Nursery.Event("""{"id":"ON","type":"asset-transfer","date":"2026-07-02","from":"VAN-2","to":"VAN-1","cost":500}""")], default);
        Assert.All(posted, p => Assert.Equal(PostingFate.Landed, p.Fate));

        static string Off(string id, int revision, decimal cost, decimal accumulated) => FormattableString.Invariant(
            $$"""{"id":"{{id}}","type":"asset-disposal","date":"2026-07-01","revision":{{revision}},"asset":"VAN-1","cost":{{cost}},"accumulated":{{accumulated}}}""");

        async Task<string?> WhyNot(string json)
        {
            var one = (await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default))[0];
            return one.Fate == PostingFate.Landed ? null : one.WhyNot;
        }
    }

    [Theory]
    [InlineData(3)]
    [InlineData(4)]
    public async Task However_often_assets_are_bought_transferred_disposed_of_revised_and_taken_back_what_goes_was_there(int seed)
    {
        var (chance, company) = (new Random(seed), await nursery.OpenCompany("MOVED" + seed));
        string[] assets = ["VAN-1", "VAN-2", "GLASS-1"];
        // The model: what every event that stands moves, by its id.
        var moved = new Dictionary<string, (string Json, int Revision, Dictionary<string, decimal> By)>();
        decimal Cost(string asset, string? but = null) => moved.Where(m => m.Key != but).Sum(m => m.Value.By.GetValueOrDefault(asset));
        for (var step = 0; step < 60; step++)
        {
            var (asset, other, amount) = (assets[chance.Next(3)], assets[chance.Next(3)], chance.Next(1, 40) * 50m);
            var known = moved.Keys.Order(StringComparer.Ordinal).ElementAtOrDefault(chance.Next(moved.Count + 1));
            var kind = chance.Next(4);
            if (kind == 3 && known is not null)
            {
                // Only what is not needed by now is taken back: the books object to what goes, not to what never came.
                var (json, revision, by) = moved[known];
                if (by.All(b => Cost(b.Key, known) >= 0))
                {
                    await Post(company, json.Replace("\"revision\":" + revision, $"\"revision\":{revision + 1},\"withdrawn\":true", StringComparison.Ordinal));
                    moved.Remove(known);
                }
            }
            else
            {
                // A new one, or a disposal that is told anew.
                var again = kind == 1 && known is not null && moved[known].Json.Contains("disposal", StringComparison.Ordinal);
                var (id, revision) = again ? (known!, moved[known!].Revision + 1) : ("M" + step, 1);
                var (json, by) = kind switch
                {
                    0 => ($$"""{"id":"{{id}}","type":"purchase-invoice","date":"2026-02-01","revision":{{revision}},"party":"S-10","lines":[{"asset":"{{asset}}","price":{{amount}},"taxCode":"S20"}]}""",
                        new Dictionary<string, decimal> { [asset] = amount }),
                    1 => ($$"""{"id":"{{id}}","type":"asset-disposal","date":"2026-02-01","revision":{{revision}},"asset":"{{asset}}","cost":{{amount}}}""",
                        new() { [asset] = -amount }),
                    _ => ($$"""{"id":"{{id}}","type":"asset-transfer","date":"2026-02-01","revision":{{revision}},"from":"{{asset}}","to":"{{other}}","cost":{{amount}}}""",
                        asset == other ? [] : new() { [asset] = -amount, [other] = amount }),
                };
                var lands = kind == 0 || (Cost(asset, again ? id : null) >= amount && !(kind > 1 && asset == other));
                var one = (await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default))[0];
                Assert.True(lands == (one.Fate == PostingFate.Landed), $"Step {step}: {json}: {one.WhyNot}");
                if (lands)
                    moved[id] = (json, revision, by);
            }
            await EqualsItsControlAccounts(company, new(2026, 2, 1));
            Assert.Equal(assets.Select(a => Cost(a)), await Costs());
        }

        async Task<IEnumerable<decimal>> Costs()
        {
            var all = (await Store.All(company, await Book(company), new(2026, 2, 1), default)).ToDictionary(a => a.Asset.Code, a => a.Cost);
            return assets.Select(a => all[a]);
        }
    }
}
