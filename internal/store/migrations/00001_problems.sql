-- +goose Up
create table person (
    id         uuid primary key,
    name       text not null,
    created_at timestamptz not null default now()
);

-- A data set's cells are kept as they were typed, in blocks of rows, so that
-- changing one cell rewrites one block.
create table data_set (
    id         uuid primary key,
    owner      uuid not null references person,
    variables  jsonb not null,             -- what each column is, in order, without cells
    rows       integer not null,
    updated_at timestamptz not null default now()
);

create table data_block (
    data_set uuid not null references data_set on delete cascade,
    variable integer not null,             -- the place of the column, from 0
    block    integer not null,             -- from 0
    cells    text[] not null,
    primary key (data_set, variable, block)
);

create table problem (
    id         uuid primary key,
    owner      uuid not null references person,
    data_set   uuid not null references data_set,
    settings   jsonb not null,             -- the draft without its cells
    demo       text,                       -- the demo problem that this is, if it is one
    version    bigint not null default 1,
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now(),
    deleted_at timestamptz
);

create index problem_by_owner on problem (owner, updated_at desc);
create unique index problem_demo on problem (owner, demo) where demo is not null;

-- +goose Down
drop table problem, data_block, data_set, person;
