package classroom

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/export"
	"grund/internal/paper"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/store"
	"grund/internal/turns"
)

// Sizes of a set on paper.
const (
	mostSheets  = 60
	mostOnPaper = 500 // cases of a problem
)

// printSet sends a set as sheets to be worked on paper, with the keys behind: sheets says how many, each with numbers of its own
// where the set gives them.
func (r *Classroom) printSet(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	set, files, err := r.whole(ctx, who, id)
	if err != nil {
		return err
	}
	sheets, err := strconv.Atoi(c.QueryParam("sheets"))
	if err != nil || sheets < 1 || sheets > mostSheets {
		return problem.Errors{{Pointer: "/sheets", Says: "this is no number of sheets that can be printed",
			Instead: fmt.Sprintf("it must be a whole number from 1 to %d", mostSheets)}}
	}
	if !set.Settings.OtherNumbers { // one is like the other
		sheets = 1
	}
	if n := sheets * len(files); n > mostVariants {
		return problem.TooMany("/sheets", fmt.Sprintf("%d copies have %d problems each", sheets, len(files)), mostVariants, "print fewer at once")
	}
	ctx, end := r.turns.Context(ctx, turns.Free)
	defer end()
	out := &paper.Set{
		Head:  paper.Head{Title: set.Settings.Title, Course: set.ClassName, Size: paper.Size(c.QueryParam("size")), Fonts: r.fonts},
		About: set.Settings.About,
	}
	if err := out.Check(); err != nil {
		return err
	}
	for n := 1; n <= sheets; n++ {
		seed := problemset.Seed(set.ID, uuid.Nil, n)
		sheet := paper.SetSheet{Code: problemset.Code(n, seed)}
		for i := range files {
			exercise, err := r.exercise(ctx, &set.Settings, files[i].File, seed)
			if err != nil {
				return problem.Under(err, "problems", i)
			}
			sheet.Exercises = append(sheet.Exercises, *exercise)
		}
		out.Sheets = append(out.Sheets, sheet)
	}
	return exchange.SendPaper(c, set.Settings.Title, map[string]func(io.Writer) error{
		"html": func(w io.Writer) error { return paper.SetHTML(w, out) },
	})
}

// exercise returns a problem with the numbers of a seed as it is worked on paper.
func (r *Classroom) exercise(ctx context.Context, settings *problemset.Settings, file []byte, seed uint64) (*paper.Exercise, error) {
	p, err := r.variant(ctx, settings, file, seed)
	if err != nil {
		return nil, err
	}
	if n := cases(p); n > mostOnPaper {
		return nil, problem.TooMany("", fmt.Sprintf("the problem has %d cases", n), mostOnPaper, "hand it out on the screen, or give it fewer")
	}
	attempt, err := answer.NewAttempt(ctx, p)
	if err != nil {
		return nil, err
	}
	given, step := attempt.Given()
	e := &paper.Exercise{Title: p.Title, Question: p.Question, Solution: given}
	if p.Claim != nil {
		e.Claim = p.Claim.Text
	}
	if step != nil {
		e.Given = step.Blocks
	}
	for _, ask := range attempt.Asks() {
		on := paper.PaperAsk{Step: ask.Step.Title(), Label: ask.Label, Symbol: ask.Symbol, Unit: ask.Unit,
			Long: ask.Kind == answer.Sentence, Right: keyOf(attempt, ask)}
		for _, choice := range ask.Choices {
			on.Choices = append(on.Choices, paper.PaperChoice{Symbols: choice.Symbols, Words: choice.Words})
		}
		e.Asks = append(e.Asks, on)
	}
	return e, nil
}

// keyOf is what is right at an ask, as words.
func keyOf(attempt *answer.Attempt, ask answer.Ask) string {
	return worded(ask, attempt.Right(ask.ID))
}

