package exchange

import (
	"bytes"
	"cmp"
	"io"
	"net/http"

	"github.com/labstack/echo/v5"

	"grund/internal/problem"
)

// PaperPolicy lets a document use what is in it and nothing else. The page of the problem may frame it to print it.
const PaperPolicy = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; base-uri 'none'; form-action 'none'; " +
	"frame-ancestors 'self'"

// papers are the forms in which documents are sent.
var papers = []struct{ format, kind string }{
	{"html", "text/html; charset=utf-8"}, {"odt", "application/vnd.oasis.opendocument.text"}, {"md", "text/markdown; charset=utf-8"},
}

// SendPaper sends a document in the format that is asked for, html where none is: to be read, or with save as a file. What
// no browser reads is a file always.
func SendPaper(c *echo.Context, title string, write map[string]func(io.Writer) error) error {
	format := cmp.Or(c.QueryParam("format"), "html")
	var known []string
	for _, each := range papers {
		if write[each.format] == nil {
			continue
		}
		known = append(known, each.format)
		if each.format != format {
			continue
		}
		var out bytes.Buffer
		if err := write[format](&out); err != nil {
			return err
		}
		header := c.Response().Header()
		header.Set("Content-Security-Policy", PaperPolicy)
		if format != "html" || c.QueryParam("save") != "" {
			header.Set(echo.HeaderContentDisposition, Attachment(title, format))
		}
		return c.Blob(http.StatusOK, each.kind, out.Bytes())
	}
	return problem.Errors{problem.Unknown("/format", "format", format, known)}
}
