package server

import (
	"context"
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
}

// read returns a data set of a view, prepared. Its cells come from the database where the version
// is none that was read lately.
func (s *server) read(ctx context.Context, v *store.View, id uuid.UUID) (*store.DataSet, *data.Prepared, error) {
	d, err := v.Described(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	at := version{id, d.Version}
	given := s.sets.get(at)
	if given == nil {
		if err := v.Cells(ctx, d); err != nil {
			return nil, nil, err
		}
		given = data.Prepare(d.Set)
		s.sets.add(at, given)
	}
	d.Set = given.Set
	return d, given, nil
}

// dataSet returns a data set as it is now.
func (s *server) dataSet(ctx context.Context, id uuid.UUID) (d *store.DataSet, given *data.Prepared, err error) {
	err = s.store.View(ctx, store.Local, func(v *store.View) error {
		d, given, err = s.read(ctx, v, id)
		return err
	})
	return d, given, err
}

// state returns a problem and its data as they are now.
func (s *server) state(ctx context.Context, id uuid.UUID) (*state, error) {
	var st state
	err := s.store.View(ctx, store.Local, func(v *store.View) (err error) {
		if st.problem, err = v.Problem(ctx, id); err != nil {
			return err
		}
		st.data, st.given, err = s.read(ctx, v, st.problem.DataSet)
		return err
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
