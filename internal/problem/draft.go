package problem

import (
	"fmt"
	"math"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
)

// A Draft is a problem while a person is making it: everything stands in it as
// it was typed, so that nothing is lost where something does not fit yet. Problem
// turns it into a problem file's content, or says what still has to be mended.
type Draft struct {
	Title      string                    `json:"title"`
	Question   string                    `json:"question"`
	Claim      Claim                     `json:"claim"` // no claim while its text is empty
	Procedure  string                    `json:"procedure"`
	Alpha      string                    `json:"alpha"`
	Confidence *float64                  `json:"confidence,omitzero"`
	Tail       Tail                      `json:"tail"`
	Roles      Roles                     `json:"roles"`
	Options    map[string]jsontext.Value `json:"options"`
	LeaveOut   []LeftOut                 `json:"leave_out"`
	Decimals   *int                      `json:"decimals,omitzero"`

	Entry    Entry         `json:"entry"`
	Response Heading       `json:"response"` // of a summary or of one column a group
	Group    Heading       `json:"group"`
	Columns  []DraftColumn `json:"columns"`
	// PutBy holds the columns that were typed in another form of entry.
	PutBy map[Entry][]DraftColumn `json:"put_by,omitempty"`
}

// Entry is the form in which the data are entered.
type Entry string

const (
	EnterCases   Entry = "cases"   // a column a variable
	EnterColumns Entry = "columns" // a column a group, its name the level
	EnterSummary Entry = "summary" // a row a group: label, n, mean, sd
)

// A DraftColumn is a column of cells as they were typed. What it is, beyond its
// name and unit, is guessed where Kind is empty.
type DraftColumn struct {
	Name       string            `json:"name"`
	Label      string            `json:"label"`
	Unit       string            `json:"unit"`
	Kind       data.Kind         `json:"kind"`
	Levels     []string          `json:"levels,omitempty"`
	LevelNames map[string]string `json:"level_names,omitempty"`
	Cells      []string          `json:"cells"`
}

// SummaryColumns are the columns of a summary, in order.
var SummaryColumns = []string{"label", "n", "mean", "sd"}

// NewDraft returns an empty draft.
func NewDraft() *Draft {
	return &Draft{
		Claim: Claim{Is: H0}, Procedure: "t-two-sample", Alpha: data.FormatNumber(DefaultAlpha), Tail: Both,
		Roles: Roles{}, Options: map[string]jsontext.Value{}, LeaveOut: []LeftOut{},
		Entry: EnterCases, Columns: []DraftColumn{{Cells: []string{}}, {Cells: []string{}}},
	}
}

// DraftOf returns the draft that gives p, for a problem that comes from a file.
func DraftOf(p *Problem) (*Draft, error) {
	d := NewDraft()
	d.Columns = []DraftColumn{}
	d.Take(p)
	d.Title, d.Question = p.Title, p.Question
	if p.Claim != nil {
		d.Claim = *p.Claim
	}
	switch {
	case p.Data.Variables != nil:
		for _, v := range p.Data.Variables {
			d.Columns = append(d.Columns, draftColumn(v))
		}
	case p.Data.Summary != nil:
		d.Entry = EnterSummary
		d.takeSummary(p.Data.Summary)
	default:
		return nil, Errors{{"/data/counts", "counts cannot be edited here yet", "give “variables” or a “summary”"}}
	}
	return d, nil
}

// Take takes over the settings of p that live controls change.
func (d *Draft) Take(p *Problem) {
	d.Procedure, d.Tail, d.Confidence, d.Decimals = p.Procedure, p.Tail, p.Confidence, p.Decimals
	d.Alpha = data.FormatNumber(p.Alpha)
	d.Roles, d.Options, d.LeaveOut = p.Roles, p.Options, p.LeaveOut
	if d.Roles == nil {
		d.Roles = Roles{}
	}
	if d.Options == nil {
		d.Options = map[string]jsontext.Value{}
	}
	if d.LeaveOut == nil {
		d.LeaveOut = []LeftOut{}
	}
}

