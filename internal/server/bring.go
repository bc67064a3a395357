package server

import (
	"errors"
	"fmt"
	"io"
	"iter"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"grund/internal/bundle"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/words"
)

// Coming is a problem of a file that may be brought in: what it is, and what is wrong in it.
type Coming struct {
	// Name is where in the file it stands, "" where the file is the problem.
	Name           string `json:"name"`
	Title          string `json:"title"`
	Question       string `json:"question"`
	ProcedureTitle string `json:"procedure_title"`
	Cases          int    `json:"cases"`
	// Readable is whether it can be brought in; what is wrong in one that can is mended after.
	Readable bool           `json:"readable"`
	Mistakes problem.Errors `json:"mistakes"`
}

// Brought is a problem that was brought in.
type Brought struct {
	ID      string `json:"id"`
	Version int64  `json:"version"`
	Title   string `json:"title"`
}

// importProblem keeps the problem that a problem file holds, and its data set.
func (s *server) importProblem(c *echo.Context) error {
	file, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	in, err := incoming(file)
	if err != nil {
		return err
	}
	return s.answerImported(c, in)
}

// answerImported keeps one problem with a data set of its own, and sends it.
func (s *server) answerImported(c *echo.Context, one store.Imported) error {
	kept, err := s.store.Import(c.Request().Context(), people.Who(c), func(yield func(store.Imported, error) bool) { yield(one, nil) })
	if err != nil {
		return err
	}
	return s.answerWritten(c, http.StatusCreated, kept[0])
}

// incoming reads a problem file.
func incoming(file []byte) (store.Imported, error) {
	p, err := parsed(file)
	if err != nil {
		return store.Imported{}, err
	}
	return withSet(p)
}

// withSet parts a problem into its draft and its data.
func withSet(p *problem.Problem) (store.Imported, error) {
	draft, set, err := problem.DraftOf(p)
	return store.Imported{Draft: draft, Set: set}, err
}

// parsed reads a problem file that a person gave.
func parsed(file []byte) (*problem.Problem, error) {
	if err := problem.RefuseNUL(file); err != nil {
		return nil, err
	}
	return problem.Parse(file)
}

// bundled returns the problem files of the body, with room for the largest of them taken.
func (s *server) bundled(c *echo.Context) ([]bundle.File, error) {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return nil, err
	}
	files, err := bundle.Read(body)
	if err != nil {
		return nil, err
	}
	if len(files) > 1 {
		// A small archive may unpack to much; one file is in memory at a time.
		err = s.room.take(c.Request().Context(), wholeCost(min(bundle.MaxFile, unpacking*int64(len(body)))))
	}
	return files, err
}

// unpacking is how many times its size a file may unpack to (DEFLATE reaches about a thousand).
const unpacking = 1032

// previewProblems says what a file of problems holds, and keeps nothing.
func (s *server) previewProblems(c *echo.Context) error {
	files, err := s.bundled(c)
	if err != nil {
		return err
	}
	coming := make([]Coming, len(files))
	for i, file := range files {
		if err := c.Request().Context().Err(); err != nil {
			return err
		}
		if coming[i], err = preview(file); err != nil {
			return err
		}
	}
	return exchange.Write(c, http.StatusOK, coming)
}

// preview reads one problem file of several.
func preview(file bundle.File) (Coming, error) {
	coming := Coming{Name: file.Name, Mistakes: problem.Errors{}}
	err := coming.read(file)
	if err != nil && !errors.As(err, &coming.Mistakes) {
		return coming, fmt.Errorf("reading %s: %w", file.Name, err)
	}
	return coming, nil
}

func (coming *Coming) read(file bundle.File) error {
	contents, err := file.Read()
	if err != nil {
		return err
	}
	p, err := parsed(contents)
	if err != nil {
		return err
	}
	coming.Title = p.Title
	coming.Question = problem.QuestionWith(p.Question, func(string) (string, bool) { return "…", true }) // it is not worked here
	if known := procedure.Find(p.Procedure); known != nil {
		coming.ProcedureTitle = known.Title
	}
	in, err := withSet(p)
	if err != nil {
		return err
	}
	coming.Readable, coming.Cases = true, in.Set.Rows()
	return procedure.Check(p)
}

// bringProblems keeps those problems of a file that the query names by their place, all of them or none.
func (s *server) bringProblems(c *echo.Context) error {
	files, err := s.bundled(c)
	if err != nil {
		return err
	}
	taken, err := takenOf(c.QueryParam("take"), len(files))
	if err != nil {
		return err
	}
	kept, err := s.store.Import(c.Request().Context(), people.Who(c), chosen(files, taken))
	if err != nil {
		return err
	}
	brought := make([]Brought, len(kept))
	for i, p := range kept {
		brought[i] = Brought{p.ID.String(), p.Version, p.Draft.Title}
	}
	return exchange.Write(c, http.StatusCreated, brought)
}

// chosen reads the files at the places, one after the other.
func chosen(files []bundle.File, places []int) iter.Seq2[store.Imported, error] {
	return func(yield func(store.Imported, error) bool) {
		for _, at := range places {
			contents, err := files[at].Read()
			var each store.Imported
			if err == nil {
				each, err = incoming(contents)
			}
			if mistakes, ok := err.(problem.Errors); ok {
				err = mistakes.Under(strconv.Itoa(at))
			}
			if !yield(each, err) {
				return
			}
		}
	}
}

// takenOf reads which of so many problems are to be brought in: "0,2", each once and in their order.
func takenOf(text string, of int) ([]int, error) {
	wrong := func() error {
		return problem.Errors{{Pointer: "/take", Says: "“" + words.Shorten(text) + "” does not say which problems are to be brought in",
			Instead: fmt.Sprintf("give places from 0 to %d with commas between", of-1)}}
	}
	if len(text) > 5*bundle.MaxProblems {
		return nil, wrong()
	}
	var taken []int
	for part := range strings.SplitSeq(text, ",") {
		at, err := strconv.Atoi(part)
		if err != nil || at < 0 || at >= of || slices.Contains(taken, at) {
			return nil, wrong()
		}
		taken = append(taken, at)
	}
	slices.Sort(taken)
	return taken, nil
}
