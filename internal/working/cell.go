package working

import (
	"math"
	"strconv"

	"grund/internal/problem"
)

// A Cell of a table.
type Cell struct {
	Value any    // a Number, an int or a string
	Shown string // as displayed
	Ref   Ref    // the quantity that opens, if any
}

// number returns the cell's number; NaN where it has none.
func (c Cell) number() float64 {
	switch value := c.Value.(type) {
	case Number:
		return float64(value)
	case int:
		return float64(value)
	}
	return math.NaN()
}

// none is what is shown where there is no number.
const none = "–"

// StatisticCell returns a statistic that was calculated as a cell, with the decimals that the problem
// asks for or else the given ones.
func (w *Working) StatisticCell(x float64, decimals int) Cell {
	return w.numberCell(problem.StatisticNumber, x, decimals)
}

// EstimateCell is StatisticCell for what is estimated.
func (w *Working) EstimateCell(x float64, decimals int) Cell {
	return w.numberCell(problem.EstimateNumber, x, decimals)
}

// ExpectedCell is StatisticCell for an expected count.
func (w *Working) ExpectedCell(x float64, decimals int) Cell {
	return w.numberCell(problem.ExpectedNumber, x, decimals)
}

// PercentCell is StatisticCell for a percentage.
func (w *Working) PercentCell(x float64, decimals int) Cell {
	return w.numberCell(problem.PercentNumber, x, decimals)
}

// StatisticCellOrNone is StatisticCell, and a dash where there is no finite number.
func (w *Working) StatisticCellOrNone(x float64, decimals int) Cell {
	return w.numberCellOrNone(problem.StatisticNumber, x, decimals)
}

// EstimateCellOrNone is EstimateCell, and a dash where there is no finite number.
func (w *Working) EstimateCellOrNone(x float64, decimals int) Cell {
	return w.numberCellOrNone(problem.EstimateNumber, x, decimals)
}

func (w *Working) numberCell(kind problem.NumberKind, x float64, decimals int) Cell {
	return EnteredCell(x, w.askedOr(kind, decimals))
}

func (w *Working) numberCellOrNone(kind problem.NumberKind, x float64, decimals int) Cell {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return Cell{Value: Number(x), Shown: none}
	}
	return w.numberCell(kind, x, decimals)
}

// askedOr returns the decimals that the problem asks for, or else the given ones.
func (w *Working) askedOr(kind problem.NumberKind, decimals int) int {
	if asked, ok := w.problem.Decimals.Of(kind); ok {
		return asked
	}
	return decimals
}

// MeasureCell returns a number in the response's unit as a cell, with a dash where there is none.
func (w *Working) MeasureCell(x float64) Cell {
	if math.IsNaN(x) {
		return NoCell()
	}
	return Cell{Value: Number(x), Shown: w.ShowMeasure(x)}
}

// PCell returns a p-value as a cell.
func (w *Working) PCell(p float64) Cell {
	return Cell{Value: Number(p), Shown: FormatP(p, w.problem.Alpha, w.askedOr(problem.PNumber, DefaultPDecimals))}
}

// PCellOrNone is PCell, and a dash where there is none.
func (w *Working) PCellOrNone(p float64) Cell {
	if math.IsNaN(p) {
		return NoCell()
	}
	return w.PCell(p)
}

// QuantityCell returns a quantity as a cell that opens it.
func (w *Working) QuantityCell(ref Ref) Cell {
	return Cell{Value: Number(w.Value(ref)), Shown: w.Show(ref), Ref: ref}
}

// EnteredCell returns a number of the data as a cell, with the decimals with which it was written.
func EnteredCell(x float64, decimals int) Cell {
	return Cell{Value: Number(x), Shown: FormatNumber(x, decimals)}
}

// ShortestCell returns a number as a cell with the fewest digits that tell it from others.
func ShortestCell(x float64) Cell { return Cell{Value: Number(x), Shown: FormatShortest(x)} }

// WholeCell returns a count as a cell.
func WholeCell(n int) Cell { return Cell{Value: n, Shown: FormatNumber(float64(n), 0)} }

// CaseCell returns the number of a case, its row from 1, as a cell.
func CaseCell(row int) Cell { return Cell{Value: row, Shown: strconv.Itoa(row)} }

// NameCell returns a text as a cell.
func NameCell(name string) Cell { return Cell{Value: name, Shown: name} }

// NoCell is the cell of a number that does not exist, a dash.
func NoCell() Cell { return Cell{Value: Number(math.NaN()), Shown: none} }

// BlankCell is the cell of a number that has no place there.
func BlankCell() Cell { return Cell{Value: Number(math.NaN())} }

// Number returns the cell's number, and whether it has one.
func (c Cell) Number() (x float64, ok bool) {
	x = c.number()
	return x, !math.IsNaN(x)
}
