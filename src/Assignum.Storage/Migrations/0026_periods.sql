-- Makes possible: fiscal years with periods and adjustment periods of the company's own, periods closed for some subledgers only, what comes too late
-- moved to the first open day, and closes that are kept with the head of the chain.

alter table company add column late_events text not null default 'hold' check (late_events in ('hold', 'move'));
grant update (late_events) on company to assignum_app;

alter table fiscal_year add column name text not null default '';

-- Closed for one subledger only; a period that is closed takes nothing at all.
create table period_closed_for (
    company_id integer not null,
    period_id integer not null,
    subledger text not null,
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, period_id, subledger),
    foreign key (company_id, period_id) references period (company_id, id));
grant select, insert, delete on period_closed_for to assignum_app;

-- Each time a period was closed, and opened again with a reason; with the head of the chain as it was then.
create table period_close (
    company_id integer not null,
    id bigint generated always as identity,
    period_id integer not null,
    closed boolean not null,
    reason text not null default '',
    fiscal_year_id integer not null,
    place bigint not null,
    digest bytea not null,
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    foreign key (company_id, period_id) references period (company_id, id),
    foreign key (company_id, fiscal_year_id) references fiscal_year (company_id, id));
create index period_close_by_period on period_close (company_id, period_id, id);
grant select, insert on period_close to assignum_app;

-- The days an event was moved from, because its own lay in a closed period.
alter table event add column moved_from date;

-- Opens a fiscal year with the periods that begin on given days, and a number of adjustment periods on its last day.
create function open_fiscal_year(company integer, first_day date, last_day date, period_starts date[], adjustments integer) returns integer
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
            'money_movement']) parent;
    end loop;
    return year_id;
end $fn$;

create or replace function open_fiscal_year(company integer, first_day date, last_day date) returns integer
language sql security definer set search_path = public, pg_temp as $fn$
    select open_fiscal_year(company, first_day, last_day,
        (select array_agg(s::date order by s) from generate_series(first_day, last_day, interval '1 month') s), 1)
$fn$;
revoke execute on function open_fiscal_year(integer, date, date, date[], integer) from public;
grant execute on function open_fiscal_year(integer, date, date, date[], integer) to assignum_app;
update fiscal_year set name = case when extract(year from starts) = extract(year from ends) then to_char(ends, 'YYYY')
    else to_char(starts, 'YYYY') || '/' || to_char(ends, 'YY') end;

-- A practice company has the periods of the one it is a copy of.
create or replace function open_practice(original integer, its_code text, its_fold text, its_name text) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    opened integer;
begin
    select open_company(its_code, its_fold, its_name, c.currency) into opened from company c where c.id = original and c.practice_of is null;
    update company p set practice_of = original, group_id = c.group_id, four_eyes = c.four_eyes, second_factor = c.second_factor, late_events = c.late_events
    from company c where p.id = opened and c.id = original;
    perform open_fiscal_year(opened, y.starts, y.ends,
        (select array_agg(p.starts order by p.number) from period p where p.company_id = original and p.fiscal_year_id = y.id and not p.adjustment),
        (select count(*)::integer from period p where p.company_id = original and p.fiscal_year_id = y.id and p.adjustment))
    from fiscal_year y where y.company_id = original order by y.starts;
    insert into user_role (company_id, user_id, role, granted_by)
    select opened, user_id, role, granted_by from user_role where company_id = original and ended_at is null;
    insert into exchange_rate (company_id, currency, day, rate) select opened, currency, day, rate from exchange_rate where company_id = original;
    return opened;
end $fn$;
