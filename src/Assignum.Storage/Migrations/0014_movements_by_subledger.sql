-- Makes possible: movements in a table for each subledger, by ids, so that open items, averages and reports need no guessing from names
-- or signs; dimension sets as rows.

create table party_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    subledger text not null check (subledger in ('receivables', 'payables')),
    party_id integer not null,
    -- The event that opened the item this belongs to, and when that is due.
    item_event_id bigint not null,
    due_date date not null,
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no)
) partition by range (date);
create index party_movement_by_party on party_movement (company_id, subledger, party_id, date);
create index party_movement_by_item on party_movement (company_id, item_event_id);

create table stock_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    subledger text not null check (subledger in ('inventory', 'purchasing')),
    item_id integer,
    -- Goods of a group that have no item of their own.
    item_group_id integer,
    location_id integer,
    quantity numeric(19, 6) not null,
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no),
    constraint stock_movement_of_one check (num_nonnulls(item_id, item_group_id) = 1)
) partition by range (date);
create index stock_movement_by_item on stock_movement (company_id, subledger, item_id, location_id, date);

create table tax_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    tax_code_id integer not null,
    component text not null,
    side text not null check (side in ('output', 'input', 'reverse')),
    base numeric(19, 4) not null,
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no)
) partition by range (date);
create index tax_movement_by_code on tax_movement (company_id, tax_code_id, component, date);

create table money_movement (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    reverses bigint,
    money_account text,
    method text,
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no),
    constraint money_movement_of_one check (num_nonnulls(money_account, method) = 1)
) partition by range (date);
create index money_movement_by_account on money_movement (company_id, money_account, method, date);

-- A partition is made beside its table and then attached, so that nobody who posts waits for it.
create function open_calendar_year(parent text, calendar_year integer) returns void
language plpgsql set search_path = public, pg_temp as $fn$
begin
    if to_regclass(format('public.%s_%s', parent, calendar_year)) is null then
        execute format('create table %I (like %I including defaults including constraints)', parent || '_' || calendar_year, parent);
        execute format('alter table %I attach partition %I for values from (%L) to (%L)', parent, parent || '_' || calendar_year, make_date(calendar_year, 1,
            1), make_date(calendar_year + 1, 1, 1));
    end if;
end $fn$;
revoke execute on function open_calendar_year(text, integer) from public;

create or replace function open_fiscal_year(company integer, first_day date, last_day date) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    year_id integer;
    calendar_year integer;
begin
    insert into fiscal_year (company_id, starts, ends) values (company, first_day, last_day) returning id into year_id;
    insert into period (company_id, fiscal_year_id, number, starts, ends)
    select company, year_id, row_number() over (order by s), s::date, least((s + interval '1 month' - interval '1 day')::date, last_day)
    from generate_series(first_day, last_day, interval '1 month') s;
    insert into period (company_id, fiscal_year_id, number, starts, ends, adjustment)
    select company, year_id, max(number) + 1, last_day, last_day, true from period where company_id = company and fiscal_year_id = year_id;
    for calendar_year in extract(year from first_day)::integer .. extract(year from last_day)::integer loop
        perform pg_advisory_xact_lock(72170, calendar_year);
        perform open_calendar_year(parent, calendar_year) from unnest(array['line', 'party_movement', 'stock_movement', 'tax_movement',
            'money_movement']) parent;
    end loop;
    return year_id;
end $fn$;

select open_calendar_year(parent, substring(relname from 6)::integer)
from pg_class, unnest(array['party_movement', 'stock_movement', 'tax_movement', 'money_movement']) parent
where relispartition and relkind = 'r' and relname ~ '^line_[0-9]+$';

-- Whose movement it is: what an event took back belongs to the event it took back.
create temporary table moved on commit drop as
select s.*, coalesce(s.reverses, s.event_id) as own_event from subledger_line s;
create index on moved (company_id, own_event);
analyze moved;

insert into party_movement (company_id, date, event_id, line_no, entry_id, reverses, subledger, party_id, item_event_id, due_date, amount, currency,
    document_amount)
