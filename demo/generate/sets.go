package main

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/export"
)

// column describes a column of a demo data set.
func column(name, label, unit string, kind data.Kind) *data.Column {
	return &data.Column{Name: name, Label: label, Unit: unit, Kind: kind}
}

// addRow appends a cell to each column.
func addRow(s *data.Set, cells ...string) {
	for i, cell := range cells {
		s.Columns[i].Cells = append(s.Columns[i].Cells, cell)
	}
}

func fixed(x float64, decimals int) string { return strconv.FormatFloat(x, 'f', decimals, 64) }

// pick draws an index with the given weights.
func pick(rng *rand.Rand, weights ...float64) int {
	sum := 0.0
	for _, w := range weights {
		sum += w
	}
	at := rng.Float64() * sum
	for i, w := range weights {
		if at -= w; at < 0 {
			return i
		}
	}
	return len(weights) - 1
}

// crossings has what a season's log holds, with three slips of the pen: a ferry's
// name, a decimal point and a letter for a digit.
func crossings(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "120 crossings of a season's log: what was carried, the wind, the time and the fuel. " +
		"Three slips of the pen wait to be found.",
		Columns: []*data.Column{
			column("crossing", "Crossing", "", data.Identifier),
			column("ferry", "Ferry", "", data.Category), column("route", "Route", "", data.Category),
			column("vehicles", "Vehicles", "", data.Number), column("wind", "Wind", "m/s", data.Number),
			column("minutes", "Crossing time", "min", data.Number), column("fuel", "Fuel", "L", data.Number),
			column("takings", "Takings", "crowns", data.Number), column("delay", "Delay", "min", data.Number),
			column("on time", "On time", "", data.Category),
		}}
	s.Columns[7].Scale = 100
	s.Columns[9].Levels = []string{"yes", "no"}
	ferries, routes := []string{"Dunlin", "Puffin", "Turnstone"}, []string{"Mole–Lantern", "Quarry–Saltgate"}
	thirst := []float64{0, 1.8, -1.2}
	for i := range 120 {
		ferry, route := pick(rng, 5, 4, 3), pick(rng, 3, 2)
		vehicles := 6 + rng.IntN(23)
		wind := math.Max(0.4, 7.2+3.1*rng.NormFloat64())
		minutes := []float64{31, 36}[route] + 0.42*wind + 1.5*rng.NormFloat64()
		fuel := 6.5 + 0.83*minutes + 0.16*float64(vehicles) + 0.38*wind + thirst[ferry] + 1.5*rng.NormFloat64()
		takings := 2.1 + 0.62*float64(vehicles) + 0.9*rng.NormFloat64()
		delay := math.Max(0, math.Round(0.55*wind-1.6+2.4*rng.NormFloat64()))
		onTime := "yes"
		if delay > 5 {
			onTime = "no"
		}
		cells := []string{fmt.Sprintf("K%03d", i+1), ferries[ferry], routes[route], fmt.Sprint(vehicles), fixed(wind, 1), fixed(minutes, 1),
			fixed(fuel, 1), fixed(takings, 1), fixed(delay, 0), onTime}
		switch i {
		case 37:
			cells[1] = "Pufin"
		case 71:
			cells[7] = fixed(math.Round(takings*10)*10/10, 0)
		case 103:
			cells[8] = "1o"
		}
		addRow(s, cells...)
	}
	return s
}

// boarding has unequal group sizes and piers that differ.
func boarding(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Minutes that 46 sailings took to board, at four piers.",
		Columns: []*data.Column{column("pier", "Pier", "", data.Category), column("minutes", "Boarding time", "min", data.Number)}}
	s.Columns[0].Levels = []string{"Mole", "Quarry", "Lantern", "Saltgate"}
	means, sizes := []float64{8.4, 9.1, 10.9, 9.5}, []int{14, 11, 12, 9}
	var pier []int
	for i, size := range sizes {
		pier = append(pier, slices.Repeat([]int{i}, size)...)
	}
	rng.Shuffle(len(pier), func(i, j int) { pier[i], pier[j] = pier[j], pier[i] })
	for _, p := range pier {
		addRow(s, s.Columns[0].Levels[p], fixed(means[p]+1.45*rng.NormFloat64(), 1))
	}
	return s
}

// boardingByPier is its twin with one column a pier.
func boardingByPier(long *data.Set) (*data.Set, error) {
	s, err := long.Unstack("minutes", "pier")
	if err != nil {
		return nil, err
	}
	s.About = "The same boarding times with one column a pier."
	return s, nil
}

// outAndBack has pairs whose difference is sure and small.
func outAndBack(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Fuel of the Turnstone on 14 days, outbound and homebound: a difference that is sure, " +
		"and of no great importance.",
		Columns: []*data.Column{column("day", "Day", "", data.Identifier), column("fuel outbound", "Fuel outbound", "L", data.Number),
			column("fuel homebound", "Fuel homebound", "L", data.Number)}}
	for i := range 14 {
		day := 38.6 + 2.6*rng.NormFloat64()
		addRow(s, fmt.Sprintf("%d May", i+2), fixed(day+0.45+0.35*rng.NormFloat64(), 1), fixed(day+0.35*rng.NormFloat64(), 1))
	}
	return s
}

