-- +goose Up
-- Links with which others may read and copy something. They are shown to the owner again, so they are kept as they are: who
-- reads the database can read what they lead to anyway.
create table share (
    token      text primary key,
    problem    uuid unique references problem on delete cascade,
    data_set   uuid unique references data_set on delete cascade,
    created_at timestamptz not null default now(),
    check ((problem is null) <> (data_set is null))
);

-- +goose Down
drop table share;
