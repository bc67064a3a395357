package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/stats"
	"grund/internal/working"
)

// shapeJudged is what a test of means takes for granted of the shape of cases, as the condition
// “normality” judges and words it.
type shapeJudged struct {
	samples  []spread
	cases    string // what a lone sample is called: “these cases”, “the differences”
	estimate string // what must nearly be normal: “their mean”, “the difference of the means”
	symbol   string // of the statistic: t
	skewness float64
	ref      working.Ref // the quantity that is the skewness; "" where it is none
	oneTail  bool
}

// wWords writes the test of W of a sample: “W = 0.897, p = 0.0514”.
func wWords(test stats.Normality) string {
	p := working.FormatP(test.P, stats.ShapeLevel, 4)
	if !strings.HasPrefix(p, "<") {
		p = "= " + p
	}
	return fmt.Sprintf("W = %s, p %s", working.FormatNumber(test.W, 3), p)
}

// looked is what W says of samples.
type looked struct {
	shape   stats.Shape
	rejects []string // the names of the samples that are not normal
	words   []string // of each sample that W can be had for
	without []spread // those that it cannot be had for
	few     bool     // whether a sample has fewer cases than show anything but gross departures
}

// grossOnly is up to where W finds hardly anything but gross departures.
const grossOnly = 15

func lookAtShape(samples []spread) looked {
	var l looked
	for _, one := range samples {
		if !hasShape(one) {
			l.without = append(l.without, one)
			continue
		}
		n := len(one.values)
		test := stats.NewNormality(stats.Sorted(one.values))
		words := wWords(test)
		if one.name != "" {
			words = one.name + ": " + words
		}
		l.words = append(l.words, words)
		l.few = l.few || n < grossOnly
		if test.P <= stats.ShapeLevel {
			l.rejects = append(l.rejects, one.name)
			l.shape.Rejected = true
			l.shape.Few = l.shape.Few || n < stats.FewCases
		}
	}
	return l
}

// says puts what W finds into words, without a stop. cases names a lone sample.
func (l *looked) says(cases string) string {
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
	return "W finds that " + listed(l.rejects) + " are not normal" + numbers
}

// shapeCondition judges the shape behind a test of means: by the skewness of what is tested and,
// where cases are few, by W, whose verdict is told in any case. Where the two differ it is said
// why. Ways out are offered wherever the shape does not plainly serve.
func (l *location) shapeCondition(s shapeJudged) {
	found := lookAtShape(s.samples)
	found.shape.Skewness, found.shape.OneTail = s.skewness, s.oneTail
	size := working.Textf("its skewness is %s", working.FormatNumber(s.skewness, 2))
	if s.ref != "" {
		size = working.Textf("its skewness is @{%s|%s}", s.ref, working.FormatNumber(s.skewness, 2))
	}
	limit := working.FormatShortest(found.shape.Limit())
	cases := "with these cases"
	if len(s.samples) == 1 {
		cases = "with " + count(len(s.samples[0].values), "case")
	}
	w := found.says(s.cases)
	for _, one := range found.without {
		if n := len(one.values); n < stats.MinNormality && one.name != "" {
			w += fmt.Sprintf("; too few cases of %s show any", one.name)
		}
	}
	var status working.Status
	var before, after string
	switch verdict := found.shape.Judge(); {
	case verdict == stats.ShapeFails:
		status = working.NotMet
		before, after = fmt.Sprintf("%s; %s their skewness leaves %s strongly lopsided (", w, cases, s.estimate), fmt.Sprintf(", and up to %s does little harm): $%s$ cannot be relied on here.", limit, s.symbol)
	case math.Abs(s.skewness) > found.shape.Limit():
		status = working.Doubtful
		before, after = fmt.Sprintf("%s; %s their skewness leaves %s lopsided (", w, cases, s.estimate), fmt.Sprintf(", and up to %s does little harm): $%s$ is doubtful here.", limit, s.symbol)
	case verdict == stats.ShapeDoubtful:
		status = working.Doubtful
		before, after = fmt.Sprintf("%s. By the skewness that they show %s would nearly be (", w, s.estimate), fmt.Sprintf(", and up to %s does little harm), but so few cases show their skewness badly: $%s$ is doubtful here.", limit, s.symbol)
	case found.shape.Rejected:
		status = working.Met
		before, after = fmt.Sprintf("%s; %s and this skewness %s nearly is (", w, cases, s.estimate), fmt.Sprintf(", and up to %s does little harm), so $%s$ may be used.", limit, s.symbol)
	default:
		status = working.Met
		before, after = fmt.Sprintf("%s, and by the skewness of the cases %s nearly is normal (", w, s.estimate), fmt.Sprintf(", and up to %s does little harm).", limit)
		if found.few {
			after += " So few cases show gross departures only."
		}
	}
	var ways []working.Action
	if status != working.Met || found.shape.Rejected {
		ways = l.instead
	}
	l.Condition("normality", status, working.Join(working.Textf("%s", before), size, working.Textf(after)), ways...)
}

// unseenShape says that a summary, or too few cases, show no shape.
func (l *location) unseenShape(status working.Status, says string, args ...any) {
	l.Condition("normality", status, working.Textf(says, args...), l.instead...)
}
