// Package server is the HTTP interface: JSON resources under /api, and the web
// application everywhere else. Nothing that matters lives in the process, so
// several servers may share one database.
//
// An answer names the version of the problem and of the data that it was made from, and a write
// the one that it wrote: a version means one state.
package server

import (
	"cmp"
	"context"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"grund/internal/access"
	"grund/internal/application"
	"grund/internal/classroom"
	"grund/internal/exchange"
	"grund/internal/export"
	"grund/internal/paper"
	"grund/internal/people"
	"grund/internal/store"
	"grund/internal/turns"
)

const (
	// maxBody bounds a request's body: a problem file of a million cells fits.
	maxBody = 64 << 20
	// maxTime bounds the work on a request.
	maxTime = 30 * time.Second
	// maxFile and maxImport bound the import of a data file.
	maxFile   = 1 << 30
	maxImport = 15 * time.Minute
	// maxListening is how long somebody is told of answers before their browser asks again.
	maxListening = 20 * time.Minute
	// maxSimulation bounds a simulation, which tells how far it is and can be stopped.
	maxSimulation = 2 * time.Minute
)

// server holds what the handlers need.
type server struct {
	store *store.Store
	sets  *preparedSets
	room  *room
	turns *turns.Queue
	fonts []paper.Font // of documents
	desk  *people.Desk
	class *classroom.Classroom
}

// A Config is what a server is made of.
type Config struct {
	// Store may be nil, and then only what needs no database is served.
	Store *store.Store
	// Dist is the built interface.
	Dist fs.FS
	Log  *slog.Logger
	// Hosts are names, or names with a port, under which the server may be asked, beside loopback ones.
	Hosts []string
	// People says who may work here; everybody is the person of the machine where it is nil.
	People *people.Rules
	// Watch is how long this server is told of what others on the database take; not at all where it is nil.
	Watch context.Context
	// Memory is how many bytes large requests may take together; DefaultMemory where it is 0.
	Memory int64
}

// New returns the handler for all of Grund.
func New(config Config) (http.Handler, error) {
	pages, err := application.New(config.Dist)
	if err != nil {
		return nil, err
	}
	s := &server{
		store: config.Store, sets: newPreparedSets(), room: newRoom(cmp.Or(config.Memory, DefaultMemory)),
		// One processor is left for what is short.
		turns: turns.NewQueue(runtime.GOMAXPROCS(0) - 1),
	}
	if s.fonts, err = paper.FontsIn(config.Dist); err != nil {
		return nil, err
	}
	mux := http.NewServeMux()
	if s.desk, err = people.New(config.Store, config.People, slices.Concat(open, openByLink)); err != nil {
		return nil, err
	}
	if s.class = classroom.New(config.Store, s.desk, s.turns, s.fonts); config.Store != nil && config.Watch != nil {
		go s.class.Watch(config.Watch)
	}
	routes := s.desk.Wrap(s.routes(config.Log))
	mux.Handle("/api", routes)
	mux.Handle("/api/", routes)
	mux.HandleFunc("/healthz", s.health)
	mux.Handle("/", pages)
	// Another site's page must not act on a person's problems through the browser.
	protection := http.NewCrossOriginProtection()
	protection.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		exchange.Refuse(w, http.StatusForbidden, "Another site may not do this.")
	}))
	return progressing(checkHost(config.Hosts, head(protection.Handler(mux)))), nil
}

// open are the paths that read and change nothing that is kept of somebody.
var open = []string{"/api/procedures", "/api/printed/:table", "/api/work", "/api/check", "/api/read"}

