package server

import (
	"context"
	"errors"
	"sync"

	"github.com/google/uuid"
	"github.com/hashicorp/golang-lru/v2/simplelru"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
)

// mostCells bounds the cells of the data sets that are kept in memory, together: some 300 MB.
const mostCells = 8 << 20

// A version names a state of a data set.
type version struct {
	id uuid.UUID
	at int64
}

// preparedSets keeps data sets that were read lately, each under its version, so that a click
// does not read all cells anew.
type preparedSets struct {
	mu    sync.Mutex
	kept  *simplelru.LRU[version, *data.Prepared]
	cells int
}

func newPreparedSets() *preparedSets {
	p := &preparedSets{}
	// The number of sets is bounded by their cells; each counts as one at least.
	p.kept, _ = simplelru.NewLRU(mostCells, func(_ version, set *data.Prepared) { p.cells -= cellsOf(set) })
	return p
}

func cellsOf(p *data.Prepared) int {
	n := 1
	for _, c := range p.Set.Columns {
		n += len(c.Cells)
	}
	return n
}

func (p *preparedSets) get(v version) *data.Prepared {
	p.mu.Lock()
	defer p.mu.Unlock()
	set, _ := p.kept.Get(v)
	return set
}

func (p *preparedSets) add(v version, set *data.Prepared) {
	p.mu.Lock()
	defer p.mu.Unlock()
	n := cellsOf(set)
	if n > mostCells || p.kept.Contains(v) {
		return
	}
	for p.cells+n > mostCells {
		p.kept.RemoveOldest()
	}
	p.kept.Add(v, set)
	p.cells += n
}

// A state is a problem and the data set that it is about, as both are at one moment.
type state struct {
	problem *store.Problem
	data    *store.DataSet
	given   *data.Prepared // the same data set, read
	link    string         // that it is seen by, "" where it is one's own
}

// errLarge says that a data set is so large that memory must be taken before it is read.
var errLarge = errors.New("the data set is large")

// read reads a data set of a view, but for its cells where its version was read lately: given is nil
// where it was not. A large one is read only where it may be.
func (s *server) read(ctx context.Context, v *store.View, id uuid.UUID, large bool) (d *store.DataSet, given *data.Prepared, err error) {
	if d, err = v.Described(ctx, id); err != nil {
		return nil, nil, err
	}
	if given = s.sets.get(version{id, d.Version}); given != nil {
		return d, given, nil
	}
	if d.Cells() > smallSet && !large {
		return d, nil, errLarge
	}
	return d, nil, v.Cells(ctx, d)
}

// view calls read with a view, and prepares the data set that it returns. Where that is large, memory is
// taken first: while a request waits for it, or prepares a data set, it holds no connection.
func (s *server) view(
	ctx context.Context, read func(v *store.View, large bool) (*store.DataSet, *data.Prepared, error),
) (d *store.DataSet, given *data.Prepared, err error) {
	for _, large := range []bool{false, true} {
		err = s.seen(ctx, func(v *store.View) error {
			d, given, err = read(v, large)
			return err
		})
		if !errors.Is(err, errLarge) {
			break
		}
		if err := s.room.take(ctx, int64(d.Cells())*costPerCell); err != nil {
			return nil, nil, err
		}
	}
	if err != nil {
		return nil, nil, err
	}
	if given == nil {
		given = data.Prepare(d.Set)
		s.sets.add(version{d.ID, d.Version}, given)
	}
	d.Set = given.Set
	return d, given, nil
}

// dataSet returns a data set as it is now.
func (s *server) dataSet(ctx context.Context, id uuid.UUID) (*store.DataSet, *data.Prepared, error) {
	return s.view(ctx, func(v *store.View, large bool) (*store.DataSet, *data.Prepared, error) {
		return s.read(ctx, v, id, large)
	})
}

// state returns a problem and its data as they are now.
func (s *server) state(ctx context.Context, id uuid.UUID) (*state, error) {
	st := state{link: linkOf(ctx)}
	var err error
	st.data, st.given, err = s.view(ctx, func(v *store.View, large bool) (*store.DataSet, *data.Prepared, error) {
		p, err := v.Problem(ctx, id)
		if err != nil {
			return nil, nil, err
		}
		st.problem = p
		return s.read(ctx, v, p.DataSet, large)
	})
	return &st, err
}

// around returns the state of a problem that was just written: its data as they are now.
func (s *server) around(ctx context.Context, p *store.Problem) (*state, error) {
	st := &state{problem: p}
	var err error
	st.data, st.given, err = s.dataSet(ctx, p.DataSet)
	return st, err
}

// mistakes returns what has to be mended in the draft and the data before the problem can be
// worked.
func (st *state) mistakes() (problem.Errors, error) {
	p, err := st.problem.Draft.Problem(st.given)
	if err == nil {
		err = procedure.Check(p)
	}
	if errs, ok := err.(problem.Errors); ok {
		return st.problem.Draft.Locate(st.given, errs), nil
	}
	return problem.Errors{}, err
}

// need refuses an answer about a version that is no longer the one, where one was asked for.
func (st *state) need(version, dataVersion int64) error {
	if version != 0 && version != st.problem.Version {
		return &store.StaleError{What: "problem", Current: st.problem.Version, UpdatedAt: st.problem.UpdatedAt}
	}
	if dataVersion != 0 && dataVersion != st.data.Version {
		return &store.StaleError{What: "data set", Current: st.data.Version, UpdatedAt: st.data.UpdatedAt}
	}
	return nil
}
