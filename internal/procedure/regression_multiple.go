package procedure

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// regressionMultiple predicts one number from several variables.
var regressionMultiple = &Procedure{
	Description: Description{
		ID:         "regression-multiple",
		Title:      "Several predictors",
		Asks:       "What do several variables together say of a number?",
		AlsoCalled: []string{"multiple linear regression", "multiple regression", "partial F test", "variance inflation"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that is predicted", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "predictors", Label: "Predictors", Says: "the variables that it is predicted from", Kinds: []data.Kind{data.Number, data.Category}, Min: 1},
		},
		Options: []Option{
			{ID: "references", Label: "References", Type: ReferencesOption, Says: "Of a category, the level that its other levels are set against."},
			{ID: "predict_at", Label: "Predict at", Type: PlacesOption, Says: "Lists of a value for each predictor, in their order, at which the response is predicted."},
			{ID: "compare", Label: "Fits to compare", Type: VariableLists, Says: "Lists of predictors whose fits are set beside this one."},
			scaleOption,
		},
	},
	Work: workRegressionMultiple,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		if len(assigned["predictors"]) < 2 {
			return "", false
		}
		var names []string
		for _, v := range assigned["predictors"] {
			names = append(names, inSentence(v.Title()))
		}
		return fmt.Sprintf("%s is a number, and is predicted from %s together.", assigned["response"][0].Title(), strings.Join(names, ", ")), true
	},
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

// severalPredictors is the problem while it is worked.
type severalPredictors struct {
	location
	response   *data.Variable
	heading    data.Heading // of the response on the scale on which it is fitted
	log        logResponse
	measured   []float64 // the response as it was measured
	predictors []*data.Variable
	references map[string]string
	rows       []int // used, from 0
	y          []float64
	terms      []term
	fit        *stats.LeastSquares
	each       []stats.Fitted
	places     [][]string
	compare    [][]*data.Variable
	decimals   int

	coefficients *working.Table
	categories   []string // the controls of their references
}

