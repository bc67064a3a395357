package cases

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/words"
)

// A Group is one of the groups whose responses are compared.
type Group struct {
	Spread
	Code    string
	Letter  string // stands for the group in symbols: M
	Moments stats.Moments

	place int // where the group stands in the summary
}

// Groups are a response in groups, from cases or from a summary.
type Groups struct {
	Each     []Group
	Response data.Heading // label and unit
	Factor   string       // label of the group variable
	Given    int          // cases in the problem
	Summary  bool
}

// Used returns how many cases the groups hold.
func (g *Groups) Used() int {
	sum := 0
	for i := range g.Each {
		sum += g.Each[i].Moments.N
	}
	return sum
}

// Names returns the names of the groups.
func (g *Groups) Names() []string {
	names := make([]string, len(g.Each))
	for i := range g.Each {
		names[i] = g.Each[i].Name
	}
	return names
}

// Values returns the values of each group.
func (g *Groups) Values() [][]float64 {
	values := make([][]float64, len(g.Each))
	for i := range g.Each {
		values[i] = g.Each[i].Values
	}
	return values
}

// Moments returns the moments of each group.
func (g *Groups) Moments() []stats.Moments {
	moments := make([]stats.Moments, len(g.Each))
	for i := range g.Each {
		moments[i] = g.Each[i].Moments
	}
	return moments
}

// Sizes returns the number of cases of each group.
func (g *Groups) Sizes() []int {
	sizes := make([]int, len(g.Each))
	for i := range g.Each {
		sizes[i] = g.Each[i].Moments.N
	}
	return sizes
}

// Smallest returns the number of cases of the smallest group.
func (g *Groups) Smallest() int { return slices.Min(g.Sizes()) }

// Largest returns the number of cases of the largest group.
func (g *Groups) Largest() int { return slices.Max(g.Sizes()) }

// Spreads returns the values of each group as conditions are judged by them.
func (g *Groups) Spreads() []Spread {
	spreads := make([]Spread, len(g.Each))
	for i := range g.Each {
		spreads[i] = g.Each[i].Spread
	}
	return spreads
}

// Decimals returns with how many decimals the values were entered.
func (g *Groups) Decimals() int {
	decimals := 0
	for i := range g.Each {
		decimals = max(decimals, data.MostDecimals(g.Each[i].Values))
	}
	return decimals
}

// Find returns the place of the group of that code or name; −1 where there is none, or more than
// one of that name.
func (g *Groups) Find(wanted string) int {
	at := slices.IndexFunc(g.Each, func(one Group) bool { return one.Code == wanted })
	if at >= 0 {
		return at
	}
	for i := range g.Each {
		if g.Each[i].Name == wanted {
			if at >= 0 {
				return -1
			}
			at = i
		}
	}
	return at
}

// At returns the place of a value among the groups, the values of all counted through.
func (g *Groups) At(i int) (group *Group, at int) {
	for k := range g.Each {
		group = &g.Each[k]
		if i < len(group.Values) {
			return group, i
		}
		i -= len(group.Values)
	}
	return nil, i
}

