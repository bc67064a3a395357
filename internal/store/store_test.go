package store

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/localpg/pgtest"
	"grund/internal/problem"
)

func TestMain(m *testing.M) { pgtest.Main(m) }

func open(t *testing.T) *Store {
	t.Helper()
	s, err := Open(context.Background(), pgtest.Database(t), Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

func set(rows int) *data.Set {
	s := &data.Set{Name: "berths", Form: data.FormCases, Columns: []*data.Column{
		{Name: "berth", LevelNames: map[string]string{"1": "Mole"}, Cells: []string{}}, {Name: "minutes", Unit: "min", Cells: []string{}},
		{Name: "late", Formula: "minutes > 12", Cells: []string{}},
	}}
	s.AssignKeys()
	for i := range rows {
		s.Columns[0].Cells = append(s.Columns[0].Cells, fmt.Sprint(1+i%2))
		s.Columns[1].Cells = append(s.Columns[1].Cells, fmt.Sprintf(" %d,5o", i))
	}
	return s
}

func draft() *problem.Draft {
	d := problem.NewDraft()
	d.Title, d.Alpha = "Two berths", "0.0x"
	d.Summary = []problem.DraftGroup{{Label: "Mole", N: "18?"}}
	return d
}

// keep keeps a data set of three rows and a problem about it.
func keep(t *testing.T, s *Store) (*DataSet, *Problem) {
	t.Helper()
	d, err := s.CreateDataSet(context.Background(), access.Local, set(3), "")
	require.NoError(t, err)
	p, err := s.CreateProblem(context.Background(), access.Local, draft(), d.ID, "")
	require.NoError(t, err)
	return d, p
}

func TestADataSetIsKeptAsItWasTyped(t *testing.T) {
	ctx, s := context.Background(), open(t)
	for _, rows := range []int{0, 3, BlockRows, 2*BlockRows + 5} {
		want := set(rows)
		kept, err := s.CreateDataSet(ctx, access.Local, want, "")
		require.NoError(t, err)
		got, err := s.DataSet(ctx, access.Local, kept.ID)
		require.NoError(t, err)
		assert.Equal(t, want, got.Set, rows)
	}
}

func TestADraftIsKeptAsItWasTyped(t *testing.T) {
	s := open(t)
	d, p := keep(t, s)
	got, err := s.Problem(context.Background(), access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, draft(), got.Draft)
	assert.Equal(t, d.ID, got.DataSet)
}

func TestVersions(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, p := keep(t, s)
	changed := draft()
	changed.Alpha = "0.1"
	next, err := s.UpdateProblem(ctx, access.Local, p.ID, p.Version, changed, nil)
	require.NoError(t, err)
	assert.Equal(t, p.Version+1, next.Version)
	_, err = s.UpdateProblem(ctx, access.Local, p.ID, p.Version, draft(), nil)
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, next.Version, stale.Current)
	got, err := s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, "0.1", got.Draft.Alpha, "the stale write changed nothing")

	change := DataChange{Set: set(0), Rows: 3, Blocks: []Block{{2, 0, []string{"1", "2", "3"}}}}
	written, err := s.UpdateDataSet(ctx, access.Local, d.ID, d.Version, change)
	require.NoError(t, err)
	assert.Equal(t, DataWritten{Version: d.Version + 1}, written)
	change.Blocks[0].Cells[0] = "9"
	_, err = s.UpdateDataSet(ctx, access.Local, d.ID, d.Version, change)
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, written.Version, stale.Current)
	kept, err := s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2", "3"}, kept.Set.Columns[1].Cells)
	assert.Equal(t, []string{"1", "2", "1"}, kept.Set.Columns[0].Cells, "what was not named was left alone")
}

