package classroom

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/procedure"
	"grund/internal/store"
)

// SetView is a set as its class's instructors see it.
type SetView struct {
	ID        string              `json:"id"`
	Class     string              `json:"class"` // its id
	ClassName string              `json:"class_name"`
	Version   int64               `json:"version"`
	Settings  problemset.Settings `json:"settings"`
	Released  bool                `json:"released"`
	Attempts  int                 `json:"attempts"` // that were begun
	Earlier   int                 `json:"earlier"`  // of these, before a problem or how it is asked was changed
	Problems  []SetProblemView    `json:"problems"`
}

// SetProblemView is a problem of a set.
type SetProblemView struct {
	ID      string            `json:"id"`
	Version int               `json:"version"` // of the file that is handed out
	Title   string            `json:"title"`
	Points  problemset.Points `json:"points"`
}

func setView(s *store.ProblemSet) SetView {
	v := SetView{
		ID: s.ID.String(), Class: s.Class.String(), ClassName: s.ClassName, Version: s.Version, Settings: s.Settings, Released: s.Released,
		Attempts: s.Attempts, Earlier: s.Earlier, Problems: []SetProblemView{},
	}
	for _, p := range s.Problems {
		v.Problems = append(v.Problems, SetProblemView{p.ID.String(), p.Version, p.Title, p.Points})
	}
	return v
}

// SetListing is a set as it stands in a list.
type SetListing struct {
	ID        string          `json:"id"`
	Title     string          `json:"title"`
	Class     string          `json:"class"`
	ClassName string          `json:"class_name"`
	In        access.Standing `json:"in"`
	Opens     *time.Time      `json:"opens"`
	Due       *time.Time      `json:"due"`
	Attempts  int             `json:"attempts,omitzero"` // for its instructors
}

func (r *Classroom) listSetsOfClass(c *echo.Context, id uuid.UUID) error {
	if _, err := r.store.Class(c.Request().Context(), people.Who(c), id); err != nil {
		return err
	}
	return r.listSets(c, id)
}

func (r *Classroom) listMySets(c *echo.Context) error { return r.listSets(c, uuid.Nil) }

func (r *Classroom) listSets(c *echo.Context, class uuid.UUID) error {
	list, err := r.store.Sets(c.Request().Context(), people.Who(c), class)
	if err != nil {
		return err
	}
	out := make([]SetListing, len(list))
	for i, s := range list {
		out[i] = SetListing{
			ID: s.ID.String(), Title: s.Settings.Title, Class: s.Class.String(), ClassName: s.ClassName, In: s.In, Opens: s.Settings.Opens,
			Due: s.Settings.Due,
		}
		if s.In == access.Teacher {
			out[i].Attempts = s.Attempts
		}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// NewSetRequest makes a set of one's own problems.
type NewSetRequest struct {
	Title    string      `json:"title"`
	Problems []uuid.UUID `json:"problems,omitempty"`
}

func (r *Classroom) createSet(c *echo.Context, class uuid.UUID) error {
	var request NewSetRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	settings := problemset.New(request.Title)
	if err := settings.Check(); err != nil {
		return err
	}
	if err := tooManyProblems(len(request.Problems)); err != nil {
		return err
	}
	files := make([]store.SetFile, len(request.Problems))
	for i, id := range request.Problems {
		var err error
		if files[i], err = r.fileOf(c.Request().Context(), people.Who(c), problem.Pointer("problems", i), id); err != nil {
			return err
		}
	}
	return r.answerNewSet(c, class, settings, files)
}

func (r *Classroom) answerNewSet(c *echo.Context, class uuid.UUID, settings problemset.Settings, files []store.SetFile) error {
	set, err := r.store.CreateSet(c.Request().Context(), people.Who(c), class, settings, files)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusCreated, setView(set))
}

func tooManyProblems(n int) error {
	if n <= problemset.MaxProblems {
		return nil
	}
	return problem.TooMany("/problems", fmt.Sprintf("there are %d problems", n), problemset.MaxProblems, "make two sets of them")
}

// fileOf returns one of a person's own problems as it goes into a set; what is wrong in it is told at the place.
func (r *Classroom) fileOf(ctx context.Context, who access.Person, at string, id uuid.UUID) (store.SetFile, error) {
	var p *store.Problem
	var d *store.DataSet
	err := r.store.View(ctx, who, func(v *store.View) (err error) {
		if p, err = v.Problem(ctx, id); err != nil {
			return err
		}
		if d, err = v.Described(ctx, p.DataSet); err != nil {
			return err
		}
		if n := d.Cells(); n > mostCells {
			return problem.TooMany(at, fmt.Sprintf("the data of “%s” have %d cells", p.Draft.Title, n), mostCells, "take some of the cases")
		}
		return v.Cells(ctx, d)
	})
	if err != nil {
		return store.SetFile{}, err
	}
	given := data.Prepare(d.Set)
	whole, err := p.Draft.Problem(given)
	if err != nil {
		return store.SetFile{}, notReady(at, p.Draft.Title, p.Draft.Located(given, err))
	}
	return setFile(at, whole)
}

// setFile returns a problem as it goes into a set, where it can be worked.
func setFile(at string, p *problem.Problem) (store.SetFile, error) {
	if err := procedure.Check(p); err != nil {
		return store.SetFile{}, notReady(at, titleOf(p), err)
	}
	p.Notes, p.Pictures = nil, nil
	file, err := problem.Encode(p)
	return store.SetFile{Title: titleOf(p), File: file}, err
}

// mostCells is how many cells the data of a problem may have that goes into a set: each student may have other ones.
const mostCells = 50_000

// notReady says at a place that a problem cannot be worked yet, where its person can mend it.
func notReady(at, title string, err error) error {
	wrong := asErrors(err)
	if len(wrong) == 0 {
		return err
	}
	return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” cannot be worked yet: %s", title, wrong[0].Says), Instead: "finish it first"}}
}

func titleOf(p *problem.Problem) string {
	if p.Title == "" {
		return "Untitled problem"
	}
	return p.Title
}

func (r *Classroom) getSet(c *echo.Context, id uuid.UUID) error {
	set, err := r.store.TaughtSet(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, setView(set))
}

// SetRequest makes a set that is still at Version what it says.
type SetRequest struct {
	Version  int64               `json:"version"`
	Settings problemset.Settings `json:"settings"`
	Released bool                `json:"released"`
	Problems []SetProblemRequest `json:"problems"`
}

// SetProblemRequest is a problem of the set, in its place: one that is in it, a new one, or one that takes another's place for those
// who have not begun.
type SetProblemRequest struct {
	ID     string            `json:"id,omitzero"`      // of the problem in the set; "" of a new one
	From   *uuid.UUID        `json:"from,omitzero"`    // one's own problem that it becomes
	Points problemset.Points `json:"points,omitempty"` // by ask; 1 where none is named
}

func (r *Classroom) putSet(c *echo.Context, id uuid.UUID) error {
	var request SetRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if err := request.Settings.Check(); err != nil {
		return problem.Under(err, "settings")
	}
	if err := tooManyProblems(len(request.Problems)); err != nil {
		return err
	}
	ctx, who := c.Request().Context(), people.Who(c)
	change := store.SetChange{Settings: request.Settings, Released: request.Released}
	for i, each := range request.Problems {
		at := problem.Pointer("problems", i)
		if err := each.Points.Check(at + "/points"); err != nil {
			return err
		}
		var becomes store.ProblemChange
		if each.From != nil {
			file, err := r.fileOf(ctx, who, at+"/from", *each.From)
			if err != nil {
				return err
			}
			becomes.SetFile = file
		}
		if each.ID != "" {
			known, err := uuid.Parse(each.ID)
			if err != nil {
				return store.ErrNotFound
			}
			becomes.ID = known
		} else if each.From == nil {
			return problem.Errors{{Pointer: at, Says: "it names no problem", Instead: "give one of the set, or one of your own"}}
		}
		becomes.Points = each.Points
		change.Problems = append(change.Problems, becomes)
	}
	set, err := r.store.UpdateSet(ctx, who, id, request.Version, change)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, setView(set))
}

