package lines

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// severalPredictors is a problem about several predictors.
type severalPredictors struct {
	write.Sheet
	d          *describe.Description
	o          *multipleOptions
	response   *response
	predictors []*data.Variable
	categories map[*data.Variable]category // of the predictors, and of those of fits to compare
	used       []int                       // rows, from 0
	rows       []int                       // the same, from 1
	terms      []term
	fit        *stats.LeastSquares
	each       []stats.Fitted
	places     [][]float64   // at which is predicted, as rows of the fit
	compared   []comparedFit // fits that are set beside this one
	slope      int           // the term whose coefficient is tested; −1 where all are tested together
}

// term is a column of a fit: a number, or a level of a category against its reference.
type term struct {
	name     string // minutes, “ferry: Dunlin”
	shown    string // the same by the variable’s title
	variable int    // among the predictors
	level    string // of a category; its code
	values   []float64
}

func (t *term) cell() working.Cell { return working.Cell{Value: t.name, Shown: t.shown} }

// category is a predictor with the levels that occur, and the reference among them.
type category struct {
	levels    []int
	reference int
}

// comparedFit is a fit by other predictors, with the partial F test where one of the two is
// inside the other.
type comparedFit struct {
	variables []*data.Variable
	fit       *stats.LeastSquares // nil where it is the present fit
	f, p      float64
}

func readMultiple(p *problem.Problem, d *describe.Description, o *multipleOptions) (describe.Task, error) {
	for option, n := range map[string]int{"predict_at": len(o.predictAt), "compare": len(o.compare)} {
		if n > problem.MaxPredicted {
			return nil, problem.TooMany("/options/"+option, fmt.Sprintf("there are %d", n), problem.MaxPredicted,
				"work the others in another problem")
		}
	}
	s := &severalPredictors{d: d, o: o, categories: map[*data.Variable]category{}}
	s.P, s.Family, s.Parameter = p, write.F("df_1", "df_2"), "coefficient"
	response := p.Data.Variables.Find(p.Roles["response"][0])
	for _, name := range p.Roles["predictors"] {
		s.predictors = append(s.predictors, p.Data.Variables.Find(name))
	}
	if err := s.readCompare(response); err != nil {
		return nil, err
	}
	if err := s.read(response); err != nil {
		return nil, err
	}
	if err := s.readSlope(); err != nil {
		return nil, err
	}
	if s.isQuick() {
		if err := s.solve(context.Background()); err != nil {
			return nil, err
		}
	}
	s.Direction = s.direction()
	if s.testsSlope() {
		s.Direction = s.slopeDirection()
	}
	return s, nil
}

// direction returns what the hypotheses say.
func (s *severalPredictors) direction() write.Direction {
	compared := working.Compared{Of: append([]string{s.yName()}, s.predictorNames()...), By: "f"}
	if len(s.predictors) == 1 {
		return write.Undirected(compared, fmt.Sprintf("mean %s does not go with %s", s.yName(), s.predictorWords()),
			fmt.Sprintf("mean %s goes with %s", s.yName(), s.predictorWords()))
	}
	return write.Undirected(compared, fmt.Sprintf("mean %s goes with none of %s", s.yName(), s.predictorWords()),
		fmt.Sprintf("mean %s goes with at least one of %s", s.yName(), s.predictorWords()))
}

// readCompare finds the variables of the fits to compare.
func (s *severalPredictors) readCompare(response *data.Variable) error {
	for i, names := range s.o.compare {
		at := problem.Pointer("options", "compare", i)
		wrong := func(says, instead string) error { return problem.Errors{{Pointer: at, Says: says, Instead: instead}} }
		var fit []*data.Variable
		for _, name := range names {
			v := s.P.Data.Variables.Find(name)
			switch {
			case v == nil:
				return problem.Errors{problem.Unknown(at, "variable", name, s.P.Data.Variables.Names())}
			case v == response:
				return wrong("“"+words.Shorten(name)+"” is the response", "name predictors")
			case v.Kind != data.Number && v.Kind != data.Category:
				return wrong(fmt.Sprintf("“%s” is %s and a predictor needs a number or a category", words.Shorten(name),
					words.A(string(v.Kind))), "name another")
			case slices.Contains(fit, v):
				return wrong("“"+words.Shorten(name)+"” is named twice", "name each predictor once")
			}
			fit = append(fit, v)
		}
		if fit == nil {
			return wrong("a fit to compare names no predictor", "name one or more")
		}
		s.compared = append(s.compared, comparedFit{variables: fit, f: math.NaN(), p: math.NaN()})
	}
	return nil
}

// read takes the cases that have every value that is used.
func (s *severalPredictors) read(response *data.Variable) error {
	all := append([]*data.Variable{response}, s.predictors...)
	for _, fit := range s.compared {
		for _, v := range fit.variables {
			if !slices.Contains(all, v) {
				all = append(all, v)
			}
		}
	}
	if err := s.checkReferences(all[1:]); err != nil {
		return err
	}
	s.used = data.Complete(s.P.LeftOutCases(), all...)
	for _, i := range s.used {
		s.rows = append(s.rows, i+1)
	}
	var err error
	if s.response, err = newResponse(response, s.used, s.o.scale); err != nil {
		return err
	}
	s.Unit = s.response.heading.Unit
	s.terms, err = s.termsOf(s.predictors)
	return err
}