func draftColumn(v *data.Variable) DraftColumn {
	c := DraftColumn{Name: v.Name, Label: v.Label, Unit: v.Unit, Kind: v.Kind, Cells: make([]string, v.Len())}
	for i := range c.Cells {
		switch {
		case v.Missing(i):
		case v.Kind == data.Number:
			c.Cells[i] = data.FormatNumber(v.Numbers[i])
		default:
			c.Cells[i] = v.Levels[v.Codes[i]].Code
		}
	}
	for _, level := range v.Levels {
		if v.Listed {
			c.Levels = append(c.Levels, level.Code)
		}
		if level.Name != level.Code {
			if c.LevelNames == nil {
				c.LevelNames = map[string]string{}
			}
			c.LevelNames[level.Code] = level.Name
		}
	}
	return c
}

func (d *Draft) takeSummary(s *Summary) {
	if s.Response != nil {
		d.Response = *s.Response
	}
	if s.Group != nil {
		d.Group = *s.Group
	}
	columns := make([]DraftColumn, len(SummaryColumns))
	for i, name := range SummaryColumns {
		columns[i] = DraftColumn{Name: name, Cells: []string{}}
	}
	number := func(x *float64) string {
		if x == nil {
			return ""
		}
		return data.FormatNumber(*x)
	}
	for _, g := range s.Groups {
		for i, cell := range []string{g.Label, data.FormatNumber(g.N), number(g.Mean), number(g.SD)} {
			columns[i].Cells = append(columns[i].Cells, cell)
		}
	}
	d.Columns = columns
}

// Problem returns the problem that the draft describes. The pointers of its
// errors lead into the draft.
func (d *Draft) Problem() (*Problem, error) {
	var errs Errors
	p := &Problem{
		Grund: Format, Title: strings.TrimSpace(d.Title), Question: d.Question, Procedure: d.Procedure,
		Confidence: d.Confidence, Tail: d.Tail, Roles: d.Roles, Options: d.Options, LeaveOut: d.LeaveOut, Decimals: d.Decimals,
	}
	if strings.TrimSpace(d.Claim.Text) != "" {
		claim := d.Claim
		p.Claim = &claim
	}
	alpha, sign, err := data.Style{}.Parse(d.Alpha)
	if sign == "%" { // “5 %” is how some textbooks put it
		alpha /= 100
	}
	if err != nil {
		errs.Add("/alpha", err.Error(), "write a number between 0 and 1, as 0.05 is")
		alpha = DefaultAlpha
	}
	p.Alpha = alpha
	switch d.Entry {
	case EnterCases:
		d.readCases(p, &errs)
	case EnterColumns:
		d.readColumns(p, &errs)
	case EnterSummary:
		d.readSummary(p, &errs)
	default:
		errs.Add("/entry", "the form of the data is “"+Shorten(string(d.Entry))+"”", "it must be “cases”, “columns” or “summary”")
	}
	if len(errs) > 0 {
		return nil, errs
	}
	if errs = p.check(); len(errs) > 0 {
		return nil, d.Locate(errs)
	}
	return p, nil
}

// used returns the columns that hold something, and their places.
func (d *Draft) used() (columns []*DraftColumn, places []int) {
	for i := range d.Columns {
		c := &d.Columns[i]
		if c.Name != "" || strings.TrimSpace(strings.Join(c.Cells, "")) != "" {
			columns = append(columns, c)
			places = append(places, i)
		}
	}
	return columns, places
}

// rows returns the number of rows up to the last that holds something.
func rows(columns []*DraftColumn) int {
	last := 0
	for _, c := range columns {
		for i, cell := range c.Cells {
			if strings.TrimSpace(cell) != "" {
				last = max(last, i+1)
			}
		}
	}
	return last
}

