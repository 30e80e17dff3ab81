using Assignum.Core.Rates;
using Assignum.Storage.Rates;

namespace Assignum.Storage.Tests;

/// <summary>Exchange rates by day: all or none, never overwritten unseen, every change logged.</summary>
public sealed class RateTests(Nursery nursery) : IClassFixture<Nursery>
{
    static DayRate Usd(int day, decimal rate) => new("USD", new DateOnly(2026, 3, day), rate);

    [Fact]
    public async Task Rates_are_laid_down_all_or_none_and_one_that_is_there_is_replaced_only_when_said()
    {
        var (company, store) = (await nursery.OpenCompany("RATES"), new RateStore(nursery.Source));
        Assert.Null(await store.Set(company, nursery.User, [Usd(2, 0.92m), Usd(5, 0.93m)], replace: false, default));
        Assert.Equal("rate", (await store.Set(company, nursery.User, [Usd(6, 0.9m), new DayRate("EUR", new DateOnly(2026, 3, 6), 1)], replace: true, default))!.Field);
        var refused = await store.Set(company, nursery.User, [Usd(6, 0.95m), Usd(5, 0.94m)], replace: false, default);
        Assert.Contains("USD on 2026-03-05: 0.93, now 0.94", refused!.Message, StringComparison.Ordinal);
        Assert.Equal([Usd(5, 0.93m), Usd(2, 0.92m)], await store.Latest(company, null, 10, default));

        Assert.Null(await store.Set(company, nursery.User, [Usd(6, 0.95m), Usd(5, 0.94m)], replace: true, default));
        Assert.Equal([Usd(5, 0.94m)], await store.On(company, new DateOnly(2026, 3, 5), default));
        Assert.Equal(["2 exchange rates from 2026-03-05 to 2026-03-06, 1 replaced.", "2 exchange rates from 2026-03-02 to 2026-03-05."],
            (await nursery.Editions.History(company, "rate", company, default)).Select(l => l.Sentence));
    }
}
