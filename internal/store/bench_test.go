package store

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/localpg/pgtest"
)

// longFile writes a CSV file of rows of five columns.
func longFile(b *testing.B, rows int) string {
	var text bytes.Buffer
	text.WriteString("case,ferry,wind,minutes,late\n")
	for i := range rows {
		fmt.Fprintf(&text, "%d,%s,%.1f,%.2f,%s\n", i+1, []string{"Dunlin", "Puffin", "Turnstone"}[i%3], float64(i%170)/10, 30+
			float64(i%997)/100, []string{"no", "yes"}[i%2])
	}
	name := filepath.Join(b.TempDir(), "long.csv")
	require.NoError(b, os.WriteFile(name, text.Bytes(), 0o644))
	return name
}

// BenchmarkImport prints how much longer the import of a CSV file of 1,000,000 rows
// × 5 columns takes than \copy of the same file into a typed table by PostgreSQL's
// own client, and how much memory it takes.
func BenchmarkImport(b *testing.B) {
	ctx := context.Background()
	url := pgtest.Database(b)
	s, err := Open(ctx, url, Options{})
	require.NoError(b, err)
	b.Cleanup(s.Close)
	file := longFile(b, 1_000_000)
	psql := func(command string) {
		out, err := exec.Command("psql", url, "-X", "-q", "-v", "ON_ERROR_STOP=1", "-c", command).CombinedOutput()
		require.NoError(b, err, string(out))
	}
	var ours, theirs time.Duration
	var most uint64
	for b.Loop() {
		start := time.Now()
		psql(`drop table if exists typed; create table typed ("case" integer, ferry text, wind double precision, minutes double precision,
			late text)`)
		psql(`\copy typed from '` + file + `' csv header`)
		theirs += time.Since(start)

		done := make(chan bool)
		go func() { // the most memory that is in use meanwhile
			for {
				select {
				case <-done:
					return
				case <-time.After(20 * time.Millisecond):
					var m runtime.MemStats
					runtime.ReadMemStats(&m)
					most = max(most, m.HeapInuse)
				}
			}
		}()
		start = time.Now()
		in, err := os.Open(file)
		require.NoError(b, err)
		stream, err := data.NewStream(b.Context(), "long", in, BlockRows)
		require.NoError(b, err)
		d, err := s.ImportDataSet(ctx, access.Local, stream)
		require.NoError(b, err)
		ours += time.Since(start)
		in.Close()
		close(done)
		require.Equal(b, 1_000_000, stream.Rows())
		_, err = s.pool.Exec(ctx, "delete from data_set where id = $1", d.ID)
		require.NoError(b, err)
	}
	b.ReportMetric(ours.Seconds()/float64(b.N), "s/import")
	b.ReportMetric(theirs.Seconds()/float64(b.N), "s/copy")
	b.ReportMetric(ours.Seconds()/theirs.Seconds(), "ratio")
	b.ReportMetric(float64(most)/(1<<20), "MiB")
}

// BenchmarkMillionCells saves, opens and changes a data set of a million cells.
func BenchmarkMillionCells(b *testing.B) {
	ctx := context.Background()
	s, err := Open(ctx, pgtest.Database(b), Options{})
	require.NoError(b, err)
	b.Cleanup(s.Close)
	set := &data.Set{Name: "million", Form: data.FormCases}
	for c := range 5 {
		column := &data.Column{Name: fmt.Sprintf("v%d", c), Cells: make([]string, 200_000)}
		for i := range column.Cells {
			column.Cells[i] = strings.TrimRight(fmt.Sprintf("%.3f", float64(i*(c+1)%9973)/7), "0")
		}
		set.Columns = append(set.Columns, column)
	}
	set.AssignKeys()
	var save, open, change time.Duration
	for b.Loop() {
		start := time.Now()
		d, err := s.CreateDataSet(ctx, access.Local, set, "")
		require.NoError(b, err)
		save += time.Since(start)
		start = time.Now()
		got, err := s.DataSet(ctx, access.Local, d.ID)
		require.NoError(b, err)
		open += time.Since(start)
		require.Len(b, got.Set.Columns[4].Cells, 200_000)
		start = time.Now()
		bare := *set
		_, err = s.UpdateDataSet(ctx, access.Local, d.ID, 1,
			DataChange{Set: &bare, Rows: 200_000, Blocks: []Block{{2, 3, set.Columns[1].Cells[:BlockRows]}}})
		require.NoError(b, err)
		change += time.Since(start)
	}
	b.ReportMetric(save.Seconds()/float64(b.N), "s/save")
	b.ReportMetric(open.Seconds()/float64(b.N), "s/open")
	b.ReportMetric(change.Seconds()/float64(b.N), "s/change")
}
