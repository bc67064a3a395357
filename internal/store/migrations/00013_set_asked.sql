-- +goose Up
-- How a problem of a set is asked goes with its file: whoever has begun is asked and judged as when they began.
alter table set_problem_file add column settings jsonb;
update set_problem_file f set settings = s.settings from set_problem p join problem_set s on s.id = p.set where p.id = f.set_problem;
alter table set_problem_file alter column settings set not null;

-- +goose Down
alter table set_problem_file drop column settings;
