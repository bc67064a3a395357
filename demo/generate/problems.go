package main

import (
	"fmt"
	"strconv"

	"github.com/go-json-experiment/json/jsontext"

	"grund/demo"
	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
)

// problems are the demo problems that are about a data set as it stands, by their names.
var problems = map[string]problem.Problem{
	"overhaul": {
		Title: "Does the overhauled engine keep its maker’s promise?",
		Question: "After the overhaul of the *Dunlin*’s engine its maker promised that a crossing would take no more than 41 L of fuel on " +
			"average. " +
			"The harbour office wrote down the fuel of 16 crossings. Do they speak against the promise, at α = 0.05?",
		Claim: &problem.Claim{Text: "A crossing takes no more than 41 L on average.", Population: "all crossings since the overhaul",
			Says: problem.AtMost},
		Procedure: "t-one-sample",
		Tail:      problem.Right,
		Roles:     problem.Roles{"response": {"fuel"}},
		Options:   map[string]jsontext.Value{"mean": jsontext.Value("41")},
	},
	"gaps": {
		Title: "Do the gaps between passengers follow a normal curve?",
		Question: "On a quiet morning the harbour office timed the gaps between arriving passengers and plans the gangway crew as if they " +
			"followed a normal curve. " +
			"Look whether they may, at α = 0.05, and say what the picture shows.",
		Claim: &problem.Claim{Text: "The gaps follow a normal curve.", Population: "the gaps between passengers on quiet mornings",
			Says: problem.Equal},
		Procedure: "normality",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"gap"}},
	},
	"riders": {
		Title: "Are four of five riders satisfied?",
		Question: "The harbour office says that four of five riders are satisfied. It asked 240 riders; two gave no answer to this question. " +
			"Do the answers speak against the office, at α = 0.05?",
		Claim:     &problem.Claim{Text: "Four of five riders are satisfied.", Population: "all riders", Says: problem.Equal},
		Procedure: "proportion-one",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"satisfied"}},
		Options:   map[string]jsontext.Value{"success": jsontext.Value(`"yes"`), "proportion": jsontext.Value("0.8")},
	},
	"riders.by-reason": {
		Title: "Do people who ride to work buy fewer single tickets?",
		Question: "The ticket seller has the impression that people who ride to work buy single tickets less often than people who ride " +
			"for leisure. " +
			"The harbour office asked 240 riders for their ticket and their reason. Leave those who ride to school out, and test it at α = " +
			"0.05. How much less often is it?",
		Claim:     &problem.Claim{Text: "Who rides to work buys single tickets less often.", Population: "all riders", Says: problem.Smaller},
		Procedure: "proportion-two",
		Tail:      problem.Left,
		Roles:     problem.Roles{"response": {"ticket"}, "group": {"reason"}},
		Options:   map[string]jsontext.Value{"success": jsontext.Value(`"single"`)},
	},
	"riders.ticket": {
		Title: "Does the ticket go with the reason for riding?",
		Question: "The harbour office asked 240 riders for their ticket and their reason for riding; some gave no answer. " +
			"Do the two have to do with each other, at α = 0.05, and where does it lie?",
		Procedure: "chi-square-independence",
		Tail:      problem.Both,
		Roles:     problem.Roles{"row": {"reason"}, "column": {"ticket"}},
	},
	"riders.age": {
		Title: "Are riders of different age with different tickets?",
		Question: "The harbour office wonders whether it should offer tickets by age. It knows ticket and age of 234 riders. Does mean age " +
			"differ between the tickets, at α = 0.05? " +
			"The holders of return tickets look a little older: why may that be no finding?",
		Procedure: "anova-one-way",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"age"}, "group": {"ticket"}},
	},
	"crossings": {
		Title: "What does a longer crossing cost in fuel?",
		Question: "The harbour office wrote down minutes and fuel of 120 crossings. How much more fuel does a minute more take, and what " +
			"is to be expected of a crossing of 40 minutes? " +
			"Does fuel go with the minutes at all, at α = 0.05?",
		Procedure: "regression-simple",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"fuel"}, "predictor": {"minutes"}},
		Options:   map[string]jsontext.Value{"predict_at": jsontext.Value("[40]")},
	},
	"crossings.takings": {
		Title: "Do more vehicles bring more takings?",
		Question: "The purser says that every vehicle brings in the same. Do takings, in hundreds of crowns, go with the number of " +
			"vehicles, at α = 0.05, and how closely?",
		Procedure: "correlation",
		Tail:      problem.Right,
		Roles:     problem.Roles{"variables": {"vehicles", "takings"}},
	},
	"crossings.several": {
		Title: "What makes a crossing take fuel?",
		Question: "Minutes, wind and vehicles may all have to do with the fuel of a crossing. What do they say together, at α = 0.05, and " +
			"is each of them needed beside the others?",
		Procedure: "regression-multiple",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"fuel"}, "predictors": {"minutes", "wind", "vehicles"}},
		Options: map[string]jsontext.Value{"compare": jsontext.Value(`[["minutes"],["minutes","wind"]]`),
			"predict_at": jsontext.Value("[[40,10,15]]")},
	},
	"boarding": {
		Title: "Do all piers board equally fast?",
		Question: "The harbour office timed how long 46 sailings took to board, at four piers. Do the mean times differ, at α = 0.05, and " +
			"between which piers? " +
			"The harbour master had said beforehand that *Lantern*, with its narrow stairs, takes longer than the other three together.",
		Claim:     &problem.Claim{Text: "It takes equally long at every pier.", Population: "all sailings of the season", Says: problem.Equal},
		Procedure: "anova-one-way",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"minutes"}, "group": {"pier"}},
		Options: map[string]jsontext.Value{"contrast": jsontext.Value(
			`{"weights":{"Mole":-0.3333333333333333,"Quarry":-0.3333333333333333,"Lantern":1,"Saltgate":-0.3333333333333333},"tail":"right"}`)},
	},
	"boarding-by-pier": {
		Title:     "Do the piers board equally fast, whatever the shape?",
		Question:  "The same boarding times stand in a sheet with one column a pier. Compare them by ranks, which need no shape, at α = 0.05.",
		Procedure: "rank-k-sample",
		Tail:      problem.Both,
	},
	"boarding.summary": {
		Title: "Do all piers board equally fast? From a summary",
		Question: "A report of the harbour office gives the number of sailings, the mean and the standard deviation of the boarding time " +
			"for each pier, and no more. " +
			"Do the means differ, at α = 0.05?",
		Procedure: "anova-one-way",
		Tail:      problem.Both,
	},
	"lost-property": {
		Title: "Is as much lost on every day of the week?",
		Question: "The clerk for lost property says that people lose things on any day alike. Over a summer he wrote down what was handed " +
			"in on each day. " +
			"Do the counts speak against him, at α = 0.05?",
		Claim:     &problem.Claim{Text: "People lose things on any day alike.", Population: "the summer season", Says: problem.Equal},
		Procedure: "chi-square-fit",
		Tail:      problem.Both,
	},
	"gaps.exponential": {
		Title: "Do passengers come at random?",
		Question: "If passengers arrive at random, the gaps between them follow an exponential distribution. The harbour office timed 80 gaps. " +
			"May they, at α = 0.05?",
		Claim:     &problem.Claim{Text: "Passengers come at random.", Population: "quiet mornings", Says: problem.Equal},
		Procedure: "chi-square-distribution",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"gap"}},
	},
	"whales": {
		Title: "Do whale sightings come at random?",
		Question: "On 200 days the crews counted the whales that they saw. If sightings come at random, one by one, their number on a day " +
			"follows a Poisson distribution. " +
			"May it, at α = 0.05?",
		Claim:     &problem.Claim{Text: "The sightings come at random.", Population: "all days of the season", Says: problem.Equal},
		Procedure: "chi-square-distribution",
		Tail:      problem.Both,
		Roles:     problem.Roles{"response": {"sightings"}},
		Options:   map[string]jsontext.Value{"distribution": jsontext.Value(`"poisson"`)},
	},
	"out-and-back": {
		Title: "Does the way out take more fuel than the way back?",
		Question: "On 14 days the mate of the *Turnstone* wrote down the fuel of the way out and of the way back. He suspects that the way " +
			"out, against the current, takes more. " +
			"Test it at α = 0.05, and say whether it matters.",
		Claim:     &problem.Claim{Text: "The way out takes more fuel.", Population: "the crossings of the Turnstone", Says: problem.Larger},
		Procedure: "t-paired",
		Tail:      problem.Right,
		Roles:     problem.Roles{"first": {"fuel outbound"}, "second": {"fuel homebound"}},
	},
}

