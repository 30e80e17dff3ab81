-- Makes possible: charts, groups, members, tax and rules, each setting visible from one edition up to another.
-- Labels (numbers, codes, names) stand in the first table of a pair and change at once; what can change a landing stands in the second.

create table grouping (
    company_id integer not null references company,
    id integer generated always as identity,
    family text not null check (family in ('party', 'item', 'project', 'asset', 'location', 'party-tax', 'item-tax')),
    code text not null,
    code_fold text not null,
    name text not null,
    find_fold text not null,
    primary key (company_id, id),
    unique (company_id, family, code_fold));

create table tax_code (
    company_id integer not null references company,
    id integer generated always as identity,
    code text not null,
    code_fold text not null,
    name text not null,
    primary key (company_id, id),
    unique (company_id, code_fold));

create table account (
    company_id integer not null references company,
    id integer generated always as identity,
    number text not null,
    number_fold text not null,
    name text not null,
    find_fold text not null,
    class text not null,
    parent_id integer,
    primary key (company_id, id),
    unique (company_id, number_fold),
    foreign key (company_id, parent_id) references account (company_id, id));
create index account_by_parent on account (company_id, parent_id);

-- A number that an account once had is never given to another.
create table account_alias (
    company_id integer not null,
    number_fold text not null,
    account_id integer not null,
    since timestamptz not null default now(),
    primary key (company_id, number_fold),
    foreign key (company_id, account_id) references account (company_id, id));

create table member (
    company_id integer not null references company,
    id integer generated always as identity,
    kind text not null check (kind in ('party', 'item', 'location', 'project', 'task', 'asset')),
    owner_id integer,
    code text not null,
    code_fold text not null,
    name text not null,
    find_fold text not null,
    unit_cost numeric(19, 6),
    primary key (company_id, id),
    unique nulls not distinct (company_id, kind, owner_id, code_fold),
    foreign key (company_id, owner_id) references member (company_id, id));
create index account_find on account using gin (find_fold gin_trgm_ops);
create index member_find on member using gin (find_fold gin_trgm_ops);
create index grouping_find on grouping using gin (find_fold gin_trgm_ops);

create table grouping_setting (
    company_id integer not null,
    id bigint generated always as identity,
    grouping_id integer not null,
    tax_group_id integer,
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, grouping_id) references grouping (company_id, id),
    foreign key (company_id, tax_group_id) references grouping (company_id, id),
    constraint grouping_setting_once exclude using gist (company_id with =, grouping_id with =, editions with &&));

create table tax_code_setting (
    company_id integer not null,
    id bigint generated always as identity,
    tax_code_id integer not null,
    category text,
    direction text not null,
    reverse_charge boolean not null,
    components jsonb not null,
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, tax_code_id) references tax_code (company_id, id),
    constraint tax_code_setting_once exclude using gist (company_id with =, tax_code_id with =, editions with &&));

create table account_setting (
    company_id integer not null,
    id bigint generated always as identity,
    account_id integer not null,
    kind text not null,
    active boolean not null,
    valid_from date,
    valid_to date,
    control text,
    manual text not null,
    item_tax_group_id integer,
    tax_code_id integer,
    suspense boolean not null,
    dimensions jsonb not null default '{}',
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, account_id) references account (company_id, id),
    foreign key (company_id, item_tax_group_id) references grouping (company_id, id),
    foreign key (company_id, tax_code_id) references tax_code (company_id, id),
    constraint account_setting_once exclude using gist (company_id with =, account_id with =, editions with &&));

create table member_setting (
    company_id integer not null,
    id bigint generated always as identity,
    member_id integer not null,
    group_id integer,
    tax_group_id integer,
    role text,
    item_kind text,
    tax_area text,
    method text,
    control_alternates integer[] not null default '{}',
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, member_id) references member (company_id, id),
    foreign key (company_id, group_id) references grouping (company_id, id),
    foreign key (company_id, tax_group_id) references grouping (company_id, id),
    constraint member_setting_once exclude using gist (company_id with =, member_id with =, editions with &&));
