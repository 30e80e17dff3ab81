-- Makes possible: goods received and not invoiced, line by line of their receipts, with what was invoiced of each.

alter table stock_movement add receipt_event_id bigint, add receipt_line integer not null default 0;
update stock_movement set receipt_event_id = coalesce(reverses, event_id) where subledger = 'purchasing';
create index stock_movement_by_receipt on stock_movement (company_id, receipt_event_id) where receipt_event_id is not null;

-- What waits of each line: above 0 received and not invoiced, below invoiced and not received. Party, place and account 0: none.
create table receipt_standing (
    company_id integer not null references company,
    receipt_event_id bigint not null,
    receipt_line integer not null,
    party_id integer not null,
    item_id integer not null,
    location_id integer not null,
    account_id integer not null,
    quantity numeric(19, 6) not null,
    amount numeric(19, 4) not null,
    primary key (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id));
create index receipt_standing_open on receipt_standing (company_id, item_id, party_id) where quantity <> 0 or amount <> 0;
grant select on receipt_standing to assignum_app;

create function add_to_receipts(company integer, known bigint) returns void
language sql security definer set search_path = public, pg_temp as $fn$
    insert into receipt_standing (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id, quantity, amount)
    select company, m.receipt_event_id, m.receipt_line, coalesce(o.party_id, 0), m.item_id, coalesce(o.location_id, 0),
        coalesce(m.account_id, 0), -sum(m.quantity), -sum(m.amount)
    from event e join stock_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id
    -- A line stands where it was opened, whatever the document says that takes of it.
    cross join lateral (select r.party_id, (select f.location_id from stock_movement f where f.company_id = company and f.date = r.date
        and f.event_id = r.id and f.subledger = 'purchasing' and f.item_id = m.item_id and f.receipt_event_id = r.id and f.receipt_line = m.receipt_line
        order by f.line_no limit 1) as location_id from event r where r.company_id = company and r.id = m.receipt_event_id) o
    where e.company_id = company and e.id > known and m.subledger = 'purchasing' and m.item_id is not null
    group by m.receipt_event_id, m.receipt_line, coalesce(o.party_id, 0), m.item_id, coalesce(o.location_id, 0), coalesce(m.account_id, 0)
    order by 2, 3, 4, 5, 6, 7
    on conflict (company_id, receipt_event_id, receipt_line, party_id, item_id, location_id, account_id)
    do update set quantity = receipt_standing.quantity + excluded.quantity, amount = receipt_standing.amount + excluded.amount
$fn$;
revoke execute on function add_to_receipts(integer, bigint) from public;
select add_to_receipts(id, 0) from company;

alter function add_to_standing(integer) rename to add_to_items_and_stock;
revoke execute on function add_to_items_and_stock(integer) from assignum_app;

-- Open items, stock and receipts are kept up to the same event. A company that is new in the tables is not in their statistics yet, and everything that
-- names it would be looked for in the wrong way: whenever its events have doubled, they are taken anew.
alter table standing_row add measured bigint not null default 0;
create function add_to_standing(company integer) returns void
language plpgsql security definer set search_path = public, pg_temp as $fn$
declare
    known bigint;
begin
    insert into standing_row (company_id, last_event) values (company, 0) on conflict do nothing;
    select last_event into known from standing_row where company_id = company for update;
    perform add_to_receipts(company, known);
    perform add_to_items_and_stock(company);
    update standing_row set measured = last_event where company_id = company and last_event > 2 * measured + 400;
    if found then
        analyze event, entry, line, party_movement, stock_movement, tax_movement, money_movement, balance, open_item, stock_standing, receipt_standing;
    end if;
end $fn$;
revoke execute on function add_to_standing(integer) from public;
grant execute on function add_to_standing(integer) to assignum_app;
