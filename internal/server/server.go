// Package server is the HTTP interface: JSON resources under /api, and the web
// application everywhere else. Nothing that matters lives in the process, so
// several servers may share one database.
//
// An answer names the version of the problem and of the data that it was made from, and a write
// the one that it wrote: a version means one state.
package server

import (
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"grund/internal/store"
)

const (
	// maxBody bounds a request's body: a problem file of a million cells fits.
	maxBody = 64 << 20
	// maxTime bounds the work on a request.
	maxTime = 30 * time.Second
	// maxFile and maxImport bound the import of a data file.
	maxFile   = 1 << 30
	maxImport = 15 * time.Minute
	// maxSimulation bounds a simulation, which tells how far it is and can be stopped.
	maxSimulation = 2 * time.Minute
)

// server holds what the handlers need.
type server struct {
	store *store.Store
	sets  *preparedSets
}

// New returns the handler for all of Grund. st may be nil, and then only what
// needs no database is served. dist is the built interface.
func New(st *store.Store, dist fs.FS, log *slog.Logger) http.Handler {
	s := &server{store: st, sets: newPreparedSets()}
	e := echo.New()
	e.Logger = log
	e.HTTPErrorHandler = handleError
	e.Use(middleware.Recover())
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 4, MinLength: 1024}))
	e.Use(secure)

	e.GET("/healthz", s.health)
	if st != nil {
		e.POST("/api/data-sets/import", s.importDataSet, bodyLimit(maxFile), unhurried(maxImport))
		e.POST("/api/problems/:id/simulation", withID(s.simulateProblem), bodyLimit(maxBody), unhurried(maxSimulation))
	}
	api := e.Group("/api", bodyLimit(maxBody), middleware.ContextTimeout(maxTime))
	api.GET("/procedures", listProcedures)
	api.POST("/work", workFile)
	api.POST("/read", readText)
	if st != nil {
		api.GET("/problems", s.listProblems)
		api.POST("/problems", s.createProblem)
		api.POST("/problems/import", s.importProblem)
		api.GET("/problems/:id", withID(s.getProblem))
		api.PUT("/problems/:id", withID(s.putProblem))
		api.DELETE("/problems/:id", withID(s.deleteProblem))
		api.POST("/problems/:id/restore", withID(s.restoreProblem))
		api.POST("/problems/:id/duplicate", withID(s.duplicateProblem))
		api.POST("/problems/:id/reset", withID(s.resetProblem))
		api.PATCH("/problems/:id/settings", withID(s.patchSettings))
		api.POST("/problems/:id/work", withID(s.workProblem))
		api.POST("/problems/:id/power", withID(s.powerOfProblem))
		api.GET("/problems/:id/file", withID(s.exportProblem))
		api.GET("/problems/:id/check", withID(s.checkProblem))
		api.GET("/data-sets", s.listDataSets)
		api.POST("/data-sets", s.createDataSet)
		api.GET("/data-sets/:id", withID(s.getDataSet))
		api.PATCH("/data-sets/:id", withID(s.patchDataSet))
		api.DELETE("/data-sets/:id", withID(s.deleteDataSet))
		api.GET("/data-sets/:id/check", withID(s.checkDataSet))
		api.GET("/data-sets/:id/cells", withID(s.getCells))
		api.GET("/data-sets/:id/file", withID(s.exportDataSet))
		api.POST("/data-sets/:id/copy", withID(s.copyDataSet))
		api.POST("/data-sets/:id/reset", withID(s.resetDataSet))
		api.POST("/data-sets/:id/restore", withID(s.restoreDataSet))
		api.POST("/data-sets/:id/look", withID(s.lookAtDataSet))
		api.POST("/data-sets/:id/guide", withID(s.guide))
		api.POST("/data-sets/:id/preview", withID(s.previewColumn))
		api.POST("/data-sets/:id/reshape", withID(s.reshapeDataSet))
	}
	api.RouteNotFound("/*", func(*echo.Context) error { return echo.ErrNotFound })
	e.GET("/*", application(dist))

	// Another site's page must not act on a person's problems through the browser.
	return http.NewCrossOriginProtection().Handler(e)
}

// bodyLimit refuses larger bodies; the error names the limit.
func bodyLimit(bytes int64) echo.MiddlewareFunc {
	limit := middleware.BodyLimit(bytes)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		limited := limit(next)
		return func(c *echo.Context) error {
			c.Set(limitKey, bytes)
			return limited(c)
		}
	}
}

// limitKey is where a request's context holds the limit of its body, in bytes.
const limitKey = "body limit"

// unhurried gives a request that may take longer than the server otherwise waits for a body or
// an answer its own limit of time.
func unhurried(limit time.Duration) echo.MiddlewareFunc {
	timeout := middleware.ContextTimeout(limit)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		timed := timeout(next)
		return func(c *echo.Context) error {
			// What a recorder in a test cannot do need not be done there.
			connection, last := http.NewResponseController(c.Response()), time.Now().Add(limit+lastWords)
			_ = connection.SetReadDeadline(last)
			_ = connection.SetWriteDeadline(last)
			return timed(c)
		}
	}
}

// lastWords is how long it may take to say that a limit of time was met.
const lastWords = 10 * time.Second

// secure sets the headers that keep the interface to its own scripts and styles.
// Styles may stand on elements, as KaTeX and the figures put them there.
func secure(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src "+
			"'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		return next(c)
	}
}

func (s *server) health(c *echo.Context) error {
	if s.store != nil {
		ctx, cancel := context.WithTimeout(c.Request().Context(), 2*time.Second)
		defer cancel()
		if err := s.store.Ping(ctx); err != nil {
			return echo.NewHTTPError(http.StatusServiceUnavailable, "the database does not answer")
		}
	}
	return c.String(http.StatusOK, "ok\n")
}