func workRegressionMultiple(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &severalPredictors{location: location{p: p, family: fitFamily, parameter: "coefficient"}, response: p.Data.Variables.Find(p.Roles["response"][0])}
	for _, name := range p.Roles["predictors"] {
		s.predictors = append(s.predictors, p.Data.Variables.Find(name))
	}
	s.references, _ = options["references"].(map[string]string)
	s.places, _ = options["predict_at"].([][]string)
	lists, _ := options["compare"].([][]string)
	if err := s.readCompare(lists); err != nil {
		return nil, err
	}
	if err := s.read(options); err != nil {
		return nil, err
	}
	if err := s.solve(); err != nil {
		return nil, err
	}
	if err := s.checkPlaces(); err != nil {
		return nil, err
	}
	given := s.response.Len()
	s.Working = working.New(p, d.Title, working.Cases{Given: given, Used: len(s.rows), LeftOut: given - len(s.rows)})
	s.SetScale(s.fit.ResidualSD / math.Sqrt(float64(s.fit.N)))
	s.Control(working.AlphaControl(p.Alpha))
	s.log.control(&s.location, s.measured)
	s.referenceControls()
	s.Brief(working.Textf("Predict **%s** from **%s**", s.yName(), s.predictorWords()))
	s.DefineAlpha()
	s.question()
	s.data()
	s.look()
	s.hypotheses()
	s.variation()
	s.tables()
	if err := s.fits(); err != nil {
		return nil, err
	}
	if s.fit.Perfect {
		s.perfect()
		return s.Working, nil
	}
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// referenceControls offer another reference for each category.
func (s *severalPredictors) referenceControls() {
	for k, v := range s.predictors {
		if v.Kind != data.Category {
			continue
		}
		levels, reference, _ := s.levels(v)
		with := func(code string) map[string]string {
			references := map[string]string{}
			maps.Copy(references, s.references)
			references[v.Name] = code
			return references
		}
		c := working.Control{ID: fmt.Sprintf("reference_%d", k+1), Label: "Reference of " + inSentence(v.Title()), Pointer: "/options/references", Beside: working.InStep, Value: with(v.Levels[reference].Code)}
		for _, code := range levels {
			c.Choices = append(c.Choices, working.Choice{Value: with(v.Levels[code].Code), Label: v.Levels[code].Name})
		}
		s.Control(c)
		s.categories = append(s.categories, c.ID)
	}
}

func (s *severalPredictors) yName() string { return inSentence(s.heading.Label) }

// predictorWords lists the predictors: "minutes, wind and vehicles".
func (s *severalPredictors) predictorWords() string { return listed(s.predictorNames()) }

// predictorNames returns what the predictors are called inside a sentence.
func (s *severalPredictors) predictorNames() []string {
	names := make([]string, len(s.predictors))
	for i, v := range s.predictors {
		names[i] = inSentence(v.Title())
	}
	return names
}

// readCompare finds the variables of the fits to compare.
func (s *severalPredictors) readCompare(lists [][]string) error {
	for i, names := range lists {
		at := problem.Pointer("options", "compare", i)
		var fit []*data.Variable
		for _, name := range names {
			v := s.p.Data.Variables.Find(name)
			switch {
			case v == nil:
				return problem.Errors{problem.Unknown(at, "variable", name, s.p.Data.Variables.Names())}
			case v == s.response:
				return problem.Errors{{Pointer: at, Says: "“" + problem.Shorten(name) + "” is the response", Instead: "name predictors"}}
			case v.Kind != data.Number && v.Kind != data.Category:
				return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” is a %s and a predictor needs a number or a category", problem.Shorten(name), v.Kind), Instead: "name another"}}
			case slices.Contains(fit, v):
				return problem.Errors{{Pointer: at, Says: "“" + problem.Shorten(name) + "” is named twice", Instead: "name each predictor once"}}
			}
			fit = append(fit, v)
		}
		if fit == nil {
			return problem.Errors{{Pointer: at, Says: "a fit to compare names no predictor", Instead: "name one or more"}}
		}
		s.compare = append(s.compare, fit)
	}
	return nil
}

// read takes the cases that have every value that is used.
func (s *severalPredictors) read(options Options) error {
	all := append([]*data.Variable{s.response}, s.predictors...)
	for _, fit := range s.compare {
		for _, v := range fit {
			if !slices.Contains(all, v) {
				all = append(all, v)
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(s.references)) {
		v := s.p.Data.Variables.Find(name)
		switch {
		case v == nil || !slices.Contains(all[1:], v):
			var names []string
			for _, known := range all[1:] {
				names = append(names, known.Name)
			}
			return problem.Errors{problem.Unknown(problem.Pointer("options", "references", name), "predictor", name, names)}
		case v.Kind != data.Category:
			return problem.Errors{{Pointer: problem.Pointer("options", "references", name), Says: fmt.Sprintf("“%s” is a %s, and only a category has a reference", problem.Shorten(name), v.Kind), Instead: "remove it"}}
		}
	}
	s.rows = data.Complete(s.p.LeftOutCases(), all...)
	for _, i := range s.rows {
		s.measured = append(s.measured, s.response.Numbers[i])
	}
	var err error
	if s.log, s.y, s.heading, err = newLogResponse(options, data.Heading{Label: s.response.Title(), Unit: s.response.Unit}, s.measured, s.rows); err != nil {
		return err
	}
	s.unit, s.decimals = s.heading.Unit, working.DecimalsOf(s.y, maxDecimals)
	if s.log.on {
		s.decimals = logDecimals
	}
	s.terms, err = s.termsOf(s.predictors)
	return err
}

// termsOf turns predictors into columns.
func (s *severalPredictors) termsOf(predictors []*data.Variable) ([]term, error) {
	var terms []term
	for k, v := range predictors {
		if v.Kind == data.Number {
			t := term{name: v.Name, shown: s.called(v), variable: k}
			for _, i := range s.rows {
				t.values = append(t.values, v.Numbers[i])
			}
			terms = append(terms, t)
			continue
		}
		levels, reference, err := s.levels(v)
		if err != nil {
			return nil, err
		}
		for _, code := range levels {
			if code == reference {
				continue
			}
			level := ": " + v.Levels[code].Name
			t := term{name: v.Name + level, shown: s.called(v) + level, variable: k, level: v.Levels[code].Code}
			for _, i := range s.rows {
				x := 0.0
				if v.Codes[i] == code {
					x = 1
				}
				t.values = append(t.values, x)
			}
			terms = append(terms, t)
		}
	}
	return terms, nil
}

// levels returns the levels of a category that occur, and the reference among them.
func (s *severalPredictors) levels(v *data.Variable) (levels []int, reference int, err error) {
	seen := make([]bool, len(v.Levels))
	for _, i := range s.rows {
		seen[v.Codes[i]] = true
	}
	for code, is := range seen {
		if is {
			levels = append(levels, code)
		}
	}
	if len(levels) < 2 {
		return nil, 0, problem.Errors{{Pointer: "/roles/predictors", Says: fmt.Sprintf("“%s” has %s with usable cases, so nothing can be predicted from it", problem.Shorten(v.Name), count(len(levels), "level")), Instead: "leave it out"}}
	}
	reference = levels[0]
	if wanted, given := s.references[v.Name]; given {
		at := v.FindLevel(wanted)
		if at < 0 || !slices.Contains(levels, at) {
			return nil, 0, problem.Errors{problem.Unknown(problem.Pointer("options", "references", v.Name), "level of “"+problem.Shorten(v.Name)+"” with cases", wanted, levelNames(v))}
		}
		reference = at
	}
	return levels, reference, nil
}

func columnsOf(terms []term) [][]float64 {
	columns := make([][]float64, len(terms))
	for i, t := range terms {
		columns[i] = t.values
	}
	return columns
}

// fitTerms fits the response by terms. at is the place in the problem that names them.
func (s *severalPredictors) fitTerms(terms []term, at string) (*stats.LeastSquares, error) {
	if len(s.y) < len(terms)+2 {
		return nil, problem.Errors{{Pointer: at, Says: fmt.Sprintf("%s with all values for %s", upperFirst(count(len(s.y), "case")), count(len(terms)+1, "coefficient")), Instead: "give more cases than coefficients, or fewer predictors"}}
	}
	fit, dependent := stats.FitLeastSquares(columnsOf(terms), s.y)
	if dependent >= 0 {
		name := problem.Shorten(terms[dependent].name)
		says := fmt.Sprintf("“%s” follows from the predictors before it: it is a sum of multiples of them and a constant", name)
		if first := terms[dependent].values[0]; !slices.ContainsFunc(terms[dependent].values, func(x float64) bool { return x != first }) {
			says = fmt.Sprintf("all values of “%s” are equal, so nothing can be predicted from it", name)
		}
		return nil, problem.Errors{{Pointer: at, Says: says, Instead: "leave it out"}}
	}
	if fit.Total != 0 && !ordinary(fit.Total) || slices.ContainsFunc(slices.Concat(fit.Coefficients, fit.SE, fit.Inflation), func(x float64) bool { return math.IsNaN(x) || math.IsInf(x, 0) }) {
		return nil, tooFarApart()
	}
	return fit, nil
}

func (s *severalPredictors) solve() (err error) {
	if s.fit, err = s.fitTerms(s.terms, "/roles/predictors"); err != nil {
		return err
	}
	row := make([]float64, len(s.terms))
	for i, y := range s.y {
		for j, t := range s.terms {
			row[j] = t.values[i]
		}
		s.each = append(s.each, s.fit.Case(row, y))
	}
	return nil
}

// checkPlaces reads the places at which is predicted, as rows of the fit.
func (s *severalPredictors) checkPlaces() error {
	for i, place := range s.places {
		if _, err := s.placeRow(i, place); err != nil {
			return err
		}
	}
	return nil
}

func (s *severalPredictors) placeRow(i int, place []string) ([]float64, error) {
	at := problem.Pointer("options", "predict_at", i)
	if len(place) != len(s.predictors) {
		return nil, problem.Errors{{Pointer: at, Says: fmt.Sprintf("%s given for %s", count(len(place), "value"), count(len(s.predictors), "predictor")), Instead: "give one for each of " + problem.List(s.p.Roles["predictors"], "and")}}
	}
	row := make([]float64, len(s.terms))
	for k, v := range s.predictors {
		if v.Kind == data.Number {
			x, err := strconv.ParseFloat(place[k], 64)
			if err != nil || math.IsInf(x, 0) || math.IsNaN(x) {
				return nil, problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” is no value of “%s”", problem.Shorten(place[k]), problem.Shorten(v.Name)), Instead: "give a number"}}
			}
			row[slices.IndexFunc(s.terms, func(t term) bool { return t.variable == k })] = x
			continue
		}
		levels, _, err := s.levels(v)
		if err != nil {
			return nil, err
		}
		level := v.FindLevel(place[k])
		if level < 0 || !slices.Contains(levels, level) {
			return nil, problem.Errors{problem.Unknown(at, "level of “"+problem.Shorten(v.Name)+"” with cases", place[k], levelNames(v))}
		}
		for j, t := range s.terms {
			if t.variable == k && t.level == v.Levels[level].Code {
				row[j] = 1
			}
		}
	}
	return row, nil
}

func (s *severalPredictors) nullWords() string {
	if len(s.predictors) == 1 {
		return fmt.Sprintf("mean %s does not go with %s", s.yName(), s.predictorWords())
	}
	return fmt.Sprintf("mean %s goes with none of %s", s.yName(), s.predictorWords())
}

func (s *severalPredictors) alternativeWords() string {
	if len(s.predictors) == 1 {
		return fmt.Sprintf("mean %s goes with %s", s.yName(), s.predictorWords())
	}
	return fmt.Sprintf("mean %s goes with at least one of %s", s.yName(), s.predictorWords())
}

func (s *severalPredictors) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is what *%s* %s of *%s*. First one test of all predictors at once, then each by itself, given the others.", s.predictorWords(), map[bool]string{true: "says", false: "together say"}[len(s.predictors) == 1], s.yName()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *severalPredictors) data() {
	var squares []float64
	for _, c := range s.each {
		squares = append(squares, c.Residual*c.Residual)
	}
	s.Column("cases/*/observed", s.y)
	s.Column("cases/*/residual_squared", squares)
	ys := s.log.series(&s.location, s.decimals)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "With every value that is used."}, working.Whole, float64(s.fit.N), formula.Count{Column: ys})
	s.Define(working.Quantity{ID: "terms", Symbol: "m", Label: "Coefficients beside the intercept", Says: "One for each number, and one for each level of a category but its reference."}, working.Whole, float64(s.fit.P), nil)
	sum := 0.0
	for _, y := range s.y {
		sum += y / float64(len(s.y))
	}
	s.Define(working.Quantity{ID: "mean_response", Symbol: `\bar{y}`, Label: "Mean of " + s.yName(), Unit: s.unit, Says: "Of all cases."}, working.Ratio, sum, formula.Quotient{Over: formula.Total{Column: ys}, Under: formula.Ref("n")})
	given := s.response.Len()
	blocks := []working.Block{working.Say("%s.", upperFirst(count(s.fit.N, "case")))}
	if left := given - s.fit.N; left > 0 {
		blocks[0] = working.Say("%s in all, of which @{n} used. Left out: %s.", upperFirst(count(given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	for _, v := range s.predictors {
		if v.Kind == data.Category {
			levels, reference, _ := s.levels(v)
			blocks = append(blocks, working.Say("*%s* is a category: %s is its reference, and each of its other %s has a coefficient that says how much higher or lower the response is there.", v.Title(), v.Levels[reference].Name, count(len(levels)-1, "level")))
		}
	}
	s.Step(working.Data, "n = "+s.Show("n"), append(blocks, s.log.says()...)...)
}

// look shows how every two of the numbers go together, and each predictor with the response.
func (s *severalPredictors) look() {
	names, headings, columns := []working.Cell{s.variableCell(s.response)}, []data.Heading{s.heading}, [][]float64{s.y}
	if s.log.on {
		names[0] = working.Cell{Value: "log " + s.response.Name, Shown: s.heading.Label}
	}
	for _, t := range s.terms {
		if t.level == "" {
			v := s.predictors[t.variable]
			names, headings, columns = append(names, t.cell()), append(headings, data.Heading{Label: v.Title(), Unit: v.Unit}), append(columns, t.values)
		}
	}
	t := &working.Table{ID: "correlations", Title: "Correlations", Key: []string{"first", "second"}, Columns: []working.Column{{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "r", Label: "r", Numeric: true}, {ID: "p", Label: "p", Numeric: true}}}
	var rows []working.Row
	var blocks []working.Block
	const most = 10 // pictures
	for i := range names {
		for j := i + 1; j < len(names); j++ {
			c := stats.Correlate(columns[i], columns[j])
			rows = append(rows, working.Row{names[i], names[j], s.numberOrNone(c.R, 3), s.pCellOrNone(c.P())})
			if len(blocks) == most {
				continue
			}
			up, across := headings[i], headings[j]
			f := &working.Figure{ID: fmt.Sprintf("look_%d_%d", i+1, j+1), Form: working.Scatter, Title: up.Label + " against " + inSentence(across.Label), Small: true,
				Axis: working.Axis{Label: across.Label, Unit: across.Unit}, Up: &working.Axis{Label: up.Label, Unit: up.Unit}, Says: fmt.Sprintf("%s against %s, a dot for each case.", up.Label, inSentence(across.Label))}
			f.Axis.Min, f.Axis.Max = axis(columns[j]...)
			f.Up.Min, f.Up.Max = axis(columns[i]...)
			f.Marks = []working.Mark{{Shape: working.Points, Role: working.Observed, X: working.Positions(columns[j]...), Y: working.Positions(columns[i]...), Case: s.cases()}}
			s.Figure(f)
			blocks = append(blocks, working.FigureBlock{Figure: f.ID})
		}
	}
	t.SetRows(rows)
	if rows != nil {
		s.Table(t)
		blocks = append(blocks, working.Say("How every two of the numbers go together, each pair for itself:"), working.TableBlock{Table: "correlations"})
	}
	s.Step(working.Look, count(len(s.predictors), "predictor"), append(blocks, working.Note("What a predictor says by itself and what it says beside the others are two questions: here stands the first."))...)
}

// cases returns the rows of the cases used, from 1.
func (s *severalPredictors) cases() []int {
	out := make([]int, len(s.rows))
	for i, row := range s.rows {
		out[i] = row + 1
	}
	return out
}

func (s *severalPredictors) hypotheses() {
	symbols := `\beta_{1} = 0`
	if s.fit.P > 1 {
		symbols = `\beta_{1} = \dots = \beta_{` + strconv.Itoa(s.fit.P) + `} = 0`
	}
	s.hypothesesStep("all β = 0", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \text{some } \beta_{j} \ne 0`, Words: s.alternativeWords()},
	}, working.Say("One test asks about all coefficients at once. Only where it rejects is there reason to look for the predictor that matters."))
}

// variation defines how the variation of the response splits.
func (s *severalPredictors) variation() {
	f := s.fit
	ref := func(id string) formula.Ref { return formula.Ref(id) }
	ys := s.log.series(&s.location, s.decimals)
	define := func(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Ratio, value, expr)
	}
	define("ss_total", `SS_{T}`, "Sum of squares in all", "How far the responses lie from their mean: squared and added up.", f.Total, formula.Deviations{Column: ys, Centre: "mean_response", Power: 2})
	define("ss_residual", `SS_{E}`, "Sum of squares of the residuals", "What the fit leaves: how far the cases lie from what it gives.", f.Residual, formula.Total{Column: s.Calculated("cases/*/residual_squared", "e_{i}^{2}", 3)})
	define("ss_regression", `SS_{R}`, "Sum of squares of the fit", "What the predictors explain together.", f.Regression, formula.Subtract(ref("ss_total"), ref("ss_residual")))
	s.Define(working.Quantity{ID: "df_1", Symbol: `\nu_{1}`, Label: "Degrees of freedom of the fit", Says: "One for each coefficient beside the intercept."}, working.Degrees, float64(f.P), ref("terms"))
	s.Define(working.Quantity{ID: "df_2", Symbol: `\nu_{2}`, Label: "Degrees of freedom of the residuals", Says: "Every case gives one, and every coefficient takes one away."}, working.Degrees, f.DF, formula.Sum{ref("n"), formula.Minus{X: ref("terms")}, formula.Minus{X: formula.Num(1)}})
	share, adjusted := f.R2, f.AdjustedR2
	shareExpr := formula.Expr(formula.Quotient{Over: ref("ss_regression"), Under: ref("ss_total")})
	adjustedExpr := formula.Expr(formula.Subtract(formula.Num(1), formula.Quotient{Over: formula.Quotient{Over: ref("ss_residual"), Under: ref("df_2")}, Under: formula.Quotient{Over: ref("ss_total"), Under: formula.Subtract(ref("n"), formula.Num(1))}}))
	if f.Total == 0 {
		share, adjusted, shareExpr, adjustedExpr = math.NaN(), math.NaN(), nil, nil
	}
	define("r_squared", "R^{2}", "Share explained", "Which share of the variation of the response the predictors explain together. It never falls with another predictor.", share, shareExpr)
	define("adjusted_r_squared", `R^{2}_{\text{adj}}`, "Adjusted share", "The same, freed of what any predictor explains by chance: it may fall with another predictor.", adjusted, adjustedExpr)
	s.Define(working.Quantity{ID: "residual_sd", Symbol: "s", Label: "Spread about the fit", Unit: s.unit, Says: "How far cases typically lie above or below what the fit gives."}, working.Ratio, f.ResidualSD, formula.Root{X: formula.Quotient{Over: ref("ss_residual"), Under: ref("df_2")}})
	if !f.Perfect {
		define("aic", "AIC", "Akaike’s criterion", "Of fits to the same cases, a smaller one is better: it weighs what is left against the number of coefficients. The number itself says nothing.", f.AIC, nil)
	}
}

// tables lists the coefficients, the cases and what is predicted.
func (s *severalPredictors) tables() {
	f := s.fit
	d := dist.T{DF: f.DF}
	times := d.UpperQuantile(s.area() / 2)
	t := &working.Table{ID: "coefficients", Title: "Coefficients", Key: []string{"predictor"}, Columns: coefficientColumns(
		working.Column{ID: "standardized_coefficient", Label: "standardized", Numeric: true, Hidden: true}, working.Column{ID: "vif", Label: "inflation", Numeric: true, Hidden: true})}
	none := working.Cell{Value: working.Number(math.NaN()), Shown: "–"}
	rows := []working.Row{append(s.coefficientRow(nameCell("intercept"), f.Coefficients[0], f.SE[0], f.Coefficients[0]/f.SE[0], d, times, f.Perfect), none, none)}
	for j, one := range s.terms {
		rows = append(rows, append(s.coefficientRow(one.cell(), f.Coefficients[j+1], f.SE[j+1], f.Coefficients[j+1]/f.SE[j+1], d, times, f.Perfect), s.numberOrNone(f.Standardized[j], 3), s.number(f.Inflation[j], 2)))
	}
	t.SetRows(rows)
	s.Table(t)
	s.coefficients = t
	if s.log.on {
		s.log.factors(&s.location, t)
	}
	s.beside()

	cases := &working.Table{ID: "cases", Title: "The cases about the fit", Key: []string{"case"}, Total: f.N, Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "observed", Label: "observed", Symbol: "y", Unit: s.unit, Numeric: true}, {ID: "fitted", Label: "fitted", Symbol: `\hat{y}`, Unit: s.unit, Numeric: true},
		{ID: "residual", Label: "residual", Symbol: "e", Unit: s.unit, Numeric: true, Bar: true, Formula: `@{observed}-@{fitted}`}, {ID: "standardized", Label: "standardized", Symbol: "e^{*}", Numeric: true, Formula: `\frac{@{residual}}{@{residual_sd}\sqrt{1-@{leverage}}}`},
		{ID: "leverage", Label: "leverage", Symbol: "h", Numeric: true}, {ID: "cooks_distance", Label: "influence", Symbol: "D", Numeric: true, Formula: `\frac{@{standardized}^{2}}{@{terms}+1}\cdot\frac{@{leverage}}{1-@{leverage}}`}}}
	cases.Row = func(i int) working.Row {
		c := s.each[i]
		return working.Row{wholeCell(s.rows[i] + 1), s.log.cell(&s.location, s.y[i], s.decimals), s.number(c.Value, s.decimals+2), s.number(c.Residual, s.decimals+2), s.numberOrNone(c.Standardized, 2), s.number(c.Leverage, 3), s.numberOrNone(c.Cook, 3)}
	}
	s.Table(cases)

	if len(s.places) == 0 {
		return
	}
	predictions := &working.Table{ID: "predictions", Title: "Predictions", Key: []string{"at"}, Columns: []working.Column{
		{ID: "at", Label: upperFirst(strings.Join(s.predictorNames(), ", "))}, {ID: "fitted", Label: "fitted", Unit: s.unit, Numeric: true},
		{ID: "mean_low", Label: "mean from", Unit: s.unit, Numeric: true}, {ID: "mean_high", Label: "to", Unit: s.unit, Numeric: true},
		{ID: "new_low", Label: "a new case from", Unit: s.unit, Numeric: true}, {ID: "new_high", Label: "to", Unit: s.unit, Numeric: true}}}
	var predicted []working.Row
	for i, place := range s.places {
		row, _ := s.placeRow(i, place)
		fitted, h := f.At(row)
		p := predictedFrom(fitted, h, f.ResidualSD, f.DF, s.area(), f.Perfect)
		shown := func(y float64) working.Cell { return s.number(y, s.decimals+2) }
		predicted = append(predicted, working.Row{nameCell(strings.Join(place, ", ")), shown(p.fitted), shown(p.meanLow), shown(p.meanHigh), shown(p.newLow), shown(p.newHigh)})
	}
	predictions.SetRows(predicted)
	s.Table(predictions)
	if s.log.on {
		s.log.predictions(&s.location, predictions, working.DecimalsOf(s.measured, maxDecimals))
	}
}

// beside lists what is set beside each other of the predictors: their coefficients in standard
// deviations, and how much they go with one another.
func (s *severalPredictors) beside() {
	t := &working.Table{ID: "standardized", Title: "Standardized coefficients", Key: []string{"predictor"}, Columns: []working.Column{
		{ID: "predictor", Label: "term"}, {ID: "standardized_coefficient", Label: "standardized coefficient", Numeric: true, Bar: true}, {ID: "vif", Label: "inflation of variance", Numeric: true}}}
	rows := make([]working.Row, len(s.terms))
	for j, one := range s.terms {
		rows[j] = working.Row{one.cell(), s.numberOrNone(s.fit.Standardized[j], 3), s.number(s.fit.Inflation[j], 2)}
	}
	t.SetRows(rows)
	s.Table(t)
}

// fits sets the fit beside others on the same cases, with the partial F test where one is
// inside the other.
func (s *severalPredictors) fits() error {
	if len(s.compare) == 0 {
		return nil
	}
	t := &working.Table{ID: "fits", Title: "Fits side by side", Key: []string{"predictors"}, Columns: []working.Column{
		{ID: "predictors", Label: "predictors"}, {ID: "r_squared", Label: "R²", Numeric: true}, {ID: "adjusted_r_squared", Label: "adjusted R²", Numeric: true}, {ID: "residual_sd", Label: "spread about the fit", Unit: s.unit, Numeric: true},
		{ID: "aic", Label: "AIC", Numeric: true}, {ID: "f_change", Label: "F of the difference", Numeric: true}, {ID: "p_change", Label: "p", Numeric: true}}}
	list := func(variables []*data.Variable) working.Cell {
		var names, shown []string
		for _, v := range variables {
			names, shown = append(names, v.Name), append(shown, inSentence(s.called(v)))
		}
		return working.Cell{Value: strings.Join(names, ", "), Shown: upperFirst(strings.Join(shown, ", "))}
	}
	row := func(variables []*data.Variable, fit *stats.LeastSquares, f, p float64) working.Row {
		return working.Row{list(variables), s.numberOrNone(fit.R2, 4), s.numberOrNone(fit.AdjustedR2, 4), s.number(fit.ResidualSD, s.decimals+2), s.numberOrNone(fit.AIC, 2), s.numberOrNone(f, 3), s.pCellOrNone(p)}
	}
	rows := []working.Row{row(s.predictors, s.fit, math.NaN(), math.NaN())}
	for i, variables := range s.compare {
		at := problem.Pointer("options", "compare", i)
		if slices.Equal(variables, s.predictors) {
			continue // it stands in the first row
		}
		terms, err := s.termsOf(variables)
		if err != nil {
			return err
		}
		fit, err := s.fitTerms(terms, at)
		if err != nil {
			return err
		}
		f, p := math.NaN(), math.NaN()
		smaller, larger := variables, s.predictors
		if len(smaller) > len(larger) {
			smaller, larger = larger, smaller
		}
		if len(smaller) < len(larger) && !slices.ContainsFunc(smaller, func(v *data.Variable) bool { return !slices.Contains(larger, v) }) {
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
			whole, err := s.fitTerms(all, at)
			if err != nil {
				return err
			}
			if !whole.Perfect {
				f, _, p = whole.Partial(len(few))
			}
		}
		rows = append(rows, row(variables, fit, f, p))
	}
	t.SetRows(rows)
	s.Table(t)
	return nil
}

// fitFamily is F with the degrees of freedom of a fit.
var fitFamily = formula.Family{Symbol: "F", Degrees: []formula.Ref{"df_1", "df_2"}, New: func(d []float64) dist.Distribution { return dist.F{DF1: d[0], DF2: d[1]} }}

func (s *severalPredictors) test() {
	f := s.fit
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times as much the predictors explain, for each coefficient, as chance would."}, working.Ratio, f.F,
		formula.Quotient{Over: formula.Quotient{Over: formula.Ref("ss_regression"), Under: formula.Ref("df_1")}, Under: formula.Quotient{Over: formula.Ref("ss_residual"), Under: formula.Ref("df_2")}})
	s.Test(working.Test{Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: fitFamily, UpperOnly: true, Name: "F, " + s.DegreesWords("df_1", "df_2"), Extreme: "predictors that explain at least as much"})
	columns := columnsOf(s.terms)
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true, any %s may as well go with any values of the predictors. So the values of %s are shuffled among the %d cases, and F is calculated anew.", s.yName(), s.yName(), f.N),
		Assumes: "Shuffling needs no normal shape, but takes for granted that without an effect all cases would be alike.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(s.y, []int{f.N}, func(groups [][]float64) float64 {
				shuffled, _ := stats.FitLeastSquares(columns, groups[0])
				return shuffled.F
			})
		}})
}

func (s *severalPredictors) conditions() {
	a := &aboutLine{rows: s.cases(), each: s.each, terms: s.fit.P + 1, residual: s.heading, fittedOf: data.Heading{Unit: s.unit}, decimals: s.decimals, ways: s.log.ways(s.measured)}
	a.curvature = bend(columnsOf(s.terms), fittedValues(s.each), s.y)
	var inflated []string
	for j, t := range s.terms {
		if s.fit.Inflation[j] >= 10 {
			inflated = append(inflated, fmt.Sprintf("%s (%s)", inSentence(t.shown), working.FormatNumber(s.fit.Inflation[j], 1)))
		}
	}
	if inflated != nil {
		s.Condition("collinearity", working.Doubtful, working.Textf("Nearly dependent on the other predictors: %s. The inflation says how many times larger the variance of its coefficient is for that; from 10 on single coefficients can hardly be read.", strings.Join(inflated, ", ")))
	} else {
		s.Condition("collinearity", working.Met, working.Textf("No predictor nearly follows from the others: every inflation of variance lies below 10."))
	}
	if per := float64(s.fit.N) / float64(s.fit.P); per < 10 {
		s.Condition("sample-size", working.Doubtful, working.Textf("%s for %s, %s for each: with fewer than ten a fit follows chance.", upperFirst(count(s.fit.N, "case")), count(s.fit.P, "coefficient"), working.FormatNumber(per, 1)))
	} else {
		s.Condition("sample-size", working.Met, working.Textf("%s for %s: enough, by the usual rule of ten for each.", upperFirst(count(s.fit.N, "case")), count(s.fit.P, "coefficient")))
	}
	s.lineConditions(a, "collinearity", "sample-size")
}

func (s *severalPredictors) steps() {
	s.Figure(s.fittedFigure())
	s.Step(working.Statistic, "F = "+s.Show("f"),
		working.Say("The coefficients make the squared distances of the cases from what the fit gives as small as they can be. What is left of the variation is set against what the predictors explain:"),
		working.FormulaBlock{Quantity: "ss_total"}, working.FormulaBlock{Quantity: "ss_residual"}, working.FormulaBlock{Quantity: "ss_regression"}, working.FormulaBlock{Quantity: "f"}).Opens = "f"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df_2"}, working.Say("Degrees of freedom: @{df_1}, one for each coefficient, and @{df_2}, all cases less one for every coefficient and the intercept.")},
		s.printedF(s.p.Alpha, s.Value("df_1"), s.Value("df_2"))...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(), s.nullWords())
	used := count(s.fit.N, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. Together they explain %s of its variation.", used, s.alternativeWords(), working.FormatNumber(100*s.fit.R2, 1)+"\u00a0%"),
			working.Warn("That a predictor goes with the response does not say that it brings it about."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(), s.nullWords()))
	}
	report := working.Textf("%s on %s: *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p}, *R*² = @{r_squared}, adjusted *R*² = @{adjusted_r_squared}, *N* = @{n}.", upperFirst(s.yName()), s.predictorWords(), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("F with its degrees of freedom, p and the shares explained; the coefficients go into a table."))
	s.Conclude(s.conclusion, report)
	s.followUp()
	s.plan()
}

// fittedFigure draws what was observed against what the fit gives.
func (s *severalPredictors) fittedFigure() *working.Figure {
	fitted := fittedValues(s.each)
	f := &working.Figure{ID: "fitted", Form: working.Scatter, Title: "Observed against fitted", Says: "Observed against fitted values, with the line on which the two agree.", Axis: working.Axis{Label: "fitted", Unit: s.unit}, Up: &working.Axis{Label: s.heading.Label, Unit: s.unit}}
	f.Axis.Min, f.Axis.Max = axis(fitted...)
	f.Up.Min, f.Up.Max = axis(append(slices.Clone(s.y), fitted...)...)
	low, high := slices.Min(fitted), slices.Max(fitted)
	f.Marks = []working.Mark{{Shape: working.Line, Role: working.Expected, X: working.Positions(low, high), Y: working.Positions(low, high)},
		{Shape: working.Points, Role: working.Observed, X: working.Positions(fitted...), Y: working.Positions(s.y...), Case: s.cases()}}
	return f
}

func (s *severalPredictors) followUp() {
	blocks := []working.Block{working.Say("**How close is it?** R² = @{r_squared}; adjusted for the number of coefficients @{adjusted_r_squared}. Cases typically lie @{residual_sd} from what the fit gives."),
		working.FormulaBlock{Quantity: "r_squared"}, working.FormulaBlock{Quantity: "adjusted_r_squared"},
		working.Say("**Each predictor, given the others.** A coefficient says how much the response changes with one unit of its predictor while the others stay as they are.")}
	if !s.Rejected() {
		s.coefficients.Dimmed = true
		blocks = append(blocks, working.Warn("The test of all predictors together has not rejected. A single one that comes up below is a hint for a new study, not a finding of this one."))
	}
	blocks = append(blocks, working.ChoiceBlock{Pointer: "/roles/predictors", Label: "Predictors", Choices: s.candidates(), Drops: []string{"/options/predict_at", "/options/references"}, Keep: s.keep()})
	for _, id := range s.categories {
		blocks = append(blocks, working.ControlBlock{Control: id})
	}
	blocks = append(blocks, working.TableBlock{Table: "coefficients"},
		working.Warn("Coefficients have different units and must not be compared for importance as they are. In standard deviations they can, with care:"), working.TableBlock{Table: "standardized"},
		working.Note("Inflation says how many times larger the variance of a coefficient is because its predictor goes with the others; 1 is none."))
	if s.log.on {
		blocks = append(blocks, working.Say("**Read back in %s.** What %s is multiplied by for one more of a predictor, the others as they are:", s.log.unitWords(), inSentence(s.log.own.Label)), working.TableBlock{Table: "factors"})
	}
	blocks = append(blocks, s.oddities()...)
	if len(s.compare) > 0 {
		blocks = append(blocks, working.Say("**Fits side by side**, all on the same cases. Where one lies inside the other, F tests whether what the larger one has more is needed. Of any two fits, the one with the smaller AIC (Akaike’s criterion) is closer for the coefficients it takes; the number itself says nothing."), working.TableBlock{Table: "fits"})
	}
	blocks = append(blocks, working.Say("**Predict a new case.**"), s.placeBlock())
	if len(s.places) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
		if s.log.on {
			blocks = append(blocks, working.TableBlock{Table: "predictions_measured"}, s.log.medianWarning())
		}
	}
	blocks = append(blocks, working.Say("**Fitted against observed.** To the right what the fit gives, upward what was observed; on the line the two agree."), working.FigureBlock{Figure: "fitted", Actions: s.dropActions()})
	if len(s.predictors) > 1 {
		blocks = append(blocks, working.Note("Is each predictor needed? Take one away and compare the two fits."))
	}
	s.Step(working.FollowUp, "R² = "+s.Show("r_squared"), append(blocks, working.Say("**Case by case**: what was observed, what the fit gives, and what is left."), working.TableBlock{Table: "cases"}, s.log.derived(s.response, s.fit.Coefficients, s.termFormulas()))...).Opens = "r_squared"
}

// termFormulas writes each term as a formula on the variables of the data.
func (s *severalPredictors) termFormulas() []string {
	formulas := make([]string, len(s.terms))
	for i, t := range s.terms {
		formulas[i] = s.predictors[t.variable].Name
		if t.level != "" {
			formulas[i] = fmt.Sprintf("(%s == %q ? 1 : 0)", formulas[i], t.level)
		}
	}
	return formulas
}

// placeBlock asks for a new case, at first the one that was asked for last or one in the
// middle.
func (s *severalPredictors) placeBlock() working.PlaceBlock {
	b := working.PlaceBlock{Pointer: "/options/predict_at"}
	for k, v := range s.predictors {
		field := working.PlaceField{Label: v.Title(), Unit: v.Unit}
		if v.Kind == data.Number {
			values := s.terms[slices.IndexFunc(s.terms, func(t term) bool { return t.variable == k })].values
			field.Value = working.FormatShortest(stats.NewFiveNumbers(stats.Sorted(values)).Median)
		} else {
			levels, reference, _ := s.levels(v)
			for _, code := range levels {
				field.Levels = append(field.Levels, v.Levels[code].Name)
			}
			field.Value = v.Levels[reference].Name
		}
		if len(s.places) > 0 {
			field.Value = s.places[0][k]
			if field.Levels != nil {
				field.Value = v.Levels[v.FindLevel(s.places[0][k])].Name
			}
		}
		b.Fields = append(b.Fields, field)
	}
	return b
}

// keep sets the present predictors among the fits to compare; nil where they are.
func (s *severalPredictors) keep() *working.Action {
	present := s.p.Roles["predictors"]
	lists := [][]string{}
	for _, variables := range s.compare {
		var names []string
		for _, v := range variables {
			names = append(names, v.Name)
		}
		if slices.Equal(names, present) {
			return nil
		}
		lists = append(lists, names)
	}
	return &working.Action{ID: "keep-fit", Label: "Keep this fit to compare", Says: "It stays in the table of fits when other predictors are ticked.",
		Set: []problem.Set{{Pointer: "/options/compare", Value: append(lists, present)}}}
}

// candidates are the variables that may be predictors, those that are first.
func (s *severalPredictors) candidates() []working.Ticked {
	var out []working.Ticked
	for _, v := range s.predictors {
		out = append(out, working.Ticked{Value: v.Name, Label: v.Title(), Chosen: true})
	}
	for _, v := range s.p.Data.Variables {
		if v != s.response && !slices.Contains(s.predictors, v) && (v.Kind == data.Number || v.Kind == data.Category && used(v) >= 2 && used(v) <= 12) {
			out = append(out, working.Ticked{Value: v.Name, Label: v.Title()})
		}
	}
	return out
}

// oddities says where a coefficient contradicts its correlation, and where a fitted value
// cannot be.
func (s *severalPredictors) oddities() []working.Block {
	var blocks []working.Block
	for j, t := range s.terms {
		c := stats.Correlate(t.values, s.y)
		if c.R*s.fit.Coefficients[j+1] < 0 && c.P() <= s.p.Alpha {
			blocks = append(blocks, working.Warn("By itself %s goes the other way: its correlation with %s is %s, and its coefficient beside the others is %s. Both are right; they answer different questions.", inSentence(t.shown), s.yName(), working.FormatNumber(c.R, 2), working.FormatNumber(s.fit.Coefficients[j+1], working.SmallestDecimals(s.fit.SE[j+1]))))
		}
	}
	if slices.Min(s.y) >= 0 && !s.log.on {
		worst := 0.0
		for _, c := range s.each {
			worst = math.Min(worst, c.Value)
		}
		if worst < 0 {
			blocks = append(blocks, working.Warn("The fit gives a value of %s where nothing below 0 was observed: there it cannot be right.", working.FormatNumber(worst, s.decimals+1)))
		}
	}
	return blocks
}

// dropActions offers the fit without each predictor, the weakest first, beside this one.
func (s *severalPredictors) dropActions() []working.Action {
	if len(s.predictors) < 2 {
		return nil
	}
	order := make([]int, len(s.predictors))
	weakest := make([]float64, len(s.predictors))
	for k := range order {
		order[k] = k
		for j, t := range s.terms {
			if t.variable == k {
				weakest[k] = math.Max(weakest[k], math.Abs(s.fit.Coefficients[j+1]/s.fit.SE[j+1]))
			}
		}
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(weakest[a], weakest[b]) })
	var actions []working.Action
	for _, k := range order[:min(len(order), 4)] {
		var rest []string
		for i, name := range s.p.Roles["predictors"] {
			if i != k {
				rest = append(rest, name)
			}
		}
		set := []problem.Set{{Pointer: "/roles/predictors", Value: rest}, {Pointer: "/options/predict_at"}}
		if name := s.predictors[k].Name; s.references[name] != "" && !s.compares(s.predictors[k]) {
			set = append(set, problem.Set{Pointer: problem.Pointer("options", "references", name)})
		}
		actions = append(actions, working.Action{ID: fmt.Sprintf("without-%d", k+1), Label: "Without " + inSentence(s.predictors[k].Title()), Compare: true,
			Says: "Fits the other predictors alone, beside this fit.", Set: set})
	}
	return actions
}

// compares reports whether a fit to compare has the predictor.
func (s *severalPredictors) compares(v *data.Variable) bool {
	return slices.ContainsFunc(s.compare, func(fit []*data.Variable) bool { return slices.Contains(fit, v) })
}

// perfect writes what can be said where every case is fitted without a residual.
func (s *severalPredictors) perfect() {
	none := func(id working.Ref, symbol, label string) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: "There is none where every case is fitted without a residual."}, working.Ratio, math.NaN(), nil)
	}
	none("f", "F", "Test statistic")
	none("p", "p", "p-value")
	s.Note("Every case is fitted without a residual: there is nothing to measure the coefficients by, so there is no test.")
	s.Step(working.Statistic, "R² = "+s.Show("r_squared"), working.FormulaBlock{Quantity: "ss_total"}, working.FormulaBlock{Quantity: "ss_residual"}, working.Warn("Every case is fitted without a residual. That is seldom so with things that were measured: look whether one was calculated from the others."))
	conclusion := working.Textf("All %d cases are fitted without a residual. Without any there is nothing to test.", s.fit.N)
	conclusion = s.withClaim(conclusion)
	s.Step(working.Conclusion, "no test", working.Prose{Tone: working.Answer, Text: conclusion})
	report := working.Textf("%s on %s: all %d cases fitted without a residual.", upperFirst(s.yName()), s.predictorWords(), s.fit.N)
	s.Step(working.Report, "", working.ReportLine{Text: report})
	s.Conclude(conclusion, report)
	blocks := []working.Block{working.TableBlock{Table: "coefficients"}}
	if len(s.compare) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "fits"})
	}
	if len(s.places) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
	}
	s.Step(working.FollowUp, "", append(blocks, working.TableBlock{Table: "cases"})...)
}
