-- Makes possible: the class of an account as a setting that waits for a release, and four eyes that know every hand a change of the draft has been in.

-- The guard lets nobody change released rows; here their class is only written down where it now stands. Earlier editions get the class the account has today.
alter table account_setting add class text;
alter table account_setting disable trigger account_setting_guard;
update account_setting s set class = a.class from account a where a.company_id = s.company_id and a.id = s.account_id;
alter table account_setting enable trigger account_setting_guard;
alter table account_setting alter class set not null;
alter table account drop class;

-- Who had a change of a draft in hand before somebody altered it or took it out. Hands of rows that still stand are on the rows.
create table setting_hand (
    company_id integer not null references company,
    edition integer not null,
    setting text not null,
    subject text not null,
    user_id integer not null references app_user,
    primary key (company_id, edition, setting, subject, user_id));
grant select, insert, update, delete on setting_hand to assignum_app;

create function note_hands() returns trigger language plpgsql as $fn$
declare
    draft integer := (select edition from draft_row where company_id = old.company_id);
    hands integer[] := case when old.introduced_in = draft then array[old.made_by, old.introduced_by] else '{}'::integer[] end
        || case when old.retired_in = draft then array[old.retired_by] else '{}'::integer[] end;
begin
    insert into setting_hand (company_id, edition, setting, subject, user_id)
    select distinct old.company_id, draft, tg_table_name, to_jsonb(old) ->> tg_argv[0], hand from unnest(hands) hand where hand is not null
    on conflict do nothing;
    return null;
end $fn$;

do $fn$
declare
    setting record;
begin
    for setting in select * from (values ('grouping_setting', 'grouping_id'), ('tax_code_setting', 'tax_code_id'), ('account_setting', 'account_id'),
        ('member_setting', 'member_id'),
        ('company_option', 'company_id'), ('ladder', 'purpose'), ('tax_rule', 'rule_key'), ('rule', 'name')) as s (name, subject) loop
        execute format('create trigger %I after update or delete on %I for each row '
            'when (coalesce(old.made_by, old.introduced_by, old.retired_by) is not null) execute function note_hands(%L)',
            setting.name || '_hands', setting.name, setting.subject);
    end loop;
end $fn$;

-- A first group that only the draft had goes with it.
grant delete on first_group to assignum_app;
