package vary

import (
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"

	"grund/internal/data"
	"grund/internal/problem"
)

// A drawing draws the data of a problem anew.
type drawing struct {
	p   *problem.Problem
	of  *worked
	rng *rand.Rand
}

// problem returns the problem with other data.
func (d *drawing) problem() (*problem.Problem, error) {
	next := *d.p
	next.Options = maps.Clone(d.p.Options)
	switch {
	case d.p.Data.Summary != nil:
		next.Data.Summary = d.summary()
	case d.p.Data.Counts != nil:
		next.Data.Counts = d.counts()
	default:
		next.Data.Variables = slices.Clone(d.p.Data.Variables)
		d.cases(next.Data.Variables)
	}
	return &next, nil
}

// role returns the variable that plays a role; nil where none does.
func (d *drawing) role(id string) *data.Variable {
	if names := d.p.Roles[id]; len(names) > 0 {
		return d.p.Data.Variables.Find(names[0])
	}
	return nil
}

// replace puts a variable with other cells in the place of the one of its name.
func replace(in problem.Variables, v *data.Variable) {
	in[slices.IndexFunc(in, func(other *data.Variable) bool { return other.Name == v.Name })] = v
}

// cases draws cases anew, by what the procedure looks at.
func (d *drawing) cases(in problem.Variables) {
	response, group := d.role("response"), d.role("group")
	first, second := d.role("first"), d.role("second")
	switch d.p.Procedure {
	case "regression-simple", "regression-multiple":
		d.line(in, response)
		return
	case "correlation":
		d.together(in, d.p.Roles["variables"])
		return
	case "normality", "chi-square-distribution": // whose shape is the question
		replace(in, d.again(response))
		return
	}
	switch {
	case first != nil && first.Kind == data.Number:
		d.pairs(in, first, second)
	case first != nil:
		d.levels(in, first, second)
	case d.role("row") != nil:
		d.levels(in, d.role("row"), d.role("column"))
	case response.Kind == data.Category && group != nil:
		d.levelsWithin(in, response, group)
	case response.Kind == data.Category:
		d.levels(in, response, nil)
	default:
		replace(in, d.normal(response, group))
	}
}

// number is a variable with other numbers, rounded to its decimals; missing cells stay missing.
func (d *drawing) number(v *data.Variable, draw func(i int) float64) *data.Variable {
	next := *v
	next.Numbers = make([]float64, len(v.Numbers))
	decimals, isPositive := data.MostDecimals(v.Numbers), true
	for _, x := range v.Numbers {
		isPositive = isPositive && !(x < 0)
	}
	for i, x := range v.Numbers {
		if math.IsNaN(x) {
			next.Numbers[i] = x
			continue
		}
		y := draw(i)
		for range 100 { // what was never below 0, as a time, is not drawn there
			if !isPositive || y >= 0 {
				break
			}
			y = draw(i)
		}
		next.Numbers[i] = rounded(y, decimals)
	}
	return &next
}

// rounded rounds to decimals, by way of the digits, so that it is the same on every machine.
func rounded(x float64, decimals int) float64 {
	y, _ := strconv.ParseFloat(strconv.FormatFloat(x, 'f', decimals, 64), 64)
	if y == 0 {
		return 0 // and not −0
	}
	return y
}

// normal draws cases from a normal distribution with the mean and the standard deviation of their group.
func (d *drawing) normal(v, group *data.Variable) *data.Variable {
	groups := map[int][]float64{}
	of := func(i int) int {
		if group == nil {
			return 0
		}
		return group.Codes[i]
	}
	for i, x := range v.Numbers {
		if !math.IsNaN(x) {
			groups[of(i)] = append(groups[of(i)], x)
		}
	}
	means, sds := map[int]float64{}, map[int]float64{}
	for code, xs := range groups {
		means[code], sds[code] = meanAndSD(xs)
	}
	return d.number(v, func(i int) float64 { return means[of(i)] + sds[of(i)]*d.rng.NormFloat64() })
}

// pairs draws the first of each pair, and the second from the differences.
func (d *drawing) pairs(in problem.Variables, first, second *data.Variable) {
	var firsts, differences []float64
	for i, x := range first.Numbers {
		if y := second.Numbers[i]; !math.IsNaN(x) && !math.IsNaN(y) {
			firsts, differences = append(firsts, x), append(differences, y-x)
		}
	}
	mean, sd := meanAndSD(firsts)
	meanDifference, sdDifference := meanAndSD(differences)
	one := d.number(first, func(int) float64 { return mean + sd*d.rng.NormFloat64() })
	two := d.number(second, func(i int) float64 { // of a pair whose first is missing it stands alone
		from := one.Numbers[i]
		if math.IsNaN(from) {
			from = mean
		}
		return from + meanDifference + sdDifference*d.rng.NormFloat64()
	})
	replace(in, one)
	replace(in, two)
}

