-- Makes possible: the lines of a month's end, each done or left with a reason and a name, and what was signed kept with the close.

create table closing_line (
    company_id integer not null,
    id bigint generated always as identity,
    period_id integer not null,
    line text not null,
    -- The figure that was signed; when it is another by now, the line is open again.
    figure text not null,
    was_left boolean not null,
    reason text not null default '',
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    foreign key (company_id, period_id) references period (company_id, id));
create index closing_line_by_period on closing_line (company_id, period_id, line, id);
grant select, insert on closing_line to assignum_app;

-- What was signed when the period was closed, as it is printed and kept.
alter table period_close add column statement jsonb;

-- What somebody saw last: their desk tells what has changed since.
create table last_visit (
    company_id integer not null references company,
    user_id integer not null references app_user,
    at timestamptz not null,
    before timestamptz not null,
    primary key (company_id, user_id));
grant select, insert, update on last_visit to assignum_app;

-- An entry is asked whether it was taken back.
create index entry_by_reversed on entry (company_id, reverses) where reverses is not null;
