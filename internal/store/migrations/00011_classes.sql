-- +goose Up
-- Classes, which have instructors and students.
create table class (
    id          uuid primary key,
    name        text not null,
    code        text not null unique,           -- with which students join
    guests      boolean not null default true,  -- whether somebody without a name may join
    first_names boolean not null default false, -- whether students see each other's first names
    version     bigint not null default 1,
    created_at  timestamptz not null default now(),
    updated_at  timestamptz not null default now(),
    archived_at timestamptz
);

create table class_member (
    class     uuid not null references class on delete cascade,
    person    uuid not null references person on delete cascade,
    role      text not null,    -- instructor or student
    name      text not null,    -- as it stands on the roster
    came      text not null,    -- how: made (the class), code, or roster, which made the account or added one that was there
    joined_at timestamptz not null default now(),
    primary key (class, person)
);
create index class_member_by_person on class_member (person);

-- Sets of problems that are handed out to a class.
create table problem_set (
    id         uuid primary key,
    class      uuid not null references class on delete cascade,
    settings   jsonb not null,
    released   boolean not null default false, -- whether the solution may be read by the instructor's word
    version    bigint not null default 1,
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now(),
    deleted_at timestamptz
);
create index problem_set_by_class on problem_set (class);

-- The problems of a set. An attempt is judged by the file with which it was begun, so that earlier files stay.
create table set_problem (
    id         uuid primary key,
    set        uuid not null references problem_set on delete cascade,
    place      integer not null,
    version    integer not null default 1, -- the file that is handed out
    title      text not null,
    points     jsonb not null,
    removed_at timestamptz                 -- with attempts that were made
);
create index set_problem_by_set on set_problem (set);

create table set_problem_file (
    set_problem uuid not null references set_problem on delete cascade,
    version     integer not null,
    file        text not null,
    primary key (set_problem, version)
);

-- How often other numbers were drawn for a person; where there is no row, once.
create table set_draw (
    set    uuid not null references problem_set on delete cascade,
    person uuid not null references person on delete cascade,
    draw   integer not null,
    primary key (set, person)
);

create table hand_in (
    set    uuid not null references problem_set on delete cascade,
    person uuid not null references person on delete cascade,
    at     timestamptz not null default now(),
    primary key (set, person)
);

-- An attempt is one's own, at a problem, or one made for a set.
alter table attempt alter column problem drop not null;
alter table attempt
    add column set_problem uuid references set_problem on delete cascade,
    add column set_version integer,   -- of the file with which it was begun
    add column seed        bigint,    -- of the numbers with which it was begun
    add column standing    jsonb,     -- where the person stands, ask by ask
    add column updated_at  timestamptz not null default now(),
    add constraint attempt_of check ((problem is null) <> (set_problem is null));
create unique index attempt_of_set on attempt (person, set_problem) where set_problem is not null;
create index attempt_by_set_problem on attempt (set_problem);

-- What an instructor wrote at an ask of an attempt, and the points that they gave by hand.
create table remark (
    attempt uuid not null references attempt on delete cascade,
    ask     text not null,
    words   text not null default '',
    points  double precision,
    person  uuid references person on delete set null,
    at      timestamptz not null default now(),
    primary key (attempt, ask)
);

-- What was done in a class that concerns another's work.
alter table deed add column class uuid references class on delete cascade;
create index deed_by_class on deed (class, at);

-- +goose Down
alter table deed drop column class;
drop table remark;
drop index attempt_of_set, attempt_by_set_problem;
delete from attempt where problem is null;
alter table attempt drop constraint attempt_of, drop column set_problem, drop column set_version, drop column seed,
    drop column standing, drop column updated_at, alter column problem set not null;
drop table hand_in, set_draw, set_problem_file, set_problem, problem_set, class_member, class;
