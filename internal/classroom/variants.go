package classroom

import (
	"context"
	"math"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/turns"
	"grund/internal/working"
)

// zero is the time before all others.
var zero time.Time

// VariantsView says what the numbers of everybody on the roster come to, before a set is handed out.
type VariantsView struct {
	Problems []VariantsOfProblem `json:"problems"`
}

// VariantsOfProblem are the variants of a problem, a row for each student.
type VariantsOfProblem struct {
	ID    string        `json:"id"`
	Title string        `json:"title"`
	Alpha float64       `json:"alpha"`
	Rows  []VariantView `json:"rows"`
}

// VariantView is what a student's numbers come to.
type VariantView struct {
	Student string         `json:"student"` // id
	Name    string         `json:"name"`
	Reject  *bool          `json:"reject"` // null where nothing is decided
	P       working.Number `json:"p"`
	// Margin is how far p lies from alpha, as a share of alpha: little where the decision is a close one.
	Margin working.Number `json:"margin"`
	// SmallestExpected is the smallest expected count, null where there is none.
	SmallestExpected working.Number `json:"smallest_expected"`
	// Trouble says why there are no such numbers; "" where there are.
	Trouble string `json:"trouble,omitzero"`
}

// mostVariants bounds how many are worked for a look at all of them.
const mostVariants = 600

// listVariants works every problem of a set as everybody on the roster gets it.
func (r *Classroom) listVariants(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	set, files, err := r.whole(ctx, who, id)
	if err != nil {
		return err
	}
	students, draws, err := r.variantsFor(ctx, who, set)
	if err != nil {
		return err
	}
	if n := len(students) * len(files); n > mostVariants {
		students = students[:max(1, mostVariants/len(files))]
	}
	ctx, end := r.turns.Context(ctx, turns.Free)
	defer end()
	out := VariantsView{Problems: []VariantsOfProblem{}}
	for i, p := range set.Problems {
		of := VariantsOfProblem{ID: p.ID.String(), Title: p.Title, Rows: []VariantView{}}
		for _, student := range students {
			person := uuid.MustParse(student.ID)
			row, alpha, err := r.variantRow(ctx, set, files[i], problemset.Seed(set.ID, person, draws[person]))
			if err != nil {
				return err
			}
			row.Student, row.Name, of.Alpha = student.ID, student.Name, alpha
			of.Rows = append(of.Rows, row)
		}
		out.Problems = append(out.Problems, of)
	}
	return exchange.Write(c, http.StatusOK, out)
}

// variantsFor are those for whom there are numbers in a set, and how often others were drawn for them.
func (r *Classroom) variantsFor(ctx context.Context, who access.Person, set *store.ProblemSet) ([]StudentView, map[uuid.UUID]int, error) {
	roster, err := r.store.Roster(ctx, who, set.Class)
	if err != nil {
		return nil, nil, err
	}
	draws, err := r.store.Draws(ctx, who, set.ID)
	if err != nil {
		return nil, nil, err
	}
	if !set.Settings.OtherNumbers { // they are the same for all
		return []StudentView{{ID: uuid.Nil.String(), Name: "everybody"}}, draws, nil
	}
	return studentsOf(roster, nil), draws, nil
}

func (r *Classroom) variantRow(ctx context.Context, set *store.ProblemSet, file store.SetFile, seed uint64) (v VariantView,
	alpha float64, err error) {
	v = VariantView{P: working.Number(math.NaN()), Margin: working.Number(math.NaN()), SmallestExpected: working.Number(math.NaN())}
	var s *working.Solution
	p, err := r.variant(ctx, &set.Settings, file.File, seed)
	if err == nil {
		s, err = procedure.Work(ctx, p)
	}
	if wrong := asErrors(err); len(wrong) > 0 {
		v.Trouble = wrong[0].Says
		return v, 0, nil
	}
	if err != nil {
		return v, 0, err
	}
	if s.Decision != nil {
		v.Reject = &s.Decision.Reject
		if q := s.Quantity(s.Decision.P); q != nil {
			v.P = q.Value
			v.Margin = working.Number(math.Abs(float64(q.Value)-p.Alpha) / p.Alpha)
		}
	}
	v.SmallestExpected = smallestExpected(s)
	return v, p.Alpha, nil
}

// smallestExpected is the smallest expected count of a solution, NaN where it has none.
func smallestExpected(s *working.Solution) working.Number {
	smallest := working.Number(math.NaN())
	for _, table := range s.Tables {
		at := slices.IndexFunc(table.Columns, func(c working.Column) bool { return c.ID == "expected" })
		if at < 0 {
			continue
		}
		for _, row := range table.Rows() {
			if x, is := row[at].Value.(working.Number); is && !(x >= smallest) {
				smallest = x
			}
		}
	}
	return smallest
}

// DrawRequest draws other numbers for a student.
type DrawRequest struct {
	Student uuid.UUID `json:"student"`
	// Begun says that what they have begun with the numbers before may go.
	Begun bool `json:"begun,omitzero"`
}

func (r *Classroom) redraw(c *echo.Context, id uuid.UUID) error {
	var request DrawRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx, who := c.Request().Context(), people.Who(c)
	if !request.Begun {
		attempts, err := r.store.ClassAttempts(ctx, who, id, zero)
		if err != nil {
			return err
		}
		for _, a := range attempts {
			if a.Person == request.Student {
				return problem.Errors{{Pointer: "/begun", Says: "the student has begun with the numbers before, and that work would go",
					Instead: "say that it may"}}
			}
		}
	}
	return done(c, r.store.Redraw(ctx, who, id, request.Student))
}
