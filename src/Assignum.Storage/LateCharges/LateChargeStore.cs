using Assignum.Core;
using Assignum.Core.LateCharges;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Storage.Subledgers;
using Npgsql;

namespace Assignum.Storage.LateCharges;

/// <summary>An item that is charged.</summary>
/// <param name="Event">Id of the latest event that opened it.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Due">When it is due.</param>
/// <param name="Open">What is open of it, its currency.</param>
/// <param name="Interest">What is charged; null: only the reminder.</param>
public sealed record LateItem(long Event, string Document, DateOnly Due, decimal Open, LateInterest? Interest);

/// <summary>What a customer is charged, in one currency.</summary>
/// <param name="Party">Code of the customer.</param>
/// <param name="Name">Name of the customer.</param>
/// <param name="Currency">The currency.</param>
/// <param name="Terms">Its terms.</param>
/// <param name="Items">Its late items.</param>
/// <param name="Fee">The fee for the reminder; 0: it was reminded lately.</param>
public sealed record LateParty(string Party, string Name, string Currency, Terms Terms, IReadOnlyList<LateItem> Items, decimal Fee)
{
    /// <summary>Interest of all items.</summary>
    public decimal Interest => Items.Sum(i => i.Interest?.Interest ?? 0);
}

/// <summary>Proposes and posts what is charged to customers who pay late.</summary>
public sealed class LateChargeStore(NpgsqlDataSource source, OpenItemStore items, TermsStore terms, PostingStore posting, EventText text)
{
    const int Most = 100_000;

    /// <summary>What is charged at the end of a day, by customer and currency.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="book">The rulebook in force.</param>
    /// <param name="on">The day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<LateParty>> Propose(int company, LandingBook book, DateOnly on, CancellationToken stop)
    {
        var open = (await items.Of(company, "receivables", null, on, Most, stop)).Where(i => i.Item.Purpose == Purpose.Receivable.Name && i.Item.Open > 0
            && i.Item.Due < on).ToList();
        // Interest and reminders bear no interest.
        var charges = (await source.Command("select id from event where company_id = $1 and id = any($2) and type = $3", company,
            open.Select(i => i.Item.Event).ToArray(), LateCharge.Name).List(row => row.GetInt64(0), stop)).ToHashSet();
        open.RemoveAll(i => charges.Contains(i.Item.Event));
        var ids = open.Select(i => i.Party).Distinct().ToDictionary(code => code, code => book.Stored.Labels.IdOf("party", code)!.Value);
        var ofParties = await terms.Of(company, [.. ids.Values], stop);
        var moves = (await Moves(company, [.. open.Select(i => i.Item.Event)], stop)).ToLookup(m => (m.Event, m.Currency), m => (m.Date, m.Amount));
        var charged = (await Charged(company, [.. open.Select(i => i.Item.Event)], stop)).ToDictionary(c => c.Event, c => c.To);
        var reminded = (await Reminded(company, on, stop)).ToDictionary(r => r.Party, r => r.Day);
        var found = new List<LateParty>();
        foreach (var ofParty in open.GroupBy(i => (i.Party, i.Item.Currency)))
        {
            if (!ofParties.TryGetValue(ids[ofParty.Key.Party], out var own) || own is { LatePercent: 0, ReminderFee: 0 })
                continue;
            var units = Money.MinorUnits(ofParty.Key.Currency);
            var owed = ofParty.Select(i => (i.Item, Owed: new OwedItem(i.Item.Due, [.. moves[(i.Item.Event, i.Item.Currency)]],
                charged.TryGetValue(i.Item.Event, out var to) ? to : null))).Where(i => LateCharging.IsLate(i.Owed, own, on)).ToList();
            var fee = LateCharging.FeeOf(owed.Select(i => i.Owed), own, reminded.TryGetValue(ids[ofParty.Key.Party], out var day) ? day : null, on);
            List<LateItem> late = [.. owed.Select(i => new LateItem(i.Item.Event, i.Item.Document, i.Item.Due, i.Item.Open,
                LateCharging.InterestOf(i.Owed, own, on, units)))];
            if (late.Count > 0 && (fee > 0 || late.Exists(i => i.Interest is not null)))
                found.Add(new(ofParty.Key.Party, book.Stored.Book.Parties.First(p => Fold.Same(p.Code, ofParty.Key.Party)).Name, ofParty.Key.Currency, own,
                    late, fee));
        }
        return [.. found.OrderByDescending(p => p.Interest + p.Fee)];
    }

