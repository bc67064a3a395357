// Package classroom hands problem sets out to classes and shows their instructors where the students are: the routes of classes,
// rosters and sets, the student's work on a set, and the page of the class.
package classroom

import (
	"context"
	"errors"
	"net/http"
	"sync"

	"github.com/google/uuid"
	"github.com/hashicorp/golang-lru/v2/simplelru"
	"github.com/labstack/echo/v5"

	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/paper"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/store"
	"grund/internal/turns"
)

// A Classroom answers what is asked about classes and sets.
type Classroom struct {
	store *store.Store
	desk  *people.Desk
	turns *turns.Queue
	fonts []paper.Font // of what is printed
	laid  *recent[*lay]
	asked *recent[[]answer.Ask]
	told  *listeners
}

// New returns the classroom of a server. Watch must run for what other servers take to be told here.
func New(st *store.Store, desk *people.Desk, queue *turns.Queue, fonts []paper.Font) *Classroom {
	return &Classroom{store: st, desk: desk, turns: queue, fonts: fonts, laid: newRecent[*lay](mostLaid),
		asked: newRecent[[]answer.Ask](mostAsked),
		told:  newListeners()}
}

// Routes adds the classroom's routes.
func (r *Classroom) Routes(route func(method, path string, handle echo.HandlerFunc)) {
	for _, each := range []struct {
		method, path string
		handle       echo.HandlerFunc
	}{
		{"GET", "/classes", r.listClasses},
		{"POST", "/classes", r.createClass},
		{"POST", "/classes/join", r.joinClass},
		{"GET", "/classes/:id", exchange.WithID(r.getClass)},
		{"PATCH", "/classes/:id", exchange.WithID(r.patchClass)},
		{"POST", "/classes/:id/leave", exchange.WithID(r.leaveClass)},
		{"GET", "/classes/:id/roster", exchange.WithID(r.getRoster)},
		{"POST", "/classes/:id/roster", exchange.WithID(r.addToRoster)},
		{"POST", "/classes/:id/roster/preview", exchange.WithID(r.previewRoster)},
		{"DELETE", "/classes/:id/roster/:person", withPerson(r.removeFromRoster)},
		{"POST", "/classes/:id/roster/:person/link", withPerson(r.makeRosterLink)},
		{"GET", "/classes/:id/deeds", exchange.WithID(r.listDeeds)},
		{"GET", "/classes/:id/sets", exchange.WithID(r.listSetsOfClass)},
		{"POST", "/classes/:id/sets", exchange.WithID(r.createSet)},
		{"POST", "/classes/:id/sets/bring", exchange.WithID(r.bringSet)},
		{"GET", "/sets", r.listMySets},
		{"GET", "/sets/:id", exchange.WithID(r.getSet)},
		{"PUT", "/sets/:id", exchange.WithID(r.putSet)},
		{"DELETE", "/sets/:id", exchange.WithID(r.deleteSet)},
		{"POST", "/sets/:id/restore", exchange.WithID(r.restoreSet)},
		{"POST", "/sets/:id/copy", exchange.WithID(r.copySet)},
		{"GET", "/sets/:id/file", exchange.WithID(r.takeSetAlong)},
		{"GET", "/sets/:id/variants", exchange.WithID(r.listVariants)},
		{"POST", "/sets/:id/judge-again", exchange.WithID(r.judgeAgain)},
		{"POST", "/sets/:id/draw", exchange.WithID(r.redraw)},
		{"GET", "/sets/:id/keys", exchange.WithID(r.getKeys)},
		{"GET", "/sets/:id/paper", exchange.WithID(r.printSet)},
		{"GET", "/sets/:id/class", exchange.WithID(r.getStandings)},
		{"GET", "/sets/:id/marks", exchange.WithID(r.getMarks)},
		{"GET", "/sets/:id/marks/paper", exchange.WithID(r.printMarks)},
		{"GET", "/sets/:id/work", exchange.WithID(r.getWork)},
		{"POST", "/sets/:id/hand-in", exchange.WithID(r.handIn)},
		{"DELETE", "/sets/:id/hand-in", exchange.WithID(r.takeBack)},
		{"GET", "/set-problems/:id", exchange.WithID(r.getSetProblem)},
		{"GET", "/set-problems/:id/asks", exchange.WithID(r.getAsks)},
		{"GET", "/set-problems/:id/try", exchange.WithID(r.getTry)},
		{"POST", "/set-problems/:id/try", exchange.WithID(r.addToTry)},
		{"POST", "/set-problems/:id/try/rows", exchange.WithID(r.rowsOfTry)},
		{"POST", "/set-problems/:id/work", exchange.WithID(r.workSetProblem)},
		{"PUT", "/attempts/:id/remarks", exchange.WithID(r.putRemark)},
		{"GET", "/classes/:id/poll", exchange.WithID(r.getLastPoll)},
		{"GET", "/classes/:id/polls", exchange.WithID(r.listPolls)},
		{"POST", "/classes/:id/polls", exchange.WithID(r.openPoll)},
		{"GET", "/polls/:id", exchange.WithID(r.getPoll)},
		{"PATCH", "/polls/:id", exchange.WithID(r.patchPoll)},
		{"POST", "/polls/:id/answer", exchange.WithID(r.answerPoll)},
	} {
		route(each.method, each.path, telling(each.handle))
	}
}

