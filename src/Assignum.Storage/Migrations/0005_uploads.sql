-- Makes possible: a file that is looked at before it is taken in, on whichever instance answers.

create table upload (
    company_id integer not null references company,
    id uuid not null default gen_random_uuid(),
    user_id integer not null references app_user,
    name text not null,
    content bytea not null,
    at timestamptz not null default now(),
    primary key (company_id, id));
grant select, insert, delete on upload to assignum_app;
