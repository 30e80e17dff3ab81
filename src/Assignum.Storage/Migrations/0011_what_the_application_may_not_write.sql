-- Makes possible: the application releases, opens companies and adds to balances through functions that own what they write,
-- and can change nothing of a released edition.

grant select on schemaversions to assignum_app;

-- A company with edition 1, empty and released, and draft 2.
create function open_company(its_code text, its_fold text, its_name text, its_currency text) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    opened integer;
begin
    insert into company (code, code_fold, name, currency) values (its_code, its_fold, its_name, its_currency) returning id into opened;
    insert into edition (company_id, number, released_at, note) values (opened, 1, now(), 'Opened, empty.'), (opened, 2, null, '');
    insert into draft_row (company_id, edition) values (opened, 2);
    insert into posting_row (company_id, edition) values (opened, 1);
    return opened;
end $fn$;

-- The draft becomes the edition in force, and the next draft begins. Nothing else ever changes an edition.
create function release_draft(company integer, releaser integer, remark text) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    released integer;
begin
    select edition into strict released from draft_row where company_id = company for update;
    perform from posting_row where company_id = company for update;
    update edition set released_at = now(), released_by = releaser, note = remark where company_id = company and number = released;
    insert into edition (company_id, number) values (company, released + 1);
    update posting_row set edition = released where company_id = company;
    update draft_row set edition = released + 1, stamp = stamp + 1 where company_id = company;
    return released;
end $fn$;

-- Up to which entry the balances hold what the lines say.
create table balance_row (
    company_id integer primary key references company,
    last_entry bigint not null);
insert into balance_row (company_id, last_entry) select company_id, last_entry from posting_row;

-- Adds the lines of the entries that came since. One sorted statement, so that two companies' batches never wait for each other in a circle.
create function add_to_balances(company integer) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    known bigint;
    latest bigint := (select max(id) from entry where company_id = company);
begin
    insert into balance_row (company_id, last_entry) values (company, 0) on conflict do nothing;
    select last_entry into known from balance_row where company_id = company for update;
    if latest is null or latest <= known then
        return;
    end if;
    insert into balance (company_id, account_id, period_id, currency, dimension_set_id, debit, credit, document_amount)
    select company, l.account_id, n.period_id, l.currency, coalesce(l.dimension_set_id, 0), sum(greatest(l.amount, 0)), sum(greatest(-l.amount, 0)),
        sum(l.document_amount)
    from entry n join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
    where n.company_id = company and n.id > known
    group by l.account_id, n.period_id, l.currency, coalesce(l.dimension_set_id, 0)
    order by l.account_id, n.period_id, l.currency, coalesce(l.dimension_set_id, 0)
    on conflict (company_id, account_id, period_id, currency, dimension_set_id)
    do update set debit = balance.debit + excluded.debit, credit = balance.credit + excluded.credit,
        document_amount = balance.document_amount + excluded.document_amount;
    update balance_row set last_entry = latest where company_id = company;
end $fn$;

revoke execute on function open_company(text, text, text, text), release_draft(integer, integer, text), add_to_balances(integer) from public;
grant execute on function open_company(text, text, text, text), release_draft(integer, integer, text), add_to_balances(integer) to assignum_app;
revoke insert, update on edition, balance from assignum_app;
revoke insert, update on draft_row, posting_row from assignum_app;
grant update (stamp, described) on draft_row to assignum_app;
grant update (stamp, last_entry, last_event) on posting_row to assignum_app;
revoke insert on company from assignum_app;
revoke update on company from assignum_app;
grant update (name, group_id, four_eyes) on company to assignum_app;

-- Into what is released nothing comes, but for a member that is new altogether.
create function guard_coming() returns trigger language plpgsql as $fn$
begin
    if exists (select from come join draft_row d on d.company_id = come.company_id where come.introduced_in < d.edition) then
        raise exception 'Nothing comes into a released edition: %.', tg_table_name;
    end if;
    return null;
end $fn$;

create function guard_coming_member() returns trigger language plpgsql as $fn$
begin
    if exists (select from come join draft_row d on d.company_id = come.company_id
               where come.introduced_in < d.edition - 1
                  or (come.introduced_in < d.edition and exists (select from member_setting m where m.company_id = come.company_id
                      and m.member_id = come.member_id and m.id <> come.id))) then
        raise exception 'Nothing comes into a released edition but a new member.';
    end if;
    return null;
end $fn$;

do $fn$
declare
    setting text;
begin
    foreach setting in array array['grouping_setting', 'tax_code_setting', 'account_setting', 'company_option', 'ladder', 'tax_rule', 'rule'] loop
        execute format('create trigger %I after insert on %I referencing new table as come for each statement execute function guard_coming()',
            setting || '_coming', setting);
    end loop;
end $fn$;
create trigger member_setting_coming after insert on member_setting referencing new table as come for each statement execute function guard_coming_member();
