namespace Assignum.Storage.Proving;

/// <summary>A check of sums: a query that names what is wrong, with the entry where there is one.</summary>
/// <param name="Step">What it checks.</param>
/// <param name="Text">The query; $1 is the company.</param>
sealed record BooksSums(ProvingStep Step, string Text)
{
    internal static IReadOnlyList<BooksSums> All { get; } =
    [
        new(ProvingStep.Numbers, """
            select 'Number ' || n.number || ' of the year from ' || y.starts || ' is missing in the journal.', null::bigint
            from fiscal_year y cross join lateral generate_series(1, greatest(y.last_number, (select coalesce(max(number), 0) from entry e
                where e.company_id = y.company_id and e.fiscal_year_id = y.id))) n(number)
            where y.company_id = $1 and not exists (select from entry e where e.company_id = y.company_id and e.fiscal_year_id = y.id and e.number = n.number)
            order by y.starts, n.number
            """),
        new(ProvingStep.Numbers, """
            select 'Entry ' || e.number || ' has a number above the last that was given, ' || y.last_number || '.', e.id
            from fiscal_year y join entry e on e.company_id = y.company_id and e.fiscal_year_id = y.id and e.number > y.last_number
            where y.company_id = $1
            """),
        new(ProvingStep.Numbers, """
            select 'Of ' || p.last_event || ' events that came in, ' || (p.last_event - e.many) || ' are missing.', null::bigint
            from posting_row p cross join lateral (select count(*) as many from event e where e.company_id = p.company_id) e
            where p.company_id = $1 and p.last_event <> e.many
            """),
        new(ProvingStep.Entries, """
            select 'Entry ' || n.number || ' of ' || n.date || ' is out of balance by ' || s.amount || '.', n.id
            from (select entry_id, sum(amount) as amount from line where company_id = $1 group by entry_id having sum(amount) <> 0) s
            join entry n on n.company_id = $1 and n.id = s.entry_id order by n.id
            """),
        new(ProvingStep.Entries, """
            select 'Entry ' || n.number || ' has lines on another day than its own, or none.', n.id
            from entry n left join (select entry_id, min(date) as first_day, max(date) as last_day from line where company_id = $1 group by entry_id) l
                on l.entry_id = n.id
            where n.company_id = $1 and (l.first_day is distinct from n.date or l.last_day is distinct from n.date) order by n.id
            """),
        new(ProvingStep.Entries, """
            select 'Lines of entry id ' || l.entry_id || ' belong to no entry.', null::bigint from line l
            where l.company_id = $1 and not exists (select from entry n where n.company_id = l.company_id and n.id = l.entry_id) group by l.entry_id
            """),
        new(ProvingStep.Balances, """
            select 'The kept balance of ' || a.number || ' ' || a.name || ' in the period from ' || p.starts || ' is ' || coalesce(k.amount, 0)
                || '; its lines come to ' || coalesce(s.amount, 0) || '.', null::bigint
            from (select account_id, period_id, sum(debit - credit) as amount from balance where company_id = $1 group by account_id, period_id) k
            full join (select l.account_id, n.period_id, sum(l.amount) as amount from entry n
                join line l on l.company_id = n.company_id and l.entry_id = n.id where n.company_id = $1 group by l.account_id, n.period_id) s
                using (account_id, period_id)
            join account a on a.company_id = $1 and a.id = account_id
            join period p on p.company_id = $1 and p.id = period_id
            where coalesce(k.amount, 0) <> coalesce(s.amount, 0) order by a.number, p.starts
            """),
        new(ProvingStep.Subledgers, """
            select 'The open item of event ' || e.source_id || ' stands at ' || coalesce(k.amount, 0) || '; its movements come to ' || coalesce(s.amount,
                0) || '.',
                null::bigint
            from (select item_event_id, subledger, purpose, currency, sum(amount) as amount, sum(document_amount) as document from open_item
                where company_id = $1 group by 1, 2, 3, 4) k
            full join (select item_event_id, subledger, purpose, currency, sum(amount) as amount, sum(document_amount) as document from party_movement
                where company_id = $1 and account_id is not null group by 1, 2, 3, 4) s using (item_event_id, subledger, purpose, currency)
            left join event e on e.company_id = $1 and e.id = item_event_id
            where (coalesce(k.amount, 0), coalesce(k.document, 0)) <> (coalesce(s.amount, 0), coalesce(s.document, 0)) order by item_event_id
            """),
        new(ProvingStep.Subledgers, """
            select 'Stock of ' || m.code || ' stands at ' || coalesce(k.quantity, 0) || ' worth ' || coalesce(k.amount, 0) || '; its movements come to '
                || coalesce(s.quantity, 0) || ' worth ' || coalesce(s.amount, 0) || '.', null::bigint
            from (select item_id, location_id, sum(quantity) as quantity, sum(amount) as amount from stock_standing where company_id = $1 group by 1, 2) k
            full join (select item_id, coalesce(location_id, 0) as location_id, sum(quantity) as quantity, sum(amount) as amount from stock_movement
                where company_id = $1 and subledger = 'inventory' and item_id is not null group by 1, 2) s using (item_id, location_id)
            left join member m on m.company_id = $1 and m.id = item_id
            where (coalesce(k.quantity, 0), coalesce(k.amount, 0)) <> (coalesce(s.quantity, 0), coalesce(s.amount, 0)) order by m.code, location_id
            """),
        new(ProvingStep.Subledgers, """
            select 'What waits of the receipt of event ' || e.source_id || ' stands at ' || coalesce(k.amount, 0) || '; its movements come to '
                || coalesce(s.amount, 0) || '.', null::bigint
            from (select receipt_event_id, receipt_line, sum(quantity) as quantity, sum(amount) as amount from receipt_standing
                where company_id = $1 group by 1, 2) k
            full join (select receipt_event_id, receipt_line, -sum(quantity) as quantity, -sum(amount) as amount from stock_movement
                where company_id = $1 and subledger = 'purchasing' and item_id is not null group by 1, 2) s using (receipt_event_id, receipt_line)
            left join event e on e.company_id = $1 and e.id = receipt_event_id
            where (coalesce(k.quantity, 0), coalesce(k.amount, 0)) <> (coalesce(s.quantity, 0), coalesce(s.amount, 0)) order by receipt_event_id
            """),
    ];
}