// ReadGroups returns the response by group. picked, if not nil, are the codes or names of the
// groups to take, in their order; otherwise all that have cases are taken, in the order of the
// levels.
func ReadGroups(p *problem.Problem, picked []string) (*Groups, error) {
	if p.Data.Summary != nil {
		return readSummaryGroups(p.Data.Summary, picked)
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	factor := p.Data.Variables.Find(p.Roles["group"][0])
	if n := Used(factor); picked == nil && n > problem.MaxGroups {
		return nil, problem.TooMany("/roles/group", fmt.Sprintf("“%s” has %d levels", words.Shorten(factor.Title()), n), problem.MaxGroups,
			"choose another variable, or recode it into fewer groups")
	}
	g := &Groups{
		Response: data.Heading{Label: response.Title(), Unit: response.Unit},
		Factor:   factor.Title(),
		Given:    response.Len(),
	}
	byLevel := groupsByLevel(response, factor, data.Complete(p.LeftOutCases(), response, factor))
	if picked == nil {
		for _, one := range byLevel {
			if one.Moments.N > 0 {
				g.Each = append(g.Each, one)
			}
		}
		return g, nil
	}
	for i, wanted := range picked {
		at := factor.FindLevel(wanted)
		if at < 0 {
			return nil, noSuchGroup(i, wanted, factor.Title(), LevelNames(factor))
		}
		g.Each = append(g.Each, byLevel[at])
	}
	return g, distinct(g.Each)
}

// groupsByLevel puts the response of the rows, from 0, into a group for each level.
func groupsByLevel(response, factor *data.Variable, rows []int) []Group {
	byLevel := make([]Group, len(factor.Levels))
	for i, level := range factor.Levels {
		byLevel[i].Code, byLevel[i].Name = level.Code, level.Name
	}
	values, levels := make([]float64, len(rows)), make([]int, len(rows))
	for k, i := range rows {
		in := &byLevel[factor.Codes[i]]
		in.Values = append(in.Values, response.Numbers[i])
		in.Rows = append(in.Rows, i+1)
		values[k], levels[k] = response.Numbers[i], factor.Codes[i]
	}
	nameApart(byLevel)
	moments := stats.GroupMoments(values, levels, len(byLevel))
	for i := range byLevel {
		g := &byLevel[i]
		g.Moments, g.Spread = moments[i], NewSpread(g.Name, g.Values, g.Rows)
	}
	return byLevel
}

func readSummaryGroups(s *problem.Summary, picked []string) (*Groups, error) {
	if n := len(s.Groups); n > problem.MaxGroups {
		return nil, problem.TooMany("/data/summary/groups", fmt.Sprintf("there are %d groups", n), problem.MaxGroups, "give those to be compared")
	}
	g := &Groups{Summary: true, Response: data.Heading{Label: "response"}, Factor: "group"}
	if s.Response != nil {
		g.Response.Unit = s.Response.Unit
		if s.Response.Label != "" {
			g.Response.Label = s.Response.Label
		}
	}
	if s.Group != nil && s.Group.Label != "" {
		g.Factor = s.Group.Label
	}
	var all []Group
	var labels []string
	for i, given := range s.Groups {
		one, err := summaryGroup(i, given)
		if err != nil {
			return nil, err
		}
		g.Given += one.Moments.N
		all, labels = append(all, one), append(labels, one.Name)
	}
	if picked == nil {
		g.Each = all
		return g, nil
	}
	for i, wanted := range picked {
		found := false
		for j, label := range labels {
			if label == wanted {
				g.Each = append(g.Each, all[j])
				found = true
			}
		}
		if !found {
			return nil, noSuchGroup(i, wanted, g.Factor, labels)
		}
	}
	return g, distinct(g.Each)
}

// summaryGroup returns a group of a summary, which is number i from 0.
func summaryGroup(i int, given problem.SummaryGroup) (Group, error) {
	at := func(field string) string { return problem.Pointer("data", "summary", "groups", i, field) }
	label := given.Label
	if label == "" {
		label = fmt.Sprintf("group %d", i+1)
	}
	if given.Mean == nil {
		return Group{}, problem.Errors{{Pointer: at("mean"), Says: "the mean of “" + words.Shorten(label) + "” is missing", Instead: "give it"}}
	}
	sd := math.NaN() // of a single case there is none
	switch {
	case given.SD != nil && given.N > 1:
		sd = *given.SD
	case given.SD == nil && given.N > 1:
		return Group{}, problem.Errors{{
			Pointer: at("sd"), Says: "the standard deviation of “" + words.Shorten(label) + "” is missing", Instead: "give it",
		}}
	}
	return Group{Code: label, Spread: Spread{Name: label}, place: i, Moments: stats.SummaryMoments(int(given.N), *given.Mean, sd)}, nil
}

// nameApart adds the code to names that several levels share.
func nameApart(groups []Group) {
	count := map[string]int{}
	for _, g := range groups {
		count[g.Name]++
	}
	for i := range groups {
		if g := &groups[i]; count[g.Name] > 1 {
			g.Name += " (" + g.Code + ")"
		}
	}
}

func noSuchGroup(i int, wanted, factor string, known []string) error {
	return problem.Errors{{
		Pointer: problem.Pointer("options", "groups", i),
		Says:    fmt.Sprintf("no level of “%s” is “%s” alone", words.Shorten(factor), words.Shorten(wanted)),
		Instead: "its levels are " + words.Quoted(known, "and"),
	}}
}

func distinct(groups []Group) error {
	seen := map[string]bool{}
	for i, g := range groups {
		if seen[g.Code] {
			return problem.Errors{{
				Pointer: problem.Pointer("options", "groups", i), Says: "“" + words.Shorten(g.Name) + "” is named twice",
				Instead: "name different groups",
			}}
		}
		seen[g.Code] = true
	}
	return nil
}

// Pointer returns the place in the problem of what is wrong with the spread of a group.
func (g *Groups) Pointer(of *Group) string {
	if g.Summary {
		return problem.Pointer("data", "summary", "groups", of.place, "sd")
	}
	return "/roles/group"
}

// places returns the pointer of the groups as a whole: where they are given.
func (g *Groups) places() string {
	if g.Summary {
		return "/data/summary/groups"
	}
	return "/roles/group"
}

// Two checks that there are two groups.
func (g *Groups) Two() error {
	at, fewer := g.places(), "choose a group variable with two levels"
	if g.Summary {
		fewer = "give two groups"
	}
	factor := words.Shorten(g.Factor)
	switch n := len(g.Each); {
	case n == 0:
		return problem.Errors{{
			Pointer: at, Says: "no case has both a value of the response and a group",
			Instead: "check which variables play which role, and the cases left out",
		}}
	case n == 1:
		return problem.Errors{{
			Pointer: at, Instead: fewer,
			Says: fmt.Sprintf("“%s” has one level only with usable cases, “%s”, and two groups are compared", factor,
				words.Shorten(g.Each[0].Name)),
		}}
	case n > 2:
		return problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("“%s” has %d levels and two groups are compared", factor, n),
			Instead: "pick two, “" + words.Shorten(g.Each[0].Name) + "” and “" + words.Shorten(g.Each[1].Name) + "” say",
		}}
	}
	return nil
}

