package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/problem"
)

// BlockRows is how many cells of a column lie in one block. Changing one cell in
// a million took 0.06 s in blocks of this size and 0.83 s in a single array.
const BlockRows = 4096

// A DataSet as it is kept, with its version.
type DataSet struct {
	ID        uuid.UUID
	Version   int64
	Demo      string // the name of the demo data set, "" for a person's own
	UpdatedAt time.Time
	Rows      int
	Set       *data.Set
}

// Cells returns how many cells the data set has, blank and derived ones too.
func (d *DataSet) Cells() int { return d.Rows * len(d.Set.Columns) }

// present is the condition for a data set that can be read or written: it is not deleted, or a
// problem that is not deleted uses it.
const present = "(data_set.deleted_at is null or exists (select from problem where problem.data_set = data_set.id and " +
	"problem.deleted_at is null))"

// maxDescribed is how many bytes the columns of a data set may take without their cells: names, levels,
// formulas and recodings.
const maxDescribed = 4 << 20

// described returns the columns and headings without cells, as they are kept.
func described(set *data.Set) (columns, heads []byte, err error) {
	bare := make([]data.Column, len(set.Columns))
	for i, c := range set.Columns {
		bare[i] = *c
		bare[i].Cells = nil
	}
	if columns, err = json.Marshal(bare); err != nil {
		return nil, nil, fmt.Errorf("encoding the columns: %w", err)
	}
	if len(columns) > maxDescribed {
		return nil, nil, problem.TooMany("/columns", fmt.Sprintf("what is said of the columns takes %d bytes", len(columns)), maxDescribed,
			"name fewer levels, values and classes")
	}
	if heads, err = json.Marshal(headings{set.Response, set.Group}); err != nil {
		return nil, nil, fmt.Errorf("encoding the headings: %w", err)
	}
	return columns, heads, nil
}

