package store

import (
	"context"
	"fmt"
	"time"

	"grund/internal/access"
	"grund/internal/data"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

// A Listing is a problem as it stands in a list.
type Listing struct {
	ID        uuid.UUID
	Version   int64
	Title     string
	Question  string
	Procedure string
	Demo      string
	DataSet   uuid.UUID
	UpdatedAt time.Time
	Shared    bool // by a link
}

// A DataListing is a data set as it stands in a list.
type DataListing struct {
	ID        uuid.UUID
	Version   int64
	Name      string
	About     string
	Rows      int
	Columns   []string // names of the first ones
	Width     int      // how many there are
	Problems  int      // that use it
	Title     string   // of a problem that uses it
	Demo      string
	UpdatedAt time.Time
	Shared    bool // by a link
}

// PageRows is how many problems or data sets make a page of a list, and listedColumns of how many
// columns of a data set the names are listed.
const (
	PageRows      = 200
	listedColumns = 20
)

// DataSets lists a page of the person's data sets that hold something, newest change first, from the
// given one on, counted from 0; more reports whether others follow.
// One without a name goes out of sight with the last problem that uses it.
func (s *Store) DataSets(ctx context.Context, who access.Person, from int) (list []DataListing, more bool, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, `
			select d.id, d.version, d.name, d.about, d.rows,
				array(select left(coalesce(c->>'name', ''), 100) from jsonb_array_elements(d.columns) c limit $4),
				jsonb_array_length(d.columns), count(p.id)::int, left(coalesce(min(p.settings->>'title'), ''), 500), coalesce(d.demo, ''),
				d.updated_at, exists (select from share where data_set = d.id)
			from data_set d left join problem p on p.data_set = d.id and p.deleted_at is null
			where d.owner = $1 and d.deleted_at is null and (d.rows > 0 or d.name <> '')
				and (d.name <> '' or p.id is not null or not exists (select from problem where data_set = d.id))
			group by d.id order by d.updated_at desc, d.id offset $2 limit $3`, who.ID, from, PageRows+1, listedColumns)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[DataListing])
		return err
	})
	if err != nil {
		return nil, false, fmt.Errorf("listing data sets: %w", err)
	}
	return list[:min(len(list), PageRows)], len(list) > PageRows, nil
}

// headings are the names of what has no column.
type headings struct {
	Response data.Heading `json:"response"`
	Group    data.Heading `json:"group"`
}

// Problems lists a page of the person's problems, newest change first, from the given one on, counted
// from 0; more reports whether others follow. Long questions are cut.
func (s *Store) Problems(ctx context.Context, who access.Person, from int) (list []Listing, more bool, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, `
			select id, version, left(settings->>'title', 500), left(settings->>'question', 500), left(settings->>'procedure', 500),
				coalesce(demo, ''), data_set, updated_at, exists (select from share where problem = problem.id)
			from problem where owner = $1 and deleted_at is null order by updated_at desc, id offset $2 limit $3`,
			who.ID, from, PageRows+1)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Listing])
		return err
	})
	if err != nil {
		return nil, false, fmt.Errorf("listing problems: %w", err)
	}
	return list[:min(len(list), PageRows)], len(list) > PageRows, nil
}