// mostValues is how many values the columns of a fit may hold together: 200 MB.
const mostValues = 25_000_000

// checkTerms refuses a category whose levels, after so many terms, would be too many columns.
func (s *severalPredictors) checkTerms(terms int, v *data.Variable, levels int) error {
	most := min(problem.MaxLevels, mostValues/max(1, len(s.used)))
	if terms+levels-1 <= most {
		return nil
	}
	return problem.TooMany("/roles/predictors", fmt.Sprintf("“%s” has %d levels, and each would be a coefficient", words.Shorten(v.Name),
		levels),
		max(most-terms, 0), "recode it into fewer levels, leave cases out, or choose another variable")
}

// checkReferences refuses references of what is no category among the predictors.
func (s *severalPredictors) checkReferences(predictors []*data.Variable) error {
	for _, name := range slices.Sorted(maps.Keys(s.o.references)) {
		at := problem.Pointer("options", "references", name)
		v := s.P.Data.Variables.Find(name)
		switch {
		case v == nil || !slices.Contains(predictors, v):
			names := make([]string, len(predictors))
			for i, known := range predictors {
				names[i] = known.Name
			}
			return problem.Errors{problem.Unknown(at, "predictor", name, names)}
		case v.Kind != data.Category:
			return problem.Errors{{
				Pointer: at, Says: fmt.Sprintf("“%s” is %s, and only a category has a reference", words.Shorten(name), words.A(string(v.Kind))),
				Instead: "remove it",
			}}
		}
	}
	return nil
}

// termsOf turns predictors into columns.
func (s *severalPredictors) termsOf(predictors []*data.Variable) ([]term, error) {
	var terms []term
	for k, v := range predictors {
		if v.Kind == data.Number {
			t := term{name: v.Name, shown: s.Called(v), variable: k, values: make([]float64, len(s.used))}
			for at, i := range s.used {
				t.values[at] = v.Numbers[i]
			}
			terms = append(terms, t)
			continue
		}
		c, err := s.categoryOf(v)
		if err != nil {
			return nil, err
		}
		if err := s.checkTerms(len(terms), v, len(c.levels)); err != nil {
			return nil, err
		}
		s.categories[v] = c
		for _, code := range c.levels {
			if code == c.reference {
				continue
			}
			level := ": " + v.Levels[code].Name
			t := term{name: v.Name + level, shown: s.Called(v) + level, variable: k, level: v.Levels[code].Code,
				values: make([]float64, len(s.used))}
			for at, i := range s.used {
				if v.Codes[i] == code {
					t.values[at] = 1
				}
			}
			terms = append(terms, t)
		}
	}
	return terms, nil
}

// categoryOf returns the levels of a category that occur, and the reference among them.
func (s *severalPredictors) categoryOf(v *data.Variable) (c category, err error) {
	seen := make([]bool, len(v.Levels))
	for _, i := range s.used {
		seen[v.Codes[i]] = true
	}
	for code, is := range seen {
		if is {
			c.levels = append(c.levels, code)
		}
	}
	if len(c.levels) < 2 {
		return c, problem.Errors{{
			Pointer: "/roles/predictors", Instead: "leave it out",
			Says: fmt.Sprintf("“%s” has %s with usable cases, so nothing can be predicted from it", words.Shorten(v.Name),
				words.Count(len(c.levels), "level")),
		}}
	}
	c.reference = c.levels[0]
	if wanted, given := s.o.references[v.Name]; given {
		if c.reference = c.find(v, wanted); c.reference < 0 {
			return c, problem.Errors{problem.Unknown(problem.Pointer("options", "references", v.Name), withCases(v), wanted, cases.LevelNames(v))}
		}
	}
	return c, nil
}

// find returns the code of a level that occurs, −1 where there is none of that name.
func (c *category) find(v *data.Variable, wanted string) int {
	at := v.FindLevel(wanted)
	if at < 0 || !slices.Contains(c.levels, at) {
		return -1
	}
	return at
}

// withCases is what a level must be one of.
func withCases(v *data.Variable) string {
	return "level of “" + words.Shorten(v.Name) + "” with cases"
}

func columnsOf(terms []term) [][]float64 {
	columns := make([][]float64, len(terms))
	for i, t := range terms {
		columns[i] = t.values
	}
	return columns
}