func TestOnlyNamedBlocksAreWritten(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(3*BlockRows), "")
	require.NoError(t, err)
	written := func() map[string]string {
		rows, err := s.pool.Query(ctx, "select variable || '/' || block, xmin::text from data_block")
		require.NoError(t, err)
		out := map[string]string{}
		var place, by string
		_, err = pgx.ForEachRow(rows, []any{&place, &by}, func() error { out[place] = by; return nil })
		require.NoError(t, err)
		return out
	}
	before := written()
	_, err = s.UpdateDataSet(ctx, access.Local, d.ID, 1,
		DataChange{Set: set(0), Rows: 3 * BlockRows, Blocks: []Block{{2, 1, d.Set.Columns[1].Cells[:BlockRows]}}})
	require.NoError(t, err)
	after := written()
	require.Len(t, after, 6)
	for place, by := range after {
		assert.Equal(t, place == "2/1", by != before[place], place)
	}
}

func TestColumnsComeAndGo(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(BlockRows+2), "")
	require.NoError(t, err)
	changed := set(0)
	changed.Columns = []*data.Column{changed.Columns[1], {Key: 9, Name: "new"}}
	_, err = s.UpdateDataSet(ctx, access.Local, d.ID, 1,
		DataChange{Set: changed, Rows: 2, Blocks: []Block{{2, 0, []string{"a", "b"}}, {9, 0, []string{"c", "d"}}}})
	require.NoError(t, err)
	got, err := s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	require.Len(t, got.Set.Columns, 2)
	assert.Equal(t, []string{"a", "b"}, got.Set.Columns[0].Cells)
	assert.Equal(t, []string{"c", "d"}, got.Set.Columns[1].Cells)
	var left int
	require.NoError(t, s.pool.QueryRow(ctx, "select count(*) from data_block").Scan(&left))
	assert.Equal(t, 2, left, "blocks that nothing names are gone")
}

func TestImport(t *testing.T) {
	ctx, s := context.Background(), open(t)
	var text strings.Builder
	text.WriteString("n,pier\n")
	for i := range 300_000 {
		fmt.Fprintf(&text, "%d,Mole\n", i)
	}
	stream, err := data.NewStream(t.Context(), "long", strings.NewReader(text.String()+"7,Mole,late\n"), BlockRows)
	require.NoError(t, err)
	kept, err := s.ImportDataSet(ctx, access.Local, stream)
	require.NoError(t, err)
	got, err := s.DataSet(ctx, access.Local, kept.ID)
	require.NoError(t, err)
	assert.Equal(t, kept.Version, got.Version)
	require.Len(t, got.Set.Columns, 3, "a longer row brought a column")
	require.Len(t, got.Set.Columns[0].Cells, 300_001)
	assert.Equal(t, "299999", got.Set.Columns[0].Cells[299_999])
	assert.Equal(t, "late", got.Set.Columns[2].Cells[300_000])

	stream, err = data.NewStream(t.Context(), "bad", strings.NewReader(text.String()+"7,\"Mole"), BlockRows)
	require.NoError(t, err)
	_, err = s.ImportDataSet(ctx, access.Local, stream)
	assert.ErrorContains(t, err, "row 300002")
	list, _, err := s.DataSets(ctx, access.Local, 0)
	require.NoError(t, err)
	assert.Len(t, list, 1, "nothing is kept of a file that cannot be read to its end")
}

func TestReplaceAndCopyADataSet(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(3), "berths")
	require.NoError(t, err)
	twin, err := s.CopyDataSet(ctx, access.Local, d.ID, "twin")
	require.NoError(t, err)
	written, err := s.ReplaceDataSet(ctx, access.Local, d.ID, d.Version, set(1))
	require.NoError(t, err)
	assert.Equal(t, int64(2), written.Version)
	got, err := s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	assert.Equal(t, written.Version, got.Version)
	assert.Equal(t, set(1), got.Set)
	got, err = s.DataSet(ctx, access.Local, twin)
	require.NoError(t, err)
	assert.Equal(t, "twin", got.Set.Name)
	assert.Equal(t, set(3).Columns, got.Set.Columns)
	assert.Empty(t, got.Demo)
	id, err := s.DemoDataSet(ctx, access.Local, "berths")
	require.NoError(t, err)
	assert.Equal(t, d.ID, id)
}

