-- Makes possible: who made, who last altered and who ended each setting, four eyes on releases, former codes of groups,
-- and quick reading of what an edition changed.

do $fn$
declare
    setting text;
begin
    foreach setting in array array['grouping_setting', 'tax_code_setting', 'account_setting', 'member_setting', 'company_option', 'ladder', 'tax_rule',
        'rule'] loop
        execute format('alter table %I
            add made_by integer default nullif(current_setting(''assignum.user'', true), '''')::integer,
            add introduced_by integer default nullif(current_setting(''assignum.user'', true), '''')::integer,
            add introduced_at timestamptz default now(),
            add retired_by integer,
            add retired_at timestamptz', setting);
    end loop;
end $fn$;

create index member_setting_by_introduced on member_setting (company_id, introduced_in);
create index member_setting_by_retired on member_setting (company_id, retired_in) where retired_in is not null;
create index account_setting_by_introduced on account_setting (company_id, introduced_in);
create index account_setting_by_retired on account_setting (company_id, retired_in) where retired_in is not null;
create index rule_by_name on rule (company_id, name);

-- Of a released row only its end ever changes, and it is never deleted. Whoever changes a row is written down with it.
create or replace function guard_setting() returns trigger language plpgsql as $fn$
declare
    draft integer := (select edition from draft_row where company_id = old.company_id);
    acting integer := nullif(current_setting('assignum.user', true), '')::integer;
begin
    if old.introduced_in < draft then
        if tg_op = 'DELETE' then
            raise exception 'Row % of % was released in edition % and is never deleted.', old.id, tg_table_name, old.introduced_in;
        end if;
        if to_jsonb(new) - 'retired_in' - 'editions' - 'retired_by' - 'retired_at' <> to_jsonb(old) - 'retired_in' - 'editions' - 'retired_by' - 'retired_at'
            then
            raise exception 'Row % of % was released in edition % and only ends.', old.id, tg_table_name, old.introduced_in;
        end if;
        if old.retired_in < draft and new.retired_in is distinct from old.retired_in then
            raise exception 'Row % of % ended with edition %, which is released.', old.id, tg_table_name, old.retired_in;
        end if;
    end if;
    if tg_op = 'DELETE' then
        return old;
    end if;
    -- A row that only moves on to the next draft stays its author's.
    if new.retired_in is null then
        new.retired_by := null;
        new.retired_at := null;
    elsif old.retired_in is null then
        new.retired_by := acting;
        new.retired_at := now();
    end if;
    if old.introduced_in >= draft and new.introduced_in = old.introduced_in and new.retired_in is not distinct from old.retired_in
        and new.made_by is not distinct from old.made_by then
        new.introduced_by := acting;
        new.introduced_at := now();
    end if;
    return new;
end $fn$;

-- With four eyes nobody releases a change they made or altered last.
alter table company add four_eyes boolean not null default false;

-- A code that a group once had is never given to another of its family.
create table grouping_alias (
    company_id integer not null,
    family text not null,
    code_fold text not null,
    grouping_id integer not null,
    since timestamptz not null default now(),
    primary key (company_id, family, code_fold),
    foreign key (company_id, grouping_id) references grouping (company_id, id));

grant select, insert, delete on grouping_alias to assignum_app;