func overhaul(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Fuel of 16 crossings since the Dunlin's engine was overhauled; the maker promised no " +
		"more than 41 L.",
		Columns: []*data.Column{column("fuel", "Fuel per crossing", "L", data.Number)}}
	for range 16 {
		addRow(s, fixed(42.1+1.9*rng.NormFloat64(), 1))
	}
	return s
}

// gaps is exponential, so that a normal distribution does not fit.
func gaps(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Seconds between 81 arriving passengers on a quiet morning: 80 gaps.",
		Columns: []*data.Column{column("gap", "Gap", "s", data.Number)}}
	for range 80 {
		addRow(s, fixed(math.Ceil(47*rng.ExpFloat64()), 0))
	}
	return s
}

// riders has codes with names, eleven missing answers and a combination that is rare.
func riders(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Answers of 240 riders, 11 of them with one answer missing. Ticket and reason are coded " +
		"1, 2, 3.",
		Columns: []*data.Column{
			column("rider", "Rider", "", data.Identifier), column("ticket", "Ticket", "", data.Category),
			column("reason", "Reason", "", data.Category),
			column("satisfied", "Satisfied", "", data.Category), column("age", "Age", "years", data.Number),
		}}
	s.Columns[1].Levels, s.Columns[1].LevelNames = []string{"1", "2", "3"}, map[string]string{"1": "single", "2": "return", "3": "monthly"}
	s.Columns[2].Levels, s.Columns[2].LevelNames = []string{"1", "2", "3"}, map[string]string{"1": "work", "2": "school", "3": "leisure"}
	s.Columns[3].Levels = []string{"yes", "no"}
	missing := rng.Perm(240)[:11]
	tickets := [][]float64{{20, 34, 46}, {14, 30, 56}, {48, 44, 8}}
	for i := range 240 {
		reason := pick(rng, 48, 5, 38) // so few to school that some expected counts are below 5
		ticket := pick(rng, tickets[reason]...)
		satisfied := pick(rng, []float64{70, 74, 80}[ticket], 25)
		age := []float64{41, 17, 46}[reason] + []float64{11, 2.5, 15}[reason]*rng.NormFloat64()
		cells := []string{fmt.Sprintf("R%03d", i+1), fmt.Sprint(ticket + 1), fmt.Sprint(reason + 1), s.Columns[3].Levels[satisfied],
			fixed(math.Max(9, age), 0)}
		if slices.Contains(missing, i) {
			cells[1+rng.IntN(4)] = ""
		}
		addRow(s, cells...)
	}
	return s
}

func lostProperty(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCounts, About: "Things found on board in a summer, by day of the week.",
		Columns: []*data.Column{column("day", "Day", "", data.Category), column("items", "Items", "", data.Number)}}
	expected := []float64{19, 17, 16, 21, 26, 37, 33}
	for i, day := range []string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"} {
		addRow(s, day, fmt.Sprint(poisson(rng, expected[i])))
	}
	return s
}

func whales(rng *rand.Rand) *data.Set {
	s := &data.Set{Form: data.FormCases, About: "Whales that the masters reported on each of 200 days.",
		Columns: []*data.Column{column("sightings", "Sightings", "", data.Number)}}
	for range 200 {
		addRow(s, fmt.Sprint(poisson(rng, 1.4)))
	}
	return s
}

// poisson draws by multiplying uniform numbers (Knuth, The Art of Computer
// Programming, vol. 2, 3.4.1).
func poisson(rng *rand.Rand, mean float64) int {
	n := 0
	for p := rng.Float64(); p > math.Exp(-mean); p *= rng.Float64() {
		n++
	}
	return n
}

// titles are what the data sets are called, by their files.
var titles = map[string]string{
	"boarding": "Boarding times", "boarding-by-pier": "Boarding times, a column a pier", "crossings": "Crossings",
	"gaps": "Gaps between passengers", "lost-property": "Lost property", "out-and-back": "Out and back", "overhaul": "After the overhaul",
	"riders": "Riders", "two-berths": "Two berths", "whales": "Whale sightings",
}

// writeSet writes the cells as CSV and what is said of the columns as JSON.
func writeSet(name string, s *data.Set) error {
	s.Name = titles[name]
	s.AssignKeys()
	file, err := os.Create("data/" + name + ".csv")
	if err != nil {
		return err
	}
	if err := export.Write(file, s, export.CSV); err != nil {
		return err
	}
	if err := file.Close(); err != nil {
		return err
	}
	bare := *s
	bare.Columns = nil
	for _, c := range s.Columns {
		described := *c
		described.Cells = []string{}
		bare.Columns = append(bare.Columns, &described)
	}
	text, err := json.Marshal(&bare, json.Deterministic(true), jsontext.WithIndent("  "))
	if err != nil {
		return err
	}
	return os.WriteFile("data/"+name+".json", append(text, '\n'), 0o644)
}
