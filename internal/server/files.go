package server

import (
	"bytes"
	"fmt"
	"net/http"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/export"
	"grund/internal/problem"
	"grund/internal/words"
)

// mediaTypes are those of the files that a data set can be saved as.
var mediaTypes = map[export.Format]string{
	export.CSV: "text/csv; charset=utf-8", export.TSV: "text/tab-separated-values; charset=utf-8",
	export.XLSX: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	export.ODS:  "application/vnd.oasis.opendocument.spreadsheet",
	"json":      "application/json",
}

// exportDataSet sends the data set as a file.
func (s *server) exportDataSet(c *echo.Context, id uuid.UUID) error {
	format := export.Format(c.QueryParam("format"))
	kind, ok := mediaTypes[format]
	if !ok {
		return problem.Errors{{Pointer: "/format", Says: "there is no format “" + words.Shorten(string(format)) + "”",
			Instead: "take csv, tsv, xlsx, ods or json"}}
	}
	d, given, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	if exchange.Known(c, fmt.Appendf(nil, "%s %d %s", id, d.Version, format)) {
		return c.NoContent(http.StatusNotModified)
	}
	name := d.Set.Name
	if name == "" {
		name = "data"
	}
	file := &download{Context: c, kind: kind, name: exchange.Attachment(name, string(format))}
	if format == "json" {
		err = problem.WriteSet(file, given)
	} else {
		err = export.Write(file, d.Set, format)
	}
	if err != nil && file.err == nil {
		return unprocessable(err)
	}
	return file.err
}

// A download is a file that is sent as it is written. Its header goes out with the first byte, so that
// what fails before is still told.
type download struct {
	*echo.Context
	kind, name string
	begun      bool
	err        error // of sending
}

func (d *download) Write(p []byte) (int, error) {
	response := d.Response()
	if !d.begun {
		response.Header().Set(echo.HeaderContentDisposition, d.name)
		response.Header().Set(echo.HeaderContentType, d.kind)
		response.WriteHeader(http.StatusOK)
		d.begun = true
	}
	n, err := response.Write(p)
	d.err = err
	return n, err
}

// exportProblem sends the problem file, with its data in it.
func (s *server) exportProblem(c *echo.Context, id uuid.UUID) error {
	st, err := s.state(c.Request().Context(), id)
	if err != nil {
		return err
	}
	p, err := st.problem.Draft.Problem(st.given)
	if err != nil {
		return err
	}
	file, err := problem.Encode(p)
	if err != nil {
		return err
	}
	if exchange.Known(c, file) {
		return c.NoContent(http.StatusNotModified)
	}
	c.Response().Header().Set(echo.HeaderContentDisposition, exchange.Attachment(p.Title, "json"))
	return c.Stream(http.StatusOK, "application/json", bytes.NewReader(file))
}
