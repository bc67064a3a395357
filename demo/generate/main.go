// Command generate writes the Kelpwick data and problem files of the demo, and its class.
// Run it in the folder demo: go run ./generate.
package main

import (
	"fmt"
	"log"
	"math/rand/v2"
	"os"

	"grund/internal/data"
	"grund/internal/problem"
)

// seed fixes everything that is drawn.
const seed = 8420

func main() {
	log.SetFlags(0)
	if err := write(); err != nil {
		log.Fatal(err)
	}
}

// write writes the data sets and problems. Each draws from a stream of its own, so
// that a change in one leaves the others as they are.
func write() error {
	stream := uint64(0)
	rng := func() *rand.Rand {
		stream++
		return rand.New(rand.NewPCG(seed, stream-1))
	}
	if err := twoBerths(rng()); err != nil {
		return err
	}
	long := boarding(rng())
	wide, err := boardingByPier(long)
	if err != nil {
		return err
	}
	for name, set := range map[string]*data.Set{
		"boarding": long, "boarding-by-pier": wide, "crossings": crossings(rng()), "out-and-back": outAndBack(rng()),
		"overhaul": overhaul(rng()), "gaps": gaps(rng()), "riders": riders(rng()), "lost-property": lostProperty(rng()), "whales": whales(rng()),
	} {
		if err := writeSet(name, set); err != nil {
			return fmt.Errorf("data set %s: %w", name, err)
		}
		if err := writeProblemsAbout(name, set); err != nil {
			return err
		}
	}
	return writeClass(rand.New(rand.NewPCG(seed, 1000)))
}

// twoBerths writes the loading times at two berths. The times are set down here,
// with a visibly unequal spread and means so far apart that equal and unequal
// variances disagree at 0.05; the order of the loadings is drawn.
func twoBerths(rng *rand.Rand) error {
	minutes := map[string][]float64{
		"Mole":   {10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2},
		"Quarry": {10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8},
	}
	type loading struct {
		berth   int
		minutes float64
	}
	levels := []data.Level{{Code: "Mole", Name: "Mole"}, {Code: "Quarry", Name: "Quarry"}}
	var loadings []loading
	for i, level := range levels {
		for _, m := range minutes[level.Code] {
			loadings = append(loadings, loading{i, m})
		}
	}
	rng.Shuffle(len(loadings), func(i, j int) { loadings[i], loadings[j] = loadings[j], loadings[i] })

	berth := &data.Variable{Name: "berth", Label: "Berth", Kind: data.Category, Levels: levels, Listed: true}
	time := &data.Variable{Name: "minutes", Label: "Loading time", Unit: "min", Kind: data.Number}
	set := &data.Set{Form: data.FormCases, About: "Minutes that 33 loadings of the Dunlin took, at two berths with a visibly unequal spread.",
		Columns: []*data.Column{column("berth", "Berth", "", data.Category), column("minutes", "Loading time", "min", data.Number)}}
	set.Columns[0].Levels = []string{"Mole", "Quarry"}
	for _, l := range loadings {
		berth.Codes = append(berth.Codes, l.berth)
		time.Numbers = append(time.Numbers, l.minutes)
		addRow(set, levels[l.berth].Code, fixed(l.minutes, 1))
	}
	if err := writeSet("two-berths", set); err != nil {
		return err
	}
	return writeProblem("problems/two-berths.json", &problem.Problem{
		Grund: problem.Format,
		Title: "Do the two berths load at the same speed?",
		Question: "The harbour office timed 33 loadings at two berths. The master of the *Dunlin* says that it makes no difference where " +
			"she ties up. " +
			"Test his claim at α = 0.05.",
		Claim: &problem.Claim{Text: "It makes no difference where she ties up.", Population: "all loadings of the Dunlin",
			Says: problem.Equal},
		Procedure: "t-two-sample",
		Alpha:     0.05,
		Tail:      problem.Both,
		Data:      problem.Data{Variables: problem.Variables{berth, time}},
		Roles:     problem.Roles{"response": {"minutes"}, "group": {"berth"}},
	})
}

func writeProblem(name string, p *problem.Problem) error {
	file, err := problem.Encode(p)
	if err != nil {
		return err
	}
	return os.WriteFile(name, file, 0o644)
}
