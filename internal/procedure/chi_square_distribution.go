package procedure

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"sort"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// chiSquareDistribution asks whether a variable may follow a distribution, by the counts of
// classes.
var chiSquareDistribution = &Procedure{
	Description: Description{
		ID:         "chi-square-distribution",
		Title:      "A distribution fitted",
		Asks:       "May a variable follow a distribution?",
		AlsoCalled: []string{"chi-square goodness of fit", "test of a Poisson distribution", "test of an exponential distribution", "fit of a distribution"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles:      []Role{oneResponse},
		Options: []Option{
			{ID: "distribution", Label: "Distribution", Type: ChoiceOption, Default: "exponential", Live: true, Key: "y", Says: "The distribution that H₀ states.", Choices: []Choice{
				{Value: "exponential", Label: "exponential", Says: "waiting times between events that come at random"},
				{Value: "normal", Label: "normal", Says: "measurements about a mean"},
				{Value: "uniform", Label: "uniform", Says: "any value between two ends as likely as another"},
				{Value: "poisson", Label: "Poisson", Says: "numbers of events in a time or place"},
				{Value: "binomial", Label: "binomial", Says: "numbers of successes among trials"},
			}},
			{ID: "parameters", Label: "Parameters", Type: ParametersOption, Says: "Estimated from the cases unless they are given."},
			{ID: "boundaries", Label: "Class boundaries", Type: NumbersOption, Says: "In ascending order; chosen from the cases unless they are given. A value on a boundary belongs to the class above it."},
			{ID: "min_expected", Label: "Least expected count", Type: NumberOption, Default: 5.0, Says: "Classes that expect fewer are merged with a neighbour."},
		},
	},
	Work: workChiSquareDistribution,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return assigned["response"][0].Title() + " is a number: the counts of its classes are compared with those that a distribution expects.", true
	},
}

// parametersOf names the parameters of each distribution in their order.
var parametersOf = map[string][]string{
	"exponential": {"rate"}, "normal": {"mean", "sd"}, "uniform": {"min", "max"}, "poisson": {"mean"}, "binomial": {"trials", "probability"},
}

// fitted is the problem while it is worked.
type fitted struct {
	location
	response     data.Heading
	name         string // of the distribution
	parameters   map[string]float64
	estimated    []string
	distribution any     // dist.Distribution or dist.Discrete
	low, high    float64 // ends of the support
	values       []float64
	sorted       []float64 // the same in order
	cases        []int
	moments      stats.Moments
	classes      []stats.Bin // before merging
	bins         []stats.Bin
	boundaries   []float64
	chosen       bool // whether they were
	least        float64
	given        int
	others       []working.Choice // distributions that the cases could come from too
	stats        stats.Fit
	decimals     int
}

func workChiSquareDistribution(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &fitted{location: location{p: p, family: chiSquareFamily}, name: options["distribution"].(string), least: options["min_expected"].(float64)}
	if !(s.least >= 0) || math.IsInf(s.least, 0) {
		return nil, problem.Errors{{Pointer: "/options/min_expected", Says: "min_expected is " + data.FormatNumber(s.least), Instead: "it must be 0 or above"}}
	}
	given, _ := options["parameters"].(map[string]float64)
	boundaries, _ := options["boundaries"].([]float64)
	var counts []int
	if c := p.Data.Counts; c != nil {
		if c.Boundaries == nil {
			return nil, problem.Errors{{Pointer: "/data/counts", Says: "counts in classes are needed here", Instead: "give “boundaries” and “observed”"}}
		}
		if options["boundaries"] != nil {
			return nil, problem.Errors{{Pointer: "/options/boundaries", Says: "the counts are in classes already", Instead: "remove the option"}}
		}
		s.response = data.Heading{Label: "value"}
		if h := c.Variable; h != nil {
			s.response.Unit = h.Unit
			if h.Label != "" {
				s.response.Label = h.Label
			}
		}
		boundaries = c.Boundaries
		for _, o := range c.Observed {
			counts = append(counts, int(o))
			s.given += int(o)
		}
		if s.given == 0 {
			return nil, problem.Errors{{Pointer: "/data/counts/observed", Says: "nothing was counted", Instead: "give counts above 0"}}
		}
	} else {
		v := p.Data.Variables.Find(p.Roles["response"][0])
		s.response, s.given = data.Heading{Label: v.Title(), Unit: v.Unit}, v.Len()
		for _, i := range data.Complete(p.LeftOutCases(), v) {
			s.values, s.cases = append(s.values, v.Numbers[i]), append(s.cases, i+1)
		}
		if len(s.values) == 0 {
			return nil, problem.Errors{{Pointer: "/roles/response", Says: "no case has a value", Instead: "check the role, and the cases left out"}}
		}
		s.moments, s.sorted = stats.NewMoments(s.values), stats.Sorted(s.values)
		s.decimals = working.DecimalsOf(s.values, maxDecimals)
	}
	if err := s.fit(given); err != nil {
		return nil, err
	}
	if err := s.classify(boundaries, counts); err != nil {
		return nil, err
	}
	s.unit = s.response.Unit
	n := s.stats.N
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: n, LeftOut: s.given - n})
	s.SetDecimals(s.decimals + 2)
	s.Control(working.AlphaControl(p.Alpha))
	if given == nil { // parameters belong to their distribution
		control := s.distributionControl(&d.Options[0], boundaries, counts)
		s.Control(control)
		s.others = control.Choices
	}
	s.Brief(working.Textf("Look whether **%s** may follow %s distribution", inSentence(s.response.Label), s.article()))
	s.question()
	s.data()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// distributionControl offers the distributions that the cases could come from.
