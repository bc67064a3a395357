-- +goose Up
-- One ask of a problem that a class is asked while it is on the screen.
create table poll (
    id          uuid primary key,
    class       uuid not null references class on delete cascade,
    title       text not null,  -- of the problem
    file        text not null,  -- of the problem, as it was then
    ask         jsonb not null, -- what is asked
    opened_at   timestamptz not null default now(),
    closed_at   timestamptz,    -- since when nobody answers any more
    revealed_at timestamptz     -- since when the answer is told
);
create index poll_by_class on poll (class, opened_at);

create table poll_answer (
    poll    uuid not null references poll on delete cascade,
    person  uuid not null references person on delete cascade,
    text    text not null,
    verdict text not null,
    slip    text not null,
    at      timestamptz not null default now(),
    primary key (poll, person)
);

-- +goose Down
drop table poll_answer, poll;