// fitTerms fits the response by terms. at is the place in the problem that names them.
func (s *severalPredictors) fitTerms(ctx context.Context, terms []term, at string) (*stats.LeastSquares, error) {
	y := s.response.y
	if len(y) < len(terms)+2 {
		return nil, problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("%s with all values for %s", words.Count(len(y), "case"), words.Count(len(terms)+1, "coefficient")),
			Instead: "give more cases than coefficients, or fewer predictors",
		}}
	}
	fit, dependent, err := stats.FitLeastSquares(ctx, columnsOf(terms), y)
	if err != nil {
		return nil, err
	}
	if dependent >= 0 {
		name, values := words.Shorten(terms[dependent].name), terms[dependent].values
		says := fmt.Sprintf("“%s” follows from the predictors before it: it is a sum of multiples of them and a constant", name)
		if !slices.ContainsFunc(values, func(x float64) bool { return x != values[0] }) {
			says = fmt.Sprintf("all values of “%s” are equal, so nothing can be predicted from it", name)
		}
		return nil, problem.Errors{{Pointer: at, Says: says, Instead: "leave it out"}}
	}
	odd := func(x float64) bool { return math.IsNaN(x) || math.IsInf(x, 0) }
	if fit.Total != 0 && !ordinary(fit.Total) || slices.ContainsFunc(slices.Concat(fit.Coefficients, fit.SE, fit.Inflation), odd) {
		return nil, cases.TooFarApart()
	}
	return fit, nil
}

// quickFit is up to how many products of values a fit is made as soon as a problem is read, so that what
// is wrong with it is told while the problem is made: a tenth of a second. Others are made when it is worked.
const quickFit = 5_000_000

// isQuick reports whether the fit, and those beside it, may be made as the problem is read.
func (s *severalPredictors) isQuick() bool {
	return len(s.used)*len(s.terms)*len(s.terms)*(1+len(s.compared)) <= quickFit
}

// solve makes the fits.
func (s *severalPredictors) solve(ctx context.Context) error {
	if err := s.solveOne(ctx); err != nil {
		return err
	}
	for i, place := range s.o.predictAt {
		row, err := s.place(i, place)
		if err != nil {
			return err
		}
		s.places = append(s.places, row)
	}
	for i := range s.compared {
		if err := s.compare(ctx, i); err != nil {
			return err
		}
	}
	return nil
}

// solveOne fits the response by the predictors.
func (s *severalPredictors) solveOne(ctx context.Context) (err error) {
	if s.fit, err = s.fitTerms(ctx, s.terms, "/roles/predictors"); err != nil {
		return err
	}
	row := make([]float64, len(s.terms))
	for i, y := range s.response.y {
		if i%1024 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		for j, t := range s.terms {
			row[j] = t.values[i]
		}
		s.each = append(s.each, s.fit.Case(row, y))
	}
	return nil
}

// place reads a place at which is predicted, as a row of the fit.
func (s *severalPredictors) place(i int, place []string) ([]float64, error) {
	at := problem.Pointer("options", "predict_at", i)
	if len(place) != len(s.predictors) {
		return nil, problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("%s given for %s", words.Count(len(place), "value"), words.Count(len(s.predictors), "predictor")),
			Instead: "give one for each of " + words.Quoted(s.P.Roles["predictors"], "and"),
		}}
	}
	row := make([]float64, len(s.terms))
	for k, v := range s.predictors {
		if v.Kind == data.Number {
			x, err := strconv.ParseFloat(place[k], 64)
			if err != nil || math.IsInf(x, 0) || math.IsNaN(x) {
				return nil, problem.Errors{{
					Pointer: at, Says: fmt.Sprintf("“%s” is no value of “%s”", words.Shorten(place[k]), words.Shorten(v.Name)),
					Instead: "give a number",
				}}
			}
			row[slices.IndexFunc(s.terms, func(t term) bool { return t.variable == k })] = x
			continue
		}
		c := s.categories[v]
		level := c.find(v, place[k])
		if level < 0 {
			return nil, problem.Errors{problem.Unknown(at, withCases(v), place[k], cases.LevelNames(v))}
		}
		for j, t := range s.terms {
			if t.variable == k && t.level == v.Levels[level].Code {
				row[j] = 1
			}
		}
	}
	return row, nil
}

// compare fits the response by the predictors of a fit that is set beside this one.
func (s *severalPredictors) compare(ctx context.Context, i int) error {
	at := problem.Pointer("options", "compare", i)
	one := &s.compared[i]
	if slices.Equal(one.variables, s.predictors) {
		return nil // it stands in the first row
	}
	terms, err := s.termsOf(one.variables)
	if err != nil {
		return err
	}
	if one.fit, err = s.fitTerms(ctx, terms, at); err != nil {
		return err
	}
	smaller, larger := one.variables, s.predictors
	if len(smaller) > len(larger) {
		smaller, larger = larger, smaller
	}
	outside := func(v *data.Variable) bool { return !slices.Contains(larger, v) }
	if len(smaller) == len(larger) || slices.ContainsFunc(smaller, outside) {
		return nil
	}
	// The larger fit with the smaller one's predictors first.
	ordered := slices.Clone(smaller)
	for _, v := range larger {
		if !slices.Contains(smaller, v) {
			ordered = append(ordered, v)
		}
	}
	all, err := s.termsOf(ordered)
	if err != nil {
		return err
	}
	few, err := s.termsOf(smaller)
	if err != nil {
		return err
	}
	whole, err := s.fitTerms(ctx, all, at)
	if err != nil {
		return err
	}
	if !whole.Perfect {
		one.f, _, one.p = whole.Partial(len(few))
	}
	return nil
}