func TestAProblemTakesAnotherDataSet(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	other, err := s.CreateDataSet(ctx, access.Local, set(1), "")
	require.NoError(t, err)
	_, err = s.UpdateProblem(ctx, access.Local, p.ID, 1, draft(), &other.ID)
	require.NoError(t, err)
	got, err := s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, other.ID, got.DataSet)
	none := uuid.New()
	_, err = s.UpdateProblem(ctx, access.Local, p.ID, 2, draft(), &none)
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestProblemsFollowRenamedColumns(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(3), "")
	require.NoError(t, err)
	about := draft()
	about.Roles = problem.Roles{"response": {"minutes"}, "group": {"berth"}}
	about.LeaveOutWhere = []problem.LeftOutWhere{{Where: `minutes > 3 and berth == "minutes"`, Reason: "slow"}}
	about.Pictures = []problem.Picture{{Variables: problem.Names{"minutes", "berth"}}}
	p, err := s.CreateProblem(ctx, access.Local, about, d.ID, "")
	require.NoError(t, err)
	other, err := s.CreateProblem(ctx, access.Local, draft(), d.ID, "")
	require.NoError(t, err)
	rename := func(version int64, name string) DataWritten {
		t.Helper()
		changed := set(0)
		changed.Columns[1].Name = name
		written, err := s.UpdateDataSet(ctx, access.Local, d.ID, version, DataChange{Set: changed, Rows: 3})
		require.NoError(t, err)
		return written
	}
	assert.Equal(t, map[uuid.UUID]int64{p.ID: 2}, rename(1, "").Problems, "the versions that it wrote")
	assert.Equal(t, map[uuid.UUID]int64{p.ID: 3}, rename(2, "loading time").Problems)
	got, err := s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(3), got.Version, "what says something else is another version")
	unconcerned, err := s.Problem(ctx, access.Local, other.ID)
	require.NoError(t, err)
	assert.Equal(t, other.Version, unconcerned.Version)
	assert.Equal(t, problem.Roles{"response": {"loading time"}, "group": {"berth"}}, got.Draft.Roles)
	assert.Equal(t, problem.Names{"loading time", "berth"}, got.Draft.Pictures[0].Variables)

	rename(3, "late") // the name of another column
	rename(4, "time")
	got, err = s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, problem.Names{"late"}, got.Draft.Roles["response"], "with two columns of one name nobody can tell which is meant")
}

func TestListOfDataSets(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, _ := keep(t, s)
	_, err := s.CreateDataSet(ctx, access.Local, problem.NewSet(), "")
	require.NoError(t, err)
	list, _, err := s.DataSets(ctx, access.Local, 0)
	require.NoError(t, err)
	require.Len(t, list, 1, "one that nobody has filled in is not listed")
	assert.Equal(t, []any{d.ID, "berths", 3, []string{"berth", "minutes", "late"}, 1, "Two berths"},
		[]any{list[0].ID, list[0].Name, list[0].Rows, list[0].Columns, list[0].Problems, list[0].Title})
	require.NoError(t, s.DeleteDataSet(ctx, access.Local, d.ID, 0))
	list, _, err = s.DataSets(ctx, access.Local, 0)
	require.NoError(t, err)
	assert.Empty(t, list)
	_, err = s.DataSet(ctx, access.Local, d.ID)
	assert.NoError(t, err, "problems that use it still have it")
	require.NoError(t, s.RestoreDataSet(ctx, access.Local, d.ID, 0))
}

