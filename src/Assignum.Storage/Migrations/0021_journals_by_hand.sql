-- Makes possible: journals that are kept by name and repeat, and a second person who posts those above an amount.

alter table company add column second_person_above numeric(19, 4) check (second_person_above > 0);
grant update (second_person_above) on company to assignum_app;

create table kept_journal (
    company_id integer not null references company,
    id integer generated always as identity,
    name text not null check (length(name) between 1 and 100),
    event jsonb not null,
    every text check (every in ('month', 'quarter', 'year')),
    next_day date,
    turned boolean not null default false,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    dropped_at timestamptz,
    primary key (company_id, id),
    constraint kept_journal_repeats check ((every is null) = (next_day is null)));
create unique index kept_journal_name on kept_journal (company_id, lower(name)) where dropped_at is null;
grant select, insert, update on kept_journal to assignum_app;

create table waiting_journal (
    company_id integer not null references company,
    id integer generated always as identity,
    event jsonb not null,
    event_source_id text not null,
    amount numeric(19, 4) not null,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    answered_by integer references app_user,
    answered_at timestamptz,
    posted boolean,
    word text not null default '',
    primary key (company_id, id),
    constraint waiting_journal_answered check ((answered_at is null) = (posted is null)));
create unique index waiting_journal_once on waiting_journal (company_id, event_source_id) where answered_at is null;
grant select, insert, update on waiting_journal to assignum_app;
