package server

import (
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/printed"
	"grund/internal/problem"
	"grund/internal/words"
	"grund/internal/working"
)

// PrintedTable is a printed table, whole.
type PrintedTable struct {
	Title   string       `json:"title"`
	Says    string       `json:"says"`
	Corner  string       `json:"corner"`
	Over    string       `json:"over"`
	Columns []string     `json:"columns"`
	Rows    []PrintedRow `json:"rows"`
	Areas   []float64    `json:"areas"` // for which there is a table of its own, where there are several
}

// PrintedRow is a row of one.
type PrintedRow struct {
	Name  string   `json:"name"`
	Cells []string `json:"cells"`
}

// getPrinted returns a printed table: of z, t, χ² or F, of F for an upper area.
func getPrinted(c *echo.Context) error {
	var t *printed.Table
	areas := []float64{}
	switch c.Param("table") {
	case "z":
		t = printed.Normal()
	case "t":
		t = printed.T()
	case "chi-square":
		t = printed.ChiSquare()
	case "f":
		area := 0.05
		if text := c.QueryParam("area"); text != "" {
			x, err := strconv.ParseFloat(text, 64)
			if err != nil || printed.AreaColumn(x) < 0 {
				return problem.Errors{{
					Pointer: "/area", Says: "the area is “" + words.Shorten(text) + "”", Instead: "take 0.1, 0.05, 0.025, 0.01 or 0.005",
				}}
			}
			area = x
		}
		t, areas = printed.F(area), printed.Areas
	default:
		return echo.NewHTTPError(http.StatusNotFound, "There are tables of z, t, chi-square and f.")
	}
	out := PrintedTable{Title: t.Title, Says: t.Says, Corner: t.Corner, Over: t.Over, Areas: areas}
	for j := range t.Columns {
		out.Columns = append(out.Columns, t.ColumnName(j))
	}
	for i := range t.Rows {
		row := PrintedRow{Name: t.RowName(i)}
		for j := range t.Columns {
			row.Cells = append(row.Cells, working.FormatNumber(t.Cell(i, j), t.Decimals))
		}
		out.Rows = append(out.Rows, row)
	}
	return exchange.Write(c, http.StatusOK, out)
}