func (s *fitted) distributionControl(option *Option, boundaries []float64, counts []int) working.Control {
	control := option.control(s.name)
	control.Choices = slices.DeleteFunc(control.Choices, func(c working.Choice) bool {
		other := *s
		other.name, other.classes, other.bins, other.estimated = c.Value.(string), nil, nil, nil
		return other.fit(nil) != nil || other.classify(boundaries, counts) != nil
	})
	return control
}

// tries are the ways to another distribution on the same classes, shown beside this one.
func (s *fitted) tries() []working.Action {
	same := make([]any, len(s.boundaries))
	for i, b := range s.boundaries {
		same[i] = b
	}
	var out []working.Action
	for _, c := range s.others {
		if c.Value == s.name {
			continue
		}
		out = append(out, working.Action{ID: "try-" + c.Value.(string), Label: "Try " + c.Label + " and compare", Compare: true,
			Says: "Works the same problem with this distribution on the same classes, beside this one.",
			Set:  []problem.Set{{Pointer: "/options/distribution", Value: c.Value}, {Pointer: "/options/boundaries", Value: same}}})
	}
	return out
}

// title writes the name of the distribution.
func (s *fitted) title() string {
	if s.name == "poisson" {
		return "Poisson"
	}
	return s.name
}

func (s *fitted) article() string {
	if s.name == "exponential" {
		return "an exponential"
	}
	return "a " + s.title()
}