// routes returns the handler of all that is not a page.
func (s *server) routes(log *slog.Logger) http.Handler {
	e := echo.New()
	e.Logger = log
	e.HTTPErrorHandler = handleError
	e.Use(middleware.Recover())
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 4, MinLength: 1024, Skipper: isPacked}))
	e.Use(private)
	e.Use(s.desk.Identified)
	if s.store != nil {
		e.POST("/api/data-sets/import", s.importDataSet, bodyLimit(maxFile), unhurried(maxImport), s.arrived(streamCost))
		e.GET("/api/account/archive", s.takeAlong, bodyLimit(maxBody), s.arrived(wholeCost), unhurried(maxImport))
		e.POST("/api/problems/:id/simulation", exchange.WithID(s.simulateProblem), bodyLimit(maxBody), s.arrived(wholeCost),
			unhurried(maxSimulation))
		s.class.LiveRoutes(func(path string, handle echo.HandlerFunc) { e.GET("/api"+path, handle, unhurried(maxListening)) })
		e.POST("/api/shared/:token/simulation", s.byLink(s.simulateProblem), bodyLimit(maxBody), s.arrived(wholeCost),
			unhurried(maxSimulation))
	}
	// The routes of a group with its own middleware would answer another method with 404.
	route := func(method, path string, handle echo.HandlerFunc) {
		e.Add(method, "/api"+path, handle, bodyLimit(maxBody), s.arrived(wholeCost), middleware.ContextTimeout(maxTime))
	}
	route("GET", "/procedures", listProcedures)
	route("GET", "/printed/:table", getPrinted)
	route("POST", "/work", s.workFile)
	route("POST", "/check", s.checkAnswers)
	route("POST", "/read", s.readText)
	if s.store != nil {
		route("GET", "/problems", s.listProblems)
		route("POST", "/problems", s.createProblem)
		route("POST", "/problems/import", s.importProblem)
		route("POST", "/problems/preview", s.previewProblems)
		route("POST", "/problems/bring", s.bringProblems)
		route("GET", "/problems/:id", exchange.WithID(s.getProblem))
		route("PUT", "/problems/:id", exchange.WithID(s.putProblem))
		route("DELETE", "/problems/:id", exchange.WithID(s.deleteProblem))
		route("POST", "/problems/:id/restore", exchange.WithID(s.restoreProblem))
		route("POST", "/problems/:id/duplicate", exchange.WithID(s.duplicateProblem))
		route("POST", "/problems/:id/reset", exchange.WithID(s.resetProblem))
		route("PATCH", "/problems/:id/settings", exchange.WithID(s.patchSettings))
		route("POST", "/problems/:id/work", exchange.WithID(s.workProblem))
		route("POST", "/problems/:id/power", exchange.WithID(s.powerOfProblem))
		route("GET", "/problems/:id/paper", exchange.WithID(s.paperOfProblem))
		route("GET", "/problems/:id/asks", exchange.WithID(s.getAsks))
		route("GET", "/problems/:id/try", exchange.WithID(s.getTry))
		route("POST", "/problems/:id/try", exchange.WithID(s.addToTry))
		route("DELETE", "/problems/:id/try", exchange.WithID(s.endTry))
		route("POST", "/problems/:id/try/rows", exchange.WithID(s.rowsOfTry))
		route("POST", "/problems/:id/vary", exchange.WithID(s.varyProblem))
		route("GET", "/problems/:id/file", exchange.WithID(s.exportProblem))
		route("GET", "/problems/:id/check", exchange.WithID(s.checkProblem))
		for path, kind := range map[string]access.Kind{"/problems": access.Problem, "/data-sets": access.DataSet} {
			route("GET", path+"/:id/share", s.sharing(kind, s.store.ShareOf))
			route("POST", path+"/:id/share", s.sharing(kind, s.store.Share))
			route("DELETE", path+"/:id/share", s.sharing(kind, s.endShare))
		}
		s.desk.Routes(route)
		s.sharedRoutes(route)
		s.class.Routes(route)
		s.reportRoutes(route)
		s.dataRoutes(route)
	}
	return e
}