    // All that opened and changed the items, whichever revision it was.
    Task<List<(long Event, string Currency, DateOnly Date, decimal Amount)>> Moves(int company, long[] events, CancellationToken stop) => source.Command("""
        select a.id, m.currency, m.date, sum(m.document_amount)
        from event a join event i on i.company_id = a.company_id and i.source = a.source and i.source_id = a.source_id
        join party_movement m on m.company_id = i.company_id and m.item_event_id = i.id and m.subledger = 'receivables' and m.purpose = 'receivable'
        where a.company_id = $1 and a.id = any($2) group by a.id, m.currency, m.date
        """, company, events).List(row => (row.GetInt64(0), row.GetString(1), row.GetFieldValue<DateOnly>(2), Money.Plain(row.GetDecimal(3))), stop);

    const string Stands = """
        not exists (select from event w where w.company_id = e.company_id and w.source = e.source and w.source_id = e.source_id and w.id > e.id
            and w.outcome = 'landed' and w.withdrawn) and e.outcome = 'landed' and not e.withdrawn
        """;

    Task<List<(long Event, DateOnly To)>> Charged(int company, long[] events, CancellationToken stop) => source.Command($"""
        select a.id, max(c.charged_to)
        from event a join event i on i.company_id = a.company_id and i.source = a.source and i.source_id = a.source_id
        join late_charged c on c.company_id = i.company_id and c.item_event_id = i.id
        join event e on e.company_id = c.company_id and e.id = c.event_id
        where a.company_id = $1 and a.id = any($2) and {Stands} group by a.id
        """, company, events).List(row => (row.GetInt64(0), row.GetFieldValue<DateOnly>(1)), stop);

    Task<List<(int Party, DateOnly Day)>> Reminded(int company, DateOnly on, CancellationToken stop) => source.Command($"""
        select e.party_id, max(e.date) from event e
        where e.company_id = $1 and e.type = 'late-charge' and e.party_id is not null and e.date <= $2 and (e.prepared ->> 'fee')::numeric > 0 and {Stands}
        group by e.party_id
        """, company, on).List(row => (row.GetInt32(0), row.GetFieldValue<DateOnly>(1)), stop);

    /// <summary>The events that charge customers.</summary>
    public async Task<IReadOnlyList<LateCharge>> Made(int company, IReadOnlyList<LateParty> parties, DateOnly on, CancellationToken stop)
    {
        var prefix = FormattableString.Invariant($"LATE-{on:yyyyMMdd}");
        var earlier = await OwnIds.Earlier(source, company, prefix, stop);
        return [.. parties.Select(p => new LateCharge
        {
            Id = OwnIds.Free(earlier, $"{prefix}-{p.Party}-{p.Currency}"), Date = on, Party = p.Party, Interest = p.Interest, Fee = p.Fee,
            Currency = p.Currency, Text = $"Late: {string.Join(", ", p.Items.Select(i => i.Document).Take(5))}{(p.Items.Count > 5 ? " …" : "")}",
        })];
    }

    /// <summary>Posts charges, and keeps up to which day each item is charged: all of it, or nothing.</summary>
    /// <returns>Why they were not posted; null when they were.</returns>
    public async Task<string?> Post(int company, int user, IReadOnlyList<LateParty> parties, IReadOnlyList<LateCharge> made, DateOnly on,
        CancellationToken stop)
    {
        var posted = await posting.PostTogether(company, user, [.. made.Select(m => PostableEvent.OfOwn(m, text))], Keep, stop);
        return posted.Select(p => p.WhyNot).FirstOrDefault(why => why is not null);

        async Task Keep(NpgsqlConnection connection, IReadOnlyList<Posted> outcomes)
        {
            var rows = parties.Zip(outcomes).SelectMany(p => p.First.Items.Where(i => i.Interest is not null).Select(i => (p.Second.EventId,
                Item: i))).ToList();
            await connection.Command("""
                insert into late_charged (company_id, event_id, item_event_id, interest, charged_to)
                select $1, r.*, $5 from unnest($2::bigint[], $3::bigint[], $4::numeric[]) r
                """, company, rows.Select(r => r.EventId!.Value).ToArray(), rows.Select(r => r.Item.Event).ToArray(),
                rows.Select(r => r.Item.Interest!.Interest).ToArray(), on).Run(stop);
        }
    }
}