// CreateDataSet keeps a new data set. demo is "" for a person's own. The error is problem.Errors
// where the set is none that could be kept.
func (s *Store) CreateDataSet(ctx context.Context, who access.Person, set *data.Set, demo string) (*DataSet, error) {
	if err := problem.CheckSet(set, ""); err != nil {
		return nil, err
	}
	var d *DataSet
	err := s.inTx(ctx, func(tx pgx.Tx) (err error) {
		d, err = s.createDataSet(ctx, tx, who, set, demo)
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("keeping a data set: %w", err)
	}
	return d, nil
}

// createDataSet inserts a data set with its cells, as far as the person has room for it.
func (s *Store) createDataSet(ctx context.Context, tx pgx.Tx, who access.Person, set *data.Set, demo string) (*DataSet, error) {
	d := &DataSet{ID: uuid.New(), Version: 1, Demo: demo, UpdatedAt: time.Now(), Set: set}
	if err := insertDataSet(ctx, tx, who, d); err != nil {
		return nil, err
	}
	if err := copyBlocks(ctx, tx, d.ID, set); err != nil {
		return nil, err
	}
	return d, s.measure(ctx, tx, who, d.ID)
}

// insertDataSet inserts the row of a data set without its cells.
func insertDataSet(ctx context.Context, tx pgx.Tx, who access.Person, d *DataSet) error {
	columns, heads, err := described(d.Set)
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into data_set (id, owner, name, about, form, headings, columns, rows, demo) values ($1, $2, $3, $4,
		$5, $6, $7, $8, nullif($9, ''))`,
		d.ID, who.ID, d.Set.Name, d.Set.About, d.Set.Form, heads, columns, d.Set.Rows(), d.Demo)
	return err
}

// copyBlocks streams the cells of all columns that are not derived.
func copyBlocks(ctx context.Context, tx pgx.Tx, id uuid.UUID, set *data.Set) error {
	rows := set.Rows()
	var blocks [][]any
	for _, c := range set.Columns {
		if c.Derived() {
			continue
		}
		for block, cells := range cut(c.Cells, rows) {
			blocks = append(blocks, []any{id, c.Key, block, cells})
		}
	}
	_, err := tx.CopyFrom(ctx, pgx.Identifier{"data_block"}, []string{"data_set", "variable", "block", "cells"}, pgx.CopyFromRows(blocks))
	if err != nil {
		return fmt.Errorf("writing the cells: %w", err)
	}
	return nil
}

// cut cuts the cells into blocks; a column shorter than rows is filled with blank
// cells.
func cut(cells []string, rows int) [][]string {
	if missing := rows - len(cells); missing > 0 {
		cells = append(slices.Clone(cells), make([]string, missing)...)
	}
	return slices.Collect(slices.Chunk(cells[:rows], BlockRows))
}

// DataSet returns a data set with its cells; those of derived columns are blank.
func (s *Store) DataSet(ctx context.Context, who access.Person, id uuid.UUID) (d *DataSet, err error) {
	err = s.View(ctx, who, func(v *View) error {
		if d, err = v.Described(ctx, id); err != nil {
			return err
		}
		return v.Cells(ctx, d)
	})
	return d, err
}

func readBlocks(ctx context.Context, tx pgx.Tx, id uuid.UUID, set *data.Set) error {
	byKey := map[int]*data.Column{}
	for _, c := range set.Columns {
		c.Cells = []string{}
		byKey[c.Key] = c
	}
	// Blocks past the last row hold nothing: they must not cost memory whatever their place is.
	rows, err := tx.Query(ctx, `select b.variable, b.block, b.cells from data_block b join data_set d on d.id = b.data_set
		where d.id = $1 and b.block between 0 and (least(d.rows, $3) - 1) / $2 order by b.variable, b.block`, id, BlockRows, data.MaxRows)
	if err != nil {
		return fmt.Errorf("reading the cells: %w", err)
	}
	var key, block int
	var cells []string
	_, err = pgx.ForEachRow(rows, []any{&key, &block, &cells}, func() error {
		if c := byKey[key]; c != nil {
			before := block * BlockRows
			if missing := before - len(c.Cells); missing > 0 { // a column that began later
				c.Cells = append(c.Cells, make([]string, missing)...)
			}
			c.Cells = append(c.Cells[:before], cells[:min(len(cells), BlockRows)]...)
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("reading the cells: %w", err)
	}
	return nil
}

// A Block is a run of cells of one column.
type Block struct {
	Column int      `json:"column"` // its key
	Block  int      `json:"block"`  // its place, from 0
	Cells  []string `json:"cells"`
}

// A DataChange is what is different in a data set: its description, which has
// no cells, its length, and the blocks that changed.
type DataChange struct {
	Set    *data.Set
	Rows   int
	Blocks []Block
}

// DataWritten are the versions that a change of a data set wrote.
type DataWritten struct {
	Version int64
	// Problems are those about the data set that follow columns which were named anew.
	Problems map[uuid.UUID]int64
}

// UpdateDataSet changes a data set that is still at the given version, and returns
// the versions that it wrote. Otherwise the error is a *StaleError, or problem.Errors where the
// change is none that could be kept. Blocks that are not named
// are left alone; those of columns that are gone, or past the end, are dropped. The
// problems about the data set follow columns that are named anew.
func (s *Store) UpdateDataSet(ctx context.Context, who access.Person, id uuid.UUID, version int64, change DataChange) (
	written DataWritten, err error) {
	if err := change.check(); err != nil {
		return written, err
	}
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		before, err := namesOfColumns(ctx, tx, id)
		if err != nil {
			return err
		}
		described, err := describeDataSet(ctx, tx, who, id, version, change.Set, change.Rows)
		if err != nil {
			return err
		}
		written.Version = described.Version
		if written.Problems, err = renameInProblems(ctx, tx, id, before, change.Set); err != nil {
			return err
		}
		keys := make([]int, 0, len(change.Set.Columns))
		for _, c := range change.Set.Columns {
			if !c.Derived() {
				keys = append(keys, c.Key)
			}
		}
		if _, err := tx.Exec(ctx, "delete from data_block where data_set = $1 and (variable <> all($2) or block * $3 >= $4)", id, keys,
			BlockRows, change.Rows); err != nil {
			return fmt.Errorf("shortening a data set: %w", err)
		}
		batch := &pgx.Batch{}
		for _, b := range change.Blocks {
			batch.Queue(`insert into data_block (data_set, variable, block, cells) values ($1, $2, $3, $4)
				on conflict (data_set, variable, block) do update set cells = excluded.cells`, id, b.Column, b.Block, b.Cells)
		}
		if err := tx.SendBatch(ctx, batch).Close(); err != nil {
			return err
		}
		return s.measure(ctx, tx, who, id)
	})
	return written, changeError("data set", err)
}

// ReplaceDataSet puts another data set in the place of one that is still at the given version, and
// returns the version that it wrote. Otherwise the error is a *StaleError.
func (s *Store) ReplaceDataSet(
	ctx context.Context, who access.Person, id uuid.UUID, version int64, set *data.Set,
) (next Written, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if next, err = replaceDataSet(ctx, tx, who, id, version, set); err != nil {
			return err
		}
		return s.measure(ctx, tx, who, id)
	})
	return next, changeError("data set", err)
}

func replaceDataSet(
	ctx context.Context, tx pgx.Tx, who access.Person, id uuid.UUID, version int64, set *data.Set,
) (next Written, err error) {
	if next, err = describeDataSet(ctx, tx, who, id, version, set, set.Rows()); err != nil {
		return next, err
	}
	if _, err := tx.Exec(ctx, "delete from data_block where data_set = $1", id); err != nil {
		return next, err
	}
	return next, copyBlocks(ctx, tx, id, set)
}

// describeDataSet writes everything of a data set but its cells.
func describeDataSet(
	ctx context.Context, tx pgx.Tx, who access.Person, id uuid.UUID, version int64, set *data.Set, rows int,
) (next Written, err error) {
	stale := &StaleError{What: "data set"}
	err = tx.QueryRow(ctx, "select version, updated_at from data_set where id = $1 and owner = $2 and "+present+" for update", id, who.ID).
		Scan(&stale.Current, &stale.UpdatedAt)
	if err != nil {
		return next, err
	}
	if stale.Current != version {
		return next, stale
	}
	columns, heads, err := described(set)
	if err != nil {
		return next, err
	}
	err = tx.QueryRow(ctx, `update data_set set name = $2, about = $3, form = $4, headings = $5, columns = $6, rows = $7,
		version = version + 1, updated_at = now()
		where id = $1 returning version, updated_at`, id, set.Name, set.About, set.Form, heads, columns, rows).
		Scan(&next.Version, &next.UpdatedAt)
	return next, err
}

// ImportDataSet keeps a data set that comes in blocks of BlockRows rows. All of it
// is kept or nothing. What is wrong with the source is a *SourceError.
func (s *Store) ImportDataSet(ctx context.Context, who access.Person, blocks BlockSource) (*DataSet, error) {
	d := &DataSet{ID: uuid.New(), Version: 1, UpdatedAt: time.Now()}
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		d.Set = blocks.Set()
		if err := insertDataSet(ctx, tx, who, d); err != nil {
			return err
		}
		rows := &blockRows{id: d.ID, source: blocks}
		_, err := tx.CopyFrom(ctx, pgx.Identifier{"data_block"}, []string{"data_set", "variable", "block", "cells"}, rows)
		if rows.err != nil {
			return &SourceError{rows.err} // not what COPY makes of it
		}
		if err != nil {
			return err
		}
		// Wide rows may have brought more columns than the first ones had.
		d.Set = blocks.Set()
		if _, err = describeDataSet(ctx, tx, who, d.ID, 1, d.Set, blocks.Rows()); err != nil {
			return err
		}
		d.Version++
		return s.measure(ctx, tx, who, d.ID)
	})
	var wrong *SourceError
	switch {
	case errors.As(err, &wrong):
		return nil, wrong
	case err != nil:
		return nil, fmt.Errorf("importing a data set: %w", err)
	}
	return d, nil
}

// A SourceError is what a source of blocks failed with.
type SourceError struct {
	Err error
}

func (e *SourceError) Error() string { return e.Err.Error() }

func (e *SourceError) Unwrap() error { return e.Err }

// A BlockSource gives a data set block by block.
type BlockSource interface {
	// Next returns the cells of each column in the next block, or io.EOF.
	Next() (cells [][]string, err error)
	// Set describes the columns that have come so far.
	Set() *data.Set
	// Rows is how many have come so far.
	Rows() int
}

// CopyDataSet keeps a copy under another name.
func (s *Store) CopyDataSet(ctx context.Context, who access.Person, id uuid.UUID, name string) (uuid.UUID, error) {
	twin := uuid.New()
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `insert into data_set (id, owner, name, about, form, headings, columns, rows)
			select $1, owner, $4, about, form, headings, columns, rows from data_set where id = $2 and owner = $3 and `+present,
			twin, id, who.ID, name)
		if err != nil {
			return err
		}
		if tag.RowsAffected() == 0 {
			return pgx.ErrNoRows
		}
		_, err = tx.Exec(ctx, "insert into data_block (data_set, variable, block, cells) select $1, variable, block, cells from data_block "+
			"where data_set = $2", twin, id)
		if err != nil {
			return err
		}
		return s.measure(ctx, tx, who, twin)
	})
	return twin, changeError("data set", err)
}

// DeleteDataSet takes a data set out of the list, at that version or, where it is 0, at any;
// problems that use it keep it. RestoreDataSet brings it back, until it is purged. The error may be
// a *StaleError.
func (s *Store) DeleteDataSet(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	return s.setDeleted(ctx, who, dataSetTable, id, version, true)
}

// RestoreDataSet undoes DeleteDataSet.
func (s *Store) RestoreDataSet(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	return s.setDeleted(ctx, who, dataSetTable, id, version, false)
}

// DemoDataSet returns the id of the person's data set that is the demo one of that
// name; ErrNotFound if there is none.
func (s *Store) DemoDataSet(ctx context.Context, who access.Person, name string) (id uuid.UUID, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, "select id from data_set where owner = $1 and demo = $2", who.ID, name).Scan(&id)
	})
	return id, changeError("data set", err)
}

// namesOfColumns returns the names of the columns of a data set by their keys. It
// locks the data set, so that they are those of the version that is changed.
func namesOfColumns(ctx context.Context, tx pgx.Tx, id uuid.UUID) (map[int]string, error) {
	var text []byte
	if err := tx.QueryRow(ctx, "select columns from data_set where id = $1 for update", id).Scan(&text); err != nil {
		return nil, err
	}
	var columns []*data.Column
	if err := json.Unmarshal(text, &columns); err != nil {
		return nil, fmt.Errorf("decoding the columns: %w", err)
	}
	names := map[int]string{}
	for _, c := range columns {
		names[c.Key] = c.Name
	}
	return names, nil
}

// renameInProblems lets the problems about a data set follow its renamed columns, and returns
// their versions.
func renameInProblems(ctx context.Context, tx pgx.Tx, id uuid.UUID, before map[int]string, set *data.Set) (
	versions map[uuid.UUID]int64, err error) {
	renamed := map[string]string{}
	for _, c := range set.Columns {
		if name, known := before[c.Key]; known && name != c.Name {
			renamed[name] = c.Name
		}
	}
	var names []string
	for key, name := range before {
		for other, same := range before {
			if other != key && same == name {
				delete(renamed, name) // nobody can tell which of the two is meant
			}
		}
		if name != "" {
			names = append(names, name)
		}
	}
	if len(renamed) == 0 {
		return nil, nil
	}
	rows, err := tx.Query(ctx, "select id, settings from problem where data_set = $1 for update", id)
	if err != nil {
		return nil, fmt.Errorf("reading the problems about the data set: %w", err)
	}
	drafts := map[uuid.UUID]*problem.Draft{}
	var of uuid.UUID
	var settings []byte
	_, err = pgx.ForEachRow(rows, []any{&of, &settings}, func() error {
		draft := problem.NewDraft()
		drafts[of] = draft
		return json.Unmarshal(settings, draft)
	})
	if err != nil {
		return nil, fmt.Errorf("reading the problems about the data set: %w", err)
	}
	versions = map[uuid.UUID]int64{}
	for of, draft := range drafts {
		before, err := encodeSettings(draft)
		if err != nil {
			return nil, err
		}
		draft.Rename(names, renamed)
		settings, err := encodeSettings(draft)
		if err != nil {
			return nil, err
		}
		if bytes.Equal(before, settings) {
			continue
		}
		var next int64
		err = tx.QueryRow(ctx, "update problem set settings = $2, version = version + 1 where id = $1 returning version", of, settings).
			Scan(&next)
		if err != nil {
			return nil, fmt.Errorf("renaming in a problem: %w", err)
		}
		versions[of] = next
	}
	return versions, nil
}
