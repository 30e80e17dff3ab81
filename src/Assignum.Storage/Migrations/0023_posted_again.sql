-- Makes possible: what a source sent is taken back, or posted again by the rules of today, by hand; its revision stays the source's.

alter table event add column posting integer not null default 1 check (posting > 0);
alter table event drop constraint event_identity;
alter table event add constraint event_identity unique (company_id, source, source_id, revision, posting);
