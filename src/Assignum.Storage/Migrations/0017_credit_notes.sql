-- Makes possible: a credit note is held against its invoice and the notes before it, found by what they refer to.

create index event_referring on event (company_id, (prepared ->> 'refersTo')) where prepared ? 'refersTo';
