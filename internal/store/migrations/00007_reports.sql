-- +goose Up
-- A report that a person puts together from what is kept of problems.
create table report (
    id         uuid primary key,
    owner      uuid not null references person,
    problem    uuid references problem on delete set null, -- the one that it is the report of; null of one of several
    title      text not null,
    parts      jsonb not null,
    version    bigint not null default 1,
    updated_at timestamptz not null default now(),
    deleted_at timestamptz
);
create index report_by_owner on report (owner, updated_at desc);
create unique index report_of_problem on report (owner, problem) where deleted_at is null;
create index report_deleted on report (deleted_at) where deleted_at is not null;

-- +goose Down
drop table report;
