using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Storage.Charts;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Companies;

/// <summary>The end of a fiscal year as it stands, and as it would be posted.</summary>
/// <param name="YearId">Id of the year.</param>
/// <param name="Name">Its name.</param>
/// <param name="Starts">First day.</param>
/// <param name="Ends">Last day.</param>
/// <param name="Standing">Id of the event by which the year has ended; null: it has not.</param>
/// <param name="Entry">Its entry.</param>
/// <param name="Lines">What would be taken out, account by account: the whole year, also where a part has been taken out before.</param>
/// <param name="Left">What has come since it ended, company currency, debit positive; where it has not, all of it.</param>
public sealed record YearEndLook(int YearId, string Name, DateOnly Starts, DateOnly Ends, long? Standing, long? Entry, IReadOnlyList<ClosedBalance> Lines,
    decimal Left)
{
    /// <summary>The result of the year, company currency: above 0 a profit.</summary>
    public decimal Result => -Lines.Sum(l => l.Amount);
    /// <summary>It has ended, and everything that came has been taken out.</summary>
    public required bool IsWhole { get; init; }
}

/// <summary>Ends fiscal years: income and expense go to retained earnings in an adjustment period. Ended once more, or undone, the entry before is
/// reversed.</summary>
public sealed class YearEndStore(NpgsqlDataSource source, BalanceStore balances, RulebookStore books, PostingStore posting, EventText text)
{
    sealed record Earlier(long Id, int Revision, bool Stands, long? Entry, string Prepared);

    /// <summary>Id of the event that ends a year.</summary>
    static string IdOf(string year) => "YEAR-END-" + year;

    /// <summary>How the end of a year stands; null where there is no such year.</summary>
    public async Task<YearEndLook?> Look(int company, int yearId, CancellationToken stop)
    {
        if (await source.Command("select name, starts, ends from fiscal_year where company_id = $1 and id = $2", company, yearId).FirstOrDefault(row =>
            ((string Name, DateOnly Starts, DateOnly Ends)?)(row.GetString(0), row.GetFieldValue<DateOnly>(1), row.GetFieldValue<DateOnly>(2)),
                stop) is not { } year)
            return null;
        var earlier = await Last(company, year.Name, stop);
        var stored = await books.Load(company, null, stop);
        var closing = stored.Book.Accounts.Where(a => a.Class >= AccountClass.Income).ToDictionary(a => stored.Labels.Account(a.Number) ?? 0, a => a.Number);
        var left = (await balances.OfYear(company, year.Starts, stop)).Where(b => closing.ContainsKey(b.Account))
            .Select(b => new ClosedBalance(closing[b.Account], b.Amount, b.Dimensions)).ToList();
        var taken = earlier is { Stands: true } && text.Read(earlier.Prepared) is YearEnd end ? end.Lines : [];
        return new(yearId, year.Name, year.Starts, year.Ends, earlier is { Stands: true } ? earlier.Id : null,
            earlier is { Stands: true } ? earlier.Entry : null,
            Whole([.. left, .. taken]), left.Sum(l => l.Amount)) { IsWhole = earlier is { Stands: true } && left.Count == 0 };
    }

    static List<ClosedBalance> Whole(IReadOnlyList<ClosedBalance> parts) =>
        [.. parts.GroupBy(p => (Fold.Of(p.Account), string.Join(';',
            p.Dimensions.All.Select(d => $"{Fold.Of(d.Key)}={Fold.Of(d.Value)}")))).Select(g => g.First() with { Amount = g.Sum(p => p.Amount) })
            .Where(p => p.Amount != 0).OrderBy(p => p.Account, StringComparer.Ordinal)];

    /// <summary>Ends a year, or ends it once more with what has come since.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who ends it.</param>
    /// <param name="yearId">Id of the year.</param>
    /// <param name="seen">The result that was shown; when it is another by now, nothing is posted.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why it was not; null when it was.</returns>
    public async Task<string?> End(int company, int user, int yearId, decimal seen, CancellationToken stop)
    {
        if (await Look(company, yearId, stop) is not { } look)
            return "There is no such year. Choose one of the list.";
        if (look.Result != seen)
            return "Something was posted in the year since you looked. Look at its result once more, then end it.";
        if (look.Lines.Count == 0)
            return $"Nothing stands on accounts of income and expense in {look.Name}, so there is nothing to take out.";
        return look.IsWhole ? $"{look.Name} has ended, and nothing has come since." : await Post(company, user, look, new YearEnd
        {
            Id = IdOf(look.Name), Date = look.Ends, Adjustment = true, FiscalYear = look.Name, Text = $"End of {look.Name}", Lines = look.Lines,
        }, stop);
    }

    /// <summary>Takes the end of a year back.</summary>
    /// <returns>Why it was not; null when it was.</returns>
    public async Task<string?> Undo(int company, int user, int yearId, CancellationToken stop) =>
        await Look(company, yearId, stop) is { Standing: not null } look ? await Post(company, user, look, new YearEnd
        {
            Id = IdOf(look.Name), Date = look.Ends, Adjustment = true, FiscalYear = look.Name, Text = $"End of {look.Name} taken back", Withdrawn = true,
        }, stop) : "The year has not ended, so there is nothing to take back.";

    async Task<string?> Post(int company, int user, YearEndLook look, YearEnd end, CancellationToken stop)
    {
        var next = end with { Revision = ((await Last(company, look.Name, stop))?.Revision ?? 0) + 1 };
        PostableEvent[] own = [PostableEvent.OfOwn(next, text)];
        // One that would be held is not kept: whoever ends the year mends what bars it, and ends it then.
        return (await posting.Look(company, own, stop))[0].WhyNot ?? (await posting.Post(company, user, own, stop))[0].WhyNot;
    }

    Task<Earlier?> Last(int company, string year, CancellationToken stop) => source.Command("""
        select e.id, e.revision, e.outcome = 'landed' and not e.withdrawn, n.id, e.prepared::text
        from event e left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
        where e.company_id = $1 and e.source = $2 and e.source_id = $3 order by e.revision desc, e.posting desc limit 1
        """, company, Fold.Of(PostableEvent.Own), IdOf(year)).FirstOrDefault(row => new Earlier(row.GetInt64(0), row.GetInt32(1), row.GetBoolean(2),
            row.LongOrNull(3), row.GetString(4)), stop);
}
