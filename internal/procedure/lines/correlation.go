// Package lines holds the procedures about numbers that go together: correlation, a straight
// line, and a fit of several predictors, with what such fits take for granted.
package lines

import (
	"context"
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

type correlationOptions struct{ method string }

// Correlation asks how closely numbers go together, every two of them.
var Correlation = describe.New(describe.Description{
	ID:         "correlation",
	Family:     describe.AboutLines,
	Title:      "Correlation",
	Asks:       "How closely do numbers go together?",
	AlsoCalled: []string{"Pearson's correlation", "Spearman's rank correlation", "correlation matrix"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles: []describe.Role{{
		ID: "variables", Label: "Variables", Says: "the numbers that are correlated", Kinds: []data.Kind{data.Number}, Min: 2,
	}},
	Tails:    true,
	Compared: "the correlation",
}, func(o *correlationOptions) []describe.Option {
	return []describe.Option{describe.OneOf(&o.method, "pearson", describe.Option{
		ID: "method", Label: "Method", Live: true, Key: "m",
		Says: "Whether the values themselves are correlated or their ranks, which a far case moves less and which see any rise or fall, " +
			"straight or not.",
		Choices: []describe.Choice{
			{Value: "pearson", Label: "values", Says: "how closely the cases follow a straight line (Pearson)"},
			{Value: "spearman", Label: "ranks", Says: "how closely the order of the one follows that of the other (Spearman)"},
		},
	})}
}, readCorrelation, func(assigned describe.Assigned) (why string, ok bool) {
	var names []string
	for _, v := range assigned["variables"] {
		names = append(names, v.Title())
	}
	return strings.Join(names, ", ") + " are numbers: how closely every two of them go together.", true
})

// correlated is a problem about correlations.
type correlated struct {
	write.Sheet
	d         *describe.Description
	method    string
	variables []*data.Variable
	columns   [][]float64
	rows      []int // of the cases, from 1
}

func readCorrelation(p *problem.Problem, d *describe.Description, o *correlationOptions) (describe.Task, error) {
	s := &correlated{d: d, method: o.method}
	s.P, s.Parameter, s.Family = p, "correlation", write.T
	for _, name := range p.Roles["variables"] {
		s.variables = append(s.variables, p.Data.Variables.Find(name))
	}
	if n := len(s.variables); n > 2 {
		if err := describe.Directed(p, fmt.Sprintf("%d variables are correlated, and only two have a direction", n)).Err(); err != nil {
			return nil, err
		}
	}
	complete := data.Complete(p.LeftOutCases(), s.variables...)
	if len(complete) < 3 {
		return nil, problem.Errors{{
			Pointer: "/roles/variables", Says: fmt.Sprintf("%s with all values, and a correlation needs three", words.Count(len(complete), "case")),
			Instead: "give more cases",
		}}
	}
	for _, v := range s.variables {
		if err := s.add(v, complete); err != nil {
			return nil, err
		}
	}
	for _, i := range complete {
		s.rows = append(s.rows, i+1)
	}
	s.Direction = s.direction()
	return s, nil
}

// add takes the values of a variable.
func (s *correlated) add(v *data.Variable, rows []int) error {
	column := make([]float64, len(rows))
	for k, i := range rows {
		column[k] = v.Numbers[i]
	}
	s.columns = append(s.columns, column)
	switch m := stats.NewMoments(column); {
	case m.SD == 0:
		return problem.Errors{{
			Pointer: "/roles/variables", Says: fmt.Sprintf("all values of “%s” are equal, so nothing goes with it", words.Shorten(v.Name)),
			Instead: "choose another variable",
		}}
	case !ordinary(m.SD * m.SD * float64(m.N-1)):
		return problem.Errors{{
			Pointer: "/data", Says: fmt.Sprintf("the numbers of “%s” are too large or too small to calculate with", words.Shorten(v.Name)),
			Instead: "write them in another unit",
		}}
	}
	return nil
}

func (s *correlated) name(i int) string { return words.InSentence(s.variables[i].Title()) }

func (s *correlated) list() string {
	names := make([]string, len(s.variables))
	for i := range s.variables {
		names[i] = s.name(i)
	}
	return words.Listed(names)
}

// ranks reports whether ranks are correlated, and correlate correlates two of the variables.
func (s *correlated) ranks() bool { return s.method == "spearman" }

func (s *correlated) correlate(i, j int) stats.Correlation {
	if s.ranks() {
		return stats.CorrelateRanks(s.columns[i], s.columns[j])
	}
	return stats.Correlate(s.columns[i], s.columns[j])
}

// direction returns what the hypotheses say about the first two variables.
func (s *correlated) direction() write.Direction {
	return write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.name(0), s.name(1)}, By: "r"},
		Null: write.Fill(problem.Sides[string]{
			Both: "%s and %s are not correlated", Less: "cases high in %s do not tend to be low in %s",
			Greater: "cases high in %s do not tend to be high in %s",
		}, s.name(0), s.name(1)),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "%s and %s are correlated", Less: "cases high in %s tend to be low in %s", Greater: "cases high in %s tend to be high in %s",
		}, s.name(0), s.name(1)),
		Extreme: problem.Sides[string]{
			Both: "a correlation at least as far from 0, in either direction,", Less: "a correlation as low as this one or lower",
			Greater: "a correlation as high as this one or higher",
		},
		TeX: write.Compared{Left: `\rho`, Right: "0"}, Plain: write.Compared{Left: "ρ", Right: "0"},
	}
}

