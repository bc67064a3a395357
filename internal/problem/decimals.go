package problem

import (
	"fmt"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// A NumberKind is a kind of number that a solution shows.
type NumberKind string

const (
	StatisticNumber NumberKind = "statistic" // test statistics, critical values, sums of squares, ratios
	PNumber         NumberKind = "p"
	EstimateNumber  NumberKind = "estimate" // what has the unit of the data, proportions, coefficients
	ExpectedNumber  NumberKind = "expected" // expected counts
	PercentNumber   NumberKind = "percent"
)

// Decimals say how many decimals of each kind of number the text and the tables show; as many as it
// takes where it is not said. In JSON one number stands for all kinds alike.
type Decimals struct {
	Statistic *int `json:"statistic,omitzero"`
	P         *int `json:"p,omitzero"`
	Estimate  *int `json:"estimate,omitzero"`
	Expected  *int `json:"expected,omitzero"`
	Percent   *int `json:"percent,omitzero"`
}

// MostDecimals is the most decimals that are shown.
const MostDecimals = 15

// MostDigits is the most significant digits that an answer can be asked for with.
const MostDigits = 15

// EveryDecimals are the same number of decimals for all kinds.
func EveryDecimals(n int) *Decimals { return &Decimals{&n, &n, &n, &n, &n} }

// Of returns how many decimals numbers of a kind are shown with; ok is false where that is not said.
func (d *Decimals) Of(kind NumberKind) (decimals int, ok bool) {
	if d == nil {
		return 0, false
	}
	n := map[NumberKind]*int{
		StatisticNumber: d.Statistic, PNumber: d.P, EstimateNumber: d.Estimate, ExpectedNumber: d.Expected, PercentNumber: d.Percent,
	}[kind]
	if n == nil {
		return 0, false
	}
	return *n, true
}

// decimalFields are the fields without their way of being read and written.
type decimalFields Decimals

// UnmarshalJSONFrom takes a number for all kinds, or an object by kind.
func (d *Decimals) UnmarshalJSONFrom(from *jsontext.Decoder) error {
	if from.PeekKind() == '{' {
		return json.UnmarshalDecode(from, (*decimalFields)(d))
	}
	var all int
	if err := json.UnmarshalDecode(from, &all); err != nil {
		return err
	}
	*d = *EveryDecimals(all)
	return nil
}

// MarshalJSONTo writes a number where all kinds have the same.
func (d *Decimals) MarshalJSONTo(to *jsontext.Encoder) error {
	if all := d.every(); all != nil {
		return json.MarshalEncode(to, *all)
	}
	return json.MarshalEncode(to, (*decimalFields)(d))
}

// every returns the number that all kinds have; nil where they differ.
func (d *Decimals) every() *int {
	for _, other := range []*int{d.P, d.Estimate, d.Expected, d.Percent} {
		if d.Statistic == nil || other == nil || *other != *d.Statistic {
			return nil
		}
	}
	return d.Statistic
}

// Check refuses numbers of decimals that cannot be.
func (d *Decimals) Check() error {
	var errs Errors
	d.check(&errs)
	return errs.Err()
}

func (d *Decimals) check(errs *Errors) {
	if d == nil {
		return
	}
	wrong := func(at string, n int) {
		errs.Add(at, fmt.Sprintf("decimals is %d", n), fmt.Sprintf("it must be a whole number from 0 to %d", MostDecimals))
	}
	outside := func(n *int) bool { return n != nil && (*n < 0 || *n > MostDecimals) }
	if all := d.every(); all != nil {
		if outside(all) {
			wrong("/decimals", *all)
		}
		return
	}
	for _, kind := range []NumberKind{StatisticNumber, PNumber, EstimateNumber, ExpectedNumber, PercentNumber} {
		if n, ok := d.Of(kind); ok && outside(&n) {
			wrong(Pointer("decimals", string(kind)), n)
		}
	}
}