// again draws cases from those that there are.
func (d *drawing) again(v *data.Variable) *data.Variable {
	var known []float64
	for _, x := range v.Numbers {
		if !math.IsNaN(x) {
			known = append(known, x)
		}
	}
	return d.number(v, func(int) float64 { return known[d.rng.IntN(len(known))] })
}

// line draws the predictors of each case from those observed, together, and the response from what the fit gives for
// them and its spread.
func (d *drawing) line(in problem.Variables, response *data.Variable) {
	fitted := map[int]float64{} // by case, from 0
	t := d.of.Solution.Table("cases")
	var cases []int
	for i := range t.Total {
		row := t.Row(i)
		number, value := -1, math.NaN()
		for k, c := range t.Columns {
			x, ok := row[k].Number()
			switch {
			case !ok:
			case c.ID == "case":
				number = int(x) - 1
			case c.ID == "fitted":
				value = x
			}
		}
		if number >= 0 {
			cases, fitted[number] = append(cases, number), value
		}
	}
	spread := d.of.Value("residual_sd")
	from := make([]int, response.Len())
	for i := range from {
		from[i] = cases[d.rng.IntN(len(cases))]
	}
	for _, name := range slices.Concat(d.p.Roles["predictor"], d.p.Roles["predictors"]) {
		replace(in, taken(d.p.Data.Variables.Find(name), from))
	}
	inLog := string(d.p.Options["response_scale"]) == `"log"`
	replace(in, d.number(response, func(i int) float64 {
		y := fitted[from[i]] + spread*d.rng.NormFloat64()
		if inLog {
			return math.Exp(y)
		}
		return y
	}))
}

// taken is a variable with the cells of other cases; missing cells stay missing.
func taken(v *data.Variable, from []int) *data.Variable {
	next := *v
	next.Numbers, next.Codes = slices.Clone(v.Numbers), slices.Clone(v.Codes)
	for i, k := range from {
		if v.Kind == data.Number && !math.IsNaN(v.Numbers[i]) {
			next.Numbers[i] = v.Numbers[k]
		}
		if v.Kind == data.Category && v.Codes[i] >= 0 {
			next.Codes[i] = v.Codes[k]
		}
	}
	return &next
}

// together draws variables that go with each other: the first from those observed, and each further one from its line
// on the first with the spread about it.
func (d *drawing) together(in problem.Variables, names []string) {
	x := d.p.Data.Variables.Find(names[0])
	one := d.again(x)
	replace(in, one)
	meanX, _ := meanAndSD(x.Numbers)
	for _, name := range names[1:] {
		y := d.p.Data.Variables.Find(name)
		var xs, ys []float64
		for i := range x.Numbers {
			if !math.IsNaN(x.Numbers[i]) && !math.IsNaN(y.Numbers[i]) {
				xs, ys = append(xs, x.Numbers[i]), append(ys, y.Numbers[i])
			}
		}
		slope, intercept, spread := lineOf(xs, ys)
		replace(in, d.number(y, func(i int) float64 {
			at := one.Numbers[i]
			if math.IsNaN(at) {
				at = meanX
			}
			return intercept + slope*at + spread*d.rng.NormFloat64()
		}))
	}
}

// levels draws the categories of each case from the shares of the pairs observed; second may be nil.
func (d *drawing) levels(in problem.Variables, first, second *data.Variable) {
	var known []int
	for i := range first.Codes {
		if first.Codes[i] >= 0 && (second == nil || second.Codes[i] >= 0) {
			known = append(known, i)
		}
	}
	from := make([]int, len(first.Codes))
	for i := range from {
		from[i] = known[d.rng.IntN(len(known))]
	}
	replace(in, taken(first, from))
	if second != nil {
		replace(in, taken(second, from))
	}
}

// levelsWithin draws the category of each case from the shares in its group.
func (d *drawing) levelsWithin(in problem.Variables, v, group *data.Variable) {
	known := map[int][]int{}
	for i := range v.Codes {
		if v.Codes[i] >= 0 {
			known[group.Codes[i]] = append(known[group.Codes[i]], i)
		}
	}
	from := make([]int, len(v.Codes))
	for i := range from {
		from[i] = i
		if among := known[group.Codes[i]]; len(among) > 0 {
			from[i] = among[d.rng.IntN(len(among))]
		}
	}
	replace(in, taken(v, from))
}

