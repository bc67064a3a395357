package write

import (
	"math"
	"slices"

	"grund/internal/words"
	"grund/internal/working"
)

// summed are the quantities that sum up the cases and what is estimated, in the order in which a report has
// them, and sized those that say how large it is. The ones that decide stand between.
var (
	summed = []working.Ref{
		"n", "groups", "n_1", "n_2", "mean", "sd", "sigma", "mean_difference", "sd_difference", "mean_1", "sd_1", "mean_2", "sd_2", "variance_1",
		"variance_2", "successes", "proportion", "proportion_1", "proportion_2", "intercept", "slope", "se_slope", "r", "difference", "shift",
		"se",
	}
	sized = []working.Ref{
		"ci_low", "ci_high", "cohen_d", "ratio", "odds_ratio", "odds_ratio_conditional", "phi", "cramers_v", "eta_squared", "omega_squared",
		"r_squared",
		"adjusted_r_squared", "residual_sd",
	}
)

// numbers are the numbers of a report, those that there are.
func (s *Sheet) numbers() []working.Ref {
	var out []working.Ref
	for _, ref := range slices.Concat(summed, s.Deciding(), sized) {
		if s.Has(ref) && !slices.Contains(out, ref) && !math.IsNaN(s.Value(ref)) && !math.IsInf(s.Value(ref), 0) {
			out = append(out, ref)
		}
	}
	return out
}

// ReportStep writes the step with what a paper takes: the line in the style of journals, the sentence with the
// numbers that decide, and the numbers alone. note says what stands in the line.
func (s *Sheet) ReportStep(report working.Text, note string) {
	line := working.ReportLine{Text: report, Sentence: s.conclusion, Numbers: s.numbers()}
	if s.Decided() {
		if s.test != "" {
			line.Text = working.Join(working.Textf("%s: ", words.UpperFirst(s.test)), report)
		}
		line.Sentence = working.Join(s.conclusion, working.Textf(" ("), s.DecidingText(), working.Textf(".)"))
	}
	blocks := []working.Block{line}
	if note != "" {
		blocks = append(blocks, working.Note("%s", note))
	}
	s.Step(working.Report, nil, blocks...)
	s.Conclude(s.conclusion, line.Text)
}
