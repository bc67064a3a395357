package answer

import (
	"math"
	"strconv"

	"grund/internal/working"
)

// Right returns an answer to an ask that is right, as somebody would type it, "" where there is none.
func (a *Attempt) Right(ask string) string {
	j := a.judge
	if ask == askOwn {
		return j.solution.Conclusion
	}
	if _, right, is := j.choices(ask); is {
		return right
	}
	if n, is := j.number(working.Ref(ask)); is {
		return typedAs(n, n.value)
	}
	return ""
}

// Likely returns wrong answers to an ask that students give: the numbers that known slips lead to, and the other choices.
func (a *Attempt) Likely(ask string) []string {
	j := a.judge
	var likely []string
	if choices, right, is := j.choices(ask); is {
		for _, c := range choices {
			if c.Value != right {
				likely = append(likely, c.Value)
			}
		}
		return likely
	}
	n, is := j.number(working.Ref(ask))
	if !is {
		return nil
	}
	j.begin() // as slips are worked with the student's own numbers, too
	for _, s := range slips {
		for _, x := range s.gives(j, n) {
			typed := typedAs(n, x)
			if read, err := Read(typed, n.reading()); err == nil && n.agrees(read, x) {
				likely = append(likely, typed)
				break
			}
		}
	}
	return likely
}

// typedAs writes a number as somebody types an answer: whole ones whole, others with four significant digits.
func typedAs(n askedNumber, x float64) string {
	if n.whole && x == math.Trunc(x) {
		return strconv.FormatFloat(x, 'f', -1, 64)
	}
	size := math.Abs(x)
	if size < 1e-4 || size >= 1e6 {
		return strconv.FormatFloat(x, 'g', 4, 64)
	}
	return strconv.FormatFloat(x, 'f', max(0, 3-int(math.Floor(math.Log10(size)))), 64)
}
