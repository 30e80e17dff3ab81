-- Makes possible: the application signs in with a role that owns nothing and cannot change what is posted or logged.

do $fn$
begin
    create role assignum_app nologin;
exception when duplicate_object or unique_violation then
    null;
end $fn$;

revoke all on schema public from public;
grant usage on schema public to assignum_app;
grant select, insert on all tables in schema public to assignum_app;
grant usage on all sequences in schema public to assignum_app;

-- Labels and what changes at once.
grant update on company, app_user, account, member, grouping, tax_code, period to assignum_app;
grant update (ended_at, ended_by) on user_role to assignum_app;
-- Settings: a row of the draft changes in place or goes; of a released one the guard lets only its end change.
grant update, delete on grouping_setting, tax_code_setting, account_setting, member_setting, company_option, ladder, tax_rule, rule to assignum_app;
-- An account or group added in the draft goes with it.
grant delete on account, grouping, tax_code to assignum_app;
grant update on edition, draft_row, posting_row to assignum_app;
-- Of what is posted only counters and sums move.
grant update (last_number) on fiscal_year to assignum_app;
grant update on balance to assignum_app;
grant update (outcome) on event to assignum_app;

grant execute on function open_fiscal_year(integer, date, date) to assignum_app;
revoke execute on function open_fiscal_year(integer, date, date) from public;
