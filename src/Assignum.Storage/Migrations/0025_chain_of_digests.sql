-- Makes possible: books that prove themselves: each posted event has a digest, chained to that of the one before it in its company and fiscal year.

create table posted_digest (
    company_id integer not null,
    fiscal_year_id integer not null,
    place bigint not null check (place > 0),
    event_id bigint not null,
    digest bytea not null check (length(digest) = 32),
    primary key (company_id, fiscal_year_id, place),
    constraint posted_digest_once unique (company_id, event_id),
    foreign key (company_id, fiscal_year_id) references fiscal_year (company_id, id),
    foreign key (company_id, event_id) references event (company_id, id));
grant select, insert on posted_digest to assignum_app;

-- A text as it stands in the canonical form: without tabs and ends of lines.
create function canonical(its_text text) returns text language sql immutable as
    $fn$ select coalesce(replace(replace(replace(its_text, '\', '\\'), E'\t', '\t'), E'\n', '\n'), '\N') $fn$;

-- The rows of the canonical form of events, in its order: rank 1 the event, 2 its entries, 3 their lines, 4 movements.
create function canonical_rows(company integer, first_event bigint, last_event bigint)
returns table (event_id bigint, rank integer, major bigint, minor integer, written text)
language sql stable set search_path = public, pg_temp as $fn$
    select e.id, 1, 0::bigint, 0, concat_ws(E'\t', 'event', e.id, e.revision, e.posting, e.withdrawn::integer, canonical(e.type), e.date, encode(e.digest, 'hex'))
    from event e where e.company_id = company and e.id between first_event and last_event
    union all
    select n.event_id, 2, n.id, 0, concat_ws(E'\t', 'entry', n.id, n.fiscal_year_id, n.number, n.date, n.period_id, canonical(n.reverses::text))
    from entry n where n.company_id = company and n.event_id between first_event and last_event
    union all
    select n.event_id, 3, l.entry_id, l.line_no, concat_ws(E'\t', 'line', l.entry_id, l.line_no, l.date, l.account_id, l.amount, l.currency,
        l.document_amount, canonical(l.rule_id::text), canonical(l.party_id::text), canonical(l.item_id::text), canonical(l.location_id::text),
        canonical(l.dimension_set_id::text))
    from entry n join line l on l.company_id = n.company_id and l.entry_id = n.id
    where n.company_id = company and n.event_id between first_event and last_event
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'party', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text), m.subledger,
        m.party_id, m.item_event_id, m.due_date, canonical(m.account_id::text), canonical(m.purpose), canonical(m.dimension_set_id::text), m.amount,
        m.currency, m.document_amount)
    from party_movement m where m.company_id = company and m.event_id between first_event and last_event
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'stock', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text), m.subledger,
        canonical(m.item_id::text), canonical(m.item_group_id::text), canonical(m.location_id::text), m.quantity, canonical(m.account_id::text),
        canonical(m.receipt_event_id::text), m.receipt_line, m.amount, m.currency, m.document_amount)
    from stock_movement m where m.company_id = company and m.event_id between first_event and last_event
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'tax', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text), m.tax_code_id,
        canonical(m.component), m.side, m.base, m.amount, m.currency, m.document_amount)
    from tax_movement m where m.company_id = company and m.event_id between first_event and last_event
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'money', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text),
        canonical(m.money_account), canonical(m.method), canonical(m.connection), m.amount, m.currency, m.document_amount)
    from money_movement m where m.company_id = company and m.event_id between first_event and last_event
$fn$;
revoke execute on function canonical_rows(integer, bigint, bigint) from public;
grant execute on function canonical_rows(integer, bigint, bigint) to assignum_app;

-- What was posted before is chained as it stands, in the order in which it came.
do $fn$
declare
    posted record;
    at_company integer := 0;
    heads jsonb := '{}';
    of_year text;
    was jsonb;
    digest bytea;
begin
    for posted in
        select c.id as company_id, w.event_id, w.written, coalesce(n.fiscal_year_id, y.id) as year_id
        from company c
        cross join lateral (select event_id, string_agg(written || E'\n', '' order by rank, major, minor) as written, max(rank) as top
            from canonical_rows(c.id, 0, 9223372036854775807) group by event_id) w
        join event e on e.company_id = c.id and e.id = w.event_id
        left join lateral (select fiscal_year_id from entry n where n.company_id = c.id and n.event_id = w.event_id limit 1) n on true
        left join fiscal_year y on y.company_id = c.id and e.date between y.starts and y.ends
        where (e.outcome = 'landed' or w.top > 1) and coalesce(n.fiscal_year_id, y.id) is not null
        order by c.id, w.event_id
    loop
        if posted.company_id <> at_company then
            at_company := posted.company_id;
            heads := '{}';
        end if;
        of_year := posted.year_id;
        was := coalesce(heads -> of_year, '{"place": 0, "head": ""}');
        digest := sha256(decode(was ->> 'head', 'hex') || convert_to(posted.written, 'UTF8'));
        insert into posted_digest (company_id, fiscal_year_id, place, event_id, digest)
        values (posted.company_id, posted.year_id, (was ->> 'place')::bigint + 1, posted.event_id, digest);
        heads := heads || jsonb_build_object(of_year, jsonb_build_object('place', (was ->> 'place')::bigint + 1, 'head', encode(digest, 'hex')));
    end loop;
end $fn$;