// fit gives the distribution its parameters, those that are not given from the cases.
func (s *fitted) fit(given map[string]float64) error {
	names := parametersOf[s.name]
	for _, name := range slices.Sorted(maps.Keys(given)) {
		if !slices.Contains(names, name) {
			return problem.Errors{problem.Unknown(problem.Pointer("options", "parameters", name), "parameter", name, names)}
		}
	}
	s.parameters = maps.Clone(given)
	if s.parameters == nil {
		s.parameters = map[string]float64{}
	}
	for _, name := range names {
		if _, ok := given[name]; ok {
			continue
		}
		at := problem.Pointer("options", "parameters", name)
		if s.values == nil {
			return problem.Errors{{Pointer: at, Says: "from counts in classes " + name + " cannot be estimated", Instead: "give it"}}
		}
		if name == "trials" {
			return problem.Errors{{Pointer: at, Says: "the number of trials is not given", Instead: "say how many trials each case had"}}
		}
		s.estimated = append(s.estimated, name)
		s.parameters[name] = map[string]float64{
			"rate": 1 / s.moments.Mean, "mean": s.moments.Mean, "sd": s.moments.SD, "min": slices.Min(s.values), "max": slices.Max(s.values),
			"probability": s.moments.Mean / s.parameters["trials"],
		}[name]
	}
	wrong := func(name, instead string) error {
		pointer := problem.Pointer("options", "parameters", name)
		if slices.Contains(s.estimated, name) {
			pointer = "/roles/response"
		}
		return problem.Errors{{Pointer: pointer, Says: fmt.Sprintf("%s is %s", name, working.FormatShortest(s.parameters[name])), Instead: instead}}
	}
	p := s.parameters
	s.low, s.high = 0, math.Inf(1)
	whole := false
	switch s.name {
	case "exponential":
		if !(p["rate"] > 0) || math.IsInf(p["rate"], 0) {
			return wrong("rate", "a rate must be above 0")
		}
		s.distribution = dist.Exponential{Rate: p["rate"]}
	case "normal":
		if !(p["sd"] > 0) {
			return wrong("sd", "a standard deviation must be above 0")
		}
		s.low, s.distribution = math.Inf(-1), shifted{dist.Normal{}, p["mean"], p["sd"]}
	case "uniform":
		if !(p["max"] > p["min"]) {
			return wrong("max", "the largest value must be above the smallest")
		}
		s.low, s.high, s.distribution = p["min"], p["max"], dist.Uniform{Min: p["min"], Max: p["max"]}
	case "poisson":
		if !(p["mean"] > 0) {
			return wrong("mean", "the mean of a Poisson distribution must be above 0")
		}
		whole, s.distribution = true, dist.Poisson{Mean: p["mean"]}
	case "binomial":
		if !(p["trials"] >= 1) || p["trials"] != math.Floor(p["trials"]) || p["trials"] > 1e9 {
			return wrong("trials", "it must be a whole number of 1 or more")
		}
		if !(p["probability"] > 0 && p["probability"] < 1) {
			return wrong("probability", "it must lie between 0 and 1, both excluded")
		}
		whole, s.high, s.distribution = true, p["trials"], dist.Binomial{N: int(p["trials"]), P: p["probability"]}
	}
	for i, x := range s.values {
		what := ""
		switch {
		case x < s.low:
			what = "it has no values below " + working.FormatShortest(s.low)
		case x > s.high:
			what = "it has no values above " + working.FormatShortest(s.high)
		case whole && x != math.Floor(x):
			what = "it has whole numbers only"
		}
		if what != "" {
			return problem.Errors{{Pointer: "/roles/response", Says: fmt.Sprintf("case %d is %s, which cannot come from %s distribution: %s", s.cases[i], working.FormatShortest(x), s.article(), what), Instead: "choose another distribution, or check the case"}}
		}
	}
	return nil
}

// shifted is a distribution moved and stretched.
type shifted struct {
	dist.Distribution
	mean, sd float64
}

func (d shifted) Density(x float64) float64 { return d.Distribution.Density((x-d.mean)/d.sd) / d.sd }
func (d shifted) Lower(x float64) float64   { return d.Distribution.Lower((x - d.mean) / d.sd) }
func (d shifted) Upper(x float64) float64   { return d.Distribution.Upper((x - d.mean) / d.sd) }

