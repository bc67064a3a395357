package server

import (
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"
)

// assets is the folder of what the pages are made of.
const assets = "assets/"

// application serves the built interface. Paths that are no file are pages of
// the application, which finds its way by itself.
func application(dist fs.FS) echo.HandlerFunc {
	files := http.FileServerFS(dist)
	return func(c *echo.Context) error {
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		info, err := fs.Stat(dist, name)
		asset := strings.HasPrefix(name+"/", assets)
		switch {
		case asset && (err != nil || info.IsDir()):
			return echo.ErrNotFound
		case err != nil || info.IsDir():
			return index(c, dist)
		case asset: // their names change with their content
			c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		files.ServeHTTP(c.Response(), c.Request())
		return nil
	}
}

func index(c *echo.Context, dist fs.FS) error {
	page, err := fs.ReadFile(dist, "index.html")
	if err != nil {
		return echo.NewHTTPError(http.StatusNotFound, "the interface is not built: run make")
	}
	c.Response().Header().Set("Cache-Control", "no-cache")
	return c.HTMLBlob(http.StatusOK, page)
}