// worded is an answer as it reads: the words of a choice, what was typed otherwise.
func worded(ask answer.Ask, text string) string {
	for _, choice := range ask.Choices {
		if choice.Value == text {
			return choice.Words
		}
	}
	return text
}

// printMarks sends the marks of a set as a document with a page for each student, or for the one that the query names.
func (r *Classroom) printMarks(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	set, view, err := r.marks(ctx, who, id)
	if err != nil {
		return err
	}
	if one := c.QueryParam("person"); one != "" {
		view.Rows = slices.DeleteFunc(view.Rows, func(row MarksRow) bool { return row.Student.ID != one })
		if len(view.Rows) == 0 {
			return store.ErrNotFound
		}
	}
	if n := len(view.Rows) * len(set.Problems); n > mostVariants {
		return problem.TooMany("", fmt.Sprintf("%d students have %d problems each", len(view.Rows), len(set.Problems)), mostVariants,
			"print them student by student")
	}
	remarks, err := r.store.Remarks(ctx, who, id)
	if err != nil {
		return err
	}
	out := &paper.Marks{Head: paper.Head{
		Title: set.Settings.Title, Course: set.ClassName, Size: paper.Size(c.QueryParam("size")), Fonts: r.fonts,
	}}
	for _, row := range view.Rows {
		student := paper.MarkedStudent{Name: row.Student.Name, Points: row.Points, Of: view.Of}
		if row.Student.HandedIn != nil {
			student.HandedIn = handedInWords(&row)
		}
		for i, p := range set.Problems {
			asks, err := r.asksOfProblem(ctx, set, p)
			if err != nil {
				return err
			}
			marked, err := r.markedProblem(ctx, who, p, &row, row.Problems[i], asks, remarks)
			if err != nil {
				return err
			}
			student.Problems = append(student.Problems, *marked)
		}
		out.Students = append(out.Students, student)
	}
	return exchange.SendPaper(c, set.Settings.Title+" marks", map[string]func(io.Writer) error{
		"html": func(w io.Writer) error { return paper.MarksHTML(w, out) },
	})
}

func (r *Classroom) markedProblem(ctx context.Context, who access.Person, p store.SetProblem, row *MarksRow, marks ProblemMarks,
	asks []answer.Ask, remarks []store.Remark,
) (*paper.MarkedProblem, error) {
	marked := &paper.MarkedProblem{Title: p.Title, Points: marks.Points, Of: marks.Of, Begun: marks.Attempt != ""}
	if !marked.Begun {
		return marked, nil
	}
	d, err := r.store.Desk(ctx, who, p.ID, uuid.MustParse(row.Student.ID))
	if err != nil {
		return nil, err
	}
	last := map[string]string{}
	for _, e := range eventsOf(d.Attempt) {
		if e.Kind == answer.Answered {
			last[e.Ask] = e.Text
		}
	}
	for i, ask := range asks {
		of := paper.MarkedAsk{Label: ask.Label, Symbol: ask.Symbol, Answer: worded(ask, last[ask.ID]), Points: marks.Asks[i].Points,
			Of: marks.Asks[i].Of}
		for _, remark := range remarks {
			if remark.Attempt.String() == marks.Attempt && remark.Ask == ask.ID {
				of.Words = remark.Words
			}
		}
		marked.Asks = append(marked.Asks, of)
	}
	return marked, nil
}

// KeysView are the right answers of everybody on the roster.
type KeysView struct {
	Problems []KeysOfProblem `json:"problems"`
}

// KeysOfProblem are those of a problem: a row for each student.
type KeysOfProblem struct {
	ID    string    `json:"id"`
	Title string    `json:"title"`
	Asks  []AskView `json:"asks"`
	Rows  []KeysRow `json:"rows"`
}

// KeysRow are the right answers to the asks of a problem with a student's numbers, as words, in their order.
type KeysRow struct {
	Student string   `json:"student"` // id
	Name    string   `json:"name"`
	Right   []string `json:"right"`
}