select s.company_id, s.date, s.event_id, s.line_no, s.entry_id, s.reverses, s.subledger, e.party_id, e.id, e.due_date, s.amount, s.currency, s.document_amount
from moved s join event e on e.company_id = s.company_id and e.id = s.own_event
where s.subledger in ('receivables', 'payables');

-- What each line of an event is of: its item or item group, and its place. Codes are compared as the application folds them; a name is made from them
-- and never taken apart.
create function pg_temp.folded(code text) returns text language sql immutable as $fn$ select upper(regexp_replace(trim(normalize(code)), '\s+', ' ', 'g')) $fn$;
create temporary table moving_line on commit drop as
select distinct e.company_id, e.id as event_id, i.id as item_id, g.id as group_id, o.id as location_id, coalesce(i.code_fold,
    pg_temp.folded(l.line ->> 'itemGroup')) || '@' || coalesce(o.code_fold, '') as member
from (select distinct company_id, own_event from moved where subledger in ('inventory', 'purchasing')) m
join event e on e.company_id = m.company_id and e.id = m.own_event
cross join lateral jsonb_array_elements(e.prepared -> 'lines') l(line)
left join member i on i.company_id = e.company_id and i.kind = 'item' and i.code_fold = pg_temp.folded(l.line ->> 'item')
left join grouping_alias a on a.company_id = e.company_id and a.family = 'item' and a.code_fold = pg_temp.folded(l.line ->> 'itemGroup')
left join grouping g on g.company_id = e.company_id and g.family = 'item' and (g.id = a.grouping_id or (a.grouping_id is null
    and g.code_fold = pg_temp.folded(l.line ->> 'itemGroup')))
left join member o on o.company_id = e.company_id and o.kind = 'location' and o.code_fold = pg_temp.folded(coalesce(l.line ->> 'location',
    e.prepared ->> 'location'))
where i.id is not null or g.id is not null;

insert into stock_movement (company_id, date, event_id, line_no, entry_id, reverses, subledger, item_id, item_group_id, location_id, quantity, amount, currency,
    document_amount)
select s.company_id, s.date, s.event_id, s.line_no, s.entry_id, s.reverses, s.subledger, l.item_id, case when l.item_id is null then l.group_id end,
    l.location_id, coalesce(s.quantity, 0), s.amount, s.currency, s.document_amount
from moved s join moving_line l on l.company_id = s.company_id and l.event_id = s.own_event and l.member = pg_temp.folded(s.member)
where s.subledger in ('inventory', 'purchasing');

-- A tax code that has taken another code since is not guessed: its old one stays as a code of its own, without a setting, as the reports have shown it.
create temporary table tax_member on commit drop as
select distinct m.company_id, m.member, t.id as tax_code_id, c.component
from (select distinct company_id, member from moved where subledger = 'tax') m
join (
    select s.company_id, s.tax_code_id, coalesce(component ->> 'code', '') as component
    from tax_code_setting s cross join lateral jsonb_array_elements(s.components) component
    union select company_id, id, '' from tax_code) c on c.company_id = m.company_id
join tax_code t on t.company_id = c.company_id and t.id = c.tax_code_id and m.member = t.code || case when c.component = '' then '' else '/' || c.component end;

insert into tax_code (company_id, code, code_fold, name)
select distinct m.company_id, m.member, pg_temp.folded(m.member), 'Code of earlier tax entries'
from moved m where m.subledger = 'tax' and not exists (select from tax_member t where t.company_id = m.company_id and t.member = m.member)
on conflict (company_id, code_fold) do nothing;
insert into tax_member
select distinct m.company_id, m.member, t.id, ''
from moved m join tax_code t on t.company_id = m.company_id and t.code_fold = pg_temp.folded(m.member)
where m.subledger = 'tax' and not exists (select from tax_member k where k.company_id = m.company_id and k.member = m.member);

