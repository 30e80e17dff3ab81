-- Makes possible: held events by cause, with the money that waits, retried in the order in which they came.

-- The event that came first of those it stands for: itself, or the one it took the place of while that waited.
alter table event add column came bigint;
update event set came = id;
alter table event alter came set not null;
-- What waits of a held event, company currency; null where nothing can be computed.
alter table event add column waiting_amount numeric(19, 4);
update event set waiting_amount = coalesce(total, (received ->> 'amount')::numeric) where outcome = 'held' and (received ->> 'amount') is null
    or outcome = 'held' and (received ->> 'amount') ~ '^-?[0-9]{1,14}(\.[0-9]{1,4})?$';
drop index event_held;
create index event_held on event (company_id, came) where outcome = 'held';

-- What is missing by its code, what that is, and the rule that answered.
alter table held_reason add column code text, add column what text, add column rule text, add column field text;
