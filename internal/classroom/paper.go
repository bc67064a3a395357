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

// getKeys sends the right answers of everybody on the roster as a file: a row for each student, a column for each ask.
func (r *Classroom) getKeys(c *echo.Context, id uuid.UUID) error {
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
		return problem.TooMany("", fmt.Sprintf("%d students have %d problems each", len(students), len(files)), mostVariants,
			"take the keys of a set with fewer problems")
	}
	ctx, end := r.turns.Context(ctx, turns.Free)
	defer end()
	out := &data.Set{Name: "keys", Form: data.FormCases}
	column := func(name string) *data.Column {
		added := &data.Column{Key: len(out.Columns) + 1, Name: name, Cells: make([]string, len(students))}
		out.Columns = append(out.Columns, added)
		return added
	}
	names := column("student")
	for row, student := range students {
		names.Cells[row] = student.Name
	}
	for i, p := range set.Problems {
		columns := map[string]*data.Column{}
		for row, student := range students {
			person := uuid.MustParse(student.ID)
			variant, err := r.variant(ctx, &set.Settings, files[i].File, problemset.Seed(set.ID, person, draws[person]))
			if err != nil {
				return problem.Under(err, "problems", i)
			}
			attempt, err := answer.NewAttempt(ctx, variant)
			if err != nil {
				return problem.Under(err, "problems", i)
			}
			for _, ask := range attempt.Asks() {
				if columns[ask.ID] == nil {
					columns[ask.ID] = column(p.Title + ": " + ask.Label)
				}
				columns[ask.ID].Cells[row] = keyOf(attempt, ask)
			}
		}
	}
	return sendTable(c, set.Settings.Title+" keys", out)
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
