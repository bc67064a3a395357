// Command generate writes the Kelpwick data and problem files of the demo.
// Run it in the folder demo: go run ./generate.
package main

import (
	"encoding/csv"
	"fmt"
	"log"
	"math/rand/v2"
	"os"
	"strconv"

	"grund/internal/data"
	"grund/internal/problem"
)

// seed fixes everything that is drawn.
const seed = 8420

func main() {
	log.SetFlags(0)
	rng := rand.New(rand.NewPCG(seed, 0))
	if err := twoBerths(rng); err != nil {
		log.Fatal(err)
	}
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
	rows := [][]string{{"berth", "minutes"}}
	for _, l := range loadings {
		berth.Codes = append(berth.Codes, l.berth)
		time.Numbers = append(time.Numbers, l.minutes)
		rows = append(rows, []string{levels[l.berth].Code, strconv.FormatFloat(l.minutes, 'f', 1, 64)})
	}
	if err := writeCSV("data/two-berths.csv", rows); err != nil {
		return err
	}
	return writeProblem("problems/two-berths.json", &problem.Problem{
		Grund: problem.Format,
		Title: "Do the two berths load at the same speed?",
		Question: "The harbour office timed 33 loadings at two berths. The master of the *Dunlin* says that it makes no difference where she ties up. " +
			"Test his claim at α = 0.05.",
		Claim:     &problem.Claim{Text: "It makes no difference where she ties up.", Population: "all loadings of the Dunlin", Is: problem.H0},
		Procedure: "t-two-sample",
		Alpha:     0.05,
		Tail:      problem.Both,
		Data:      problem.Data{Variables: problem.Variables{berth, time}},
		Roles:     problem.Roles{"response": {"minutes"}, "group": {"berth"}},
	})
}

func writeCSV(name string, rows [][]string) error {
	file, err := os.Create(name)
	if err != nil {
		return err
	}
	w := csv.NewWriter(file)
	if err := w.WriteAll(rows); err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return file.Close()
}

func writeProblem(name string, p *problem.Problem) error {
	file, err := problem.Encode(p)
	if err != nil {
		return err
	}
	return os.WriteFile(name, file, 0o644)
}
