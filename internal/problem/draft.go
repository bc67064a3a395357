package problem

import (
	"fmt"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/words"
)

// A Draft is a problem while a person is making it: everything stands in it as
// it was typed, so that nothing is lost where something does not fit yet. Its data
// are a data set that it refers to, or a summary that stands in it. Problem turns
// both into a problem file's content, or says what still has to be mended.
type Draft struct {
	Title         string                    `json:"title"`
	Question      string                    `json:"question"`
	Claim         Claim                     `json:"claim"` // no claim while its text is empty
	Procedure     string                    `json:"procedure"`
	Alpha         string                    `json:"alpha"`
	Confidence    *float64                  `json:"confidence,omitzero"`
	Tail          Tail                      `json:"tail"`
	Roles         Roles                     `json:"roles"`
	Options       map[string]jsontext.Value `json:"options"`
	LeaveOut      []LeftOut                 `json:"leave_out"`
	LeaveOutWhere []LeftOutWhere            `json:"leave_out_where,omitempty"`
	Decimals      *Decimals                 `json:"decimals,omitzero"`
	Digits        *int                      `json:"digits,omitzero"`
	Try           *Try                      `json:"try,omitzero"`
	Notes         []Note                    `json:"notes,omitempty"`
	Pictures      []Picture                 `json:"pictures,omitempty"` // not shown while there are no cases

	Entry    Entry        `json:"entry"`
	Summary  []DraftGroup `json:"summary"`
	Response data.Heading `json:"response"` // of the summary
	Group    data.Heading `json:"group"`
}

// Entry says what the problem is about.
type Entry string

const (
	EnterData    Entry = "data"    // its data set
	EnterSummary Entry = "summary" // its summary
)

// LeftOutWhere leaves out the cases for which a condition holds.
type LeftOutWhere struct {
	Where  string `json:"where"` // a formula, as minutes > 60
	Reason string `json:"reason"`
}

// A DraftGroup is a row of a summary as it was typed.
type DraftGroup struct {
	Label string `json:"label"`
	N     string `json:"n"`
	Mean  string `json:"mean"`
	SD    string `json:"sd"`
}

func (g DraftGroup) blank() bool { return strings.TrimSpace(g.Label+g.N+g.Mean+g.SD) == "" }

// NewDraft returns an empty draft.
func NewDraft() *Draft {
	return &Draft{
		Claim: Claim{Says: Equal}, Procedure: "t-two-sample", Alpha: data.FormatNumber(DefaultAlpha), Tail: Both,
		Roles: Roles{}, Options: map[string]jsontext.Value{}, LeaveOut: []LeftOut{},
		Entry: EnterData, Summary: []DraftGroup{},
	}
}

// UnmarshalJSONFrom reads a draft. A claim that an older one kept as a hypothesis is not mixed
// with what a new draft has in its place.
func (d *Draft) UnmarshalJSONFrom(dec *jsontext.Decoder) error {
	type plain Draft
	fallback := d.Claim
	d.Claim = Claim{}
	if err := json.UnmarshalDecode(dec, (*plain)(d)); err != nil {
		return err
	}
	if d.Claim.Says == "" && d.Claim.Is == "" {
		d.Claim.Says = fallback.Says
	}
	d.fillLists()
	return nil
}

// fillLists puts empty lists where there are none.
func (d *Draft) fillLists() {
	if d.Roles == nil {
		d.Roles = Roles{}
	}
	if d.Options == nil {
		d.Options = map[string]jsontext.Value{}
	}
	if d.LeaveOut == nil {
		d.LeaveOut = []LeftOut{}
	}
	if d.Summary == nil {
		d.Summary = []DraftGroup{}
	}
}

// NewSet returns an empty data set of two columns.
func NewSet() *data.Set {
	s := &data.Set{Form: data.FormCases, Columns: []*data.Column{{Cells: []string{}}, {Cells: []string{}}}}
	s.AssignKeys()
	return s
}