// classify puts the cases into classes, and merges those that expect too few.
func (s *fitted) classify(boundaries []float64, counts []int) error {
	at := "/options/boundaries"
	if counts != nil {
		at = "/data/counts/boundaries"
	}
	if boundaries == nil {
		s.chosen = true
		low, high := slices.Min(s.values), slices.Max(s.values)
		classes := stats.ChooseClasses(low, high, len(s.values))
		for i := range classes.Count + 1 {
			boundaries = append(boundaries, classes.Boundary(i))
		}
	}
	if len(boundaries) < 3 {
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("%s make %s", count(len(boundaries), "boundary"), count(max(0, len(boundaries)-1), "class")), Instead: "give three boundaries or more"}}
	}
	for i := 1; i < len(boundaries); i++ {
		if !(boundaries[i] > boundaries[i-1]) {
			return problem.Errors{{Pointer: problem.Pointer("options", "boundaries", i), Says: "the boundaries do not increase", Instead: "give each above the one before"}}
		}
	}
	s.boundaries = boundaries
	for i := 1; i < len(boundaries); i++ {
		bin := stats.Bin{Low: boundaries[i-1], High: boundaries[i], Merged: 1}
		if i == 1 {
			bin.Low = s.low
		}
		if i == len(boundaries)-1 {
			bin.High = s.high
		}
		inclusive := bin.High
		if i == len(boundaries)-1 {
			inclusive = math.Inf(1) // the last class holds the end of the support too
		}
		bin.Probability = stats.ClassProbability(s.distribution, bin.Low, inclusive)
		if counts != nil {
			bin.Observed = counts[i-1]
		}
		s.classes = append(s.classes, bin)
	}
	if s.values != nil {
		below := 0 // the cases of the classes so far
		for i := range s.classes {
			upTo := len(s.sorted)
			if i < len(s.classes)-1 { // a value on a boundary belongs to the class above it
				upTo, _ = slices.BinarySearch(s.sorted, boundaries[i+1])
			}
			s.classes[i].Observed, below = upTo-below, upTo
		}
	}
	n := 0
	for _, c := range s.classes {
		n += c.Observed
	}
	s.bins = stats.MergeBins(s.classes, n, s.least)
	if df := len(s.bins) - 1 - len(s.estimated); df < 1 {
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("%s left after merging and %s estimated leave no degrees of freedom", count(len(s.bins), "class"), count(len(s.estimated), "parameter")), Instead: "give narrower classes, or a smaller min_expected, or the parameters"}}
	}
	var observed []int
	var probabilities []float64
	for _, b := range s.bins {
		observed, probabilities = append(observed, b.Observed), append(probabilities, b.Probability)
		if b.Probability == 0 {
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("nothing can be expected between %s and %s", working.FormatShortest(b.Low), working.FormatShortest(b.High)), Instead: "give other boundaries, or a min_expected above 0"}}
		}
	}
	s.stats = stats.CompareClasses(observed, probabilities, len(s.estimated))
	return nil
}

func (s *fitted) alternativeWords() string {
	return inSentence(s.response.Label) + " follows another distribution than " + s.article() + " one"
}

func (s *fitted) nullWords() string {
	return inSentence(s.response.Label) + " follows " + s.article() + " distribution"
}

