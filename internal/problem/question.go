package problem

import "regexp"

// quoted is a number of the solution that a question quotes: @{n_1}.
var quoted = regexp.MustCompile(`@\{([^{}]{1,200})\}`)

// QuestionWith returns a question with the numbers that it quotes as @{n_1}, each as show gives it; what that does not
// know stays as it is.
func QuestionWith(question string, show func(id string) (shown string, ok bool)) string {
	return quoted.ReplaceAllStringFunc(question, func(match string) string {
		if shown, ok := show(quoted.FindStringSubmatch(match)[1]); ok {
			return shown
		}
		return match
	})
}
