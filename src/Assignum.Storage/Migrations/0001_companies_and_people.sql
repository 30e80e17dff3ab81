-- Makes possible: companies with editions of their rulebook and fiscal years, people who sign in, and roles granted by company.

create extension if not exists btree_gist;
create extension if not exists pg_trgm;

create table company (
    id integer generated always as identity primary key,
    code text not null,
    code_fold text not null unique,
    name text not null,
    currency char(3) not null,
    opened_at timestamptz not null default now());

-- Numbered states of a rulebook. Exactly one is the draft; the others are released and never change.
create table edition (
    company_id integer not null references company,
    number integer not null check (number > 0),
    opened_at timestamptz not null default now(),
    released_at timestamptz,
    released_by integer,
    note text not null default '',
    primary key (company_id, number));
create unique index edition_one_draft on edition (company_id) where released_at is null;

-- The draft's lock: whoever changes a setting holds it for the moment of the change. The stamp counts changes.
create table draft_row (
    company_id integer primary key references company,
    edition integer not null,
    stamp bigint not null default 0,
    foreign key (company_id, edition) references edition);

-- The posting lock: whoever posts or releases holds it. The stamp counts what changes at once, without an edition.
create table posting_row (
    company_id integer primary key references company,
    edition integer not null,
    stamp bigint not null default 0,
    last_entry bigint not null default 0,
    last_event bigint not null default 0,
    foreign key (company_id, edition) references edition);

create table fiscal_year (
    company_id integer not null references company,
    id integer generated always as identity,
    starts date not null,
    ends date not null,
    last_number bigint not null default 0,
    primary key (company_id, id),
    check (starts <= ends),
    constraint fiscal_year_no_overlap exclude using gist (company_id with =, daterange(starts, ends, '[]') with &&));

create table period (
    company_id integer not null,
    id integer generated always as identity,
    fiscal_year_id integer not null,
    number integer not null,
    starts date not null,
    ends date not null,
    adjustment boolean not null default false,
    closed boolean not null default false,
    primary key (company_id, id),
    unique (company_id, fiscal_year_id, number),
    foreign key (company_id, fiscal_year_id) references fiscal_year);

create table app_user (
    id integer generated always as identity primary key,
    name text not null,
    name_fold text not null unique,
    shown_as text not null,
    password_hash text not null,
    stamp uuid not null default gen_random_uuid(),
    failures integer not null default 0,
    locked_until timestamptz);

-- A grant is ended, not deleted, so that its history can be read.
create table user_role (
    id integer generated always as identity primary key,
    company_id integer not null references company,
    user_id integer not null references app_user,
    role text not null check (role in ('viewer', 'preparer', 'approver', 'administrator')),
    granted_at timestamptz not null default now(),
    granted_by integer references app_user,
    ended_at timestamptz,
    ended_by integer references app_user);
create unique index user_role_once on user_role (company_id, user_id, role) where ended_at is null;
create index user_role_by_user on user_role (user_id) where ended_at is null;

alter table edition add foreign key (released_by) references app_user;

-- Keys of sign-in cookies, wrapped by a certificate outside the database.
create table protection_key (
    id integer generated always as identity primary key,
    name text not null,
    xml text not null);

create table change_log (
    company_id integer not null references company,
    id bigint generated always as identity,
    at timestamptz not null default now(),
    user_id integer references app_user,
    edition integer,
    subject text not null,
    subject_id bigint,
    sentence text not null,
    before jsonb,
    after jsonb,
    primary key (company_id, id));
create index change_log_by_subject on change_log (company_id, subject, subject_id, id);
create index change_log_by_edition on change_log (company_id, edition, id);