func (s *fitted) question() {
	s.DefineAlpha()
	blocks := append(s.claimBlocks(), working.Say("The question is about a distribution: whether *%s* may follow **%s** one. The cases are counted in classes, and the counts compared with those that the distribution expects.", inSentence(s.response.Label), s.article()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// parameterWords are the symbol of each parameter, its label, what it is, and its noun.
var parameterWords = map[string][4]string{
	"rate":        {`\lambda`, "Rate", "How many events come in a unit of the variable: 1 over the mean.", "rate"},
	"mean":        {`\mu`, "Mean of the distribution", "About which its values lie.", "mean"},
	"sd":          {`\sigma`, "Standard deviation of the distribution", "How far its values typically lie from the mean.", "standard deviation"},
	"min":         {"a", "Smallest value", "Where the distribution begins.", "smallest value"},
	"max":         {"b", "Largest value", "Where it ends.", "largest value"},
	"trials":      {"m", "Trials", "Of each case.", "number of trials"},
	"probability": {`\pi`, "Probability of a success", "In each trial.", "probability of a success"},
}

func (s *fitted) data() {
	if s.values != nil {
		t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.values), Columns: []working.Column{
			{ID: "case", Label: "case", Numeric: true}, {ID: "response", Label: s.response.Label, Unit: s.unit, Numeric: true}}}
		t.Row = func(i int) working.Row { return working.Row{wholeCell(s.cases[i]), entered(s.values[i], s.decimals)} }
		s.Table(t)
		s.Column("cases/*/response", s.values)
	}
	series := s.Series("cases/*/response", "x_{i}", s.decimals)
	var nExpr formula.Expr
	if s.values != nil {
		nExpr = formula.Count{Column: series}
	}
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many there are."}, working.Whole, float64(s.stats.N), nExpr)
	shown := []working.Ref{"n"}
	if s.values != nil {
		s.Define(working.Quantity{ID: "sample_mean", Symbol: `\bar{x}`, Label: "Mean", Unit: s.unit, Says: "Of the cases."}, working.Measure, s.moments.Mean, formula.Quotient{Over: formula.Total{Column: series}, Under: formula.Ref("n")})
		shown = append(shown, "sample_mean")
		if !math.IsNaN(s.moments.SD) {
			s.Define(working.Quantity{ID: "sample_sd", Symbol: "s", Label: "Standard deviation", Unit: s.unit, Says: "Of the cases, with the divisor n − 1."}, working.Measure, s.moments.SD, formula.Root{X: formula.Quotient{
				Over: formula.Deviations{Column: series, Centre: "sample_mean", Power: 2}, Under: formula.Subtract(formula.Ref("n"), formula.Num(1))}})
			shown = append(shown, "sample_sd")
		}
	}
	blocks := []working.Block{working.Say("%s.", upperFirst(count(s.given, "case")))}
	if left := s.given - s.stats.N; left > 0 {
		blocks[0] = working.Say("%s in all, of which @{n} used. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	blocks = append(blocks, working.Values{Quantities: shown})
	if s.values != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, "n = "+s.Show("n"), blocks...)
}

// finite returns the ends of a class where they can be drawn: the outer boundaries in
// place of infinite ends.
func (s *fitted) finite(i int) (low, high float64) {
	low, high = s.classes[i].Low, s.classes[i].High
	if math.IsInf(low, -1) {
		low = s.boundaries[i]
	}
	if math.IsInf(high, 1) {
		high = s.boundaries[i+1]
	}
	return low, high
}

// look draws the histogram of the classes with what the distribution expects.
func (s *fitted) look() {
	f := &working.Figure{ID: "look", Form: working.Histogram, Title: s.response.Label, Axis: working.Axis{Label: s.response.Label, Unit: s.unit}, Up: &working.Axis{Label: "cases", Min: 0}}
	from, _ := s.finite(0)
	_, to := s.finite(len(s.classes) - 1)
	var widths []float64
	for i := range s.classes {
		low, high := s.finite(i)
		widths = append(widths, high-low)
	}
	unit := widths[len(widths)/2] // bars of other classes are drawn as high as their share of it
	most := 0.0
	var says []string
	for i, c := range s.classes {
		low, high := s.finite(i)
		scale := unit / widths[i]
		e := float64(s.stats.N) * c.Probability
		o := float64(c.Observed)
		most = math.Max(most, scale*math.Max(o, e))
		f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, X: working.Positions(low, high), Y: working.Positions(o * scale)},
			working.Mark{Shape: working.Bar, Role: working.Expected, X: working.Positions(low, high), Y: working.Positions(e * scale)})
		says = append(says, fmt.Sprintf("%s: %d, expected %s", s.className(c.Low, c.High), c.Observed, working.FormatNumber(e, 1)))
	}
	if d, ok := s.distribution.(dist.Distribution); ok {
		line := working.Mark{Shape: working.Line, Role: working.Expected}
		for i := range 121 {
			x := from + (to-from)*float64(i)/120
			if y := d.Density(x) * float64(s.stats.N) * unit; !math.IsInf(y, 0) {
				line.X, line.Y = append(line.X, working.Number(x)), append(line.Y, working.Number(y))
				most = math.Max(most, y)
			}
		}
		f.Marks = append(f.Marks, line)
	}
	if s.values != nil {
		f.Handles = s.handles(unit)
	}
	f.Axis.Min, f.Axis.Max, f.Up.Max = working.Number(from), working.Number(to), working.Number(most*1.05)
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	rule := "The classes are those that were given."
	if s.chosen {
		rule = "The classes follow a rule: 1 + log₂ n of them, rounded up, with a round width."
	}
	s.Step(working.Look, fmt.Sprintf("%d classes", len(s.classes)), working.FigureBlock{Figure: "look", Actions: s.tries()},
		working.Say("Solid is what was counted; the outlines and the curve are what the fitted distribution expects. %s", rule))
}

// handles let the boundaries between classes be moved, each between its neighbours.
func (s *fitted) handles(width float64) []working.Handle {
	among := working.Positions(s.boundaries...)
	step := math.Pow10(int(math.Floor(math.Log10(width / 10))))
	if _, whole := s.distribution.(dist.Discrete); whole {
		step = 1
	}
	var handles []working.Handle
	for i := 1; i < len(among)-1; i++ {
		low, high := s.boundaries[i-1]+step, s.boundaries[i+1]-step
		handles = append(handles, working.Handle{ID: fmt.Sprintf("boundary_%d", i), Label: fmt.Sprintf("Boundary %d of the classes", i), Pointer: problem.Pointer("options", "boundaries"),
			At: among[i], Min: working.Number(s.farthest(i, low, step)), Max: working.Number(s.farthest(i, high, step)), Step: working.Number(step), Among: among, Index: i})
	}
	return handles
}