func TestDeleteAndRestore(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(3), "")
	require.NoError(t, err)
	p, err := s.CreateProblem(ctx, access.Local, draft(), d.ID, "two-berths")
	require.NoError(t, err)
	require.NoError(t, s.DeleteProblem(ctx, access.Local, p.ID, 0))
	list, _, err := s.Problems(ctx, access.Local, 0)
	require.NoError(t, err)
	assert.Empty(t, list)
	_, err = s.Problem(ctx, access.Local, p.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.UpdateProblem(ctx, access.Local, p.ID, 1, draft(), nil)
	assert.ErrorIs(t, err, ErrNotFound)
	has, err := s.HasDemo(ctx, access.Local, "two-berths")
	require.NoError(t, err)
	assert.True(t, has, "a deleted demo problem does not come back at the next start")

	require.NoError(t, s.RestoreProblem(ctx, access.Local, p.ID, 0))
	assert.ErrorIs(t, s.RestoreProblem(ctx, access.Local, p.ID, 0), ErrNotFound)
	list, _, err = s.Problems(ctx, access.Local, 0)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "Two berths", list[0].Title)
}

func TestAnotherPersonSeesNothing(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, p := keep(t, s)
	other := access.Person{ID: uuid.New()}
	_, err := s.Problem(ctx, other, p.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.UpdateProblem(ctx, other, p.ID, 1, draft(), nil)
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.DeleteProblem(ctx, other, p.ID, 0), ErrNotFound)
	list, _, err := s.Problems(ctx, other, 0)
	require.NoError(t, err)
	assert.Empty(t, list)

	_, err = s.DataSet(ctx, other, d.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.UpdateDataSet(ctx, other, d.ID, 1, DataChange{Set: set(0)})
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.CopyDataSet(ctx, other, d.ID, "mine")
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.CreateProblem(ctx, other, draft(), d.ID, "")
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.DeleteDataSet(ctx, other, d.ID, 0), ErrNotFound)
	_, err = s.ReplaceDataSet(ctx, other, d.ID, d.Version, set(0))
	assert.ErrorIs(t, err, ErrNotFound)
	sets, _, err := s.DataSets(ctx, other, 0)
	require.NoError(t, err)
	assert.Empty(t, sets)
}

func TestOpenTwiceOnOneDatabase(t *testing.T) {
	url := pgtest.Database(t)
	done := make(chan error, 4)
	for range 4 {
		go func() {
			s, err := Open(context.Background(), url, Options{})
			if err == nil {
				s.Close()
			}
			done <- err
		}()
	}
	for range 4 {
		require.NoError(t, <-done)
	}
}

// Of many writes that were based on one version exactly one is taken.
func TestOneOfManyWritesIsTaken(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	const writers = 12
	errs := make(chan error, writers)
	for i := range writers {
		go func() {
			d := draft()
			d.Title = fmt.Sprintf("by writer %d", i)
			_, err := s.UpdateProblem(ctx, access.Local, p.ID, p.Version, d, nil)
			errs <- err
		}()
	}
	taken := 0
	for range writers {
		err := <-errs
		if err == nil {
			taken++
			continue
		}
		var stale *StaleError
		assert.ErrorAs(t, err, &stale)
		assert.Equal(t, p.Version+1, stale.Current)
	}
	assert.Equal(t, 1, taken)
	got, err := s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, p.Version+1, got.Version)
}

// What one View reads belongs together, however fast the data are changed meanwhile: each write
// gives the column and all its cells one name.
func TestAViewSeesOneState(t *testing.T) {
	ctx, s := context.Background(), open(t)
	named := func(n int64) DataChange {
		changed := set(0)
		changed.Columns[0].Name = fmt.Sprint("column ", n)
		return DataChange{Set: changed, Rows: 3, Blocks: []Block{{1, 0, []string{fmt.Sprint(n), fmt.Sprint(n), fmt.Sprint(n)}}}}
	}
	d, p := keep(t, s)
	about := draft()
	about.Roles = problem.Roles{"group": {"berth"}}
	_, err := s.UpdateProblem(ctx, access.Local, p.ID, p.Version, about, nil)
	require.NoError(t, err)
	_, err = s.UpdateDataSet(ctx, access.Local, d.ID, 1, named(1))
	require.NoError(t, err)
	writing, stop := context.WithCancel(ctx)
	done := make(chan error, 1)
	go func() {
		var err error
		for n := int64(2); writing.Err() == nil && err == nil; n++ {
			_, err = s.UpdateDataSet(ctx, access.Local, d.ID, n, named(n))
		}
		done <- err
	}()
	for range 50 {
		require.NoError(t, s.View(ctx, access.Local, func(v *View) error {
			kept, err := v.Problem(ctx, p.ID)
			require.NoError(t, err)
			got, err := v.Described(ctx, kept.DataSet)
			require.NoError(t, err)
			require.NoError(t, v.Cells(ctx, got))
			n := fmt.Sprint(got.Version - 1)
			assert.Equal(t, "column "+n, got.Set.Columns[0].Name)
			assert.Equal(t, []string{n, n, n}, got.Set.Columns[0].Cells)
			assert.Equal(t, problem.Names{"column " + n}, kept.Draft.Roles["group"])
			return nil
		}))
	}
	stop()
	require.NoError(t, <-done)
	got, err := s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	assert.Greater(t, got.Version, int64(2), "it was written meanwhile")
}

