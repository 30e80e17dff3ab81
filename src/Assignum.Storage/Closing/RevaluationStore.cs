using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rates;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Storage.Rates;
using Assignum.Storage.Subledgers;
using Npgsql;

namespace Assignum.Storage.Closing;

/// <summary>What is open in another currency, at the end of a day.</summary>
/// <param name="Account">Number of the account it stands on.</param>
/// <param name="Party">Code of the party; null: it is a money account.</param>
/// <param name="Name">Name of the party, or code of the money account.</param>
/// <param name="Currency">The currency.</param>
/// <param name="Open">What is open, in that currency, debit positive.</param>
/// <param name="Booked">The same as it stands in the books, company currency.</param>
/// <param name="Rate">The latest rate up to the day; null: there is none.</param>
/// <param name="Worth">What it is worth by that rate; null: there is none.</param>
public sealed record ForeignBalance(string Account, string? Party, string Name, string Currency, decimal Open, decimal Booked, DayRate? Rate, decimal? Worth)
{
    /// <summary>What it is worth more, or less; null without a rate.</summary>
    public decimal? Difference => Worth - Booked;
}

/// <summary>Revalues what is open in other currencies at the rates of a day, and takes that back on the next.</summary>
public sealed class RevaluationStore(NpgsqlDataSource source, RateStore rates, PostingStore posting, EventText text)
{
    const string Prefix = "REVALUATION-";

    /// <summary>Items and money accounts in other currencies at the end of a day. A money account counts where its account takes other currencies only: what
    /// came in another currency onto an account of the company's was changed on the way.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="book">The rulebook in force.</param>
    /// <param name="on">The day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<ForeignBalance>> Open(int company, LandingBook book, DateOnly on, CancellationToken stop)
    {
        var (own, compiled) = (Fold.Of(book.Stored.Book.Company.Currency), book.Compiled!);
        var latest = (await rates.On(company, on, stop)).ToDictionary(r => r.Currency);
        var revalued = (await Revalued(company, on, stop)).ToDictionary(r => (r.Account, r.Party, r.Currency), r => r.Amount);
        var found = new List<ForeignBalance>();
        foreach (var subledger in new[] { "receivables", "payables" })
            foreach (var (account, party, name, currency, open, booked) in await Items(company, subledger, own, on, stop))
                if (book.Stored.NumberOf(account) is { } number)
                    found.Add(Made(number, party, name, currency, open, booked + revalued.GetValueOrDefault((number, Fold.Of(party), currency))));
        foreach (var (money, currency, open, booked) in await Money(company, own, on, stop))
        {
            var answer = compiled.Resolve(Purpose.Bank, compiled.FactsOf([new(Fact.MoneyAccount, money), new(Fact.Currency, currency)]), on);
            if (answer.Found && compiled.AccountOf(answer) is { Currencies.Count: > 0 } account && !account.TakesCurrency(own))
                found.Add(Made(account.Number, null, money, currency, open, booked));
        }
        return found;

        ForeignBalance Made(string account, string? party, string name, string currency, decimal open, decimal booked)
        {
            var rate = latest.GetValueOrDefault(currency);
            return new(account, party, name, currency, open, booked, rate, rate is null ? null : Core.Money.Round(open * rate.Rate,
                compiled.CompanyMinorUnits));
        }
    }

    /// <summary>The event that revalues some balances at a day; null where nothing differs.</summary>
    public async Task<Revaluation?> Made(int company, IReadOnlyList<ForeignBalance> balances, DateOnly on, CancellationToken stop)
    {
        List<RevaluedLine> lines = [.. balances.Where(b => b.Difference is not (null or 0)).Select(b => new RevaluedLine(b.Account, b.Difference!.Value)
        {
            Party = b.Party, MoneyAccount = b.Party is null ? b.Name : null, Currency = b.Currency,
        })];
        if (lines.Count == 0)
            return null;
        var id = FormattableString.Invariant($"{Prefix}{on:yyyyMMdd}");
        return new() { Id = OwnIds.Free(await OwnIds.Earlier(source, company, id, stop), id), Date = on, Text = "Revaluation", Lines = lines };
    }

    /// <summary>Posts a revaluation and takes it back on the next day: both, or neither.</summary>
    /// <returns>Why it was not posted; null when it was, with its entry.</returns>
    public async Task<(string? WhyNot, long? Entry)> Post(int company, int user, Revaluation made, CancellationToken stop)
    {
        var back = made with { Revision = 2, Withdrawn = true, Date = made.Date.AddDays(1), Text = "Revaluation taken back" };
        var posted = await posting.PostTogether(company, user, [PostableEvent.OfOwn(made, text), PostableEvent.OfOwn(back, text)], stop);
        return (posted.Select(p => p.WhyNot).FirstOrDefault(w => w is not null), posted[0].EntryId);
    }

    Task<List<(int Account, string Party, string Name, string Currency, decimal Open, decimal Booked)>> Items(int company, string subledger, string own,
        DateOnly on, CancellationToken stop) => source.Command($"""
        with {OpenItemStore.Items}
        select i.account_id, p.code, p.name, i.currency, sum(i.open), sum(i.company) from items i join member p on p.company_id = $1 and p.id = i.party_id
        where i.currency <> $4 group by 1, 2, 3, 4 having sum(i.open) <> 0 order by 4, 2
        """, company, on, subledger, own).List(row => (row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3),
            Core.Money.Plain(row.GetDecimal(4)), Core.Money.Plain(row.GetDecimal(5))), stop);

    Task<List<(string Money, string Currency, decimal Open, decimal Booked)>> Money(int company, string own, DateOnly on,
        CancellationToken stop) => source.Command("""
        select money_account, currency, sum(document_amount), sum(amount) from money_movement
        where company_id = $1 and money_account is not null and currency <> $3 and date <= $2 group by 1, 2 having sum(document_amount) <> 0 order by 2, 1
        """, company, on, own).List(row => (row.GetString(0), row.GetString(1), Core.Money.Plain(row.GetDecimal(2)),
            Core.Money.Plain(row.GetDecimal(3))), stop);

    // What revaluations of that very day have added to parties' balances; those of earlier days were taken back on the next.
    Task<List<(string Account, string Party, string Currency, decimal Amount)>> Revalued(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select l ->> 'account', upper(l ->> 'party'), upper(l ->> 'currency'), sum((l ->> 'amount')::numeric)
        from event e cross join lateral jsonb_array_elements(e.prepared -> 'lines') l
        where e.company_id = $1 and e.type = 'revaluation' and e.date <= $2 and not e.withdrawn and l ->> 'party' is not null
            and exists (select from posted_digest d where d.company_id = e.company_id and d.event_id = e.id)
            and not exists (select from event w where w.company_id = e.company_id and w.source = e.source and w.source_id = e.source_id
                and w.outcome = 'landed' and w.date <= $2 and w.id > e.id)
        group by 1, 2, 3
        """, company, on).List(row => (row.GetString(0), row.GetString(1), row.GetString(2), row.GetDecimal(3)), stop);
}