// farthest returns how far a boundary may be moved toward a place, in steps, so that the classes
// still leave degrees of freedom.
func (s *fitted) farthest(boundary int, toward, step float64) float64 {
	serves := func(at float64) bool {
		other := *s
		other.classes, other.bins = nil, nil
		moved := slices.Clone(s.boundaries)
		moved[boundary] = at
		return other.classify(moved, nil) == nil
	}
	if serves(toward) {
		return toward
	}
	at := s.boundaries[boundary]
	if toward < at {
		step = -step
	}
	steps := sort.Search(int((toward-at)/step), func(n int) bool { return !serves(at + float64(n+1)*step) })
	return at + float64(steps)*step
}

// className names a class: "0 to 60", "300 or more".
func (s *fitted) className(low, high float64) string {
	if _, whole := s.distribution.(dist.Discrete); whole && !math.IsInf(high, 1) {
		first, last := math.Ceil(low), math.Ceil(high)-1
		if high == s.high { // the last class holds the end of the support too
			last = high
		}
		if last <= first {
			return working.FormatShortest(first)
		}
		return working.FormatShortest(first) + " to " + working.FormatShortest(last)
	}
	switch {
	case math.IsInf(low, -1):
		return "below " + working.FormatShortest(high)
	case math.IsInf(high, 1):
		return working.FormatShortest(low) + " or more"
	}
	return working.FormatShortest(low) + " to " + working.FormatShortest(high)
}