// Work writes the solution.
func (s *correlated) Work(context.Context) (*working.Working, error) {
	given := s.variables[0].Len()
	test := "" // of more than two there are many
	if len(s.variables) == 2 {
		test = map[string]string{"pearson": "test of Pearson’s correlation", "spearman": "test of Spearman’s rank correlation"}[s.method]
	}
	s.Start(s.d, test, given, len(s.rows))
	s.Control(working.AlphaControl(s.P.Alpha))
	if len(s.variables) == 2 {
		s.TailControl()
	}
	s.LiveOption(s.d, "method", s.method)
	s.Brief(working.Textf("See how closely **%s** go together", s.list()))
	how := "how closely the cases follow a straight line"
	if s.ranks() {
		how = "how closely the order of the one follows that of the other"
	}
	s.QuestionStep(working.Say("The question is how closely %s go together: %s, upward or downward. None is predicted from another.",
		s.list(), how))
	s.count(given)
	s.look()
	if len(s.variables) == 2 {
		pair := correlatedPair{s, s.correlate(0, 1)}
		pair.work()
	} else {
		s.several()
	}
	return s.Working, nil
}

func (s *correlated) count(given int) {
	columns := make([]write.CaseColumn, len(s.variables))
	for i, v := range s.variables {
		columns[i] = write.Entered(string(write.Indexed("variable", i+1)), data.Heading{Label: v.Title(), Unit: v.Unit}, s.columns[i],
			data.MostDecimals(s.columns[i]))
	}
	s.CasesTable(write.UsedTitle, s.rows, columns...)
	s.Column("cases/*/variable_1", s.columns[0])
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "With a value of every variable."}, working.Whole,
		float64(len(s.rows)),
		formula.Count{Column: s.Series("cases/*/variable_1", "x_{i}", data.MostDecimals(s.columns[0]))})
	s.Step(working.Data, working.Textf("n = @{n}"), s.Counted(write.Counted{
		Given: given, Used: len(s.rows), UsedRef: "n", Others: "with a missing value",
	}), working.TableBlock{Table: "cases"})
}

// look draws every two of the variables against each other.
func (s *correlated) look() {
	const most = 10
	var blocks []working.Block
	for i := range s.variables {
		for j := i + 1; j < len(s.variables) && len(blocks) < most; j++ {
			across, up := s.variables[i], s.variables[j]
			f := scatter(fmt.Sprintf("look_%d_%d", i+1, j+1), data.Heading{Label: across.Title(), Unit: across.Unit},
				data.Heading{Label: up.Title(), Unit: up.Unit}, s.columns[i], s.columns[j], s.rows)
			f.Small = len(s.variables) > 2
			s.Figure(f)
			blocks = append(blocks, working.FigureBlock{Figure: f.ID})
		}
	}
	s.Step(working.Look, working.Textf("%s", words.Count(len(s.variables), "variable")),
		append(blocks, working.Say("Do the dots follow a band, straight or bent? Does one lie far from the others? A single far "+
			"case can make a correlation or hide one."))...)
}

