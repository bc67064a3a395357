package write

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/procedure/cases"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// A Shape is what a test of means takes for granted of the shape of cases, as the condition
// “normality” judges and words it.
type Shape struct {
	Samples  []cases.Spread
	Cases    string // what a lone sample is called: “these cases”, “the differences”
	Estimate string // what must nearly be normal: “their mean”, “the difference of the means”
	Symbol   string // of the statistic: t
	Skewness float64
	Ref      working.Ref // the quantity that is the skewness; "" where it is none
}

// Looked is what W of Shapiro and Wilk says of samples.
type Looked struct {
	Shape   stats.Shape
	Without []cases.Spread // those that W cannot be had for
	Few     bool           // whether a sample has fewer cases than show anything but gross departures

	rejects []string // the names of the samples that are not normal
	words   []string // of each sample that W can be had for
}

// grossOnly is up to where W finds hardly anything but gross departures.
const grossOnly = 15

// LookAtShape tests the shape of each sample by W.
func LookAtShape(samples []cases.Spread) Looked {
	var l Looked
	for _, one := range samples {
		if !one.HasShape() {
			l.Without = append(l.Without, one)
			continue
		}
		n := len(one.Values)
		test := one.Normality()
		found := fmt.Sprintf("W = %s, %s", working.FormatNumber(test.W, 3), working.PWords(test.P, stats.ShapeLevel))
		if one.Name != "" {
			found = one.Name + ": " + found
		}
		l.words = append(l.words, found)
		l.Few = l.Few || n < grossOnly
		if test.P <= stats.ShapeLevel {
			l.rejects = append(l.rejects, one.Name)
			l.Shape.Rejected = true
			l.Shape.Few = l.Shape.Few || n < stats.FewCases
		}
	}
	return l
}

// Says puts what W finds into words, without a stop. cases names a lone sample.
func (l *Looked) Says(cases string) string {
	numbers := " (" + strings.Join(l.words, "; ") + ")"
	switch {
	case l.words == nil:
		return "W cannot be had here"
	case l.rejects == nil:
		return "W finds nothing against a normal shape" + numbers
	case l.rejects[0] == "":
		return "W finds that " + cases + " are not normal" + numbers
	case len(l.rejects) == 1:
		return "W finds that " + l.rejects[0] + " is not normal" + numbers
	}
	return "W finds that " + words.Listed(l.rejects) + " are not normal" + numbers
}

// FewWords adds that so few cases show little.
func (l *Looked) FewWords() string {
	if l.Few {
		return " So few cases show gross departures only."
	}
	return ""
}

// ShapeCondition judges the shape behind a test of means: by the skewness of what is tested and,
// where cases are few, by W, whose verdict is told in any case. Where the two differ it is said
// why.
func (s *Sheet) ShapeCondition(shape Shape) {
	found := LookAtShape(shape.Samples)
	found.Shape.Skewness, found.Shape.OneTail = shape.Skewness, s.Direction.Directed()
	w := found.Says(shape.Cases)
	for _, one := range found.Without {
		if n := len(one.Values); n < stats.MinNormality && one.Name != "" {
			w += fmt.Sprintf("; too few cases of %s show any", one.Name)
		}
	}
	status, before, after := shape.judge(&found, w)
	size := working.Textf("its skewness is %s", working.FormatNumber(shape.Skewness, 2))
	if shape.Ref != "" {
		size = working.Textf("its skewness is @{%s|%s}", shape.Ref, working.FormatNumber(shape.Skewness, 2))
	}
	s.Condition("normality", status, working.Join(working.Textf("%s (", before), size, working.Textf(after)), s.Instead...)
}

// judge returns the status, and what is said before and after the skewness. w is what W finds.
func (shape *Shape) judge(found *Looked, w string) (status working.Status, before, after string) {
	cases := "with these cases"
	if len(shape.Samples) == 1 {
		cases = "with " + words.Count(len(shape.Samples[0].Values), "case")
	}
	harmless := fmt.Sprintf(", and up to %s does little harm)", working.FormatShortest(found.Shape.Limit()))
	use := func(verdict string) string { return fmt.Sprintf("$%s$ %s", shape.Symbol, verdict) }
	switch verdict := found.Shape.Judge(); {
	case verdict == stats.ShapeFails:
		return working.NotMet, fmt.Sprintf("%s; %s their skewness leaves %s strongly lopsided", w, cases, shape.Estimate),
			harmless + ": " + use("cannot be relied on here.")
	case math.Abs(shape.Skewness) > found.Shape.Limit():
		return working.Doubtful, fmt.Sprintf("%s; %s their skewness leaves %s lopsided", w, cases, shape.Estimate),
			harmless + ": " + use("is doubtful here.")
	case verdict == stats.ShapeDoubtful:
		return working.Doubtful, fmt.Sprintf("%s. By the skewness that they show %s would nearly be", w, shape.Estimate),
			harmless + ", but so few cases show their skewness badly: " + use("is doubtful here.")
	case found.Shape.Rejected:
		return working.Met, fmt.Sprintf("%s; %s and this skewness %s nearly is", w, cases, shape.Estimate),
			harmless + ", so " + use("may be used.")
	}
	return working.Met, fmt.Sprintf("%s, and by the skewness of the cases %s nearly is normal", w, shape.Estimate),
		harmless + "." + found.FewWords()
}
