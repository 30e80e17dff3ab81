-- Makes possible: documents kept with an entry. They stay as the entry does.

create table attachment (
    company_id integer not null references company,
    id integer generated always as identity,
    entry_id bigint not null,
    name text not null,
    kind text not null check (kind in ('pdf', 'png', 'jpeg', 'xlsx', 'csv')),
    content bytea not null,
    user_id integer not null references app_user,
    at timestamptz not null default now(),
    primary key (company_id, id),
    constraint attachment_not_empty check (length(content) > 0));
create index attachment_by_entry on attachment (company_id, entry_id);
-- What is packed already is not packed once more.
alter table attachment alter content set storage external;
grant select, insert on attachment to assignum_app;
