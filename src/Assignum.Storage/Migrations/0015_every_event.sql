-- Makes possible: money that a connection holds back, as a movement of its own; entries in the adjustment period of a fiscal year.

alter table money_movement add connection text;
alter table money_movement drop constraint money_movement_of_one;
alter table money_movement add constraint money_movement_of_one check (num_nonnulls(money_account, method, connection) = 1);

create or replace view movement as
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, m.subledger, p.code as member, null::numeric as quantity, null::numeric as base,
       m.amount, m.currency, m.document_amount, p.code as thing, null::text as place
from party_movement m left join member p on p.company_id = m.company_id and p.id = m.party_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, m.subledger, coalesce(i.code, g.code) || '@' || coalesce(o.code, ''),
       m.quantity, null,
       m.amount, m.currency, m.document_amount, coalesce(i.code, g.code), o.code
from stock_movement m
left join member i on i.company_id = m.company_id and i.id = m.item_id
left join grouping g on g.company_id = m.company_id and g.id = m.item_group_id
left join member o on o.company_id = m.company_id and o.id = m.location_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'tax', t.code || case when m.component = '' then '' else '/' || m.component end,
       null, m.base,
       m.amount, m.currency, m.document_amount, t.code || case when m.component = '' then '' else '/' || m.component end, m.side
from tax_movement m left join tax_code t on t.company_id = m.company_id and t.id = m.tax_code_id
union all
select m.company_id, m.date, m.event_id, m.line_no, m.entry_id, m.reverses, 'bank', coalesce(m.money_account, m.method, m.connection), null, null,
       m.amount, m.currency, m.document_amount, coalesce(m.money_account, m.method, m.connection), null
from money_movement m;

-- What a payment settles is found by the item it takes away.
create index event_by_id_at_source on event (company_id, source_id);
