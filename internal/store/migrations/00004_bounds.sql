-- +goose Up
-- A block stands where rows are. Blocks elsewhere could be kept once, and every later read asked
-- for the memory of all rows before them.
update data_set set rows = greatest(0, least(rows, 5000000)) where rows not between 0 and 5000000;
delete from data_block b using data_set d where d.id = b.data_set and (b.block < 0 or b.block > (d.rows - 1) / 4096);
update data_block set cells = cells[1:4096] where cardinality(cells) > 4096;
alter table data_set add constraint data_set_rows check (rows between 0 and 5000000);
alter table data_block add constraint data_block_place check (block between 0 and 1220 and cardinality(cells) <= 4096);

-- +goose Down
alter table data_block drop constraint data_block_place;
alter table data_set drop constraint data_set_rows;
