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
}
