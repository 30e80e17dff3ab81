-- Makes possible: a job that fails is tried three times, one that ends its process twice is set aside, and files of any size are kept in pieces
-- and read by a worker.

alter table job
    add failures integer not null default 0,
    add crashes integer not null default 0;

-- Files are kept for a day; those that lie here now are chosen once more.
delete from upload;
alter table upload drop content, add read bytea;

create table upload_part (
    company_id integer not null,
    upload_id uuid not null,
    place integer not null,
    content bytea not null,
    primary key (company_id, upload_id, place),
    foreign key (company_id, upload_id) references upload (company_id, id) on delete cascade);
grant select, insert, delete on upload_part to assignum_app;
grant update (read) on upload to assignum_app;
