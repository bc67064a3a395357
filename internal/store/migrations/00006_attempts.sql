-- +goose Up
-- A person's work on a problem in Try. One is open at a time; those that ended are kept as they were.
create table attempt (
    id              uuid primary key,
    person          uuid not null references person,
    problem         uuid not null references problem on delete cascade,
    problem_version bigint not null,       -- what it answers; it ends when these are others
    data_version    bigint not null,
    begun_at        timestamptz not null default now(),
    ended_at        timestamptz
);
create unique index attempt_open on attempt (person, problem) where ended_at is null;
create index attempt_by_problem on attempt (problem);

-- What was done in it, in its order; nothing is ever changed.
create table attempt_event (
    attempt uuid not null references attempt on delete cascade,
    seq     integer not null,              -- from 1
    at      timestamptz not null default now(),
    kind    text not null,                 -- answer, help or undo
    ask     text not null,
    text    text not null,                 -- as it was typed
    verdict text not null,                 -- on it, at the time
    slip    text not null,
    primary key (attempt, seq)
);

-- +goose Down
drop table attempt_event, attempt;
