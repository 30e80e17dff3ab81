using Assignum.Core;
using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>The part of posting that runs under the company's posting lock.</summary>
sealed class PostingTransaction(NpgsqlConnection connection, int company, int? user, LandingBook book, CancellationToken stop)
{
    readonly PostedRows rows = new(company, user, book);

    internal async Task<IReadOnlyList<Posted>> Post(LandedEvent[] batch)
    {
        var identities = await Identities.Read(connection, company, batch, stop);
        var calendar = await Calendar.Read(connection, company, batch, stop);
        var results = new Posted[batch.Length];
        for (var i = 0; i < batch.Length; i++)
            results[i] = identities.Judge(batch[i]) ?? await Take(batch[i], calendar, identities);

        await rows.Number(connection, stop);
        await rows.Write(connection, stop);
        return [.. results.Select((r, i) => rows.WithNumbers(r, batch[i]))];
    }

    // Numbers are not known yet: they are taken for the whole batch at once.
    async Task<Posted> Take(LandedEvent landed, Calendar calendar, Identities identities)
    {
        var happened = landed.Happened;
        var reasons = landed.Outcome is Held held ? held.Reasons : [];
        var period = calendar.PeriodOf(happened.Date);
        if (period is null && reasons.Count == 0)
            reasons = [new HeldReason(HeldCause.ClosedPeriod, $"{happened.Date:yyyy-MM-dd} lies in no period that is open for posting. Open the period or the fiscal year, or correct the date.")];

        var earlier = identities.EarlierOf(landed);
        if (reasons.Count > 0 && !happened.Withdrawn)
        {
            rows.AddEvent(landed, "held", reasons);
            return new Posted(PostingFate.Held, null, null, null, reasons, "");
        }
        if (period is null)
            return Posted.Refuse($"{happened.Date:yyyy-MM-dd} lies in no period that is open for posting, so event {happened.Id} can't be withdrawn on that day. Open the period, or give another date.");

        rows.AddEvent(landed, "landed", []);
        if (earlier is { } known)
            await Supersede(known, landed, period);
        if (!happened.Withdrawn)
            rows.AddEntry(landed, period);
        return new Posted(PostingFate.Landed, null, null, null, [], "");
    }

    // A higher revision, or a withdrawal: what the earlier one wrote is written again with its signs turned.
    async Task Supersede(long earlier, LandedEvent landed, Period period)
    {
        await connection.Command("update event set outcome = 'superseded' where company_id = $1 and id = $2", company, earlier).Run(stop);
        if (await Reversal.Read(connection, company, earlier, stop) is { } reversal)
            rows.AddReversal(reversal, landed, period);
    }
}

/// <summary>A period that takes postings.</summary>
sealed record Period(int Id, int FiscalYear, DateOnly Starts, DateOnly Ends);

/// <summary>The open periods that a batch's dates fall into.</summary>
sealed class Calendar(List<Period> periods)
{
    internal static async Task<Calendar> Read(NpgsqlConnection connection, int company, LandedEvent[] batch, CancellationToken stop) =>
        new(await connection.Command("select id, fiscal_year_id, starts, ends from period where company_id = $1 and not adjustment and not closed and starts <= $3 and ends >= $2 order by starts",
            company, batch.Min(e => e.Happened.Date), batch.Max(e => e.Happened.Date))
            .List(row => new Period(row.GetInt32(0), row.GetInt32(1), row.GetFieldValue<DateOnly>(2), row.GetFieldValue<DateOnly>(3)), stop));

    internal Period? PeriodOf(DateOnly date) => periods.Find(p => p.Starts <= date && date <= p.Ends);
}
