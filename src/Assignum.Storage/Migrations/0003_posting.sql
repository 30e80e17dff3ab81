-- Makes possible: events kept as received and as prepared, entries with gapless numbers, ledger and subledger lines by year, balances by period.

create table event (
    company_id integer not null references company,
    id bigint not null,
    connection text not null,
    source_id text not null,
    revision integer not null check (revision > 0),
    withdrawn boolean not null default false,
    type text not null,
    date date not null,
    document_date date not null,
    tax_date date not null,
    due_date date not null,
    number text,
    party_id integer,
    total numeric(19, 4),
    currency char(3),
    digest bytea not null,
    received jsonb not null,
    prepared jsonb not null,
    outcome text not null check (outcome in ('landed', 'held', 'superseded')),
    edition integer not null,
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    constraint event_identity unique (company_id, connection, source_id, revision),
    foreign key (company_id, party_id) references member (company_id, id));
create index event_held on event (company_id, id) where outcome = 'held';

create table held_reason (
    company_id integer not null,
    event_id bigint not null,
    place integer not null,
    cause text not null,
    purpose text,
    facts jsonb not null default '{}',
    account text,
    message text not null,
    primary key (company_id, event_id, place),
    foreign key (company_id, event_id) references event (company_id, id));

create table entry (
    company_id integer not null references company,
    id bigint not null,
    fiscal_year_id integer not null,
    number bigint not null,
    date date not null,
    period_id integer not null,
    event_id bigint not null,
    reverses bigint,
    edition integer not null,
    party_id integer,
    total numeric(19, 4) not null,
    text text not null default '',
    user_id integer references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    constraint entry_number unique (company_id, fiscal_year_id, number),
    foreign key (company_id, fiscal_year_id) references fiscal_year (company_id, id),
    foreign key (company_id, period_id) references period (company_id, id),
    foreign key (company_id, event_id) references event (company_id, id));
create index entry_by_date on entry (company_id, date, id);
create index entry_by_event on entry (company_id, event_id);
create index entry_by_party on entry (company_id, party_id, date, id) where party_id is not null;

create table dimension_set (
    company_id integer not null references company,
    id integer generated always as identity,
    text text not null,
    primary key (company_id, id),
    unique (company_id, text));

create table line (
    company_id integer not null,
    date date not null,
    entry_id bigint not null,
    line_no integer not null,
    account_id integer not null,
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    purpose text,
    answered_by text not null,
    rung text not null,
    rule_id bigint,
    edition integer not null,
    facts text not null,
    party_id integer,
    item_id integer,
    location_id integer,
    project text,
    tax_code text,
    dimension_set_id integer,
    text text,
    primary key (company_id, date, entry_id, line_no)
) partition by range (date);
create index line_by_account on line (company_id, account_id, date, entry_id, line_no);
create index line_by_purpose on line (company_id, purpose, date, entry_id);
create index line_by_rule on line (company_id, rule_id, date, entry_id) where rule_id is not null;

create table subledger_line (
    company_id integer not null,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    entry_id bigint,
    subledger text not null,
    member text not null,
    quantity numeric(19, 6),
    base numeric(19, 4),
    amount numeric(19, 4) not null,
    currency char(3) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, date, event_id, line_no)
) partition by range (date);
create index subledger_line_by_member on subledger_line (company_id, subledger, member, date);

create table balance (
    company_id integer not null,
    account_id integer not null,
    period_id integer not null,
    currency char(3) not null,
    dimension_set_id integer not null default 0,
    debit numeric(19, 4) not null,
    credit numeric(19, 4) not null,
    document_amount numeric(19, 4) not null,
    primary key (company_id, account_id, period_id, currency, dimension_set_id),
    foreign key (company_id, account_id) references account (company_id, id),
    foreign key (company_id, period_id) references period (company_id, id));

-- Opens a fiscal year with a period for each month and one for adjustments on its last day, and the partitions its dates need.
create function open_fiscal_year(company integer, first_day date, last_day date) returns integer
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
        if to_regclass('public.line_' || calendar_year) is null then
            execute format('create table line_%s partition of line for values from (%L) to (%L)', calendar_year, make_date(calendar_year, 1, 1),
                make_date(calendar_year + 1, 1, 1));
            execute format('create table subledger_line_%s partition of subledger_line for values from (%L) to (%L)', calendar_year, make_date(calendar_year, 1,
                1), make_date(calendar_year + 1, 1, 1));
        end if;
    end loop;
    return year_id;
end $fn$;