// DraftOf returns the draft and the data set that give p, for a problem that comes
// from a file.
func DraftOf(p *Problem) (*Draft, *data.Set, error) {
	d := NewDraft()
	set := NewSet()
	d.takeSettings(p)
	d.LeaveOut = append(d.LeaveOut, p.LeaveOut...)
	d.Title, d.Question = p.Title, p.Question
	if p.Claim != nil {
		d.Claim = *p.Claim
	}
	switch {
	case p.Data.Variables != nil:
		set = data.SetOf("", p.Data.Variables)
	case p.Data.Summary != nil:
		d.Entry = EnterSummary
		d.takeSummary(p.Data.Summary)
	default:
		var err error
		if set, err = p.Data.Counts.set(); err != nil {
			return nil, nil, err
		}
	}
	return d, set, nil
}

// set returns the counts as a data set.
func (c *Counts) set() (*data.Set, error) {
	s := &data.Set{Form: data.FormCounts}
	labels := &data.Column{Kind: data.Category, Cells: c.Rows}
	s.Columns = append(s.Columns, labels)
	add := func(name string, counts func(row int) float64) {
		column := &data.Column{Name: name, Kind: data.Number, Cells: make([]string, len(labels.Cells))}
		for i := range column.Cells {
			column.Cells[i] = data.FormatNumber(counts(i))
		}
		s.Columns = append(s.Columns, column)
	}
	switch {
	case c.Boundaries != nil:
		labels.Cells = make([]string, len(c.Observed))
		for i := range c.Observed {
			labels.Cells[i] = className(c.Boundaries[i], c.Boundaries[i+1])
		}
		if c.Variable != nil {
			labels.Name, labels.Unit = c.Variable.Label, c.Variable.Unit
		}
		add("count", func(row int) float64 { return c.Observed[row] })
	case c.Categories != nil:
		labels.Cells = c.Categories
		if c.Variable != nil {
			labels.Name = c.Variable.Label
		}
		add("count", func(row int) float64 { return c.Observed[row] })
	default:
		if c.RowVariable != nil {
			labels.Name = c.RowVariable.Label
		}
		if c.ColumnVariable != nil {
			s.Group = *c.ColumnVariable
		}
		for j, name := range c.Columns {
			add(name, func(row int) float64 { return c.Cells[row][j] })
		}
	}
	s.AssignKeys()
	return s, nil
}

// Take takes over the settings of p that live controls change. p is the problem
// that d and the data set gave, changed.
func (d *Draft) Take(p *Problem, given *data.Prepared) {
	roles, pictures := d.Roles, d.Pictures
	d.takeSettings(p)
	if d.Entry != EnterData || given.Set.Form != data.FormCases {
		d.Roles = roles // they name variables that only the worked problem has
	}
	if p.Data.Variables == nil {
		d.Pictures = pictures
	}
	byCondition := map[int]bool{}
	for _, left := range d.leftOutByCondition(given, &Errors{}) {
		byCondition[left.Case] = true
	}
	d.LeaveOut = []LeftOut{}
	for _, left := range p.LeaveOut {
		if !byCondition[left.Case] {
			d.LeaveOut = append(d.LeaveOut, left)
		}
	}
}

func (d *Draft) takeSettings(p *Problem) {
	d.Procedure, d.Tail, d.Confidence, d.Decimals, d.Digits = p.Procedure, p.Tail, p.Confidence, p.Decimals, p.Digits
	d.Try, d.Notes = p.Try, p.Notes
	d.Alpha = data.FormatNumber(p.Alpha)
	d.Roles, d.Options, d.Pictures = p.Roles, p.Options, p.Pictures
	d.fillLists()
}

func (d *Draft) takeSummary(s *Summary) {
	if s.Response != nil {
		d.Response = *s.Response
	}
	if s.Group != nil {
		d.Group = *s.Group
	}
	number := func(x *float64) string {
		if x == nil {
			return ""
		}
		return data.FormatNumber(*x)
	}
	for _, g := range s.Groups {
		d.Summary = append(d.Summary, DraftGroup{g.Label, data.FormatNumber(g.N), number(g.Mean), number(g.SD)})
	}
}

