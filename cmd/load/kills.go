package main

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// kills kills something again and again in the middle of writes, and looks each time whether all that was
// acknowledged is there.
func (l *load) kills(what string, times int, kill, again func() error) ([]result, error) {
	writers := make([]*writer, 4)
	for i := range writers {
		w, err := l.newWriter()
		if err != nil {
			return nil, err
		}
		writers[i] = w
	}
	lost := 0
	for range times {
		var wait sync.WaitGroup
		var stop atomic.Bool
		for _, w := range writers {
			wait.Go(func() {
				for !stop.Load() && w.write() {
				}
			})
		}
		time.Sleep(300 * time.Millisecond)
		if err := kill(); err != nil {
			return nil, err
		}
		stop.Store(true)
		wait.Wait()
		if err := again(); err != nil {
			return nil, err
		}
		for _, w := range writers {
			ok, err := w.check()
			if err != nil {
				return nil, err
			}
			if !ok {
				lost++
			}
		}
	}
	var written int64
	for _, w := range writers {
		written += w.acknowledged
	}
	came := fmt.Sprintf("%d writes acknowledged, %d lost", written, lost)
	return []result{{fmt.Sprintf("kill -9 of the %s, %d times", what, times), came, lost > 0 || written == 0}}, nil
}

// A writer names a data set anew again and again, by its version.
type writer struct {
	load         *load
	path         string
	version      int64
	acknowledged int64
}

func (l *load) newWriter() (*writer, error) {
	status, text, err := l.ask("POST", "/api/data-sets", strings.NewReader(""))
	if err != nil || status != http.StatusCreated {
		return nil, fmt.Errorf("keeping a data set: status %d: %w", status, err)
	}
	var kept struct {
		ID string `json:"id"`
	}
	if err := json.Unmarshal(text, &kept); err != nil {
		return nil, err
	}
	return &writer{load: l, path: "/api/data-sets/" + kept.ID, version: 1}, nil
}

// write writes the next version, and reports whether it was acknowledged.
func (w *writer) write() bool {
	body := fmt.Sprintf(`{"version":%d,"rows":1,"set":{"name":"v%d","about":"","form":"cases","response":{},"group":{},"columns":[{"key":1,`+
		`"name":"n","label":"","unit":"","kind":"","cells":[]}]},"blocks":[{"column":1,"block":0,"cells":["%d"]}]}`, w.version, w.version+1,
		w.version+1)
	status, text, err := w.load.ask("PATCH", w.path, strings.NewReader(body))
	var saved struct {
		Version int64 `json:"version"`
	}
	if err != nil || status != http.StatusOK || json.Unmarshal(text, &saved) != nil {
		return false
	}
	w.version = saved.Version
	w.acknowledged++
	return true
}

// check reports whether what was acknowledged is there, whole; one write more may be.
func (w *writer) check() (bool, error) {
	var text []byte
	for patience := time.Now().Add(30 * time.Second); ; time.Sleep(100 * time.Millisecond) {
		status, answer, err := w.load.ask("GET", w.path, strings.NewReader(""))
		if err != nil {
			return false, fmt.Errorf("reading what was written: %w", err)
		}
		if status == http.StatusOK {
			text = answer
			break
		}
		// For a moment after its killing the database may still answer to the question whether it does.
		if status != http.StatusServiceUnavailable || time.Now().After(patience) {
			return false, fmt.Errorf("reading what was written: status %d: %s", status, answer)
		}
	}
	var kept struct {
		Version int64 `json:"version"`
		Set     struct {
			Name    string `json:"name"`
			Columns []struct {
				Cells []string `json:"cells"`
			} `json:"columns"`
		} `json:"set"`
	}
	if err := json.Unmarshal(text, &kept); err != nil {
		return false, err
	}
	ok := kept.Version >= w.version && kept.Version <= w.version+1
	if kept.Version > 1 {
		want := fmt.Sprint(kept.Version)
		ok = ok && kept.Set.Name == "v"+want && len(kept.Set.Columns) == 1 && len(kept.Set.Columns[0].Cells) == 1 &&
			kept.Set.Columns[0].Cells[0] == want
	}
	w.version = kept.Version
	return ok, nil
}
