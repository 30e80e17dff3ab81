using Assignum.Core;
using Assignum.Core.Rates;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Rates;

/// <summary>Exchange rates of a company by day. They are no setting: a rate holds at once, for what is posted from then on, and every change is logged.
/// </summary>
public sealed class RateStore(NpgsqlDataSource source)
{
    /// <summary>The rates, the latest day first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="currency">Only of this currency; null: of all.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<DayRate>> Latest(int company, string? currency, int most, CancellationToken stop) =>
        source.Command("""
            select currency, day, rate from exchange_rate where company_id = $1 and ($2::text is null or currency = $2) order by day desc, currency limit $3
            """, company, currency, most).List(row => new DayRate(row.GetString(0), row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2))), stop);

    /// <summary>The latest rate of each currency, up to a day.</summary>
    public Task<List<DayRate>> On(int company, DateOnly day, CancellationToken stop) =>
        source.Command("select distinct on (currency) currency, day, rate from exchange_rate where company_id = $1 and day <= $2 order by currency, day desc",
            company, day).List(row => new DayRate(row.GetString(0), row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2))), stop);

    /// <summary>Lays rates down, all or none.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="rates">The rates, each day and currency once.</param>
    /// <param name="replace">Rates that are there already and differ are replaced; else they are in the way.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Set(int company, int user, IReadOnlyList<DayRate> rates, bool replace, CancellationToken stop) => source.Act(async connection =>
    {
        var own = Fold.Of(await connection.Command("select currency from company where id = $1 for update", company).Value<string>(stop));
        if (rates.Select(r => r.Fault(own)).FirstOrDefault(f => f is not null) is { } fault)
            return new Refusal("rate", fault);
        var there = await connection.Command("""
            select r.currency, r.day, r.rate, n.rate from exchange_rate r
            join unnest($2::text[], $3::date[], $4::numeric[]) n(currency, day, rate) on n.currency = r.currency and n.day = r.day
            where r.company_id = $1 and r.rate <> n.rate order by r.day, r.currency
            """, company, Currencies(rates), Days(rates), Values(rates))
            .List(row => (Was: new DayRate(row.GetString(0), row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2))), Now: row.GetDecimal(3)), stop);
        if (there is [var first, ..] && !replace)
            return new Refusal("replace", $"{(there.Count == 1 ? "One rate is" : $"{there.Count:N0} rates are")} there already and would change, first " +
                $"{first.Was.Currency} on {Written.DayNow(first.Was.Day)}: {Written.NumberNow(first.Was.Rate)}, now {Written.NumberNow(first.Now)}. " +
                "Tick that they are replaced, or leave them out.");
        await connection.Command("""
            insert into exchange_rate (company_id, currency, day, rate) select $1, * from unnest($2::text[], $3::date[], $4::numeric[])
            on conflict (company_id, currency, day) do update set rate = excluded.rate
            """, company, Currencies(rates), Days(rates), Values(rates)).Run(stop);
        await ChangeLog.Note(connection, company, user, "rate", company, Sentence(rates, there.Count), stop);
        return null;
    }, stop);

    static string[] Currencies(IReadOnlyList<DayRate> rates) => [.. rates.Select(r => r.Currency)];
    static DateOnly[] Days(IReadOnlyList<DayRate> rates) => [.. rates.Select(r => r.Day)];
    static decimal[] Values(IReadOnlyList<DayRate> rates) => [.. rates.Select(r => r.Rate)];

    static string Sentence(IReadOnlyList<DayRate> rates, int replaced)
    {
        var what = rates.Count == 1 ? $"Rate of {rates[0].Currency} on {rates[0].Day:yyyy-MM-dd}: {rates[0].Rate.ToString("0.############", Written.Plain)}"
            : $"{rates.Count} exchange rates from {rates.Min(r => r.Day):yyyy-MM-dd} to {rates.Max(r => r.Day):yyyy-MM-dd}";
        return replaced == 0 ? what + "." : $"{what}, {replaced} replaced.";
    }
}
