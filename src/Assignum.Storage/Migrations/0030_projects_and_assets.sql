-- Makes possible: projects, fixed assets and companies of the group as members with their settings, and as subledgers with their own movements.

alter table member drop constraint member_kind_check;
alter table member add constraint member_kind_check check (kind in ('party', 'item', 'location', 'project', 'task', 'asset', 'partner'));
alter table member_setting add partner_id integer, add life_months integer check (life_months > 0), add percent numeric(9, 6) check (percent > 0),
    add residual numeric(19, 4) not null default 0 check (residual >= 0),
    add foreign key (company_id, partner_id) references member (company_id, id);

-- A method was free text before; what names none of the three was never used.
alter table member_setting disable trigger user;
update member_setting set method = null where method not in ('percentage-of-completion', 'completed-contract', 'at-invoice');
alter table member_setting enable trigger user;
alter table member_setting add constraint member_setting_method check (method in ('percentage-of-completion', 'completed-contract', 'at-invoice',
    'straight-line', 'declining-balance'));

-- The group that new projects begin in; at most one of a family.
alter table grouping add is_default boolean not null default false;
create unique index grouping_default on grouping (company_id, family) where is_default;

alter table party_movement drop constraint party_movement_subledger_check;
alter table party_movement add constraint party_movement_subledger_check check (subledger in ('receivables', 'payables', 'intercompany'));

create table project_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    project_id integer not null,
    task_id integer,
    part text not null check (part in ('work-in-progress', 'billed', 'accrued')),
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no)
) partition by range (date);
create index project_movement_by_project on project_movement (company_id, project_id, task_id, date);

create table asset_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    asset_id integer not null,
    part text not null check (part in ('cost', 'depreciation')),
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no)
) partition by range (date);
create index asset_movement_by_asset on asset_movement (company_id, asset_id, date);
grant select, insert on project_movement, asset_movement to assignum_app;

select open_calendar_year(parent, calendar_year::integer)
from unnest(array['project_movement', 'asset_movement']) parent
cross join (select distinct generate_series(extract(year from starts)::integer, extract(year from ends)::integer) as calendar_year from fiscal_year) y;

create or replace function open_fiscal_year(company integer, first_day date, last_day date, period_starts date[], adjustments integer) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    year_id integer;
    calendar_year integer;
begin
    if period_starts[1] <> first_day or period_starts[array_length(period_starts, 1)] > last_day or adjustments not between 1 and 3
        or exists (select from generate_subscripts(period_starts, 1) i where i > 1 and period_starts[i] <= period_starts[i - 1]) then
        raise exception 'Periods follow each other from the first day of the year.';
    end if;
    insert into fiscal_year (company_id, starts, ends, name) values (company, first_day, last_day,
        case when extract(year from first_day) = extract(year from last_day) then to_char(last_day, 'YYYY')
            else to_char(first_day, 'YYYY') || '/' || to_char(last_day, 'YY') end) returning id into year_id;
    insert into period (company_id, fiscal_year_id, number, starts, ends)
    select company, year_id, i, period_starts[i], coalesce(period_starts[i + 1] - 1, last_day) from generate_subscripts(period_starts, 1) i;
    insert into period (company_id, fiscal_year_id, number, starts, ends, adjustment)
    select company, year_id, array_length(period_starts, 1) + i, last_day, last_day, true from generate_series(1, adjustments) i;
    for calendar_year in extract(year from first_day)::integer .. extract(year from last_day)::integer loop
        perform pg_advisory_xact_lock(72170, calendar_year);
        perform open_calendar_year(parent, calendar_year) from unnest(array['line', 'party_movement', 'stock_movement', 'tax_movement',
            'money_movement', 'project_movement', 'asset_movement']) parent;
    end loop;
    return year_id;
end $fn$;

create or replace view movement as
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, m.subledger, p.code as member, null::numeric as quantity, null::numeric as base,
       m.amount, m.currency, m.document_amount, p.code as thing, null::text as place
from party_movement m left join member p on p.company_id = m.company_id and p.id = m.party_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, m.subledger, coalesce(i.code, g.code) || '@' || coalesce(o.code, ''),
       m.quantity, null,
       m.amount, m.currency, m.document_amount, coalesce(i.code, g.code), o.code
from stock_movement m
left join member i on i.company_id = m.company_id and i.id = m.item_id
left join grouping g on g.company_id = m.company_id and g.id = m.item_group_id
left join member o on o.company_id = m.company_id and o.id = m.location_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'tax', t.code || case when m.component = '' then '' else '/' || m.component end,
       null, m.base,
       m.amount, m.currency, m.document_amount, t.code || case when m.component = '' then '' else '/' || m.component end, m.side
from tax_movement m left join tax_code t on t.company_id = m.company_id and t.id = m.tax_code_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'bank', coalesce(m.money_account, m.method, m.connection), null, null,
       m.amount, m.currency, m.document_amount, coalesce(m.money_account, m.method, m.connection), null
