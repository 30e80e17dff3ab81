-- Makes possible: costs, standing accounts, settled items and rates filled in from the books: movements that know their account, open items and stock
-- kept with every posting, exchange rates by day.

alter table party_movement add account_id integer, add purpose text;
alter table stock_movement add account_id integer;

-- What is there follows the line in which the same amount landed.
update party_movement m set account_id = l.account_id, purpose = l.purpose
from line l
where l.company_id = m.company_id and l.date = m.date and l.entry_id = m.entry_id and l.amount = m.amount
  and l.purpose = any(case m.subledger when 'receivables' then array['receivable', 'customer-deposit'] else array['payable', 'supplier-deposit'] end);
update stock_movement m set account_id = l.account_id
from line l
where l.company_id = m.company_id and l.date = m.date and l.entry_id = m.entry_id and l.amount = m.amount and l.item_id is not distinct from m.item_id
  and l.purpose = case m.subledger when 'inventory' then 'inventory' else 'goods-received-not-invoiced' end;

-- Open items: what is left of each on each account. Settlements are the movements that name the item.
create table open_item (
    company_id integer not null references company,
    item_event_id bigint not null,
    subledger text not null,
    purpose text not null,
    party_id integer not null,
    account_id integer not null,
    currency char(3) not null,
    due_date date not null,
    document_amount numeric(19, 4) not null,
    amount numeric(19, 4) not null,
    primary key (company_id, item_event_id, subledger, purpose, account_id, currency));
create index open_item_by_party on open_item (company_id, party_id, due_date) where document_amount <> 0 or amount <> 0;

-- Stock by item, place (0: said nowhere) and account (0: not known).
create table stock_standing (
    company_id integer not null references company,
    item_id integer not null,
    location_id integer not null,
    account_id integer not null,
    quantity numeric(19, 6) not null,
    amount numeric(19, 4) not null,
    last_cost numeric(19, 6),
    primary key (company_id, item_id, location_id, account_id));

-- Up to which event both are kept.
create table standing_row (
    company_id integer primary key references company,
    last_event bigint not null);

create function add_to_standing(company integer) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    known bigint;
    latest bigint := (select last_event from posting_row where company_id = company);
begin
    insert into standing_row (company_id, last_event) values (company, 0) on conflict do nothing;
    select last_event into known from standing_row where company_id = company for update;
    if latest is null or latest <= known then
        return;
    end if;
    insert into open_item (company_id, item_event_id, subledger, purpose, party_id, account_id, currency, due_date, document_amount, amount)
    select company, m.item_event_id, m.subledger, m.purpose, min(m.party_id), m.account_id, m.currency,
        coalesce(min(m.due_date) filter (where m.item_event_id = m.event_id), min(m.due_date)), sum(m.document_amount), sum(m.amount)
    from event e join party_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id
    where e.company_id = company and e.id > known and m.account_id is not null
    group by m.item_event_id, m.subledger, m.purpose, m.account_id, m.currency
    order by m.item_event_id, m.subledger, m.purpose, m.account_id, m.currency
    on conflict (company_id, item_event_id, subledger, purpose, account_id, currency)
    do update set document_amount = open_item.document_amount + excluded.document_amount, amount = open_item.amount + excluded.amount;
    insert into stock_standing (company_id, item_id, location_id, account_id, quantity, amount, last_cost)
    select company, m.item_id, coalesce(m.location_id, 0), coalesce(m.account_id, 0), sum(m.quantity), sum(m.amount),
        (array_agg(round(m.amount / m.quantity, 6) order by m.event_id desc, m.line_no desc) filter (where m.quantity > 0 and m.amount > 0))[1]
    from event e join stock_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id
    where e.company_id = company and e.id > known and m.subledger = 'inventory' and m.item_id is not null
    group by m.item_id, coalesce(m.location_id, 0), coalesce(m.account_id, 0)
    order by m.item_id, coalesce(m.location_id, 0), coalesce(m.account_id, 0)
    on conflict (company_id, item_id, location_id, account_id)
    do update set quantity = stock_standing.quantity + excluded.quantity, amount = stock_standing.amount + excluded.amount,
        last_cost = coalesce(excluded.last_cost, stock_standing.last_cost);
    update standing_row set last_event = latest where company_id = company;
end $fn$;
revoke execute on function add_to_standing(integer) from public;
grant execute on function add_to_standing(integer) to assignum_app;
grant select on open_item, stock_standing, standing_row to assignum_app;
select add_to_standing(id) from company;

create table exchange_rate (
    company_id integer not null references company,
    currency char(3) not null,
    day date not null,
    rate numeric(24, 12) not null check (rate > 0),
    primary key (company_id, currency, day));
grant select, insert, update, delete on exchange_rate to assignum_app;
