-- +goose Up
-- Guests, who work in one browser, and those who sign in under a name.
alter table person
    add column role      text not null default 'guest', -- guest, member, instructor or administrator
    add column user_name text,                          -- under which somebody signs in; null of a guest
    add column password  text,                          -- Argon2id in the form of PHC; null where there is none
    add column demo      boolean not null default false, -- a made-up person of the demo, who signs in by a click
    add column seen_at   timestamptz not null default now();
create unique index person_user_name on person (lower(user_name));

-- Who is signed in where. The token is known to the browser only: its hash is kept.
create table session (
    token      text primary key,
    person     uuid references person on delete cascade,
    data       bytea not null,
    agent      text not null,
    created_at timestamptz not null default now(),
    seen_at    timestamptz not null default now(),
    expires_at timestamptz not null
);
create index session_by_person on session (person);
create index session_expires on session (expires_at);

-- Links that are good for one use: to set a password, or to make the first administrator. Their hashes are kept.
create table one_time_link (
    token      text primary key,
    person     uuid references person on delete cascade, -- whose password it sets; null where it makes an administrator
    expires_at timestamptz not null
);

-- Sign-ins that failed, by the name that was given and by the address: several servers count together.
create table sign_in_failure (
    name    text not null,
    address text not null,
    at      timestamptz not null default now()
);
create index sign_in_failure_by_name on sign_in_failure (name, at);
create index sign_in_failure_by_address on sign_in_failure (address, at);

-- Who did what to another's account.
create table deed (
    id     bigint generated always as identity primary key,
    person uuid references person on delete set null,
    about  uuid,
    what   text not null,
    at     timestamptz not null default now()
);

-- +goose Down
drop table deed, sign_in_failure, one_time_link, session;
drop index person_user_name;
alter table person drop column role, drop column user_name, drop column password, drop column demo, drop column seen_at;
