package procedure

import (
	"fmt"
	"math"
	"strings"
	"unicode"
	"unicode/utf8"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// A group is one of the groups whose responses are compared.
type group struct {
	code    string
	name    string
	letter  string // stands for the group in symbols: M
	moments stats.Moments
	values  []float64         // nil where only a summary is given
	five    stats.FiveNumbers // of the values
	cases   []int             // the 1-based rows of the values
	place   int               // where the group stands in the problem
}

// spread returns the values of the group as what conditions are judged by.
func (g *group) spread() spread { return spread{g.name, g.values, g.cases, g.five} }

// grouped is a response in groups, from cases or from a summary.
type grouped struct {
	groups   []group
	response data.Heading // label and unit
	factor   string       // label of the group variable
	given    int          // cases in the problem
	summary  bool
}

// used returns how many cases the groups hold.
func (g *grouped) used() int {
	sum := 0
	for _, group := range g.groups {
		sum += group.moments.N
	}
	return sum
}

// readGroups returns the response by group. picked, if not nil, are the codes or
// names of the groups to take, in their order; otherwise all that have cases are
// taken, in the order of the levels.
func readGroups(p *problem.Problem, picked []string) (*grouped, error) {
	if p.Data.Summary != nil {
		return readSummaryGroups(p.Data.Summary, picked)
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	factor := p.Data.Variables.Find(p.Roles["group"][0])
	g := &grouped{
		response: data.Heading{Label: response.Title(), Unit: response.Unit},
		factor:   factor.Title(),
		given:    response.Len(),
	}
	byLevel := make([]group, len(factor.Levels))
	for i, level := range factor.Levels {
		byLevel[i] = group{code: level.Code, name: level.Name}
	}
	var values []float64
	var levels []int
	for _, i := range data.Complete(p.LeftOutCases(), response, factor) {
		in := &byLevel[factor.Codes[i]]
		in.values = append(in.values, response.Numbers[i])
		in.cases = append(in.cases, i+1)
		values, levels = append(values, response.Numbers[i]), append(levels, factor.Codes[i])
	}
	nameApart(byLevel)
	moments := stats.GroupMoments(values, levels, len(byLevel))
	for i := range byLevel {
		byLevel[i].moments = moments[i]
		if byLevel[i].moments.N > 0 {
			byLevel[i].five = stats.NewFiveNumbers(stats.Sorted(byLevel[i].values))
		}
	}
	if picked == nil {
		for _, candidate := range byLevel {
			if candidate.moments.N > 0 {
				g.groups = append(g.groups, candidate)
			}
		}
		return g, nil
	}
	for i, wanted := range picked {
		at := factor.FindLevel(wanted)
		if at < 0 {
			return nil, noSuchGroup(i, wanted, factor.Title(), levelNames(factor))
		}
		g.groups = append(g.groups, byLevel[at])
	}
	return g, distinct(g.groups)
}

func readSummaryGroups(s *problem.Summary, picked []string) (*grouped, error) {
	g := &grouped{summary: true, response: data.Heading{Label: "response"}, factor: "group"}
	if s.Response != nil {
		g.response.Unit = s.Response.Unit
		if s.Response.Label != "" {
			g.response.Label = s.Response.Label
		}
	}
	if s.Group != nil && s.Group.Label != "" {
		g.factor = s.Group.Label
	}
	var all []group
	var labels []string
	for i, given := range s.Groups {
		at := func(field string) string { return problem.Pointer("data", "summary", "groups", i, field) }
		label := given.Label
		if label == "" {
			label = fmt.Sprintf("group %d", i+1)
		}
		if given.Mean == nil {
			return nil, problem.Errors{{Pointer: at("mean"), Says: "the mean of “" + problem.Shorten(label) + "” is missing", Instead: "give it"}}
		}
		sd := math.NaN() // of a single case there is none
		switch {
		case given.SD != nil && given.N > 1:
			sd = *given.SD
		case given.SD == nil && given.N > 1:
			return nil, problem.Errors{{Pointer: at("sd"), Says: "the standard deviation of “" + problem.Shorten(label) + "” is missing", Instead: "give it"}}
		}
		g.given += int(given.N)
		labels = append(labels, label)
		all = append(all, group{code: label, name: label, place: i, moments: stats.SummaryMoments(int(given.N), *given.Mean, sd)})
	}
	if picked == nil {
		g.groups = all
		return g, nil
	}
	for i, wanted := range picked {
		found := false
		for j, label := range labels {
			if label == wanted {
				g.groups = append(g.groups, all[j])
				found = true
			}
		}
		if !found {
			return nil, noSuchGroup(i, wanted, g.factor, labels)
		}
	}
	return g, distinct(g.groups)
}

// nameApart adds the code to names that several levels share.
func nameApart(groups []group) {
	count := map[string]int{}
	for _, g := range groups {
		count[g.name]++
	}
	for i := range groups {
		if g := &groups[i]; count[g.name] > 1 {
			g.name += " (" + g.code + ")"
		}
	}
}

func noSuchGroup(i int, wanted, factor string, known []string) error {
	return problem.Errors{{
		Pointer: problem.Pointer("options", "groups", i),
		Says:    fmt.Sprintf("no level of “%s” is “%s” alone", problem.Shorten(factor), problem.Shorten(wanted)),
		Instead: "its levels are " + problem.List(known, "and"),
	}}
}

func distinct(groups []group) error {
	seen := map[string]bool{}
	for i, g := range groups {
		if seen[g.code] {
			return problem.Errors{{Pointer: problem.Pointer("options", "groups", i), Says: "“" + problem.Shorten(g.name) + "” is named twice", Instead: "name different groups"}}
		}
		seen[g.code] = true
	}
	return nil
}

func levelNames(v *data.Variable) []string {
	names := make([]string, len(v.Levels))
	for i, level := range v.Levels {
		names[i] = level.Name
	}
	return names
}

// at returns the place in the problem of what is wrong with a group.
func (g *grouped) at(of *group) string {
	if g.summary {
		return problem.Pointer("data", "summary", "groups", of.place, "sd")
	}
	return "/roles/group"
}

// twoGroups checks that there are two groups with cases.
func (g *grouped) twoGroups() error {
	at, fewer := "/roles/group", "choose a group variable with two levels"
	if g.summary {
		at, fewer = "/data/summary/groups", "give two groups"
	}
	factor := problem.Shorten(g.factor)
	switch n := len(g.groups); {
	case n == 0:
		return problem.Errors{{Pointer: at, Says: "no case has both a value of the response and a group", Instead: "check which variables play which role, and the cases left out"}}
	case n == 1:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has one level only with usable cases, “%s”, and two groups are compared", factor, problem.Shorten(g.groups[0].name)), Instead: fewer}}
	case n > 2:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has %d levels and two groups are compared", factor, n),
			Instead: `pick two with the option “groups”, for example ["` + problem.Shorten(g.groups[0].code) + `", "` + problem.Shorten(g.groups[1].code) + `"]`}}
	}
	return nil
}

