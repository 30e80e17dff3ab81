-- Makes possible: sessions that can be seen and ended, lock-outs by name and address, disabled people, links that reset a password once, and a second factor.

alter table app_user
    add disabled_at timestamptz,
    add second_factor text,
    add second_factor_step bigint not null default 0,
    add outside_subject text unique;
alter table app_user drop failures, drop locked_until;

-- Approvers of such a company release only when they have signed in with a second factor.
alter table company add second_factor boolean not null default false;
grant update (second_factor) on company to assignum_app;

create table user_session (
    id uuid primary key default gen_random_uuid(),
    user_id integer not null references app_user,
    address text not null,
    agent text not null,
    second_factor boolean not null,
    began_at timestamptz not null default now(),
    seen_at timestamptz not null default now(),
    ends_at timestamptz not null,
    ended_at timestamptz);
create index user_session_open on user_session (user_id) where ended_at is null;

-- Failed sign-ins of a typed name from an address, whether the name exists or not.
create table sign_in_failure (
    name_fold text not null,
    address text not null,
    failures integer not null,
    locks integer not null default 0,
    locked_until timestamptz,
    last_at timestamptz not null default now(),
    primary key (name_fold, address));

create table reset_link (
    token_hash bytea primary key,
    user_id integer not null references app_user,
    made_by integer references app_user,
    made_at timestamptz not null default now(),
    ends_at timestamptz not null,
    used_at timestamptz);

grant select, insert on user_session, sign_in_failure, reset_link to assignum_app;
grant update (seen_at, ended_at) on user_session to assignum_app;
grant update, delete on sign_in_failure to assignum_app;
grant update (used_at) on reset_link to assignum_app;
-- Of a person the application changes the password, the stamp and what signs in beside it; who somebody is stays.
revoke update on app_user from assignum_app;
grant update (password_hash, stamp, disabled_at, second_factor, second_factor_step, outside_subject, shown_as) on app_user to assignum_app;