// NeedTwo checks that there are two groups of at least two cases, with some spread in one of
// them.
func (g *Groups) NeedTwo() error {
	if err := g.Two(); err != nil {
		return err
	}
	at := g.places()
	for _, group := range g.Each {
		if group.Moments.N < 2 {
			if g.Summary {
				at = problem.Pointer("data", "summary", "groups", group.place, "n")
			}
			return problem.Errors{{
				Pointer: at, Instead: "give it more cases",
				Says: fmt.Sprintf("“%s” has %s, and a spread needs two", words.Shorten(group.Name), words.Count(group.Moments.N, "usable case")),
			}}
		}
		if err := group.finite(at); err != nil {
			return err
		}
	}
	if g.Each[0].Moments.SD == 0 && g.Each[1].Moments.SD == 0 {
		return problem.Errors{{
			Pointer: at, Instead: "check the data",
			Says: "neither group has any spread: all values in a group are equal, so there is nothing to measure the difference by",
		}}
	}
	return nil
}

// NeedSeveral checks that there are two groups or more, with numbers to calculate with; what is of
// the groups that is compared: "means".
func (g *Groups) NeedSeveral(what string) error {
	at, more := g.places(), "choose a group variable with two levels or more"
	if g.Summary {
		more = "give two groups or more"
	}
	if len(g.Each) < 2 {
		return problem.Errors{{
			Pointer: at, Instead: more,
			Says: fmt.Sprintf("“%s” has %s with usable cases, and %s are compared", words.Shorten(g.Factor),
				words.Count(len(g.Each), "level"), what),
		}}
	}
	for i := range g.Each {
		if err := g.Each[i].finite(at); err != nil {
			return err
		}
	}
	return nil
}

// finite refuses a group whose moments no double holds.
func (g *Group) finite(at string) error {
	if math.IsInf(g.Moments.SD, 0) || math.IsInf(g.Moments.Mean, 0) {
		return problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("the numbers of “%s” are too large to calculate with", words.Shorten(g.Name)),
			Instead: "write them in a larger unit",
		}}
	}
	return nil
}

// Letters returns a letter for each of two names, for symbols: the initials where they differ,
// else 1 and 2.
func Letters(first, second string) (string, string) {
	initial := func(name string) string {
		if r, _ := utf8.DecodeRuneInString(name); unicode.In(r, unicode.Latin) {
			return strings.ToUpper(string(r))
		}
		return ""
	}
	a, b := initial(first), initial(second)
	if a == "" || b == "" || a == b {
		return "1", "2"
	}
	return a, b
}