// Rename follows columns of the data set that have other names now. names are all
// that there were.
func (d *Draft) Rename(names []string, renamed map[string]string) {
	follow := func(all Names) Names {
		out := make(Names, len(all))
		for i, name := range all {
			out[i] = name
			if to, ok := renamed[name]; ok {
				out[i] = to
			}
		}
		return out
	}
	for role, all := range d.Roles {
		d.Roles[role] = follow(all)
	}
	for i := range d.Pictures {
		d.Pictures[i].Variables = follow(d.Pictures[i].Variables)
	}
	for i := range d.LeaveOutWhere {
		d.LeaveOutWhere[i].Where = data.RenameIn(d.LeaveOutWhere[i].Where, names, renamed)
	}
}

// Problem returns the problem that the draft makes of the data set. The pointers
// of its errors lead into the draft, or, where they begin with /columns, into the
// data set.
func (d *Draft) Problem(given *data.Prepared) (*Problem, error) {
	var errs Errors
	p := &Problem{
		Grund: Format, Title: strings.TrimSpace(d.Title), Question: d.Question, Procedure: d.Procedure,
		Confidence: d.Confidence, Tail: d.Tail, Roles: d.Roles, Options: d.Options, LeaveOut: d.LeaveOut, Decimals: d.Decimals, Digits: d.Digits,
		Try: d.Try, Notes: d.Notes, Pictures: d.Pictures,
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
	switch {
	case d.Entry == EnterSummary:
		d.readSummary(p, &errs)
	case d.Entry != EnterData:
		errs.Add("/entry", "the form of the data is “"+words.Shorten(string(d.Entry))+"”", "it must be “data” or “summary”")
	case given.Set.Form == data.FormGroups:
		d.readGroups(p, given, &errs)
	case given.Set.Form == data.FormCounts:
		d.readCounts(p, given, &errs)
	default:
		d.readCases(p, given, &errs)
	}
	if len(errs) > 0 {
		return nil, errs
	}
	if p.Data.Variables == nil {
		p.Pictures = nil
	}
	if errs = p.check(); len(errs) > 0 {
		return nil, d.Locate(given, errs)
	}
	return p, nil
}

// addMistakes notes the mistakes of a data set.
func (e *Errors) addMistakes(mistakes []data.Mistake) {
	for _, m := range mistakes[:min(len(mistakes), mostErrors)] {
		pointer := "/columns"
		switch {
		case m.Column >= 0 && m.Case >= 0:
			pointer = Pointer("columns", m.Column, "cells", m.Case)
		case m.Column >= 0:
			pointer = Pointer("columns", m.Column, m.Field)
		}
		e.Add(pointer, m.Says, m.Instead)
	}
}

func (d *Draft) readCases(p *Problem, given *data.Prepared, errs *Errors) {
	variables, _, mistakes := given.Variables()
	mistakes = d.concerning(given.Set, mistakes)
	errs.addMistakes(mistakes)
	p.Data.Variables = variables
	if len(mistakes) == 0 {
		p.LeaveOut = append(append([]LeftOut{}, d.LeaveOut...), d.leftOutByCondition(given, errs)...)
	}
}

// concerning returns the mistakes without those in cells of columns that the problem does
// not use, once it uses any: such a cell counts as missing and harms nothing.
func (d *Draft) concerning(set *data.Set, mistakes []data.Mistake) []data.Mistake {
	var names, conditions []string
	for _, role := range d.Roles {
		names = append(names, role...)
	}
	if len(names) == 0 {
		return mistakes
	}
	for _, condition := range d.LeaveOutWhere {
		conditions = append(conditions, condition.Where)
	}
	used := set.Behind(names, conditions)
	return slices.DeleteFunc(mistakes, func(m data.Mistake) bool { return m.Case >= 0 && !used[set.Columns[m.Column]] })
}

// leftOutByCondition returns the cases that conditions leave out and nobody by hand.
func (d *Draft) leftOutByCondition(given *data.Prepared, errs *Errors) []LeftOut {
	out := map[int]bool{}
	for _, left := range d.LeaveOut {
		out[left.Case] = true
	}
	var all []LeftOut
	for i, condition := range d.LeaveOutWhere {
		if strings.TrimSpace(condition.Where) == "" {
			continue
		}
		cases, err := given.Where(condition.Where)
		if err != nil {
			errs.Add(Pointer("leave_out_where", i, "where"), err.Error(), "")
			continue
		}
		reason := strings.TrimSpace(condition.Reason)
		if reason == "" {
			reason = strings.TrimSpace(condition.Where)
		}
		for _, at := range cases {
			if !out[at+1] {
				out[at+1] = true
				all = append(all, LeftOut{at + 1, reason})
			}
		}
	}
	return all
}

// readGroups takes one column a group as a response and a group variable.
func (d *Draft) readGroups(p *Problem, given *data.Prepared, errs *Errors) {
	group, response, mistakes := given.Grouped()
	errs.addMistakes(mistakes)
	if len(mistakes) > 0 {
		return
	}
	p.Data.Variables = Variables{group, response}
	p.Roles = Roles{"response": {"response"}, "group": {"group"}}
}

// distributionProcedure is the procedure whose counts are in classes.
const distributionProcedure = "chi-square-distribution"

func (d *Draft) readCounts(p *Problem, given *data.Prepared, errs *Errors) {
	rows, columns, counts, mistakes := given.Table()
	errs.addMistakes(mistakes)
	if len(mistakes) > 0 {
		return
	}
	name := strings.TrimSpace(given.Set.Columns[0].Label)
	if name == "" {
		name = strings.TrimSpace(given.Set.Columns[0].Name)
	}
	p.Roles = nil
	if len(columns) == 1 {
		c := &Counts{Variable: &data.Heading{Label: name, Unit: given.Set.Columns[0].UnitText()}, Categories: rows}
		for _, row := range counts {
			c.Observed = append(c.Observed, row[0])
		}
		// Ranges are classes where a distribution is fitted, and names where none is.
		if boundaries, ok, mistake := classBoundaries(rows); ok && d.Procedure == distributionProcedure {
			if mistake != nil {
				errs.addMistakes([]data.Mistake{*mistake})
			}
			c.Boundaries, c.Categories = boundaries, nil
		}
		p.Data.Counts = c
		return
	}
	group := given.Set.Group
	p.Data.Counts = &Counts{RowVariable: &data.Heading{Label: name}, ColumnVariable: &group, Rows: rows, Columns: columns, Cells: counts}
}

func (d *Draft) readSummary(p *Problem, errs *Errors) {
	summary := &Summary{}
	if d.Response != (data.Heading{}) {
		response := d.Response
		summary.Response = &response
	}
	if d.Group != (data.Heading{}) {
		group := d.Group
		summary.Group = &group
	}
	for i, row := range d.Summary {
		if row.blank() {
			continue
		}
		number := func(field, text string) *float64 {
			x, err := data.ParseNumber(text)
			if err == nil {
				return &x
			}
			says := fmt.Sprintf("%s of group %d: %s", field, i+1, err)
			if strings.TrimSpace(text) == "" {
				says = fmt.Sprintf("%s of group %d is missing", field, i+1)
			}
			errs.Add(Pointer("summary", i, field), says, "write a number")
			return nil
		}
		g := SummaryGroup{Label: strings.TrimSpace(row.Label), N: 1}
		if g.Label == "" {
			g.Label = fmt.Sprintf("group %d", i+1)
		}
		if n := number("n", row.N); n != nil {
			g.N = *n
		}
		g.Mean = number("mean", row.Mean)
		if g.N != 1 || strings.TrimSpace(row.SD) != "" { // one case has no standard deviation
			g.SD = number("sd", row.SD)
		}
		summary.Groups = append(summary.Groups, g)
	}
	if len(summary.Groups) == 0 {
		errs.Add("/summary", "there are no groups yet", "write a row for each: its label, n, mean and sd")
	}
	p.Data.Summary = summary
	p.Roles = nil
}
