-- Makes possible: an event's source told apart from the connection it names, movements that say which event they take back,
-- and the account on which what was merged away stands now.

-- Identity goes by how an event came. Stored events keep theirs.
alter table event add source text;
update event set source = connection;
alter table event alter source set not null;
alter table event drop constraint event_identity;
alter table event add constraint event_identity unique (company_id, source, source_id, revision);

-- The event whose movement this one takes back; null for the event's own.
alter table subledger_line add reverses bigint;

update subledger_line s set reverses = r.event_id
from entry n join entry r on r.company_id = n.company_id and r.id = n.reverses
where s.company_id = n.company_id and s.entry_id = n.id;

-- Movements without an entry: what a revision took back stands before its own, and was as much as the revision before it had.
do $fn$
declare
    revised record;
begin
    for revised in
        select e.company_id, e.id, e.date, before.id as before_id, (select count(*) from subledger_line s where s.company_id = e.company_id
            and s.date = before.date and s.event_id = before.id and s.entry_id is null) as taken
        from event e
        cross join lateral (
            select p.id, p.date from event p
            where p.company_id = e.company_id and p.source = e.source and p.source_id = e.source_id and p.revision < e.revision and p.outcome = 'superseded'
            order by p.revision desc limit 1) before
        where e.outcome in ('landed', 'superseded')
        order by e.company_id, e.id
    loop
        update subledger_line s set reverses = revised.before_id
        from (select line_no from subledger_line where company_id = revised.company_id and date = revised.date and event_id = revised.id and entry_id is null
            order by line_no limit revised.taken) first
        where s.company_id = revised.company_id and s.date = revised.date and s.event_id = revised.id and s.line_no = first.line_no;
    end loop;
end $fn$;

-- What stood on one account by events up to the last one stands on another now.
create table standing_move (
    company_id integer not null references company,
    id bigint generated always as identity,
    from_account_id integer not null,
    to_account_id integer not null,
    up_to_event bigint not null,
    event_id bigint not null,
    primary key (company_id, id),
    foreign key (company_id, from_account_id) references account (company_id, id),
    foreign key (company_id, to_account_id) references account (company_id, id),
    foreign key (company_id, event_id) references event (company_id, id));
grant select, insert on standing_move to assignum_app;