// getKeys sends the right answers of everybody on the roster: as JSON, or as a file with a row for each student.
func (r *Classroom) getKeys(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	set, err := r.store.TaughtSet(ctx, who, id)
	if err != nil {
		return err
	}
	students, _, err := r.variantsFor(ctx, who, set)
	if err != nil {
		return err
	}
	if n := len(students) * len(set.Problems); n > mostVariants {
		return problem.TooMany("", fmt.Sprintf("%d students have %d problems each", len(students), len(set.Problems)), mostVariants,
			"take the keys of a set with fewer problems")
	}
	view := KeysView{Problems: []KeysOfProblem{}}
	for i, p := range set.Problems {
		of := KeysOfProblem{ID: p.ID.String(), Title: p.Title, Asks: []AskView{}, Rows: []KeysRow{}}
		for _, student := range students {
			d, err := r.store.Desk(ctx, who, p.ID, uuid.MustParse(student.ID)) // with which they have begun, where they have
			if err != nil {
				return err
			}
			err = r.at(ctx, p.ID, d, func(_ context.Context, l *lay) error {
				of.add(student, l.attempt)
				return nil
			})
			if err != nil {
				return problem.Under(err, "problems", i)
			}
		}
		view.Problems = append(view.Problems, of)
	}
	if c.QueryParam("format") == "" {
		return exchange.Write(c, http.StatusOK, view)
	}
	return sendTable(c, set.Settings.Title+" keys", keysTable(view, students))
}

// add adds a row: what is right with a student's numbers. Other numbers may be asked for other things, which come behind.
func (k *KeysOfProblem) add(student StudentView, attempt *answer.Attempt) {
	row := KeysRow{Student: student.ID, Name: student.Name, Right: make([]string, len(k.Asks))}
	for _, ask := range attempt.Asks() {
		at := slices.IndexFunc(k.Asks, func(known AskView) bool { return known.ID == ask.ID })
		if at < 0 {
			at = len(k.Asks)
			k.Asks = append(k.Asks, AskView{ask.ID, string(ask.Step), ask.Label})
			row.Right = append(row.Right, "")
			for i := range k.Rows {
				k.Rows[i].Right = append(k.Rows[i].Right, "")
			}
		}
		row.Right[at] = keyOf(attempt, ask)
	}
	k.Rows = append(k.Rows, row)
}

// keysTable returns keys as a table: a row for each student, a column for each ask.
func keysTable(view KeysView, students []StudentView) *data.Set {
	out := &data.Set{Name: "keys", Form: data.FormCases}
	add := func(name string, cell func(row int) string) {
		column := &data.Column{Key: len(out.Columns) + 1, Name: name}
		for row := range students {
			column.Cells = append(column.Cells, cell(row))
		}
		out.Columns = append(out.Columns, column)
	}
	add("student", func(row int) string { return students[row].Name })
	for _, p := range view.Problems {
		for i, ask := range p.Asks {
			add(p.Title+": "+ask.Label, func(row int) string { return p.Rows[row].Right[i] })
		}
	}
	return out
}

// sendTable sends a table as a file, in the format that the query asks for.
func sendTable(c *echo.Context, title string, table *data.Set) error {
	kinds := map[export.Format]string{export.CSV: "text/csv; charset=utf-8", export.ODS: "application/vnd.oasis.opendocument.spreadsheet"}
	format := export.Format(c.QueryParam("format"))
	if kinds[format] == "" {
		return problem.Errors{problem.Unknown("/format", "format", string(format), []string{string(export.CSV), string(export.ODS)})}
	}
	var out bytes.Buffer
	if err := export.Write(&out, table, format); err != nil {
		return err
	}
	c.Response().Header().Set(echo.HeaderContentDisposition, exchange.Attachment(title, string(format)))
	return c.Blob(http.StatusOK, kinds[format], out.Bytes())
}
