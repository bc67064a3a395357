package working

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"

	"grund/internal/problem"
	"grund/internal/stats"
)

const (
	// Repetitions is how many samples a simulation draws.
	Repetitions = 5000
	// reports is how many times it says how far it is.
	reports = 50
	// simulationSeed makes every simulation of a problem the same.
	simulationSeed = 20260507
	// simulationBars is about how many bars its picture has.
	simulationBars = 60
)

// A Resampling is a way to draw samples as they could come up if H₀ were true.
type Resampling struct {
	// How says what one repetition does: "The labels Mole and Quarry are shuffled".
	How string
	// Assumes says what is taken for granted with it, and how that differs from what the
	// curve takes for granted.
	Assumes string
	// Sampler returns a new sampler of the statistic that the test is made with.
	Sampler func() stats.Sampler
	// At and Step say that the statistic takes values that lie a whole number of Steps
	// from At; Step is 0 where it may take any.
	At, Step float64
}

// ResampleBy offers a simulation beside the p-value of the test that was made.
func (w *Working) ResampleBy(r Resampling) { w.test.resampling = &r }

// A Simulation is how far a simulation has come. Its bars stand side by side from Low
// on; what lies beyond them is counted in the last on that side.
type Simulation struct {
	Drawn       int    `json:"drawn"`
	Repetitions int    `json:"repetitions"`
	Low         Number `json:"low"`
	Width       Number `json:"width"`
	Counts      []int  `json:"counts"`
	Extreme     []int  `json:"extreme"`    // of each bar's, those as extreme as the sample or more
	AsExtreme   int    `json:"as_extreme"` // of all
	Share       Number `json:"share"`
	Shown       string `json:"shown"` // the share as displayed
	P           Ref    `json:"p"`     // the p-value that it stands beside
	Says        string `json:"says,omitzero"`
	Seed        int    `json:"seed"`
	Observed    Number `json:"observed"`
}

// Simulate draws the samples and reports from time to time how far it is, the last time
// when all are drawn. It stops when report fails or the context is done.
func (w *Working) Simulate(ctx context.Context, report func(*Simulation) error) error {
	t := w.test
	if t == nil || t.resampling == nil {
		return problem.Errors{{Pointer: "/procedure", Says: "this test has no simulation", Instead: "look at the p-value itself"}}
	}
	draw, rng := t.resampling.Sampler(), rand.New(rand.NewPCG(simulationSeed, 0))
	low, width, bars := t.simulationBars()
	left, right := t.extremes()
	// The same sample dealt in another order may differ in the last digits.
	slack := 1e-9 * math.Max(1, math.Abs(t.value))
	s := &Simulation{Repetitions: Repetitions, Low: Number(low), Width: Number(width), Counts: make([]int, bars), Extreme: make([]int, bars),
		P: t.P, Seed: simulationSeed, Observed: Number(t.value)}
	for s.Drawn < Repetitions {
		if err := ctx.Err(); err != nil {
			return err
		}
		x := draw(rng)
		s.Drawn++
		if !math.IsNaN(x) {
			bar := int(math.Max(0, math.Min(float64(bars-1), math.Floor((x-low)/width))))
			s.Counts[bar]++
			if t.tail != problem.Right && x <= left+slack || t.tail != problem.Left && x >= right-slack {
				s.Extreme[bar]++
				s.AsExtreme++
			}
		}
		if s.Drawn%(Repetitions/reports) == 0 {
			s.Share = Number(float64(s.AsExtreme) / float64(s.Drawn))
			s.Shown = FormatNumber(float64(s.Share), 4)
			if s.Drawn == Repetitions {
				s.Says = w.simulationSays(s)
			}
			if err := report(s); err != nil {
				return err
			}
		}
	}
	return nil
}

// simulationBars returns where the bars begin, how wide they are and how many there are.
func (t *madeTest) simulationBars() (low, width float64, bars int) {
	from, to := t.axis(t.value)
	width = (to - from) / simulationBars
	if stepped, ok := t.reference.(stepped); ok {
		width = stepped.Bar()
	} else if step := t.resampling.Step; step > 0 {
		// Bars that hold unequal numbers of values would look like a comb.
		width = math.Ceil(width/step-1e-9) * step
		from = t.resampling.At - step/2 + math.Floor((from-t.resampling.At+step/2)/width)*width
	}
	return from, width, int(math.Ceil((to-from)/width - 1e-9))
}

// simulationSays sets the share beside the p-value.
func (w *Working) simulationSays(s *Simulation) string {
	p := w.pWords()
	if s.AsExtreme == 0 {
		return fmt.Sprintf("None came out as extreme as the sample. With %s that is hardly ever seen in %s.", p, FormatNumber(Repetitions, 0))
	}
	low, high := stats.ShareInterval(w.test.p, Repetitions)
	says := fmt.Sprintf("With %s chance alone leaves the share of %s mostly between %s and %s", p, FormatNumber(Repetitions, 0),
		FormatNumber(low, 4), FormatNumber(high, 4))
	if share := float64(s.Share); share < low || share > high {
		return says + ". It lies outside: what the two ways take for granted differs, and here it shows."
	}
	return says + ", and there it lies: the two ways agree."
}
