// Package application serves the built interface: its pages, and what they are made of.
package application

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"grund/internal/exchange"
)

// assets is the folder of what the pages are made of.
const assets = "assets/"

// encodings are how files may be kept beside themselves, the one to be preferred first.
var encodings = []struct{ name, suffix string }{{"br", ".br"}, {"gzip", ".gz"}}

// A file is a page or what it is made of, in every encoding in which it was built.
type file struct {
	plain   []byte
	encoded map[string][]byte
	kind    string // its media type
	tag     string
	caching string
}

// An application is the built interface, in memory.
type application struct {
	files map[string]*file
}

// New reads the built interface, and returns what serves it.
func New(dist fs.FS) (http.Handler, error) {
	a := &application{map[string]*file{}}
	err := fs.WalkDir(dist, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || strings.HasSuffix(name, ".br") || strings.HasSuffix(name, ".gz") {
			return err
		}
		a.files[name], err = readFile(dist, name)
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("reading the interface: %w", err)
	}
	return a, nil
}

func readFile(dist fs.FS, name string) (*file, error) {
	plain, err := fs.ReadFile(dist, name)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(plain)
	f := &file{
		plain: plain, encoded: map[string][]byte{}, kind: mime.TypeByExtension(path.Ext(name)), caching: "no-cache",
		tag: base64.RawURLEncoding.EncodeToString(sum[:12]),
	}
	if strings.HasPrefix(name, assets) { // their names change with their content
		f.caching = "public, max-age=31536000, immutable"
	}
	for _, e := range encodings {
		if text, err := fs.ReadFile(dist, name+e.suffix); err == nil {
			f.encoded[e.name] = text
		}
	}
	return f, nil
}

// ServeHTTP serves the built interface. Paths that are no file are pages of the application, which
// finds its way by itself.
func (a *application) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	f := a.files[name]
	switch {
	case f == nil && strings.HasPrefix(name+"/", assets):
		exchange.Refuse(w, http.StatusNotFound, "There is nothing under this address.")
		return
	case r.Method != http.MethodGet:
		w.Header().Set("Allow", "GET, HEAD")
		exchange.Refuse(w, http.StatusMethodNotAllowed, "This can only be read.")
		return
	case f == nil:
		if f = a.files["index.html"]; f == nil {
			exchange.Refuse(w, http.StatusNotFound, "The interface is not built: run make.")
			return
		}
	}
	f.send(w, r)
}

func (f *file) send(w http.ResponseWriter, r *http.Request) {
	header := w.Header()
	Secure(header)
	header.Set("Content-Type", f.kind)
	header.Set("Cache-Control", f.caching)
	body, tag := f.plain, `"`+f.tag+`"`
	if len(f.encoded) > 0 {
		header.Set("Vary", "Accept-Encoding")
		for _, e := range encodings {
			if text := f.encoded[e.name]; text != nil && accepts(r, e.name) {
				body, tag = text, `"`+f.tag+e.suffix+`"`
				header.Set("Content-Encoding", e.name)
				break
			}
		}
	}
	header.Set("ETag", tag)
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(body))
}

// accepts reports whether an answer may be encoded so (RFC 9110, 12.5.3).
func accepts(r *http.Request, encoding string) bool {
	for _, part := range strings.Split(r.Header.Get("Accept-Encoding"), ",") {
		name, weight, _ := strings.Cut(strings.TrimSpace(part), ";")
		if strings.EqualFold(strings.TrimSpace(name), encoding) {
			weight = strings.ReplaceAll(strings.ToLower(weight), " ", "")
			return weight != "q=0" && !strings.HasPrefix(weight, "q=0.000")
		}
	}
	return false
}

// Secure sets the headers that keep the interface to its own scripts and styles.
// Styles may stand on elements, as KaTeX and the figures put them there.
func Secure(h http.Header) {
	h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src "+
		"'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
}
