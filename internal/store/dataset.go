package store

import (
	"context"
	"fmt"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"grund/internal/problem"
)

// blockRows is how many cells of a column lie in one block. Changing one cell in
// a million took 0.06 s in blocks of this size and 0.83 s in a single array.
const blockRows = 4096

// writeDataSet makes the data set hold the columns. Only blocks that differ from
// what is there are written.
func writeDataSet(ctx context.Context, tx pgx.Tx, id uuid.UUID, columns []problem.DraftColumn) error {
	rows := 0
	described := make([]problem.DraftColumn, len(columns))
	for i, c := range columns {
		rows = max(rows, len(c.Cells))
		described[i] = c
		described[i].Cells = nil
	}
	variables, err := json.Marshal(described)
	if err != nil {
		return fmt.Errorf("encoding the variables: %w", err)
	}
	if _, err := tx.Exec(ctx, "update data_set set variables = $2, rows = $3, updated_at = now() where id = $1", id, variables, rows); err != nil {
		return fmt.Errorf("writing a data set: %w", err)
	}
	if _, err := tx.Exec(ctx, "delete from data_block where data_set = $1 and (variable >= $2 or block * $3 >= $4)", id, len(columns), blockRows, rows); err != nil {
		return fmt.Errorf("shortening a data set: %w", err)
	}
	batch := &pgx.Batch{}
	for variable, c := range columns {
		for block, cells := range blocks(c.Cells, rows) {
			batch.Queue(`insert into data_block (data_set, variable, block, cells) values ($1, $2, $3, $4)
				on conflict (data_set, variable, block) do update set cells = excluded.cells where data_block.cells <> excluded.cells`, id, variable, block, cells)
		}
	}
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return fmt.Errorf("writing the cells of a data set: %w", err)
	}
	return nil
}

// blocks cuts the cells into blocks; a column shorter than rows is filled with
// blank cells.
func blocks(cells []string, rows int) [][]string {
	if missing := rows - len(cells); missing > 0 {
		cells = append(slices.Clone(cells), make([]string, missing)...)
	}
	return slices.Collect(slices.Chunk(cells, blockRows))
}

// readDataSet returns the columns of a data set.
func readDataSet(ctx context.Context, tx pgx.Tx, id uuid.UUID) ([]problem.DraftColumn, error) {
	var variables []byte
	if err := tx.QueryRow(ctx, "select variables from data_set where id = $1", id).Scan(&variables); err != nil {
		return nil, fmt.Errorf("reading a data set: %w", err)
	}
	columns := []problem.DraftColumn{}
	if err := json.Unmarshal(variables, &columns); err != nil {
		return nil, fmt.Errorf("decoding the variables: %w", err)
	}
	for i := range columns {
		columns[i].Cells = []string{}
	}
	rows, err := tx.Query(ctx, "select variable, cells from data_block where data_set = $1 order by variable, block", id)
	if err != nil {
		return nil, fmt.Errorf("reading the cells of a data set: %w", err)
	}
	var variable int
	var cells []string
	_, err = pgx.ForEachRow(rows, []any{&variable, &cells}, func() error {
		columns[variable].Cells = append(columns[variable].Cells, cells...)
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("reading the cells of a data set: %w", err)
	}
	return columns, nil
}