// summary draws the mean and the standard deviation of a sample of each group's size.
func (d *drawing) summary() *problem.Summary {
	next := *d.p.Data.Summary
	next.Groups = slices.Clone(next.Groups)
	for i, g := range next.Groups {
		if g.Mean == nil {
			continue
		}
		sd := 0.0
		if g.SD != nil {
			sd = *g.SD
		} else if d.of.Has("sigma") {
			sd = d.of.Value("sigma")
		}
		next.Groups[i].Mean = new(rounded(*g.Mean+sd/math.Sqrt(g.N)*d.rng.NormFloat64(), data.Decimals(*g.Mean)))
		if g.SD != nil && g.N > 1 {
			next.Groups[i].SD = new(rounded(sd*math.Sqrt(d.chiSquare(g.N-1)/(g.N-1)), data.Decimals(*g.SD)))
		}
	}
	return &next
}

// fewest degrees of freedom, and fewest expected cases, from which the normal curve stands for a sum of many draws.
const many = 5000

// chiSquare draws the sum of so many squared normal numbers.
func (d *drawing) chiSquare(df float64) float64 {
	if df > many {
		return math.Max(0, df+math.Sqrt(2*df)*d.rng.NormFloat64())
	}
	sum := 0.0
	for range int(df) {
		z := d.rng.NormFloat64()
		sum += z * z
	}
	return sum
}

// counts draws counts from the shares observed, with the same number of cases; of two groups with that of each.
func (d *drawing) counts() *problem.Counts {
	next := *d.p.Data.Counts
	next.Observed = d.shared(next.Observed)
	if len(next.Cells) == 0 {
		return &next
	}
	columns := len(next.Cells[0])
	cells := make([][]float64, len(next.Cells))
	if d.p.Procedure == "proportion-two" {
		for i, row := range next.Cells {
			cells[i] = d.shared(row)
		}
	} else {
		all := d.shared(slices.Concat(next.Cells...))
		for i := range cells {
			cells[i] = all[i*columns : (i+1)*columns]
		}
	}
	next.Cells = cells
	return &next
}

// shared parts as many cases as there are among cells by their shares: each cell takes its part of what is left.
func (d *drawing) shared(observed []float64) []float64 {
	left, shares := 0.0, 0.0
	for _, x := range observed {
		left += x
	}
	shares = left
	out := make([]float64, len(observed))
	for i, x := range observed {
		if left <= 0 || shares <= 0 {
			break
		}
		out[i] = d.binomial(left, math.Min(1, x/shares))
		left -= out[i]
		shares -= x
	}
	return out
}

// binomial draws how many of n cases are a success.
func (d *drawing) binomial(n, p float64) float64 {
	if n*p*(1-p) > many {
		x := math.Round(n*p + math.Sqrt(n*p*(1-p))*d.rng.NormFloat64())
		return math.Max(0, math.Min(n, x))
	}
	if p > 0.5 {
		return n - d.binomial(n, 1-p)
	}
	// The gaps between successes follow a geometric distribution.
	count, at := 0.0, 0.0
	if p <= 0 {
		return 0
	}
	for {
		at += math.Floor(math.Log(1-d.rng.Float64())/math.Log1p(-p)) + 1
		if at > n {
			return count
		}
		count++
	}
}

func meanAndSD(xs []float64) (mean, sd float64) {
	n := 0.0
	for _, x := range xs {
		if !math.IsNaN(x) {
			mean += x
			n++
		}
	}
	mean /= n
	for _, x := range xs {
		if !math.IsNaN(x) {
			sd += (x - mean) * (x - mean)
		}
	}
	if n < 2 {
		return mean, 0
	}
	return mean, math.Sqrt(sd / (n - 1))
}

// lineOf fits a line, and returns the spread about it.
func lineOf(xs, ys []float64) (slope, intercept, spread float64) {
	meanX, _ := meanAndSD(xs)
	meanY, _ := meanAndSD(ys)
	var xx, xy, rest float64
	for i, x := range xs {
		xx += (x - meanX) * (x - meanX)
		xy += (x - meanX) * (ys[i] - meanY)
	}
	if xx > 0 {
		slope = xy / xx
	}
	intercept = meanY - slope*meanX
	for i, x := range xs {
		e := ys[i] - intercept - slope*x
		rest += e * e
	}
	return slope, intercept, math.Sqrt(rest / math.Max(1, float64(len(xs)-2)))
}