insert into tax_movement (company_id, date, event_id, line_no, entry_id, reverses, tax_code_id, component, side, base, amount, currency, document_amount)
select s.company_id, s.date, s.event_id, s.line_no, s.entry_id, s.reverses, t.tax_code_id, t.component,
       case when e.type like 'sales-%' or e.type = 'takings' then 'output'
            when (coalesce(s.base, 0) + s.amount) * case when e.type = 'purchase-credit-note' then -1 else 1 end * case when s.reverses is null then 1
                else -1 end < 0 then 'reverse'
            else 'input' end,
       coalesce(s.base, 0), s.amount, s.currency, s.document_amount
from moved s
join event e on e.company_id = s.company_id and e.id = s.own_event
join tax_member t on t.company_id = s.company_id and t.member = s.member
where s.subledger = 'tax';

insert into money_movement (company_id, date, event_id, line_no, entry_id, reverses, money_account, method, amount, currency, document_amount)
select distinct s.company_id, s.date, s.event_id, s.line_no, s.entry_id, s.reverses, trim(t.tender ->> 'moneyAccount'), case
    when t.tender ->> 'moneyAccount' is null then trim(t.tender ->> 'method') end,
       s.amount, s.currency, s.document_amount
from moved s
join event e on e.company_id = s.company_id and e.id = s.own_event
cross join lateral jsonb_array_elements(e.prepared -> 'tenders') t(tender)
where s.subledger = 'bank' and s.member = trim(coalesce(t.tender ->> 'moneyAccount', t.tender ->> 'method'));

-- A movement by the names people see. Names are made here and nowhere read back.
create view movement as
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
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'bank', coalesce(m.money_account, m.method), null, null,
       m.amount, m.currency, m.document_amount, coalesce(m.money_account, m.method), null
from money_movement m;

-- Nothing is lost and nothing doubled, or the whole migration is as if it had never been.
do $fn$
declare
    off record;
begin
    select * into off from (
        select company_id, subledger, date_trunc('month', date)::date as month, count(*) as many, sum(amount) as amount, sum(coalesce(quantity, 0)) as quantity,
            sum(coalesce(base, 0)) as base from subledger_line group by 1, 2, 3) before
    full join (
        select company_id, subledger, date_trunc('month', date)::date as month, count(*) as many, sum(amount) as amount, sum(coalesce(quantity, 0)) as quantity,
            sum(coalesce(base, 0)) as base from movement group by 1, 2, 3) now
    using (company_id, subledger, month)
    where (before.many, before.amount, before.quantity, before.base) is distinct from (now.many, now.amount, now.quantity, now.base)
    limit 1;
    if found then
        raise exception 'The movements of % in % of company % did not come over whole. Nothing was changed.', off.subledger, to_char(off.month, 'YYYY-MM'),
            off.company_id;
    end if;
end $fn$;

drop table subledger_line;

-- A set of dimensions is its rows; the text is what is shown, and was the key until now.
create table dimension_of_set (
    company_id integer not null,
    dimension_set_id integer not null,
    dimension text not null,
    value text not null,
    primary key (company_id, dimension_set_id, dimension),
    foreign key (company_id, dimension_set_id) references dimension_set (company_id, id));
insert into dimension_of_set (company_id, dimension_set_id, dimension, value)
select s.company_id, s.id, split_part(part, '=', 1), substr(part, strpos(part, '=') + 1)
from dimension_set s cross join lateral string_to_table(s.text, ';') part
on conflict do nothing;
alter table dimension_set add digest bytea;
update dimension_set s set digest = sha256(convert_to((
    select string_agg(octet_length(d.dimension) || ':' || d.dimension || octet_length(d.value) || ':' || d.value, '' order by d.dimension collate "C")
        from dimension_of_set d where d.company_id = s.company_id and d.dimension_set_id = s.id), 'UTF8'));
alter table dimension_set alter digest set not null;
alter table dimension_set drop constraint dimension_set_company_id_text_key;
alter table dimension_set add constraint dimension_set_once unique (company_id, digest);

grant select, insert on party_movement, stock_movement, tax_movement, money_movement, dimension_of_set to assignum_app;
grant select on movement to assignum_app;