// writeProblemsAbout writes the problems that are about the set.
func writeProblemsAbout(set string, s *data.Set) error {
	for name, about := range problems {
		if demo.SetOf(name) != set {
			continue
		}
		draft := problem.NewDraft()
		draft.Title, draft.Question, draft.Procedure, draft.Tail, draft.Alpha = about.Title, about.Question, about.Procedure, about.Tail, "0.05"
		if about.Claim != nil {
			draft.Claim = *about.Claim
		}
		if about.Roles != nil {
			draft.Roles = about.Roles
		}
		if about.Options != nil {
			draft.Options = about.Options
		}
		if name == "boarding.summary" {
			if err := summarize(draft, s); err != nil {
				return fmt.Errorf("problem %s: %w", name, err)
			}
		}
		if name == "riders.by-reason" {
			draft.LeaveOutWhere = []problem.LeftOutWhere{{Where: `reason == "school"`, Reason: "rides to school"}}
		}
		p, err := draft.Problem(data.Prepare(s))
		if err != nil {
			return fmt.Errorf("problem %s: %w", name, err)
		}
		if err := writeProblem("problems/"+name+".json", p); err != nil {
			return err
		}
	}
	return nil
}

// summarize enters the summary of a set of groups and responses, as a report rounds it.
func summarize(draft *problem.Draft, s *data.Set) error {
	draft.Entry = problem.EnterSummary
	draft.Response, draft.Group = data.Heading{Label: "Boarding time", Unit: "min"}, data.Heading{Label: "Pier"}
	values := map[string][]float64{}
	for i, pier := range s.Columns[0].Cells {
		x, err := strconv.ParseFloat(s.Columns[1].Cells[i], 64)
		if err != nil {
			return err
		}
		values[pier] = append(values[pier], x)
	}
	for _, pier := range s.Columns[0].Levels {
		m := stats.NewMoments(values[pier])
		draft.Summary = append(draft.Summary, problem.DraftGroup{Label: pier, N: strconv.Itoa(m.N), Mean: fixed(m.Mean, 2), SD: fixed(m.SD, 2)})
	}
	return nil
}