// reportRoutes adds what is asked about reports.
func (s *server) reportRoutes(route func(method, path string, handle echo.HandlerFunc)) {
	route("GET", "/problems/:id/kept", exchange.WithID(s.getKept))
	route("POST", "/problems/:id/keep", exchange.WithID(s.keep))
	route("GET", "/reports", s.listReports)
	route("POST", "/reports", s.createReport)
	route("GET", "/reports/:id", exchange.WithID(s.getReport))
	route("PUT", "/reports/:id", exchange.WithID(s.putReport))
	route("DELETE", "/reports/:id", exchange.WithID(s.deleteReport))
	route("POST", "/reports/:id/restore", exchange.WithID(s.restoreReport))
	route("GET", "/reports/:id/paper", exchange.WithID(s.paperOfReport))
}

// dataRoutes adds what is asked about data sets.
func (s *server) dataRoutes(route func(method, path string, handle echo.HandlerFunc)) {
	route("GET", "/space", s.getSpace)
	route("GET", "/data-sets", s.listDataSets)
	route("POST", "/data-sets", s.createDataSet)
	route("GET", "/data-sets/:id", exchange.WithID(s.getDataSet))
	route("PATCH", "/data-sets/:id", exchange.WithID(s.patchDataSet))
	route("DELETE", "/data-sets/:id", exchange.WithID(s.deleteDataSet))
	route("GET", "/data-sets/:id/check", exchange.WithID(s.checkDataSet))
	route("GET", "/data-sets/:id/cells", exchange.WithID(s.getCells))
	route("GET", "/data-sets/:id/file", exchange.WithID(s.exportDataSet))
	route("POST", "/data-sets/:id/copy", exchange.WithID(s.copyDataSet))
	route("POST", "/data-sets/:id/reset", exchange.WithID(s.resetDataSet))
	route("POST", "/data-sets/:id/restore", exchange.WithID(s.restoreDataSet))
	route("POST", "/data-sets/:id/look", exchange.WithID(s.lookAtDataSet))
	route("POST", "/data-sets/:id/guide", exchange.WithID(s.guide))
	route("POST", "/data-sets/:id/preview", exchange.WithID(s.previewColumn))
	route("POST", "/data-sets/:id/reshape", exchange.WithID(s.reshapeDataSet))
}

// isPacked reports whether the answer is not to be compressed: it is a file that is so in itself, or sent word by word.
func isPacked(c *echo.Context) bool {
	format := export.Format(c.QueryParam("format"))
	if strings.HasSuffix(c.Path(), "/live") { // which is sent word by word
		return true
	}
	return format == export.XLSX || format == export.ODS || format == "odt"
}

// unhurried gives a request that may take longer than the server otherwise waits for a body its own
// limit of time.
func unhurried(limit time.Duration) echo.MiddlewareFunc {
	timeout := middleware.ContextTimeout(limit)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		timed := timeout(next)
		return func(c *echo.Context) error {
			// What a recorder in a test cannot do need not be done there.
			connection, last := http.NewResponseController(c.Response()), time.Now().Add(limit+lastWords)
			_ = connection.SetReadDeadline(last)
			return timed(c)
		}
	}
}

// lastWords is how long it may take to say that a limit of time was met.
const lastWords = 10 * time.Second

// private lets answers be kept by nobody but the browser that asked, and by that one only to ask whether
// they are still the same.
func private(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		application.Secure(h)
		h.Set("Cache-Control", "no-store")
		if c.Request().Method == http.MethodGet {
			h.Set("Cache-Control", "private, no-cache")
		}
		return next(c)
	}
}

// health says "ok" where requests can be served. With ?alive it says only that the process is: the
// database may be on its way.
func (s *server) health(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	if s.store != nil && !r.URL.Query().Has("alive") {
		ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
		defer cancel()
		if err := s.store.Ping(ctx); err != nil {
			w.Header().Set("Retry-After", "1")
			exchange.Refuse(w, http.StatusServiceUnavailable, "The database does not answer.")
			return
		}
	}
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	_, _ = io.WriteString(w, "ok\n")
}