// padded returns the first n cells, blank where there are fewer.
func (c *DraftColumn) padded(n int) []string {
	cells := make([]string, n)
	copy(cells, c.Cells[:min(n, len(c.Cells))])
	return cells
}

// Kinds returns what each column is: as said, or else as guessed from its cells.
func (d *Draft) Kinds() []data.Kind {
	kinds := make([]data.Kind, len(d.Columns))
	for i, c := range d.Columns {
		kinds[i] = c.Kind
		if c.Kind == data.Undecided {
			kinds[i] = data.GuessKind(c.Cells)
		}
	}
	return kinds
}

func (d *Draft) readCases(p *Problem, errs *Errors) {
	columns, places := d.used()
	n := rows(columns)
	if n == 0 {
		errs.Add("/columns", "there are no data yet", "type them in, or paste them from a spreadsheet")
		return
	}
	for i, c := range columns {
		if strings.TrimSpace(c.Name) == "" {
			errs.Add(Pointer("columns", places[i], "name"), fmt.Sprintf("column %d has no name", places[i]+1), "say what it is")
		}
		v := c.variable(n, func(row int, says string) {
			errs.Add(Pointer("columns", places[i], "cells", row), fmt.Sprintf("row %d of “%s”: %s", row+1, Shorten(c.Name), says), "correct it, or clear it if it is missing")
		})
		p.Data.Variables = append(p.Data.Variables, v)
	}
}

// variable reads the first n cells as a variable.
func (c *DraftColumn) variable(n int, mistake func(row int, says string)) *data.Variable {
	cells := c.padded(n)
	kind := c.Kind
	if kind == "" {
		kind = data.GuessKind(cells)
	}
	v, mistakes := data.NewVariable(strings.TrimSpace(c.Name), kind, cells)
	v.Label = strings.TrimSpace(c.Label)
	if unit := strings.TrimSpace(c.Unit); unit != "" {
		v.Unit = unit
	}
	for _, m := range mistakes {
		mistake(m.Case, m.Says)
	}
	if kind == data.Category {
		c.orderLevels(v, mistake)
	}
	return v
}

// orderLevels gives a category the order and the names of its levels.
func (c *DraftColumn) orderLevels(v *data.Variable, mistake func(row int, says string)) {
	if c.Levels != nil {
		place := map[string]int{}
		ordered := make([]data.Level, len(c.Levels))
		for i, code := range c.Levels {
			place[code] = i
			ordered[i] = data.Level{Code: code, Name: code}
		}
		for i, code := range v.Codes {
			if code < 0 {
				continue
			}
			at, known := place[v.Levels[code].Code]
			if !known {
				mistake(i, "“"+Shorten(v.Levels[code].Code)+"” is not among its levels, "+List(c.Levels, "and"))
				at = -1
			}
			v.Codes[i] = at
		}
		v.Levels, v.Listed = ordered, true
	}
	for i := range v.Levels {
		if name, ok := c.LevelNames[v.Levels[i].Code]; ok {
			v.Levels[i].Name = name
		}
	}
}

// readColumns turns one column a group into a response and a group variable.
func (d *Draft) readColumns(p *Problem, errs *Errors) {
	columns, places := d.used()
	n := rows(columns)
	if n == 0 {
		errs.Add("/columns", "there are no data yet", "type them in, or paste them from a spreadsheet")
		return
	}
	response := &data.Variable{Name: "response", Label: strings.TrimSpace(d.Response.Label), Unit: strings.TrimSpace(d.Response.Unit), Kind: data.Number}
	group := &data.Variable{Name: "group", Label: strings.TrimSpace(d.Group.Label), Kind: data.Category, Listed: true}
	seen := map[string]bool{}
	for i, c := range columns {
		name := strings.TrimSpace(c.Name)
		at := Pointer("columns", places[i], "name")
		if name == "" {
			errs.Add(at, fmt.Sprintf("column %d has no name", places[i]+1), "name the group that it holds")
		}
		if seen[name] {
			errs.Add(at, "“"+Shorten(name)+"” is the name of another column too", "give each group a name of its own")
		}
		seen[name] = true
		group.Levels = append(group.Levels, data.Level{Code: name, Name: name})
		v, mistakes := data.NewVariable(name, data.Number, c.padded(n))
		for _, m := range mistakes {
			errs.Add(Pointer("columns", places[i], "cells", m.Case), fmt.Sprintf("row %d of “%s”: %s", m.Case+1, Shorten(name), m.Says), "correct it, or clear it")
		}
		for _, x := range v.Numbers {
			if !math.IsNaN(x) { // groups may differ in length: a blank is no case
				response.Numbers = append(response.Numbers, x)
				group.Codes = append(group.Codes, i)
			}
		}
	}
	p.Data.Variables = Variables{group, response}
	p.Roles = Roles{"response": {"response"}, "group": {"group"}}
}

