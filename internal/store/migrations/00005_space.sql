-- +goose Up
-- How many bytes the cells of a data set take, so that what a person has is known without reading it.
alter table data_set add column bytes bigint not null default 0;
update data_set d set bytes = (select coalesce(sum(pg_column_size(cells)), 0) from data_block where data_set = d.id);
create index data_set_deleted on data_set (deleted_at) where deleted_at is not null;
create index problem_deleted on problem (deleted_at) where deleted_at is not null;

-- +goose Down
drop index problem_deleted, data_set_deleted;
alter table data_set drop column bytes;
