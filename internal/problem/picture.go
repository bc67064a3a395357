package problem

import (
	"fmt"
	"slices"

	"grund/internal/words"
)

// A Picture shows one or two variables. What it leaves open is chosen.
type Picture struct {
	Variables Names  `json:"variables"`     // one or two
	Form      string `json:"form,omitzero"` // histogram, boxes, intervals, bars or scatter
	// Width and Start set the classes of a histogram.
	Width  *float64 `json:"width,omitzero"`
	Start  *float64 `json:"start,omitzero"`
	Normal bool     `json:"normal,omitzero"` // whether a normal curve is drawn over a histogram
	Share  Share    `json:"share,omitzero"`  // what bars and crossed tables show
	Stack  bool     `json:"stack,omitzero"`  // whether the bars of a category stand on each other
}

// Share is what a count is a percentage of.
type Share string

const (
	NoShare Share = ""       // the counts themselves
	OfTotal Share = "total"  // percentages of all cases
	OfRow   Share = "row"    // percentages of the row variable's level
	OfCol   Share = "column" // percentages of the column variable's level
)

// MaxPictures is how many pictures a problem keeps.
const MaxPictures = 12

func (p *Problem) checkPictures(errs *Errors) {
	if n := len(p.Pictures); n > MaxPictures {
		errs.Add("/pictures", fmt.Sprintf("there are %d pictures", n), fmt.Sprintf("keep at most %d", MaxPictures))
	}
	for i, picture := range p.Pictures {
		if n := len(picture.Variables); n < 1 || n > 2 {
			errs.Add(Pointer("pictures", i, "variables"), fmt.Sprintf("picture %d is of %d variables", i+1, n), "name one or two")
		}
		if !slices.Contains([]Share{NoShare, OfTotal, OfRow, OfCol}, picture.Share) {
			errs.Add(Pointer("pictures", i, "share"), "share is “"+words.Shorten(string(picture.Share))+"”",
				"it must be “total”, “row” or “column”, or be left out for counts")
		}
	}
}