// refusals say of what the store refuses what would be right.
var refusals = []struct {
	is                     error
	pointer, says, instead string
}{
	{store.ErrNoGuests, "/code", "this class is for those who have a name", "sign in, or keep your work under a name"},
	{store.ErrClassFull, "/code", "this class is full", "ask its instructor"},
	{store.ErrLast, "", "a class has one instructor at least", "put another one on the roster first, or archive the class"},
	{store.ErrLate, "", "the set is due: what was handed in stays", "ask the instructor"},
	{store.ErrHandedIn, "", "this set is handed in", "take it back first, if it is not due yet"},
	{store.ErrClosed, "/text", "nobody answers this any more", "wait for what is asked next"},
	{store.ErrTaken, "/people", "somebody else took one of these user names just now", "try again"},
}

// telling makes what the store refuses a sentence.
func telling(handle echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		err := handle(c)
		for _, known := range refusals {
			if errors.Is(err, known.is) {
				return problem.Errors{{Pointer: known.pointer, Says: known.says, Instead: known.instead}}
			}
		}
		return err
	}
}

// withPerson hands the ids of the class and of the person in the path to a handler.
func withPerson(handle func(c *echo.Context, class, person uuid.UUID) error) echo.HandlerFunc {
	return exchange.WithID(func(c *echo.Context, class uuid.UUID) error {
		person, err := uuid.Parse(c.Param("person"))
		if err != nil {
			return store.ErrNotFound
		}
		return handle(c, class, person)
	})
}

// done answers that something was done, or why not.
func done(c *echo.Context, err error) error {
	if err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// mostLaid is how many attempts are kept worked, mostAsked of how many problems what they ask, and largest how many cases a problem
// has at most that is kept so.
const (
	mostLaid  = 600
	mostAsked = 500
	largest   = 1000
)

// A layKey says which problem was worked: a problem of a set at a version, which says how it is asked too, with the numbers of a seed.
type layKey struct {
	problem uuid.UUID
	version int
	seed    uint64
}

// A lay is a problem that was worked for attempts, which take turns at it.
type lay struct {
	mu      sync.Mutex
	problem *problem.Problem
	attempt *answer.Attempt
}

// A recent keeps what was worked lately; many may use it at once.
type recent[T any] struct {
	mu   sync.Mutex
	kept *simplelru.LRU[layKey, T]
}

func newRecent[T any](most int) *recent[T] {
	r := &recent[T]{}
	r.kept, _ = simplelru.NewLRU[layKey, T](most, nil)
	return r
}

// get returns what is kept, the zero value where nothing is.
func (r *recent[T]) get(key layKey) T {
	r.mu.Lock()
	defer r.mu.Unlock()
	found, _ := r.kept.Get(key)
	return found
}

func (r *recent[T]) add(key layKey, worked T) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.kept.Add(key, worked)
}

func (r *recent[T]) drop(key layKey) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.kept.Remove(key)
}

// at calls f with the problem of a desk, worked; nobody else uses it meanwhile. The context that f gets takes turns.
func (r *Classroom) at(ctx context.Context, setProblem uuid.UUID, d *store.Desk, f func(ctx context.Context, l *lay) error) error {
	ctx, end := r.turns.Context(ctx, turns.Free)
	defer end()
	key := layKey{problem: setProblem, version: d.Version}
	if d.Asked.OtherNumbers {
		key.seed = d.Seed
	}
	worked := r.laid.get(key)
	if worked == nil {
		p, err := r.variant(ctx, &d.Asked, d.File, d.Seed)
		if err != nil {
			return err
		}
		worked = &lay{problem: p}
		if worked.attempt, err = answer.NewAttempt(ctx, p); err != nil {
			return err
		}
		if d.Asked.OtherNumbers && cases(p) <= largest { // one that all share would make them wait for each other
			r.laid.add(key, worked)
		}
	}
	worked.mu.Lock()
	defer worked.mu.Unlock()
	err := f(ctx, worked)
	if ctx.Err() != nil {
		r.laid.drop(key)
	}
	return err
}

// variant reads a problem file as somebody with a seed gets it.
func (r *Classroom) variant(ctx context.Context, settings *problemset.Settings, file []byte, seed uint64) (*problem.Problem, error) {
	p, err := problem.Parse(file)
	if err != nil {
		return nil, err
	}
	p.Notes, p.Pictures = nil, nil // which are about the working, and may tell it
	return settings.Variant(ctx, p, seed)
}

// cases counts the values of a problem's longest variable.
func cases(p *problem.Problem) int {
	n := 0
	for _, v := range p.Data.Variables {
		n = max(n, v.Len())
	}
	return n
}
