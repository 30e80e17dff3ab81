using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A ledger line as it is kept.</summary>
sealed record KeptLine(int Account, decimal Amount, string Currency, decimal DocumentAmount, string? Purpose, string AnsweredBy, string Rung, long? Rule,
    int Edition,
    string Facts, int? Party, int? Item, int? Location, string? Project, string? TaxCode, int? DimensionSet, string? Text);

/// <summary>What an event wrote, to be written again with its signs turned.</summary>
/// <param name="Event">The event that is taken back.</param>
/// <param name="Entry">Its entry; null where it moved subledgers only.</param>
/// <param name="Lines">Ledger lines, turned, each on the account where it stands now.</param>
/// <param name="Movements">Subledger movements, turned: the event's own, and not those by which it took an earlier one back.</param>
sealed record Reversal(long Event, long? Entry, IReadOnlyList<KeptLine> Lines, IReadOnlyList<KeptMovement> Movements)
{
    /// <summary>Reversals of many events, by event; those that wrote nothing have none.</summary>
    internal static async Task<IReadOnlyDictionary<long, Reversal>> Read(NpgsqlConnection connection, int company, long[] events, CancellationToken stop)
    {
        if (events.Length == 0)
            return new Dictionary<long, Reversal>();
        var entries = (await connection.Command("select event_id, id from entry where company_id = $1 and event_id = any($2) and reverses is null", company,
            events)
            .List(row => (row.GetInt64(0), row.GetInt64(1)), stop)).ToDictionary();
        var moves = await StandingMoves.Read(connection, company, stop);
        var shifts = await StandingShifts.Read(connection, company, events, stop);
        var lines = (await LinesOf(connection, company, events, stop)).ToLookup(l => l.Event, l => l.Line);
        var movements = await MovementsOf(connection, company, events, stop);
        return events.Where(e => entries.ContainsKey(e) || movements.Contains(e))
            .ToDictionary(e => e, e => Of(e, entries.TryGetValue(e, out var entry) ? entry : null, [.. lines[e]], [.. movements[e]], moves, shifts));
    }

    // What a line put somewhere is taken from where its movement says that it stands now.
    static Reversal Of(long turned, long? entry, List<KeptLine> lines, List<KeptMovement> movements, StandingMoves moves, StandingShifts shifts)
    {
        var now = movements.ConvertAll(m => m.On(account => m.Shifted(shifts, moves.AccountOf(account, turned), turned)));
        var left = movements.Zip(now).ToList();
        return new(turned, entry, lines.ConvertAll(line =>
        {
            var own = left.FindIndex(m => m.First.IsOf(line));
            if (own < 0)
                return line with { Account = moves.AccountOf(line.Account, turned) };
            var account = left[own].Second.Standing!.Value;
            left.RemoveAt(own);
            return line with { Account = account };
        }), now);
    }

    static Task<List<(long Event, KeptLine Line)>> LinesOf(NpgsqlConnection connection, int company, long[] events, CancellationToken stop) =>
        connection.Command("""
            select n.event_id, l.account_id, -l.amount, l.currency, -l.document_amount, l.purpose, l.answered_by, l.rung, l.rule_id, l.edition, l.facts,
                l.party_id, l.item_id, l.location_id,
                   l.project, l.tax_code, l.dimension_set_id, l.text
            from entry n join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
            where n.company_id = $1 and n.event_id = any($2) and n.reverses is null
            order by n.id, l.line_no
            """, company, events).List(row =>
                (row.GetInt64(0), new KeptLine(row.GetInt32(1), row.GetDecimal(2), row.GetString(3), row.GetDecimal(4), row.TextOrNull(5), row.GetString(6),
                row.GetString(7),
                row.LongOrNull(8), row.GetInt32(9), row.GetString(10), row.IntOrNull(11), row.IntOrNull(12), row.IntOrNull(13), row.TextOrNull(14),
                    row.TextOrNull(15), row.IntOrNull(16), row.TextOrNull(17))), stop);

    // Movements of one event keep their order whatever their kinds.
    static async Task<ILookup<long, KeptMovement>> MovementsOf(NpgsqlConnection connection, int company, long[] events, CancellationToken stop)
    {
        var all = new List<(long Event, int Place, KeptMovement Movement)>();
        foreach (var table in MovementTable.All)
            all.AddRange(await table.Turned(connection, company, events, stop));
        return all.OrderBy(m => m.Place).ToLookup(m => m.Event, m => m.Movement);
    }
}