func (s *fitted) hypotheses() {
	estimate := map[string]formula.Expr{
		"rate": formula.Quotient{Over: formula.Num(1), Under: formula.Ref("sample_mean")}, "mean": formula.Ref("sample_mean"), "sd": formula.Ref("sample_sd"),
		"probability": formula.Quotient{Over: formula.Ref("sample_mean"), Under: formula.Ref("trials")},
	}
	var words []string
	for _, name := range parametersOf[s.name] {
		w := parameterWords[name]
		display, expr, says := working.Given, formula.Expr(nil), w[2]+" Given in the problem."
		if slices.Contains(s.estimated, name) {
			display, expr, says = working.Measure, estimate[name], w[2]+" Estimated from the cases."
			if name == "rate" || name == "probability" {
				display = working.Ratio
			}
		}
		unit := s.unit
		if name == "trials" || name == "probability" || name == "rate" {
			unit = ""
		}
		s.Define(working.Quantity{ID: working.Ref(name), Symbol: w[0], Label: w[1], Unit: unit, Says: says}, display, s.parameters[name], expr)
		origin := "given"
		if slices.Contains(s.estimated, name) {
			origin = "estimated"
		}
		words = append(words, fmt.Sprintf("the %s of @{%s} (%s)", w[3], name, origin))
	}
	s.Define(working.Quantity{ID: "parameters_estimated", Symbol: "k", Label: "Parameters estimated", Says: "Each one takes a degree of freedom: the fitted distribution has come nearer to the cases by it."}, working.Whole, float64(len(s.estimated)), nil)
	s.hypothesesStep(s.title(), working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \text{` + s.title() + `}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \text{not ` + s.title() + `}`, Words: s.alternativeWords()},
	}, working.Prose{Text: working.Textf(map[bool]string{true: "It has one parameter, ", false: "It has two parameters, "}[len(words) == 1] + listed(words) + ".")},
		working.Say("H₁ leaves open what distribution it is instead: the test has no direction."))
}

func (s *fitted) test() {
	t := &working.Table{ID: "bins", Title: "Classes of " + inSentence(s.response.Label), Key: []string{"class"}, Columns: []working.Column{
		{ID: "class", Label: "class"}, {ID: "low", Label: "from", Numeric: true, Hidden: true}, {ID: "high", Label: "to", Numeric: true, Hidden: true},
		{ID: "observed", Label: "observed", Symbol: "O", Numeric: true},
		{ID: "cdf_low", Label: "F(from)", Symbol: `F(\text{from})`, Numeric: true}, {ID: "cdf_high", Label: "F(to)", Symbol: `F(\text{to})`, Numeric: true},
		{ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `@{n}\cdot(@{cdf_high}-@{cdf_low})`},
		{ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true, Formula: `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`},
		{ID: "merged", Label: "classes merged", Numeric: true}}}
	end := func(x float64) working.Cell {
		if math.IsInf(x, 0) {
			return working.Cell{Value: working.Number(x), Shown: ""}
		}
		return working.Cell{Value: working.Number(x), Shown: working.FormatShortest(x)}
	}
	var rows []working.Row
	var observed []float64
	total := 0.0
	for i, b := range s.bins {
		below, _ := stats.Tails(s.distribution, b.Low)
		belowHigh, _ := stats.Tails(s.distribution, b.High)
		if i == 0 {
			below = 0
		}
		if i == len(s.bins)-1 {
			belowHigh = 1
		}
		rows = append(rows, working.Row{nameCell(s.className(b.Low, b.High)), end(b.Low), end(b.High), wholeCell(b.Observed), s.number(below, 4), s.number(belowHigh, 4),
			s.number(s.stats.Expected[i], 2), s.number(s.stats.Contribution[i], 3), wholeCell(b.Merged)})
		observed = append(observed, float64(b.Observed))
		total += s.stats.Expected[i]
	}
	t.SetRows(rows)
	s.Table(t)
	s.Column("bins/*/observed", observed)
	s.Column("bins/*/contribution", s.stats.Contribution)
	s.Define(working.Quantity{ID: "bins_used", Symbol: "m", Label: "Classes after merging", Says: "Each expects at least as many as is asked for."}, working.Whole, float64(len(s.bins)), formula.Count{Column: s.Series("bins/*/observed", "O", 0)})
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How far all classes together lie from what the distribution expects."},
		working.Ratio, s.stats.ChiSquare, formula.Total{Column: s.Calculated("bins/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Classes less one, as the counts add up to n, less one for each parameter that was estimated."},
		working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("bins_used"), formula.Num(1), formula.Ref("parameters_estimated")))
	s.Test(working.Test{Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: chiSquareFamily, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "counts at least this far from the expected ones"})
}

func (s *fitted) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: no case tells anything about another. The numbers cannot show this."))
	var names []string
	for _, b := range s.bins {
		names = append(names, s.className(b.Low, b.High))
	}
	s.expectedCells(s.stats.Expected, names, "Merge more classes.")
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "expected-counts"})
}

// mergedWords says which classes were merged.
func (s *fitted) mergedWords() working.Block {
	var parts []string
	for _, b := range s.bins {
		if b.Merged > 1 {
			parts = append(parts, fmt.Sprintf("%s (of %d classes)", s.className(b.Low, b.High), b.Merged))
		}
	}
	if parts == nil {
		return working.Say("No class had to be merged: each *expects* at least %s.", working.FormatShortest(s.least))
	}
	return working.Say("Classes that *expect* fewer than %s were merged with a neighbour: %s. It is the expected count that decides, not the observed one.", working.FormatShortest(s.least), strings.Join(parts, "; "))
}

func (s *fitted) steps() {
	s.Step(working.Statistic, "χ² = "+s.Show("chi_square"),
		working.Say("The expected count of a class is n times its probability: the distribution function at its end less that at its beginning. The first and the last class run to the ends of what is possible, so that the expected counts add up to n."),
		s.mergedWords(), working.TableBlock{Table: "bins"}, working.FormulaBlock{Quantity: "chi_square"}).Opens = "chi_square"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: @{bins_used} classes, less one because the counts add up to n, less @{parameters_estimated} for the parameters that were estimated. They come from the classes, not from the cases.")}, s.printedChiSquare()...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(), s.nullWords())
	used := count(s.stats.N, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.", used, s.alternativeWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. They go with it, and may go with other distributions too.", used, s.alternativeWords()))
	}
	report := working.Textf("%s against %s distribution, *χ*²(@{df}, *N* = @{n}) = @{chi_square}, *p* %s@{p}.", upperFirst(inSentence(s.response.Label)), s.article(), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The degrees of freedom and the number of cases in brackets, then the statistic and p."))
	s.Conclude(s.conclusion, report)
	blocks := []working.Block{working.Say("**Another distribution?** Not rejecting one does not single it out. Another can be tried on the same classes, beside the picture or under the curve.")}
	s.Step(working.FollowUp, "", blocks...)
}