// What could not be read back as it was meant is not stored; it is said where it stands.
func TestChangesAreChecked(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, _ := keep(t, s)
	cells := func(n int) []string { return make([]string, n) }
	columns := func(change func(all []*data.Column)) *data.Set {
		made := set(0)
		change(made.Columns)
		return made
	}
	for name, c := range map[string]struct {
		change  DataChange
		pointer string
	}{
		"fewer than no rows":      {DataChange{Set: set(0), Rows: -5}, "/rows"},
		"too many rows":           {DataChange{Set: set(0), Rows: 1 << 40}, "/rows"},
		"a block past the end":    {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, 2_000_000_000, cells(3)}}}, "/blocks/0/block"},
		"a block before all":      {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, -1, cells(3)}}}, "/blocks/0/block"},
		"a short block":           {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, 0, cells(2)}}}, "/blocks/0/cells"},
		"a long block":            {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, 0, cells(4)}}}, "/blocks/0/cells"},
		"a short block inside":    {DataChange{Set: set(0), Rows: BlockRows + 1, Blocks: []Block{{1, 0, cells(1)}}}, "/blocks/0/cells"},
		"no such column":          {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{9, 0, cells(3)}}}, "/blocks/0/column"},
		"cells of a derived one":  {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{3, 0, cells(3)}}}, "/blocks/0/column"},
		"a block twice":           {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, 0, cells(3)}, {1, 0, cells(3)}}}, "/blocks/1"},
		"a NUL":                   {DataChange{Set: set(0), Rows: 3, Blocks: []Block{{1, 0, []string{"", "a\x00", ""}}}}, "/blocks/0/cells/1"},
		"a column that is null":   {DataChange{Set: columns(func(all []*data.Column) { all[1] = nil }), Rows: 3}, "/set/columns/1"},
		"two columns of one key":  {DataChange{Set: columns(func(all []*data.Column) { all[1].Key = 1 }), Rows: 3}, "/set/columns/1/key"},
		"a column without a key":  {DataChange{Set: columns(func(all []*data.Column) { all[0].Key = 0 }), Rows: 3}, "/set/columns/0/key"},
		"a key that is too large": {DataChange{Set: columns(func(all []*data.Column) { all[0].Key = 1 << 40 }), Rows: 3}, "/set/columns/0/key"},
		"no columns":              {DataChange{Set: &data.Set{Form: data.FormCases}, Rows: 3}, "/set/columns"},
		"an unknown form":         {DataChange{Set: &data.Set{Form: "heap", Columns: []*data.Column{}}, Rows: 0}, "/set/form"},
	} {
		_, err := s.UpdateDataSet(ctx, access.Local, d.ID, d.Version, c.change)
		var errs problem.Errors
		if assert.ErrorAs(t, err, &errs, name) {
			assert.Equal(t, c.pointer, errs[0].Pointer, name)
		}
	}
	got, err := s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	assert.Equal(t, set(3), got.Set)
	assert.Equal(t, d.Version, got.Version)
}
