-- +goose Up
-- Those who sign in through a school's own identity provider (OpenID Connect): who they are there.
alter table person add column issuer text, add column subject text;
create unique index person_subject on person (issuer, subject);

-- +goose Down
drop index person_subject;
alter table person drop column issuer, drop column subject;