// scatter draws a dot for each case over two variables.
func scatter(id string, across, up data.Heading, x, y []float64, rows []int) *working.Figure {
	f := &working.Figure{
		ID: id, Form: working.Scatter, Title: up.Label + " against " + words.InSentence(across.Label),
		Says: fmt.Sprintf("%s against %s, a dot for each case.", up.Label, words.InSentence(across.Label)),
		Axis: working.Axis{Label: across.Label, Unit: across.Unit}, Up: &working.Axis{Label: up.Label, Unit: up.Unit},
		Marks: []working.Mark{{Shape: working.Points, Role: working.Observed, X: working.Positions(x...), Y: working.Positions(y...),
			Case: rows}},
	}
	f.Axis.Min, f.Axis.Max = write.Axis(x...)
	f.Up.Min, f.Up.Max = write.Axis(y...)
	return f
}

// pairsTable lists every two variables; of two alone, the one pair.
func (s *correlated) pairsTable() {
	t := &working.Table{ID: "pairs", Title: "Every two variables", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "n", Label: "n", Numeric: true},
		{ID: "r", Label: "r", Numeric: true},
		{ID: "t", Label: "t", Numeric: true}, {ID: "p", Label: "p", Numeric: true}, {ID: "ci_low", Label: "from", Numeric: true},
		{ID: "ci_high", Label: "to", Numeric: true},
	}}
	var rows []working.Row
	for i := range s.variables {
		for j := i + 1; j < len(s.variables); j++ {
			c := s.correlate(i, j)
			low, high := c.Interval(s.Area() / 2)
			rows = append(rows, working.Row{
				s.VariableCell(s.variables[i]), s.VariableCell(s.variables[j]), working.WholeCell(c.N), s.EstimateCell(c.R, 3),
				s.StatisticCellOrNone(c.T, 3), s.PCellOrNone(c.P()), s.EstimateCellOrNone(low, 3), s.EstimateCellOrNone(high, 3),
			})
		}
	}
	t.SetRows(rows)
	s.Table(t)
}

// several ends a problem of more than two variables, which has no single decision.
func (s *correlated) several() {
	s.pairsTable()
	strongest := ""
	best, pairs, significant := 0.0, 0, 0
	for i := range s.variables {
		for j := i + 1; j < len(s.variables); j++ {
			c := s.correlate(i, j)
			pairs++
			if math.Abs(c.R) > best {
				best, strongest = math.Abs(c.R), fmt.Sprintf("%s and %s (r = %s)", s.name(i), s.name(j), working.FormatNumber(c.R, 3))
			}
			if c.P() <= s.P.Alpha || c.Perfect {
				significant++
			}
		}
	}
	counted := words.Count(pairs, "pair")
	s.Step(working.Statistic, nil, working.Say("r goes from −1, all on a falling line, over 0 to 1, all on a rising one. $t$ = "+
		"r√((n − 2)/(1 − r²)) with n − 2 degrees of freedom tests each for itself."), working.TableBlock{Table: "pairs"},
		working.Warn("With %s, some come out significant by chance: at α = @{alpha} about one of %s.", counted,
			working.FormatNumber(1/s.P.Alpha, 0)))
	found := fmt.Sprintf("%d of %s are", significant, counted)
	switch significant {
	case 0:
		found = "None of the pairs is"
	case 1:
		found = fmt.Sprintf("1 of %s is", counted)
	}
	s.ConcludeOtherwise("", working.Textf("%s significantly correlated at α = @{alpha}, each taken for itself. The strongest "+
		"correlation is that of %s.",
		found, strongest), working.Warn("A correlation does not say that one brings the other about."))
	s.ReportStep(working.Textf("Correlations of %s, *N* = @{n}: the strongest that of %s.", s.list(), strongest),
		"A table of correlations goes into the paper, with the number of cases under it.")
}
