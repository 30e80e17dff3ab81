-- Makes possible: connections to other systems with their lists, matches as settings, an inbox that loses nothing, tokens, and batches that go out.

-- Matches that can change a landing are settings, by edition.
create table match_setting (
    company_id integer not null references company,
    id bigint generated always as identity,
    key text not null,
    connection text not null,
    list text not null check (list in ('items', 'categories', 'tax-codes')),
    theirs text not null,
    item_id integer,
    group_id integer,
    tax_code_id integer,
    match_key uuid not null,
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    made_by integer default nullif(current_setting('assignum.user', true), '')::integer,
    introduced_by integer default nullif(current_setting('assignum.user', true), '')::integer,
    introduced_at timestamptz default now(),
    retired_by integer,
    retired_at timestamptz,
    primary key (company_id, id),
    foreign key (company_id, item_id) references member (company_id, id),
    foreign key (company_id, group_id) references grouping (company_id, id),
    foreign key (company_id, tax_code_id) references tax_code (company_id, id),
    constraint match_of_one check (num_nonnulls(item_id, group_id, tax_code_id) = 1),
    constraint match_once exclude using gist (match_key with =, editions with &&));
create index match_setting_by_key on match_setting (company_id, key);
create trigger match_setting_guard before update or delete on match_setting for each row execute function guard_setting();
create trigger match_setting_coming after insert on match_setting referencing new table as come for each statement execute function guard_coming();
create trigger match_setting_hands after update or delete on match_setting for each row
    when (coalesce(old.made_by, old.introduced_by, old.retired_by) is not null) execute function note_hands('key');

-- A link to another system. Its secret is kept encrypted by the application; what it is told and how it is read stands in the switches.
create table connection (
    company_id integer not null references company,
    id integer generated always as identity,
    code text not null,
    code_fold text not null,
    name text not null,
    address text,
    secret text,
    hook_secret text,
    state text not null default 'made' check (state in ('made', 'reached', 'running', 'stopped')),
    time_zone text not null default 'UTC',
    day_end time not null default '00:00',
    switches jsonb not null default '{}',
    answer jsonb,
    cursor text,
    fed_at timestamptz,
    failing_since timestamptz,
    fault text,
    stamp bigint not null default 0,
    primary key (company_id, id),
    constraint connection_once unique (company_id, code_fold));

create table connection_list (
    company_id integer not null,
    connection_id integer not null,
    list text not null,
    version bigint not null,
    fetched_at timestamptz not null default now(),
    -- Codes of ours that the other system has been told.
    told text[] not null default '{}',
    told_at timestamptz,
    number_rule text not null default 'theirs' check (number_rule in ('theirs', 'next')),
    primary key (company_id, connection_id, list),
    foreign key (company_id, connection_id) references connection (company_id, id));

create table connection_entry (
    company_id integer not null,
    connection_id integer not null,
    list text not null,
    code_fold text not null,
    code text not null,
    name text not null,
    kind text,
    use text,
    rate numeric(9,4),
    authority text,
    category text,
    used integer not null default 0,
    amount numeric(19,4),
    seen text not null default 'new' check (seen in ('new', 'changed', 'seen')),
    was text,
    gone_at timestamptz,
    came_at timestamptz not null default now(),
    primary key (company_id, connection_id, list, code_fold),
    foreign key (company_id, connection_id) references connection (company_id, id));

-- What was decided about entries: a match of accounts, parties, projects and people holds at once; for the other lists it says what is in the draft's matches.
create table connection_match (
    company_id integer not null,
    connection_id integer not null,
    list text not null,
    code_fold text not null,
    ours text,
    decided_by integer references app_user,
    decided_at timestamptz not null default now(),
    how text not null,
    primary key (company_id, connection_id, list, code_fold),
    foreign key (company_id, connection_id) references connection (company_id, id));

-- What came, as it came; it is never altered, only what became of it is.
create table inbox (
    company_id integer not null,
    id bigint generated always as identity,
    connection_id integer not null,
    raw text not null,
    digest bytea not null,
    via text not null check (via in ('feed', 'hook', 'api', 'again')),
    came_at timestamptz not null default now(),
    source_id text,
    revision integer,
    date date,
    type text,
    amount numeric(19,4),
    state text not null default 'waiting' check (state in ('waiting', 'review', 'posted', 'held', 'refused', 'left', 'unreadable')),
    message text,
    event_id bigint,
    translated text,
    by_category integer not null default 0,
    reviewed jsonb,
    settled_at timestamptz,
    times integer not null default 1,
    -- Whoever waits for the answer settles it; the worker takes over when that has not happened by then.
    claimed_until timestamptz,
    primary key (company_id, id),
    foreign key (company_id, connection_id) references connection (company_id, id),
    constraint inbox_once unique (company_id, connection_id, digest));
create index inbox_open on inbox (company_id, connection_id, id) where state = 'waiting';
create index inbox_by_state on inbox (company_id, connection_id, state, id);
create index inbox_by_source_id on inbox (company_id, connection_id, source_id, revision);
create index inbox_by_event on inbox (company_id, event_id) where event_id is not null;

create function inbox_keeps_what_came() returns trigger language plpgsql as $fn$
begin
    if (new.raw, new.digest, new.connection_id, new.came_at) is distinct from (old.raw, old.digest, old.connection_id, old.came_at) then
        raise exception 'What came is never altered.';
    end if;
    return new;
end $fn$;
create trigger inbox_guard before update on inbox for each row execute function inbox_keeps_what_came();

create table connection_token (
    company_id integer not null,
    id integer generated always as identity,
    connection_id integer not null,
    name text not null,
    hash bytea not null unique,
    begins text not null,
    made_by integer references app_user,
    made_at timestamptz not null default now(),
    last_used timestamptz,
    revoked_at timestamptz,
    primary key (company_id, id),
    foreign key (company_id, connection_id) references connection (company_id, id));

-- Entries on their way to a ledger elsewhere, each in one batch.
create table outgoing_batch (
    company_id integer not null,
    connection_id integer not null,
    number integer not null,
    form text not null check (form in ('whole', 'summed')),
    first_entry bigint not null,
    last_entry bigint not null,
    entries integer not null,
    debit numeric(19,4) not null,
    made_at timestamptz not null default now(),
    made_by integer references app_user,
    state text not null default 'made' check (state in ('made', 'acknowledged', 'refused')),
    outside_number text,
    reasons jsonb,
    settled_at timestamptz,
    primary key (company_id, connection_id, number),
    constraint outgoing_outside_once unique (company_id, connection_id, outside_number),
    foreign key (company_id, connection_id) references connection (company_id, id));
create table outgoing_entry (
    company_id integer not null,
    connection_id integer not null,
    entry_id bigint not null,
    number integer not null,
    primary key (company_id, connection_id, entry_id));
create index outgoing_entry_by_batch on outgoing_entry (company_id, connection_id, number);

grant select, insert, update, delete on match_setting, connection_match to assignum_app;
grant select, insert, update on connection, connection_list, connection_entry, inbox, connection_token, outgoing_batch, outgoing_entry to assignum_app;
