package working

import "slices"

// Steps lists all steps in the order of the work. A solution has those of them that its test has.
var Steps = []StepID{Question, Data, Look, Hypotheses, Conditions, Statistic, CriticalValue, PValue, DecisionStep, Conclusion, Report,
	FollowUp}

// Finds returns the quantities that each step shows and none before it does, in the order in which they are worked
// out, by the step: what a person who works the problem finds in it.
//
// What a step is named for is found in it, even where a table before it holds it too.
func (s *Solution) Finds() map[StepID][]Ref {
	finds := map[StepID][]Ref{}
	seen := map[Ref]bool{}
	home := map[Ref]StepID{"critical_low": CriticalValue, "critical_high": CriticalValue}
	if s.Decision != nil {
		home[s.Decision.P] = PValue
	}
	for _, step := range s.Steps {
		if step.ID == Report {
			continue // it only repeats
		}
		var named Names
		named.Text(step.Result)
		for _, block := range step.Blocks {
			block.names(&named)
		}
		shown := map[Ref]bool{}
		for _, ref := range named.Quantities {
			shown[ref] = true
		}
		for _, id := range named.Tables {
			if t := s.Table(id); t != nil && t.Total <= mostFound {
				for _, row := range t.Rows() {
					for _, cell := range row {
						shown[cell.Ref] = true
					}
				}
			}
		}
		for _, q := range s.Quantities {
			if at, is := home[q.ID]; is && at != step.ID && slices.ContainsFunc(s.Steps, func(other *Step) bool { return other.ID == at }) {
				continue
			}
			if shown[q.ID] && !seen[q.ID] {
				seen[q.ID] = true
				finds[step.ID] = append(finds[step.ID], q.ID)
			}
		}
	}
	return finds
}

// mostFound is how many rows a table has at most whose cells a person works out.
const mostFound = 50
