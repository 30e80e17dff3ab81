-- Makes possible: open items with the dimensions they arose with, terms of payment, what stands on an account moved item by item, and the day of each
-- such move.

alter table party_movement add dimension_set_id integer;
update party_movement m set dimension_set_id = l.dimension_set_id
from line l
where l.company_id = m.company_id and l.date = m.date and l.entry_id = m.entry_id and l.amount = m.amount and l.account_id = m.account_id
  and l.purpose = m.purpose and l.dimension_set_id is not null;
alter table open_item add dimension_set_id integer;
update open_item o set dimension_set_id = m.dimension_set_id
from party_movement m
where m.company_id = o.company_id and m.event_id = o.item_event_id and m.item_event_id = o.item_event_id and m.subledger = o.subledger
  and m.purpose = o.purpose and m.account_id = o.account_id and m.dimension_set_id is not null;

create or replace function add_to_items_and_stock(company integer) returns void
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
    insert into open_item (company_id, item_event_id, subledger, purpose, party_id, account_id, currency, due_date, document_amount, amount, dimension_set_id)
    -- An item is due when the event says that opened it, also where that opened it on another account, or does not stand any more.
    select company, m.item_event_id, m.subledger, m.purpose, min(m.party_id), m.account_id, m.currency,
        coalesce(min(m.due_date) filter (where m.item_event_id = m.event_id), min(i.due_date)), sum(m.document_amount), sum(m.amount),
        (array_agg(m.dimension_set_id order by m.event_id, m.line_no) filter (where m.item_event_id = m.event_id))[1]
    from event e join party_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id
    join event i on i.company_id = company and i.id = m.item_event_id
    where e.company_id = company and e.id > known and m.account_id is not null
    group by m.item_event_id, m.subledger, m.purpose, m.account_id, m.currency
    order by m.item_event_id, m.subledger, m.purpose, m.account_id, m.currency
    on conflict (company_id, item_event_id, subledger, purpose, account_id, currency)
    do update set document_amount = open_item.document_amount + excluded.document_amount, amount = open_item.amount + excluded.amount,
        dimension_set_id = coalesce(open_item.dimension_set_id, excluded.dimension_set_id);
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

-- What stood on one account and stands on another since: of an open item, of stock at a place, or of a line of a receipt. Their sums do not change.
create table standing_shift (
    company_id integer not null references company,
    id bigint generated always as identity,
    date date not null,
    event_id bigint not null,
    line_no integer not null,
    reverses bigint,
    purpose text not null,
    from_account_id integer not null,
    to_account_id integer not null,
    item_event_id bigint,
    party_id integer,
    currency char(3),
    due_date date,
    item_id integer,
    location_id integer,
    receipt_event_id bigint,
    receipt_line integer,
    quantity numeric(19, 6) not null default 0,
    amount numeric(19, 4) not null,
    document_amount numeric(19, 4) not null default 0,
    primary key (company_id, id),
    constraint standing_shift_of_one check (num_nonnulls(item_event_id, item_id) = 1));
create index standing_shift_by_event on standing_shift (company_id, event_id);
create index standing_shift_by_open_item on standing_shift (company_id, item_event_id) where item_event_id is not null;
create index standing_shift_by_stock on standing_shift (company_id, item_id) where item_id is not null;