from money_movement m
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'projects', p.code || coalesce('/' || t.code, ''), null, null,
       m.amount, m.currency, m.document_amount, p.code || coalesce('/' || t.code, ''), m.part
from project_movement m
left join member p on p.company_id = m.company_id and p.id = m.project_id
left join member t on t.company_id = m.company_id and t.id = m.task_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'assets', a.code, null, null,
       m.amount, m.currency, m.document_amount, a.code, m.part
from asset_movement m left join member a on a.company_id = m.company_id and a.id = m.asset_id;

create or replace function canonical_rows(company integer, first_event bigint, last_event bigint)
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
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'project', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text),
        m.project_id, canonical(m.task_id::text), m.part, m.amount, m.currency, m.document_amount)
    from project_movement m where m.company_id = company and m.event_id between first_event and last_event
    union all
    select m.event_id, 4, 0, m.line_no, concat_ws(E'\t', 'asset', m.line_no, m.date, canonical(m.entry_id::text), canonical(m.reverses::text),
        m.asset_id, m.part, m.amount, m.currency, m.document_amount)
    from asset_movement m where m.company_id = company and m.event_id between first_event and last_event
$fn$;

create or replace function carry_shifts(company integer, mover bigint) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
begin
    update open_item o set document_amount = o.document_amount - s.document_amount, amount = o.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.item_event_id is not null and o.company_id = company and o.item_event_id = s.item_event_id
        and o.purpose = s.purpose and o.account_id = s.from_account_id and o.currency = s.currency;
    insert into open_item (company_id, item_event_id, subledger, purpose, party_id, account_id, currency, due_date, document_amount, amount, dimension_set_id)
    select s.company_id, s.item_event_id, case when s.purpose in ('receivable', 'customer-deposit') then 'receivables'
        when s.purpose like 'intercompany-%' then 'intercompany' else 'payables' end, s.purpose,
        s.party_id, s.to_account_id, s.currency, s.due_date, s.document_amount, s.amount, o.dimension_set_id
    from standing_shift s
    join open_item o on o.company_id = company and o.item_event_id = s.item_event_id and o.purpose = s.purpose and o.account_id = s.from_account_id
        and o.currency = s.currency
    where s.company_id = company and s.event_id = mover and s.item_event_id is not null
    on conflict (company_id, item_event_id, subledger, purpose, account_id, currency)
    do update set document_amount = open_item.document_amount + excluded.document_amount, amount = open_item.amount + excluded.amount;
    update stock_standing t set quantity = t.quantity - s.quantity, amount = t.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.item_id is not null and s.receipt_event_id is null and t.company_id = company
        and t.item_id = s.item_id and t.location_id = s.location_id and t.account_id = s.from_account_id;
    insert into stock_standing (company_id, item_id, location_id, account_id, quantity, amount, last_cost)
    select s.company_id, s.item_id, s.location_id, s.to_account_id, sum(s.quantity), sum(s.amount), max(t.last_cost)
    from standing_shift s
    join stock_standing t on t.company_id = company and t.item_id = s.item_id and t.location_id = s.location_id and t.account_id = s.from_account_id
    where s.company_id = company and s.event_id = mover and s.item_id is not null and s.receipt_event_id is null
    group by s.company_id, s.item_id, s.location_id, s.to_account_id
    on conflict (company_id, item_id, location_id, account_id)
    do update set quantity = stock_standing.quantity + excluded.quantity, amount = stock_standing.amount + excluded.amount,
        last_cost = coalesce(stock_standing.last_cost, excluded.last_cost);
    update receipt_standing r set quantity = r.quantity - s.quantity, amount = r.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.receipt_event_id is not null and r.company_id = company
        and r.receipt_event_id = s.receipt_event_id and r.receipt_line = s.receipt_line and r.party_id = coalesce(s.party_id, 0) and r.item_id = s.item_id
        and r.location_id = s.location_id and r.account_id = s.from_account_id;
    insert into receipt_standing (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id, quantity, amount)
    select s.company_id, s.receipt_event_id, s.receipt_line, coalesce(s.party_id, 0), s.item_id, s.location_id, s.to_account_id, s.quantity, s.amount
    from standing_shift s where s.company_id = company and s.event_id = mover and s.receipt_event_id is not null
    on conflict (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id)
    do update set quantity = receipt_standing.quantity + excluded.quantity, amount = receipt_standing.amount + excluded.amount;
end $fn$;

create or replace function shift_standing(company integer, mover bigint, moved_purpose text, from_accounts integer[], lines integer[], to_accounts integer[],
    parties integer[], items integer[], places integer[], currencies text[]) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    day date := (select date from event where company_id = company and id = mover and type = 'standing-transfer' and outcome = 'landed');
    off record;
