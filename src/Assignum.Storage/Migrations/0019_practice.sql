-- Makes possible: practice companies, that are copies of another company's set-up, marked as such, and put away when they are no longer wanted.

alter table company add practice_of integer references company, add put_away_at timestamptz;
create unique index company_one_practice on company (practice_of) where put_away_at is null;

-- What was posted in it stays, as everything posted does; the company itself is seen no more, and its code is free for the next one.
create function put_practice_away(practice integer) returns boolean
language sql security definer set search_path = public, pg_temp as $fn$
    with away as (
        update company set put_away_at = now(), code = code || '~' || id, code_fold = code_fold || '~' || id
        where id = practice and practice_of is not null and put_away_at is null returning id),
    ended as (
        update user_role set ended_at = now() where company_id in (select id from away) and ended_at is null returning id)
    select exists (select from away)
$fn$;

create function open_practice(original integer, its_code text, its_fold text, its_name text) returns integer
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    opened integer;
begin
    select open_company(its_code, its_fold, its_name, c.currency) into opened from company c where c.id = original and c.practice_of is null;
    update company p set practice_of = original, group_id = c.group_id, four_eyes = c.four_eyes, second_factor = c.second_factor
    from company c where p.id = opened and c.id = original;
    perform open_fiscal_year(opened, y.starts, y.ends) from fiscal_year y where y.company_id = original order by y.starts;
    insert into user_role (company_id, user_id, role, granted_by)
    select opened, user_id, role, granted_by from user_role where company_id = original and ended_at is null;
    insert into exchange_rate (company_id, currency, day, rate) select opened, currency, day, rate from exchange_rate where company_id = original;
    return opened;
end $fn$;

-- What stands beside the rulebook: descriptions and reporting codes of accounts, values of dimensions, the plan of numbers.
create function copy_beside_the_rulebook(original integer, practice integer) returns void
language sql security definer set search_path = public, pg_temp as $fn$
    insert into account_description (company_id, account_id, short_name, text, side, activity, group_company_id, group_account_id)
    select practice, t.id, d.short_name, d.text, d.side, d.activity, d.group_company_id, d.group_account_id
    from account_description d join account a on a.company_id = d.company_id and a.id = d.account_id
    join account t on t.company_id = practice and t.number_fold = a.number_fold where d.company_id = original on conflict do nothing;
    insert into account_reporting (company_id, account_id, report, report_fold, code)
    select practice, t.id, r.report, r.report_fold, r.code
    from account_reporting r join account a on a.company_id = r.company_id and a.id = r.account_id
    join account t on t.company_id = practice and t.number_fold = a.number_fold where r.company_id = original on conflict do nothing;
    insert into dimension (company_id, code, code_fold, name) select practice, code, code_fold, name from dimension where company_id = original
    on conflict do nothing;
    insert into numbering_plan (company_id, pattern) select practice, pattern from numbering_plan where company_id = original on conflict do nothing;
    insert into numbering_range (company_id, class, account_id, first_number, last_number)
    select practice, r.class, t.id, r.first_number, r.last_number
    from numbering_range r left join account a on a.company_id = r.company_id and a.id = r.account_id
    left join account t on t.company_id = practice and t.number_fold = a.number_fold where r.company_id = original;
$fn$;
create function copy_dimension_values(original integer, practice integer) returns void
language sql security definer set search_path = public, pg_temp as $fn$
    insert into dimension_value (company_id, dimension_id, code, code_fold, name)
    select practice, t.id, v.code, v.code_fold, v.name
    from dimension_value v join dimension d on d.company_id = v.company_id and d.id = v.dimension_id
    join dimension t on t.company_id = practice and t.code_fold = d.code_fold where v.company_id = original on conflict do nothing
$fn$;
revoke execute on function put_practice_away(integer), open_practice(integer, text, text, text), copy_beside_the_rulebook(integer, integer),
    copy_dimension_values(integer, integer) from public;
grant execute on function put_practice_away(integer), open_practice(integer, text, text, text), copy_beside_the_rulebook(integer, integer),
    copy_dimension_values(integer, integer) to assignum_app;