-- Carries the shifts of an event over to what stands.
create function carry_shifts(company integer, mover bigint) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
begin
    update open_item o set document_amount = o.document_amount - s.document_amount, amount = o.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.item_event_id is not null and o.company_id = company and o.item_event_id = s.item_event_id
        and o.purpose = s.purpose and o.account_id = s.from_account_id and o.currency = s.currency;
    insert into open_item (company_id, item_event_id, subledger, purpose, party_id, account_id, currency, due_date, document_amount, amount, dimension_set_id)
    select s.company_id, s.item_event_id, case when s.purpose in ('receivable', 'customer-deposit') then 'receivables' else 'payables' end, s.purpose,
        s.party_id, s.to_account_id, s.currency, s.due_date, s.document_amount, s.amount, o.dimension_set_id
    from standing_shift s
    join open_item o on o.company_id = company and o.item_event_id = s.item_event_id and o.purpose = s.purpose and o.account_id = s.from_account_id
        and o.currency = s.currency
    where s.company_id = company and s.event_id = mover and s.item_event_id is not null
    on conflict (company_id, item_event_id, subledger, purpose, account_id, currency)
    do update set document_amount = open_item.document_amount + excluded.document_amount, amount = open_item.amount + excluded.amount;
    update stock_standing t set quantity = t.quantity - s.quantity, amount = t.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.item_id is not null and s.receipt_event_id is null and t.company_id = company
        and t.item_id = s.item_id and t.location_id = s.location_id and t.account_id = s.from_account_id;
    insert into stock_standing (company_id, item_id, location_id, account_id, quantity, amount, last_cost)
    select s.company_id, s.item_id, s.location_id, s.to_account_id, sum(s.quantity), sum(s.amount), max(t.last_cost)
    from standing_shift s
    join stock_standing t on t.company_id = company and t.item_id = s.item_id and t.location_id = s.location_id and t.account_id = s.from_account_id
    where s.company_id = company and s.event_id = mover and s.item_id is not null and s.receipt_event_id is null
    group by s.company_id, s.item_id, s.location_id, s.to_account_id
    on conflict (company_id, item_id, location_id, account_id)
    do update set quantity = stock_standing.quantity + excluded.quantity, amount = stock_standing.amount + excluded.amount,
        last_cost = coalesce(stock_standing.last_cost, excluded.last_cost);
    update receipt_standing r set quantity = r.quantity - s.quantity, amount = r.amount - s.amount
    from standing_shift s
    where s.company_id = company and s.event_id = mover and s.receipt_event_id is not null and r.company_id = company
        and r.receipt_event_id = s.receipt_event_id and r.receipt_line = s.receipt_line and r.party_id = coalesce(s.party_id, 0) and r.item_id = s.item_id
        and r.location_id = s.location_id and r.account_id = s.from_account_id;
    insert into receipt_standing (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id, quantity, amount)
    select s.company_id, s.receipt_event_id, s.receipt_line, coalesce(s.party_id, 0), s.item_id, s.location_id, s.to_account_id, s.quantity, s.amount
    from standing_shift s where s.company_id = company and s.event_id = mover and s.receipt_event_id is not null
    on conflict (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id)
    do update set quantity = receipt_standing.quantity + excluded.quantity, amount = receipt_standing.amount + excluded.amount;
end $fn$;
revoke execute on function carry_shifts(integer, bigint) from public;

-- Everything of the lines' parties, items and places that stands on one account (or on those merged into it) stands where its line landed. What is moved
-- so is what the entry moved, or nothing is.
create function shift_standing(company integer, mover bigint, moved_purpose text, from_accounts integer[], lines integer[], to_accounts integer[],
    parties integer[], items integer[], places integer[], currencies text[]) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    day date := (select date from event where company_id = company and id = mover and type = 'standing-transfer' and outcome = 'landed');
    off record;
begin
    if day is null or exists (select from standing_shift where company_id = company and event_id = mover) then
        raise exception 'Event % of company % is no standing transfer that has just landed.', mover, company;
    end if;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, item_event_id, party_id, currency, due_date,
        amount, document_amount)
    select company, day, mover, l.line, moved_purpose, o.account_id, l.to_account, o.item_event_id, o.party_id, o.currency, o.due_date, o.amount,
        o.document_amount
    from unnest(lines, to_accounts, parties, currencies) l(line, to_account, party, currency)
    join open_item o on o.company_id = company and o.purpose = moved_purpose and o.account_id = any(from_accounts) and o.party_id = l.party
        and o.currency = l.currency and (o.document_amount <> 0 or o.amount <> 0)
    where moved_purpose in ('receivable', 'payable', 'customer-deposit', 'supplier-deposit')
    order by o.item_event_id;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, item_id, location_id, quantity, amount)
    select company, day, mover, l.line, moved_purpose, s.account_id, l.to_account, s.item_id, s.location_id, s.quantity, s.amount
    from unnest(lines, to_accounts, items, places) l(line, to_account, item, place)
    join stock_standing s on s.company_id = company and s.account_id = any(from_accounts) and s.item_id = l.item and s.location_id = coalesce(l.place, 0)
        and (s.quantity <> 0 or s.amount <> 0)
    where moved_purpose in ('inventory', 'inventory-in-transit')
    order by s.item_id, s.location_id;
    insert into standing_shift (company_id, date, event_id, line_no, purpose, from_account_id, to_account_id, party_id, item_id, location_id, receipt_event_id,
        receipt_line, quantity, amount)
    select company, day, mover, l.line, moved_purpose, r.account_id, l.to_account, nullif(r.party_id, 0), r.item_id, r.location_id, r.receipt_event_id,
        r.receipt_line, r.quantity, r.amount
    from unnest(lines, to_accounts, items, places) l(line, to_account, item, place)
    join receipt_standing r on r.company_id = company and r.account_id = any(from_accounts) and r.item_id = l.item and r.location_id = coalesce(l.place, 0)
        and (r.quantity <> 0 or r.amount <> 0)
    where moved_purpose = 'goods-received-not-invoiced'
    order by r.receipt_event_id, r.receipt_line;
    select a.account_id, a.amount, b.amount as shifted into off
    from (select to_account_id as account_id, sum(case when receipt_event_id is null then amount else -amount end) as amount from standing_shift
        where company_id = company and event_id = mover group by to_account_id) b
    full join (select l.account_id, sum(l.amount) as amount
        from entry n join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
        where n.company_id = company and n.event_id = mover and n.reverses is null and l.purpose = moved_purpose and not l.account_id = any(from_accounts)
        group by l.account_id) a using (account_id)
    where coalesce(a.amount, 0) <> coalesce(b.amount, 0) limit 1;
    if found then
        raise exception 'Event % of company % moves % to an account, and % stands there to be moved.', mover, company, off.amount, off.shifted;
    end if;
    perform carry_shifts(company, mover);