func (r *Classroom) deleteSet(c *echo.Context, id uuid.UUID) error {
	return done(c, r.store.DeleteSet(c.Request().Context(), people.Who(c), id))
}

func (r *Classroom) restoreSet(c *echo.Context, id uuid.UUID) error {
	return done(c, r.store.RestoreSet(c.Request().Context(), people.Who(c), id))
}

// CopySetRequest copies a set to a class of one's own, or the same.
type CopySetRequest struct {
	Class uuid.UUID `json:"class"`
}

func (r *Classroom) copySet(c *echo.Context, id uuid.UUID) error {
	var request CopySetRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	set, files, err := r.whole(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	settings := set.Settings
	settings.Opens, settings.Due = nil, nil // which were for another class, or another time
	settings.Title += " (copy)"
	return r.answerNewSet(c, request.Class, settings, files)
}

// whole returns a set with its problem files.
func (r *Classroom) whole(ctx context.Context, who access.Person, id uuid.UUID) (*store.ProblemSet, []store.SetFile, error) {
	set, err := r.store.TaughtSet(ctx, who, id)
	if err != nil {
		return nil, nil, err
	}
	files := make([]store.SetFile, len(set.Problems))
	for i, p := range set.Problems {
		file, _, _, err := r.store.HandedOut(ctx, who, p.ID)
		if err != nil {
			return nil, nil, err
		}
		files[i] = store.SetFile{Title: p.Title, File: file, Points: p.Points}
	}
	return set, files, nil
}

// takeSetAlong sends the set as a ZIP: set.json and its problem files.
func (r *Classroom) takeSetAlong(c *echo.Context, id uuid.UUID) error {
	set, files, err := r.whole(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	bundle := problemset.Bundle{Settings: set.Settings}
	for _, f := range files {
		bundle.Problems = append(bundle.Problems, problemset.Bundled{File: f.File, Points: f.Points})
	}
	file, err := bundle.Encode()
	if err != nil {
		return err
	}
	c.Response().Header().Set(echo.HeaderContentDisposition, exchange.Attachment(set.Settings.Title, "zip"))
	return c.Blob(http.StatusOK, "application/zip", file)
}

// bringSet makes a set of a ZIP that was taken along.
func (r *Classroom) bringSet(c *echo.Context, class uuid.UUID) error {
	of, err := r.store.Class(c.Request().Context(), people.Who(c), class)
	if err != nil {
		return err
	}
	if of.In != access.Teacher {
		return store.ErrNotFound
	}
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	bundle, err := problemset.ReadBundle(body)
	if err != nil {
		return err
	}
	files := make([]store.SetFile, len(bundle.Problems))
	for i, each := range bundle.Problems {
		p, err := problem.Parse(each.File)
		if err == nil {
			files[i], err = setFile(problem.Pointer("problems", i), p)
		}
		if err != nil {
			return problem.Under(err, "problems", i)
		}
		files[i].Points = each.Points
	}
	return r.answerNewSet(c, class, bundle.Settings, files)
}