// needTwo checks that there are two groups of at least two cases, with some
// spread in one of them.
func (g *grouped) needTwo() error {
	if err := g.twoGroups(); err != nil {
		return err
	}
	at := "/roles/group"
	if g.summary {
		at = "/data/summary/groups"
	}
	for _, group := range g.groups {
		if group.moments.N < 2 {
			if g.summary {
				at = problem.Pointer("data", "summary", "groups", group.place, "n")
			}
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has %s, and a spread needs two", problem.Shorten(group.name), count(group.moments.N, "usable case")), Instead: "give it more cases"}}
		}
		if math.IsInf(group.moments.SD, 0) || math.IsInf(group.moments.Mean, 0) {
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("the numbers of “%s” are too large to calculate with", problem.Shorten(group.name)), Instead: "write them in a larger unit"}}
		}
	}
	if g.groups[0].moments.SD == 0 && g.groups[1].moments.SD == 0 {
		return problem.Errors{{Pointer: at, Says: "neither group has any spread: all values in a group are equal, so there is nothing to measure the difference by", Instead: "check the data"}}
	}
	return nil
}

// letters gives each of two groups a letter for its symbols: the initials where
// they differ, else 1 and 2.
func (g *grouped) letters() {
	initials := make([]string, len(g.groups))
	for i, group := range g.groups {
		if r, _ := utf8.DecodeRuneInString(group.name); unicode.In(r, unicode.Latin) {
			initials[i] = strings.ToUpper(string(r))
		}
	}
	clash := initials[0] == "" || initials[1] == "" || initials[0] == initials[1]
	for i := range g.groups {
		g.groups[i].letter = initials[i]
		if clash {
			g.groups[i].letter = fmt.Sprint(i + 1)
		}
	}
}

// leftOutWords says how many cases are not used, and why: those that a person left
// out by their reasons, then the others of the total, with theirs.
func leftOutWords(leftOut []problem.LeftOut, total int, others string) string {
	var reasons []string
	cases := map[string][]int{}
	for _, left := range leftOut {
		if cases[left.Reason] == nil {
			reasons = append(reasons, left.Reason)
		}
		cases[left.Reason] = append(cases[left.Reason], left.Case)
	}
	var parts []string
	for _, reason := range reasons {
		part := fmt.Sprintf("case %d", cases[reason][0])
		if n := len(cases[reason]); n > 1 {
			part = count(n, "case")
		}
		if reason != "" {
			part += " (" + reason + ")"
		}
		parts = append(parts, part)
	}
	if n := total - len(leftOut); n > 0 {
		parts = append(parts, count(n, "case")+" "+others)
	}
	return strings.Join(parts, "; ")
}

// count returns "1 case" or "3 cases".
func count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	switch {
	case strings.HasSuffix(noun, "y"):
		noun = strings.TrimSuffix(noun, "y") + "ies"
	case strings.HasSuffix(noun, "s"):
		noun += "es"
	default:
		noun += "s"
	}
	return fmt.Sprintf("%d %s", n, noun)
}

// inSentence writes a label as it stands inside a sentence: "Loading time"
// becomes "loading time", "CO₂" stays.
func inSentence(label string) string {
	runes := []rune(label)
	if len(runes) > 1 && unicode.IsUpper(runes[0]) && unicode.IsLower(runes[1]) {
		runes[0] = unicode.ToLower(runes[0])
	}
	return string(runes)
}

// listed joins names, one at least, to a phrase: "a", "a and b", "a, b and c".
func listed(names []string) string {
	last := len(names) - 1
	if last == 0 {
		return names[0]
	}
	return strings.Join(names[:last], ", ") + " and " + names[last]
}

func upperFirst(text string) string {
	runes := []rune(text)
	if len(runes) > 0 {
		runes[0] = unicode.ToUpper(runes[0])
	}
	return string(runes)
}

// direction is the choice of which of two groups comes first. sign stands between
// them, and says is what exchanging them does.
func direction(first, second *group, sign, says string) working.Control {
	order, turned := []string{first.code, second.code}, []string{second.code, first.code}
	return working.Control{
		ID: "groups", Label: "Direction", Key: "g", Pointer: "/options/groups", Beside: working.BesideBrief, Value: order,
		Choices: []working.Choice{
			{Value: order, Label: first.name + sign + second.name},
			{Value: turned, Label: second.name + sign + first.name, Says: says},
		},
	}
}