end $fn$;
revoke execute on function shift_standing(integer, bigint, text, integer[], integer[], integer[], integer[], integer[], integer[], text[]) from public;
grant execute on function shift_standing(integer, bigint, text, integer[], integer[], integer[], integer[], integer[], integer[], text[]) to assignum_app;

-- What an event had moved stands where it stood before, by the event that takes it back.
create function shift_back(company integer, taken_back bigint, mover bigint) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
begin
    insert into standing_shift (company_id, date, event_id, line_no, reverses, purpose, from_account_id, to_account_id, item_event_id, party_id, currency,
        due_date, item_id, location_id, receipt_event_id, receipt_line, quantity, amount, document_amount)
    select s.company_id, e.date, mover, s.line_no, taken_back, s.purpose, s.to_account_id, s.from_account_id, s.item_event_id, s.party_id, s.currency,
        s.due_date, s.item_id, s.location_id, s.receipt_event_id, s.receipt_line, s.quantity, s.amount, s.document_amount
    from standing_shift s join event e on e.company_id = company and e.id = mover
    where s.company_id = company and s.event_id = taken_back and s.reverses is null
        and exists (select from entry n where n.company_id = company and n.event_id = mover and n.reverses is not null)
        and not exists (select from standing_shift b where b.company_id = company and b.reverses = taken_back)
    order by s.id;
    perform carry_shifts(company, mover);
end $fn$;
revoke execute on function shift_back(integer, bigint, bigint) from public;
grant execute on function shift_back(integer, bigint, bigint) to assignum_app;
grant select on standing_shift to assignum_app;

-- What is under way by a method knows the connection it comes through.
alter table money_movement drop constraint money_movement_of_one;
alter table money_movement add constraint money_movement_of_one check (
    (money_account is not null and method is null and connection is null) or (money_account is null and num_nonnulls(method, connection) > 0));
update money_movement m set connection = trim(e.prepared ->> 'connection')
from event e
where e.company_id = m.company_id and e.id = coalesce(m.reverses, m.event_id) and m.method is not null and trim(e.prepared ->> 'connection') <> '';

-- When a party pays, and what it may keep: its own terms, else those of its group.
create table payment_terms (
    company_id integer not null references company,
    party_id integer,
    grouping_id integer,
    days integer not null check (days between 0 and 3650),
    discount_percent numeric(7, 4) not null default 0 check (discount_percent between 0 and 100),
    discount_days integer not null default 0 check (discount_days between 0 and 3650),
    tolerance numeric(19, 4) not null default 0 check (tolerance >= 0),
    constraint payment_terms_of_one check (num_nonnulls(party_id, grouping_id) = 1));
create unique index payment_terms_of_party on payment_terms (company_id, party_id) where party_id is not null;
create unique index payment_terms_of_group on payment_terms (company_id, grouping_id) where grouping_id is not null;
grant select, insert, update, delete on payment_terms to assignum_app;
