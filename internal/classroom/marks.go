package classroom

import (
	"context"
	"net/http"
	"strconv"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problemset"
	"grund/internal/store"
)

// MarksView are the marks of a set: a row for each student.
type MarksView struct {
	Problems []AsksOfProblem `json:"problems"`
	Rows     []MarksRow      `json:"rows"`
	Of       float64         `json:"of"` // points in all
}

// MarksRow is what a student's work on a set brought.
type MarksRow struct {
	Student  StudentView    `json:"student"`
	Late     bool           `json:"late"`
	Problems []ProblemMarks `json:"problems"` // in their order
	Points   float64        `json:"points"`
}

// ProblemMarks are the marks of a problem.
type ProblemMarks struct {
	Attempt string               `json:"attempt,omitzero"` // its id; "" where it was not begun
	Points  float64              `json:"points"`
	Of      float64              `json:"of"`
	Asks    []problemset.AskMark `json:"asks"`
}

// byHandOf are the points that were set by hand, by attempt and ask.
func byHandOf(remarks []store.Remark) map[uuid.UUID]map[string]float64 {
	byHand := map[uuid.UUID]map[string]float64{}
	for _, remark := range remarks {
		if remark.Points == nil {
			continue
		}
		if byHand[remark.Attempt] == nil {
			byHand[remark.Attempt] = map[string]float64{}
		}
		byHand[remark.Attempt][remark.Ask] = *remark.Points
	}
	return byHand
}

// marks works out the marks of a set.
func (r *Classroom) marks(ctx context.Context, who access.Person, id uuid.UUID) (*store.ProblemSet, *MarksView, error) {
	set, err := r.store.TaughtSet(ctx, who, id)
	if err != nil {
		return nil, nil, err
	}
	roster, err := r.store.Roster(ctx, who, set.Class)
	if err != nil {
		return nil, nil, err
	}
	attempts, err := r.store.ClassAttempts(ctx, who, id, zero)
	if err != nil {
		return nil, nil, err
	}
	handedIn, err := r.store.HandedIn(ctx, who, id)
	if err != nil {
		return nil, nil, err
	}
	remarks, err := r.store.Remarks(ctx, who, id)
	if err != nil {
		return nil, nil, err
	}
	byHand := byHandOf(remarks)
	type place struct{ person, problem uuid.UUID }
	made := map[place]*store.ClassAttempt{}
	for i, a := range attempts {
		made[place{a.Person, a.SetProblem}] = &attempts[i]
	}
	view := &MarksView{Problems: []AsksOfProblem{}, Rows: []MarksRow{}}
	for _, student := range studentsOf(roster, handedIn) {
		late := student.HandedIn != nil && set.Settings.IsLate(*student.HandedIn)
		view.Rows = append(view.Rows, MarksRow{Student: student, Late: late, Problems: []ProblemMarks{}})
	}
	for _, p := range set.Problems {
		asks, err := r.asksOfProblem(ctx, set, p)
		if err != nil {
			return nil, nil, err
		}
		of := AsksOfProblem{ID: p.ID.String(), Title: p.Title, Asks: []AskView{}}
		for _, ask := range asks {
			of.Asks = append(of.Asks, AskView{ask.ID, string(ask.Step), ask.Label})
			view.Of += p.Points.Of(ask.ID)
		}
		view.Problems = append(view.Problems, of)
		for i := range view.Rows {
			row := &view.Rows[i]
			marks := ProblemMarks{}
			var standing *problemset.Standing
			var hand map[string]float64
			if a := made[place{uuid.MustParse(row.Student.ID), p.ID}]; a != nil {
				marks.Attempt, standing, hand = a.ID.String(), &a.Standing, byHand[a.ID]
			}
			marks.Asks = set.Settings.Marks(asks, p.Points, standing, hand)
			marks.Points, marks.Of = problemset.Sum(marks.Asks)
			row.Problems = append(row.Problems, marks)
			row.Points += marks.Points
		}
	}
	return set, view, nil
}

// MarksTable returns the marks of a set as a table: a row for each student.
func (r *Classroom) MarksTable(ctx context.Context, who access.Person, id uuid.UUID) (*data.Set, error) {
	_, view, err := r.marks(ctx, who, id)
	if err != nil {
		return nil, err
	}
	return tableOf(view), nil
}

// getMarks sends the marks of a set: as JSON, or as a file with a row for each student.
func (r *Classroom) getMarks(c *echo.Context, id uuid.UUID) error {
	set, view, err := r.marks(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	if c.QueryParam("format") == "" {
		return exchange.Write(c, http.StatusOK, view)
	}
	return sendTable(c, set.Settings.Title+" marks", tableOf(view))
}

// handedInWords say when a student handed the set in, "" where that was not done.
func handedInWords(row *MarksRow) string {
	if row.Student.HandedIn == nil {
		return ""
	}
	at := row.Student.HandedIn.UTC().Format("2006-01-02 15:04")
	if row.Late {
		at += " (late)"
	}
	return at
}

// tableOf returns marks as a table: student, when handed in, points in all, of each problem and of each ask.
func tableOf(view *MarksView) *data.Set {
	set := &data.Set{Name: "marks", Form: data.FormCases}
	add := func(name string, cell func(row *MarksRow) string) {
		column := &data.Column{Key: len(set.Columns) + 1, Name: name}
		for i := range view.Rows {
			column.Cells = append(column.Cells, cell(&view.Rows[i]))
		}
		set.Columns = append(set.Columns, column)
	}
	number := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	add("student", func(row *MarksRow) string { return row.Student.Name })
	add("handed in", handedInWords)
	add("points of "+number(view.Of), func(row *MarksRow) string { return number(row.Points) })
	for i, p := range view.Problems {
		add(p.Title, func(row *MarksRow) string { return number(row.Problems[i].Points) })
		for j, ask := range p.Asks {
			add(p.Title+": "+ask.Label, func(row *MarksRow) string { return number(row.Problems[i].Asks[j].Points) })
		}
	}
	return set
}
