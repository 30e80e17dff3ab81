-- Makes possible: numbers, dates and paper as each person chooses; findings accepted with a reason until a day; documents and entries found by their numbers,
-- with the document's own total.

alter table app_user
    add numbers text not null default 'point' check (numbers in ('point', 'comma', 'space')),
    add dates text not null default 'iso' check (dates in ('iso', 'dots', 'words')),
    add paper text not null default 'light' check (paper in ('light', 'dark'));
grant update (numbers, dates, paper) on app_user to assignum_app;

-- Kept beside the rulebook and not in it: an acceptance holds for the draft and for what is released alike.
create table accepted_finding (
    company_id integer not null references company,
    id integer generated always as identity,
    finding text not null,
    message text not null,
    reason text not null,
    until date not null,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    ended_at timestamptz,
    ended_by integer references app_user,
    primary key (company_id, id));
create unique index accepted_finding_once on accepted_finding (company_id, finding) where ended_at is null;
grant select, insert on accepted_finding to assignum_app;
grant update (ended_at, ended_by) on accepted_finding to assignum_app;

-- What the party owes by the document, or is owed (negative),
-- in company currency; the sum of an entry's debits says more than that where goods leave with an invoice.
alter table entry add document_total numeric(19, 4);
update entry n set document_total = case when e.type = 'sales-credit-note' then -1 else 1 end * round(e.total * coalesce((e.prepared ->> 'rate')::numeric, 1),
    2)
from event e where e.company_id = n.company_id and e.id = n.event_id and n.reverses is null and e.total is not null;

-- Which account the stock of an item stands on.
create index line_by_stock on line (company_id, item_id, account_id) include (amount) where purpose = 'inventory';

create index event_by_number on event (company_id, upper(number) text_pattern_ops) where number is not null;
create index event_by_source_id on event (company_id, upper(source_id) text_pattern_ops);
create index entry_by_number on entry (company_id, number);