func (d *Draft) readSummary(p *Problem, errs *Errors) {
	summary := &Summary{}
	if d.Response != (Heading{}) {
		response := d.Response
		summary.Response = &response
	}
	if d.Group != (Heading{}) {
		group := d.Group
		summary.Group = &group
	}
	columns := make([]*DraftColumn, len(SummaryColumns))
	for i := range columns {
		columns[i] = &DraftColumn{}
		if i < len(d.Columns) {
			columns[i] = &d.Columns[i]
		}
	}
	n := rows(columns)
	if n == 0 {
		errs.Add("/columns", "there are no groups yet", "write a row for each: its label, n, mean and sd")
		return
	}
	number := func(row, column int) (float64, bool) {
		text := columns[column].padded(n)[row]
		x, err := data.ParseNumber(text)
		if err == nil {
			return x, true
		}
		if strings.TrimSpace(text) != "" {
			errs.Add(Pointer("columns", column, "cells", row), fmt.Sprintf("%s of group %d: %s", SummaryColumns[column], row+1, err), "write a number")
			return 0, false
		}
		errs.Add(Pointer("columns", column, "cells", row), fmt.Sprintf("%s of group %d is missing", SummaryColumns[column], row+1), "write a number")
		return 0, false
	}
	for row := range n {
		label := strings.TrimSpace(columns[0].padded(n)[row])
		if label == "" {
			label = fmt.Sprintf("group %d", row+1)
		}
		g := SummaryGroup{Label: label, N: 1}
		if x, ok := number(row, 1); ok {
			g.N = x
		}
		if x, ok := number(row, 2); ok {
			g.Mean = &x
		}
		if x, ok := number(row, 3); ok {
			g.SD = &x
		}
		summary.Groups = append(summary.Groups, g)
	}
	p.Data.Summary = summary
	p.Roles = nil
}

// Locate turns pointers into the problem file into pointers into the draft.
func (d *Draft) Locate(errs Errors) Errors {
	_, places := d.used()
	located := make(Errors, len(errs))
	for i, e := range errs {
		steps := strings.Split(e.Pointer, "/")
		var item int
		var field string
		switch {
		case strings.HasPrefix(e.Pointer, "/data/variables/") && d.Entry == EnterCases:
			if _, err := fmt.Sscanf(steps[3], "%d", &item); err == nil && item < len(places) {
				e.Pointer = Pointer("columns", places[item]) + "/" + strings.Join(steps[4:], "/")
			}
		case strings.HasPrefix(e.Pointer, "/data/summary/groups/"):
			field = steps[len(steps)-1]
			for column, name := range SummaryColumns {
				if _, err := fmt.Sscanf(steps[4], "%d", &item); err == nil && name == field {
					e.Pointer = Pointer("columns", column, "cells", item)
				}
			}
		case strings.HasPrefix(e.Pointer, "/data"), d.Entry != EnterCases && strings.HasPrefix(e.Pointer, "/roles"):
			e.Pointer = "/columns"
		}
		located[i] = e
	}
	return located
}
