using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A ledger line as it is kept.</summary>
sealed record KeptLine(int Account, decimal Amount, string Currency, decimal DocumentAmount, string? Purpose, string AnsweredBy, string Rung, long? Rule, int Edition,
    string Facts, int? Party, int? Item, int? Location, string? Project, string? TaxCode, int? DimensionSet, string? Text);

/// <summary>A subledger line as it is kept.</summary>
sealed record KeptMovement(string Subledger, string Member, decimal? Quantity, decimal? Base, decimal Amount, string Currency, decimal DocumentAmount);

/// <summary>What an earlier event wrote, to be written again with its signs turned.</summary>
sealed record Reversal(long? Entry, IReadOnlyList<KeptLine> Lines, IReadOnlyList<KeptMovement> Movements)
{
    internal static async Task<Reversal?> Read(NpgsqlConnection connection, int company, long eventId, CancellationToken stop)
    {
        var entry = await connection.Command("select id, date from entry where company_id = $1 and event_id = $2 and reverses is null", company, eventId)
            .FirstOrDefault(row => ((long, DateOnly)?)(row.GetInt64(0), row.GetFieldValue<DateOnly>(1)), stop);
        var lines = entry is not { } kept ? [] : await connection.Command("""
            select account_id, -amount, currency, -document_amount, purpose, answered_by, rung, rule_id, edition, facts, party_id, item_id, location_id, project, tax_code, dimension_set_id, text
            from line where company_id = $1 and date = $2 and entry_id = $3 order by line_no
            """, company, kept.Item2, kept.Item1).List(row => new KeptLine(row.GetInt32(0), row.GetDecimal(1), row.GetString(2), row.GetDecimal(3), row.TextOrNull(4), row.GetString(5), row.GetString(6),
                row.LongOrNull(7), row.GetInt32(8), row.GetString(9), row.IntOrNull(10), row.IntOrNull(11), row.IntOrNull(12), row.TextOrNull(13), row.TextOrNull(14), row.IntOrNull(15), row.TextOrNull(16)), stop);
        // The movements of the event itself; those it wrote to reverse a still earlier one stand under that one's turn.
        var movements = await connection.Command("""
            select s.subledger, s.member, -s.quantity, -s.base, -s.amount, s.currency, -s.document_amount
            from subledger_line s join event e on e.company_id = s.company_id and e.id = s.event_id and e.date = s.date
            where s.company_id = $1 and s.event_id = $2 and s.entry_id is not distinct from $3
            order by s.line_no
            """, company, eventId, entry?.Item1).List(row => new KeptMovement(row.GetString(0), row.GetString(1), row.DecimalOrNull(2), row.DecimalOrNull(3), row.GetDecimal(4), row.GetString(5), row.GetDecimal(6)), stop);
        return entry is null && movements.Count == 0 ? null : new Reversal(entry?.Item1, lines, movements);
    }
}
