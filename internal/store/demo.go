package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// CopyDemo gives a person all demo problems and data sets of another, with the attempts at them, as they are there.
func (s *Store) CopyDemo(ctx context.Context, from, to access.Person) error {
	// A row is taken over with all its columns but those that are named.
	const sql = `
		with sets as materialized (select id, gen_random_uuid() as twin from data_set
			where owner = $1 and demo is not null and deleted_at is null),
		problems as materialized (select id, gen_random_uuid() as twin from problem
			where owner = $1 and demo is not null and deleted_at is null and data_set in (select id from sets)),
		attempts as materialized (select a.id, gen_random_uuid() as twin from attempt a join problems p on p.id = a.problem where a.person = $1),
		new_sets as (insert into data_set select (jsonb_populate_record(d, jsonb_build_object('id', s.twin, 'owner', $2::uuid))).*
			from data_set d join sets s using (id)),
		new_blocks as (insert into data_block select (jsonb_populate_record(b, jsonb_build_object('data_set', s.twin))).*
			from data_block b join sets s on s.id = b.data_set),
		new_problems as (insert into problem
			select (jsonb_populate_record(p, jsonb_build_object('id', n.twin, 'owner', $2::uuid, 'data_set', s.twin))).*
			from problem p join problems n using (id) join sets s on s.id = p.data_set),
		new_attempts as (insert into attempt
			select (jsonb_populate_record(a, jsonb_build_object('id', n.twin, 'person', $2::uuid, 'problem', p.twin))).*
			from attempt a join attempts n using (id) join problems p on p.id = a.problem)
		insert into attempt_event select (jsonb_populate_record(e, jsonb_build_object('attempt', n.twin))).*
			from attempt_event e join attempts n on n.id = e.attempt`
	err := s.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, sql, from.ID, to.ID)
		return err
	})
	if err != nil {
		return fmt.Errorf("copying the demo: %w", err)
	}
	return nil
}

// Add adds a person under a fixed id where there is none yet.
func (s *Store) Add(ctx context.Context, who access.Person, name string) error {
	err := s.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, "insert into person (id, name, role) values ($1, $2, $3) on conflict do nothing", who.ID, name, who.Role)
		return err
	})
	return changeError("person", err)
}
