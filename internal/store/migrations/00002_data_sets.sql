-- +goose Up
-- A data set becomes a thing of its own that many problems use. Its blocks are
-- named by the columns' keys, which stay when columns are put in or taken out.
alter table data_set
    add column name       text not null default '',
    add column about      text not null default '',
    add column form       text not null default 'cases',
    add column headings   jsonb not null default '{}', -- response and group, where no column names them
    add column demo       text,                        -- the demo data set that this is, if it is one
    add column version    bigint not null default 1,
    add column created_at timestamptz not null default now(),
    add column deleted_at timestamptz;
alter table data_set rename column variables to columns;

update data_set set columns = (
    select coalesce(jsonb_agg(c || jsonb_build_object('key', n) order by n), '[]')
    from jsonb_array_elements(columns) with ordinality as t(c, n));
update data_block set variable = -variable - 1;
update data_block set variable = -variable;

update data_set d set form = 'groups', headings = jsonb_build_object('response', p.settings->'response', 'group', p.settings->'group')
from problem p where p.data_set = d.id and p.settings->>'entry' = 'columns';

update data_set d set demo = p.demo, name = p.demo from problem p where p.data_set = d.id and p.demo is not null;

-- A summary stands in the problem itself.
update problem p set settings = settings || jsonb_build_object('summary', (
    select coalesce(jsonb_agg(jsonb_build_object(
        'label', coalesce((select cells[i] from data_block b where b.data_set = p.data_set and b.variable = 1 and b.block = 0), ''),
        'n',     coalesce((select cells[i] from data_block b where b.data_set = p.data_set and b.variable = 2 and b.block = 0), ''),
        'mean',  coalesce((select cells[i] from data_block b where b.data_set = p.data_set and b.variable = 3 and b.block = 0), ''),
        'sd',    coalesce((select cells[i] from data_block b where b.data_set = p.data_set and b.variable = 4 and b.block = 0), '')) order by i), '[]')
    from data_set d, generate_series(1, d.rows) i where d.id = p.data_set))
where settings->>'entry' = 'summary';
delete from data_block using problem p where data_block.data_set = p.data_set and p.settings->>'entry' = 'summary';
update data_set d set columns = '[{"key": 1, "name": "", "cells": []}, {"key": 2, "name": "", "cells": []}]', rows = 0
from problem p where p.data_set = d.id and p.settings->>'entry' = 'summary';
update problem set settings = settings || '{"entry": "data"}' where settings->>'entry' in ('cases', 'columns');

create index data_set_by_owner on data_set (owner, updated_at desc);
create unique index data_set_demo on data_set (owner, demo) where demo is not null;
create index problem_by_data_set on problem (data_set);

-- The blocks are large and short-lived in memory: a quick way to pack them, where
-- the server was built with it.
-- +goose StatementBegin
do $$ begin
    alter table data_block alter column cells set compression lz4;
exception when feature_not_supported then null;
end $$;
-- +goose StatementEnd

-- +goose Down
drop index problem_by_data_set, data_set_demo, data_set_by_owner;
update data_block set variable = -variable;
update data_block set variable = -variable - 1;
alter table data_set rename column columns to variables;
alter table data_set drop column name, drop column about, drop column form, drop column headings, drop column demo, drop column version, drop column created_at, drop column deleted_at;
