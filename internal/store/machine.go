package store

import (
	"context"
	"fmt"
	"io/fs"
	"path"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// Machine is what an administrator looks after.
type Machine struct {
	Bytes          int64 // of the database
	People, Guests int
	Migrations     []Migration // that the database has come through, the last one first
}

// A Migration is a step in which the tables became what they are.
type Migration struct {
	Number int64
	Name   string // "" of one that this program does not know
	At     time.Time
}

// Machine measures the database and counts people, for an administrator.
func (s *Store) Machine(ctx context.Context, who access.Person) (m Machine, err error) {
	if !access.May(who, access.Read, access.Thing{Kind: access.Machine}) {
		return m, ErrNotFound
	}
	names, err := migrationNames()
	if err != nil {
		return m, err
	}
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		err := conn.QueryRow(ctx, `select pg_database_size(current_database()), (select count(*) from person where user_name is not null),
			(select count(*) from person where role = 'guest')`).Scan(&m.Bytes, &m.People, &m.Guests)
		if err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select version_id, '', max(tstamp) from goose_db_version where version_id > 0 and is_applied
			group by version_id order by version_id desc`)
		m.Migrations, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Migration])
		return err
	})
	if err != nil {
		return m, fmt.Errorf("measuring the machine: %w", err)
	}
	for i := range m.Migrations {
		m.Migrations[i].Name = names[m.Migrations[i].Number]
	}
	return m, nil
}

// migrationNames are the names of the migrations by number: 00008_people.sql is the eighth, “people”.
func migrationNames() (map[int64]string, error) {
	names := map[int64]string{}
	files, err := fs.Glob(migrations, "migrations/*.sql")
	for _, file := range files {
		var number int64
		digits, rest, _ := strings.Cut(path.Base(file), "_")
		if _, err := fmt.Sscanf(digits, "%d", &number); err != nil {
			return nil, fmt.Errorf("reading the number of %s: %w", file, err)
		}
		names[number] = strings.ReplaceAll(strings.TrimSuffix(rest, ".sql"), "_", " ")
	}
	return names, err
}
