package classroom

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"
	"unicode"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
)

// RosterPreview is how a list of people is read, before any of them lands.
type RosterPreview struct {
	People   []NewcomerView `json:"people"`
	Mistakes problem.Errors `json:"mistakes"` // at /people/3/name
}

// previewRoster reads a list of names and user names: delimited text, with or without a row of names above.
func (r *Classroom) previewRoster(c *echo.Context, id uuid.UUID) error {
	if _, err := r.store.Roster(c.Request().Context(), people.Who(c), id); err != nil {
		return err
	}
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	list, err := readRoster(c.Request().Context(), body)
	if err != nil {
		return err
	}
	preview := RosterPreview{People: list, Mistakes: checked(list)}
	if preview.Mistakes == nil {
		preview.Mistakes = problem.Errors{}
	}
	return exchange.Write(c, http.StatusOK, preview)
}

// readRoster reads people from a table, delimited or a spreadsheet. The columns are found by what stands above them; without that
// the first has the names and the second the user names. Where there is none, it is made from the name.
func readRoster(ctx context.Context, body []byte) ([]NewcomerView, error) {
	no := false
	sheet, err := data.Read(ctx, body, data.Options{Header: &no})
	if err != nil {
		return nil, problem.Errors{{Says: err.Error(), Instead: "give a row for each person: a name and a user name with a comma between"}}
	}
	rows := rowsOf(sheet.Columns)
	name, userName := 0, 1
	if len(rows) > 0 && isHeading(rows[0]) {
		for i, cell := range rows[0] {
			switch {
			case strings.Contains(strings.ToLower(cell), "user"):
				userName = i
			case strings.Contains(strings.ToLower(cell), "name"):
				name = i
			}
		}
		if name == userName {
			userName = -1
		}
		rows = rows[1:]
	}
	if len(rows) > mostAtOnce {
		return nil, problem.TooMany("/people", fmt.Sprintf("there are %d rows", len(rows)), mostAtOnce, "bring them in parts")
	}
	list := []NewcomerView{}
	for _, row := range rows {
		cell := func(at int) string {
			if at < 0 || at >= len(row) {
				return ""
			}
			return strings.TrimSpace(row[at])
		}
		each := NewcomerView{Name: cell(name), UserName: cell(userName)}
		if each.Name == "" && each.UserName == "" {
			continue
		}
		if each.UserName == "" {
			each.UserName = userNameOf(each.Name)
		}
		list = append(list, each)
	}
	return list, nil
}

// rowsOf turns columns into rows.
func rowsOf(columns [][]string) (rows [][]string) {
	for j, column := range columns {
		for i, cell := range column {
			if i == len(rows) {
				rows = append(rows, make([]string, len(columns)))
			}
			rows[i][j] = cell
		}
	}
	return rows
}

// isHeading reports whether a row says what stands below it.
func isHeading(row []string) bool {
	for _, cell := range row {
		if strings.Contains(strings.ToLower(cell), "name") {
			return true
		}
	}
	return false
}

// userNameOf makes a user name from a name: maren.holt from Maren Holt.
func userNameOf(name string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(name),
		func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), ".")
}