create index member_setting_by_group on member_setting (company_id, group_id);

-- The first group a member ever had holds at once, wherever a setting of the member names none.
create table first_group (
    company_id integer not null,
    member_id integer not null,
    group_id integer not null,
    at timestamptz not null default now(),
    user_id integer references app_user,
    primary key (company_id, member_id),
    foreign key (company_id, member_id) references member (company_id, id),
    foreign key (company_id, group_id) references grouping (company_id, id));

create table company_option (
    company_id integer not null references company,
    id bigint generated always as identity,
    separate_discounts boolean not null,
    perpetual_stock boolean not null,
    tax_rounding text not null,
    tax_tolerance numeric(19, 4),
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    constraint company_option_once exclude using gist (company_id with =, editions with &&));

create table ladder (
    company_id integer not null references company,
    id bigint generated always as identity,
    purpose text not null,
    rungs text[] not null,
    ladder_key uuid not null,
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    constraint ladder_once exclude using gist (ladder_key with =, editions with &&));

create table tax_rule (
    company_id integer not null references company,
    id bigint generated always as identity,
    tax_area text,
    party_tax_group_id integer,
    item_tax_group_id integer,
    tax_code_id integer not null,
    rule_key uuid not null,
    validity daterange not null,
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, party_tax_group_id) references grouping (company_id, id),
    foreign key (company_id, item_tax_group_id) references grouping (company_id, id),
    foreign key (company_id, tax_code_id) references tax_code (company_id, id),
    constraint tax_rule_no_overlap exclude using gist (rule_key with =, validity with &&, editions with &&));

-- A key is '#12' for the thing with that id, or '=web-shop' for a code without a list of its own; keys stand in the order of the rung's facts.
create table rule (
    company_id integer not null references company,
    id bigint generated always as identity,
    name text not null,
    purpose text not null,
    rung text[] not null,
    keys text[] not null check (cardinality(keys) = cardinality(rung)),
    account_id integer not null,
    rule_key uuid not null,
    validity daterange not null,
    note text not null default '',
    introduced_in integer not null,
    retired_in integer check (retired_in > introduced_in),
    editions int4range generated always as (int4range(introduced_in, retired_in)) stored,
    primary key (company_id, id),
    foreign key (company_id, account_id) references account (company_id, id),
    constraint rule_no_overlap exclude using gist (rule_key with =, validity with &&, editions with &&));
create index rule_by_purpose on rule (company_id, purpose);
create index rule_by_account on rule (company_id, account_id);
create index rule_by_introduced on rule (company_id, introduced_in);
create index rule_by_retired on rule (company_id, retired_in) where retired_in is not null;

-- Of a released row only retired_in ever changes, and it is never deleted.
create function guard_setting() returns trigger language plpgsql as $fn$
declare
    draft integer := (select edition from draft_row where company_id = old.company_id);
begin
    if old.introduced_in < draft then
        if tg_op = 'DELETE' then
            raise exception 'Row % of % was released in edition % and is never deleted.', old.id, tg_table_name, old.introduced_in;
        end if;
        if to_jsonb(new) - 'retired_in' - 'editions' <> to_jsonb(old) - 'retired_in' - 'editions' then
            raise exception 'Row % of % was released in edition % and only ends.', old.id, tg_table_name, old.introduced_in;
        end if;
        if old.retired_in < draft and new.retired_in is distinct from old.retired_in then
            raise exception 'Row % of % ended with edition %, which is released.', old.id, tg_table_name, old.retired_in;
        end if;
    end if;
    return case tg_op when 'DELETE' then old else new end;
end $fn$;

do $fn$
declare
    setting text;
begin
    foreach setting in array array['grouping_setting', 'tax_code_setting', 'account_setting', 'member_setting', 'company_option', 'ladder', 'tax_rule',
        'rule'] loop
        execute format('create trigger %I before update or delete on %I for each row execute function guard_setting()', setting || '_guard', setting);
    end loop;
end $fn$;
