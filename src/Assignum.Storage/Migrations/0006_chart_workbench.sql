-- Makes possible: described accounts with notes, reporting codes
-- and a place in the group's chart; numbering plans; dimensions a company defines; remembered mappings of chart files; long work as jobs.

-- Settings of an account that landing asks for.
alter table account_setting
    add tax_relevance text,
    add party_role text,
    add currencies text[] not null default '{}',
    add dimension_defaults jsonb not null default '{}';

-- The company whose chart is that of the group.
alter table company add group_id integer references company;

-- What was merged away says where it went.
alter table account add merged_into integer;
alter table account add foreign key (company_id, merged_into) references account (company_id, id);

-- Descriptions hold at once and in no edition; the count tells what was seen of them.
alter table draft_row add described bigint not null default 0;

create table account_description (
    company_id integer not null,
    account_id integer not null,
    short_name text,
    text text,
    side text check (side in ('debit', 'credit')),
    activity text,
    group_company_id integer,
    group_account_id integer,
    primary key (company_id, account_id),
    foreign key (company_id, account_id) references account (company_id, id),
    foreign key (group_company_id, group_account_id) references account (company_id, id));
create index account_description_by_group on account_description (group_company_id, group_account_id) where group_account_id is not null;

create table account_reporting (
    company_id integer not null,
    account_id integer not null,
    report text not null,
    report_fold text not null,
    code text not null,
    primary key (company_id, account_id, report_fold),
    foreign key (company_id, account_id) references account (company_id, id));

create table account_note (
    company_id integer not null,
    id bigint generated always as identity,
    account_id integer not null,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    text text not null,
    primary key (company_id, id),
    foreign key (company_id, account_id) references account (company_id, id));
create index account_note_by_account on account_note (company_id, account_id, id);

create table numbering_plan (
    company_id integer primary key references company,
    pattern text not null);

create table numbering_range (
    company_id integer not null references numbering_plan (company_id),
    id integer generated always as identity,
    class text,
    account_id integer,
    first_number text not null,
    last_number text not null,
    primary key (company_id, id),
    check ((class is null) <> (account_id is null)),
    foreign key (company_id, account_id) references account (company_id, id));

create table dimension (
    company_id integer not null references company,
    id integer generated always as identity,
    code text not null,
    code_fold text not null,
    name text not null,
    primary key (company_id, id),
    unique (company_id, code_fold));

create table dimension_value (
    company_id integer not null,
    dimension_id integer not null,
    code text not null,
    code_fold text not null,
    name text not null,
    primary key (company_id, dimension_id, code_fold),
    foreign key (company_id, dimension_id) references dimension (company_id, id));

create table chart_mapping (
    company_id integer not null references company,
    signature text not null,
    mapping jsonb not null,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    primary key (company_id, signature));

-- Long work: whoever claims a job holds it by a lease, and another takes it over when the lease runs out.
create table job (
    company_id integer not null references company,
    id bigint generated always as identity,
    kind text not null,
    payload jsonb not null,
    state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'refused', 'cancelled', 'failed')),
    done integer not null default 0,
    total integer not null default 0,
    said text not null default '',
    result jsonb,
    asked_to_stop boolean not null default false,
    lease uuid,
    lease_until timestamptz,
    user_id integer not null references app_user,
    asked_at timestamptz not null default now(),
    ended_at timestamptz,
    primary key (company_id, id));
create index job_open on job (id) where state in ('waiting', 'running');

grant select, insert, update, delete on account_description, account_reporting, numbering_plan, numbering_range, dimension, dimension_value,
    chart_mapping to assignum_app;
grant select, insert, delete on account_note to assignum_app;
grant select, insert, update on job to assignum_app;
grant usage on all sequences in schema public to assignum_app;