begin
    if day is null or exists (select from standing_shift where company_id = company and event_id = mover) then
        raise exception 'Event % of company % is no standing transfer that has just landed.', mover, company;
    end if;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, item_event_id, party_id, currency, due_date,
        amount, document_amount)
    select company, day, mover, l.line, moved_purpose, o.account_id, l.to_account, o.item_event_id, o.party_id, o.currency, o.due_date, o.amount,
        o.document_amount
    from unnest(lines, to_accounts, parties, currencies) l(line, to_account, party, currency)
    join open_item o on o.company_id = company and o.purpose = moved_purpose and o.account_id = any(from_accounts) and o.party_id = l.party
        and o.currency = l.currency and (o.document_amount <> 0 or o.amount <> 0)
    where moved_purpose in ('receivable', 'payable', 'customer-deposit', 'supplier-deposit', 'intercompany-receivable',
        'intercompany-payable')
    order by o.item_event_id;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, item_id, location_id, quantity, amount)
    select company, day, mover, l.line, moved_purpose, s.account_id, l.to_account, s.item_id, s.location_id, s.quantity, s.amount
    from unnest(lines, to_accounts, items, places) l(line, to_account, item, place)
    join stock_standing s on s.company_id = company and s.account_id = any(from_accounts) and s.item_id = l.item and s.location_id = coalesce(l.place, 0)
        and (s.quantity <> 0 or s.amount <> 0)
    where moved_purpose in ('inventory', 'inventory-in-transit')
    order by s.item_id, s.location_id;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, party_id, item_id, location_id, receipt_event_id,
        receipt_line, quantity, amount)
    select company, day, mover, l.line, moved_purpose, r.account_id, l.to_account, nullif(r.party_id, 0), r.item_id, r.location_id, r.receipt_event_id,
        r.receipt_line, r.quantity, r.amount
    from unnest(lines, to_accounts, items, places) l(line, to_account, item, place)
    join receipt_standing r on r.company_id = company and r.account_id = any(from_accounts) and r.item_id = l.item and r.location_id = coalesce(l.place, 0)
        and (r.quantity <> 0 or r.amount <> 0)
    where moved_purpose = 'goods-received-not-invoiced'
    order by r.receipt_event_id, r.receipt_line;
    select a.account_id, a.amount, b.amount as shifted into off
    from (select to_account_id as account_id, sum(case when receipt_event_id is null then amount else -amount end) as amount from standing_shift
        where company_id = company and event_id = mover group by to_account_id) b
    full join (select l.account_id, sum(l.amount) as amount
        from entry n join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
        where n.company_id = company and n.event_id = mover and n.reverses is null and l.purpose = moved_purpose and not l.account_id = any(from_accounts)
        group by l.account_id) a using (account_id)
    where coalesce(a.amount, 0) <> coalesce(b.amount, 0) limit 1;
    if found then
        raise exception 'Event % of company % moves % to an account, and % stands there to be moved.', mover, company, off.amount, off.shifted;
    end if;
    perform carry_shifts(company, mover);
end $fn$;

-- What a project, or a task of it, is expected to cost and to bring: one row each time somebody says so, and none is ever changed.
create table project_estimate (
    company_id integer not null references company,
    id bigint generated always as identity,
    project_id integer not null,
    task_id integer,
    holds_from date not null,
    cost numeric(19, 4) not null check (cost >= 0),
    revenue numeric(19, 4) not null check (revenue >= 0),
    note text not null default '',
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    foreign key (company_id, project_id) references member (company_id, id),
    foreign key (company_id, task_id) references member (company_id, id));
create index project_estimate_by_project on project_estimate (company_id, project_id, holds_from);

-- On which day a project was finished; null: it goes on again. The latest row holds.
create table project_finish (
    company_id integer not null references company,
    id bigint generated always as identity,
    project_id integer not null,
    finished_on date,
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    foreign key (company_id, project_id) references member (company_id, id));
create index project_finish_by_project on project_finish (company_id, project_id, id);
grant select, insert on project_estimate, project_finish to assignum_app;

-- What is charged to whoever pays late: interest a year from the day after an item is due, a fee for the reminder, and days in which nothing is charged.
alter table payment_terms add late_percent numeric(7, 4) not null default 0 check (late_percent between 0 and 100),
    add reminder_fee numeric(19, 4) not null default 0 check (reminder_fee >= 0), add grace_days integer not null default 0 check (grace_days between 0 and 3650);

-- Up to which day interest of an item was charged, and by which event; it counts as long as that event stands.
create table late_charged (
    company_id integer not null references company,
    event_id bigint not null,
    item_event_id bigint not null,
    charged_to date not null,
    interest numeric(19, 4) not null,
    primary key (company_id, event_id, item_event_id),
    foreign key (company_id, event_id) references event (company_id, id));
create index late_charged_by_item on late_charged (company_id, item_event_id);
grant select, insert on late_charged to assignum_app;
