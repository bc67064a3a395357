package main

import (
	"fmt"

	"github.com/go-json-experiment/json/jsontext"

	"grund/demo"
	"grund/internal/data"
	"grund/internal/problem"
)

// problems are the demo problems that are about a data set as it stands, by their names.
var problems = map[string]problem.Problem{
	"overhaul": {
		Title: "Does the overhauled engine keep its maker’s promise?",
		Question: "After the overhaul of the *Dunlin*’s engine its maker promised that a crossing would take no more than 41 L of fuel on average. " +
			"The harbour office wrote down the fuel of 16 crossings. Do they speak against the promise, at α = 0.05?",
		Claim:     &problem.Claim{Text: "A crossing takes no more than 41 L on average.", Population: "all crossings since the overhaul", Is: problem.H0},
		Procedure: "t-one-sample",
		Tail:      problem.Right,
		Roles:     problem.Roles{"response": {"fuel"}},
		Options:   map[string]jsontext.Value{"mean": jsontext.Value("41")},
	},
	"gaps": {
		Title: "Do the gaps between passengers follow a normal curve?",
		Question: "On a quiet morning the harbour office timed the gaps between arriving passengers and plans the gangway crew as if they followed a normal curve. " +
			"Look whether they may, at α = 0.05, and say what the picture shows.",
		Claim:     &problem.Claim{Text: "The gaps follow a normal curve.", Population: "the gaps between passengers on quiet mornings", Is: problem.H0},
		Procedure: "normality",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"gap"}},
	},
	"riders": {
		Title: "Are four of five riders satisfied?",
		Question: "The harbour office says that four of five riders are satisfied. It asked 240 riders; two gave no answer to this question. " +
			"Do the answers speak against the office, at α = 0.05?",
		Claim:     &problem.Claim{Text: "Four of five riders are satisfied.", Population: "all riders", Is: problem.H0},
		Procedure: "proportion-one",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"satisfied"}},
		Options:   map[string]jsontext.Value{"success": jsontext.Value(`"yes"`), "proportion": jsontext.Value("0.8")},
	},
	"riders.by-reason": {
		Title: "Do people who ride to work buy fewer single tickets?",
		Question: "The ticket seller has the impression that people who ride to work buy single tickets less often than people who ride for leisure. " +
			"The harbour office asked 240 riders for their ticket and their reason. Leave those who ride to school out, and test it at α = 0.05. How much less often is it?",
		Claim:     &problem.Claim{Text: "Who rides to work buys single tickets less often.", Population: "all riders", Is: problem.H1},
		Procedure: "proportion-two",
		Tail:      problem.Left,
		Roles:     problem.Roles{"response": {"ticket"}, "group": {"reason"}},
		Options:   map[string]jsontext.Value{"success": jsontext.Value(`"single"`)},
	},
	"out-and-back": {
		Title: "Does the way out take more fuel than the way back?",
		Question: "On 14 days the mate of the *Turnstone* wrote down the fuel of the way out and of the way back. He suspects that the way out, against the current, takes more. " +
			"Test it at α = 0.05, and say whether it matters.",
		Claim:     &problem.Claim{Text: "The way out takes more fuel.", Population: "the crossings of the Turnstone", Is: problem.H1},
		Procedure: "t-paired",
		Tail:      problem.Right,
		Roles:     problem.Roles{"first": {"fuel outbound"}, "second": {"fuel homebound"}},
	},
}

// writeProblemsAbout writes the problems that are about the set.
func writeProblemsAbout(set string, s *data.Set) error {
	for name, p := range problems {
		if demo.SetOf(name) != set {
			continue
		}
		variables, _, mistakes := s.Variables()
		if len(mistakes) > 0 {
			return fmt.Errorf("problem %s: %s", name, mistakes[0].Says)
		}
		if name == "riders.by-reason" {
			p.LeaveOut = casesOf(problem.Variables(variables).Find("reason"), "school", "rides to school")
		}
		p.Grund, p.Alpha, p.Data = problem.Format, 0.05, problem.Data{Variables: variables}
		if err := writeProblem("problems/"+name+".json", &p); err != nil {
			return err
		}
	}
	return nil
}

// casesOf returns the cases of a level, to be left out for a reason.
func casesOf(v *data.Variable, level, reason string) []problem.LeftOut {
	var out []problem.LeftOut
	for i, code := range v.Codes {
		if code >= 0 && v.Levels[code].Name == level {
			out = append(out, problem.LeftOut{Case: i + 1, Reason: reason})
		}
	}
	return out
}
