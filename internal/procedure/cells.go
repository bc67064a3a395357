package procedure

import (
	"math"

	"grund/internal/data"
	"grund/internal/working"
)

// number returns a number that was calculated as a cell, with the decimals that the problem
// asks for or else the given ones.
func (l *location) number(x float64, decimals int) working.Cell {
	if l.p.Decimals != nil {
		decimals = *l.p.Decimals
	}
	return entered(x, decimals)
}

// numberOrNone is number, and a dash where there is none.
func (l *location) numberOrNone(x float64, decimals int) working.Cell {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return working.Cell{Value: working.Number(x), Shown: "–"}
	}
	return l.number(x, decimals)
}

// entered returns a number of the data as a cell, with the decimals with which it was written.
func entered(x float64, decimals int) working.Cell {
	return working.Cell{Value: working.Number(x), Shown: working.FormatNumber(x, decimals)}
}

// pCell returns a p-value as a cell.
func (l *location) pCell(p float64) working.Cell {
	decimals := 0 // what it takes, then
	if l.p.Decimals != nil {
		decimals = *l.p.Decimals
	}
	return working.Cell{Value: working.Number(p), Shown: working.FormatP(p, l.p.Alpha, decimals)}
}

// pCellOrNone is pCell, and a dash where there is none.
func (l *location) pCellOrNone(p float64) working.Cell {
	if math.IsNaN(p) {
		return l.numberOrNone(p, 0)
	}
	return l.pCell(p)
}

// wholeCell returns a count as a cell.
func wholeCell(n int) working.Cell {
	return working.Cell{Value: n, Shown: working.FormatNumber(float64(n), 0)}
}

// nameCell returns a text as a cell.
func nameCell(name string) working.Cell { return working.Cell{Value: name, Shown: name} }

// variableCell returns a variable as a cell, by its name and shown by its title.
func (l *location) variableCell(v *data.Variable) working.Cell {
	return working.Cell{Value: v.Name, Shown: l.called(v)}
}

// called returns the title of a variable, or its name where others in the data have that title
// too.
func (l *location) called(v *data.Variable) string {
	for _, other := range l.p.Data.Variables {
		if other != v && other.Title() == v.Title() {
			return v.Name
		}
	}
	return v.Title()
}
