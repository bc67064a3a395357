package cases

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/procedure/describe"
	"grund/internal/words"
)

// The roles of the variables that this package reads.
var (
	// ResponseRole is the number that was measured.
	ResponseRole = describe.Role{
		ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1,
	}
	// GroupRole is the category that tells several groups apart.
	GroupRole = describe.Role{
		ID: "group", Label: "Group", Says: "the category that tells the groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1,
	}
	// TwoGroupsRole is the category that tells two groups apart.
	TwoGroupsRole = describe.Role{
		ID: "group", Label: "Group", Says: "the category that tells the two groups apart",
		Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2,
	}
	// FirstRole and SecondRole are the two measurements of a pair.
	FirstRole = describe.Role{
		ID: "first", Label: "First measurement", Says: "the one that the other is taken from",
		Kinds: []data.Kind{data.Number}, Min: 1, Max: 1,
	}
	SecondRole = describe.Role{
		ID: "second", Label: "Second measurement", Says: "of the same cases, in the same unit",
		Kinds: []data.Kind{data.Number}, Min: 1, Max: 1,
	}
)

// FitsGroups says that a number and a category that parts the cases into groups fit; how is what is
// done with two of the groups.
func FitsGroups(how string) func(describe.Assigned) (string, bool) {
	return fitsParted(func(*data.Variable) string { return "groups" }, how)
}

// FitsSeveralGroups says that a number and a category fit, and into how many groups it parts the
// cases; how is what is done with all of them.
func FitsSeveralGroups(how string) func(describe.Assigned) (string, bool) {
	return fitsParted(func(factor *data.Variable) string { return words.Count(Used(factor), "group") }, how)
}

func fitsParted(into func(factor *data.Variable) string, how string) func(describe.Assigned) (string, bool) {
	return func(assigned describe.Assigned) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into %s: %s.",
			response.Title(), words.InSentence(factor.Title()), into(factor), how), true
	}
}

// GroupsOption binds which two groups are compared, and which comes first.
func GroupsOption(to *[]string, says string) describe.Option {
	return describe.Levels(to, describe.Option{ID: "groups", Label: "Order of the groups", Length: 2, Says: says})
}
