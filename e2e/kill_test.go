package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// kills is how often the server, and PostgreSQL, is killed in the middle of saves.
const kills = 50

// Whatever dies in the middle of saves, everything that was acknowledged is there,
// and nothing is there by halves.
func TestWhatWasAcknowledgedOutlivesAKill(t *testing.T) {
	t.Parallel()
	for name, one := range map[string]struct {
		victim func(*app) int
		again  func(*app)
	}{
		"server": {func(a *app) int { return a.command.Process.Pid }, func(a *app) {
			_ = a.command.Wait()
			a.start()
		}},
		"PostgreSQL": {(*app).postgres, (*app).answers}, // the server starts it again
	} {
		t.Run(name, func(t *testing.T) {
			a := newAppAlone(t)
			chance := rand.New(rand.NewPCG(1, uint64(len(name))))
			writers := make([]*writer, 4)
			for i := range writers {
				writers[i] = newWriter(t, a)
			}
			for kill := range kills {
				var writing sync.WaitGroup
				for _, w := range writers {
					select {
					case <-w.saved: // in the round before
					default:
					}
					writing.Go(w.write)
				}
				for _, w := range writers { // saves are going on, however slow the machine
					select {
					case <-w.saved:
					case <-time.After(patience):
						require.Fail(t, "nothing is saved", "before kill %d", kill+1)
					}
				}
				time.Sleep(time.Duration(chance.IntN(120)) * time.Millisecond)
				require.NoError(t, syscall.Kill(one.victim(a), syscall.SIGKILL))
				writing.Wait()
				one.again(a)
				for i, w := range writers {
					w.check(fmt.Sprintf("after kill %d, data set %d", kill+1, i+1))
				}
			}
			for _, w := range writers {
				assert.Greater(t, w.version, int64(kills), "each round saved")
			}
		})
	}
}

// answers waits until the server, and its database, answer.
func (a *app) answers() {
	a.t.Helper()
	require.Eventually(a.t, func() bool {
		response, err := http.Get(a.url + "/healthz")
		if err != nil {
			return false
		}
		response.Body.Close()
		return response.StatusCode == http.StatusOK
	}, patience, 20*time.Millisecond)
}

// postgres returns the process id of the app's own PostgreSQL.
func (a *app) postgres() int {
	a.t.Helper()
	dir := a.args[1]
	if elsewhere, err := os.ReadFile(filepath.Join(dir, "location")); err == nil {
		dir = strings.TrimSpace(string(elsewhere))
	}
	lock, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
	require.NoError(a.t, err)
	first, _, _ := strings.Cut(string(lock), "\n")
	pid, err := strconv.Atoi(first)
	require.NoError(a.t, err)
	return pid
}

// holdPostgres stops the app's own PostgreSQL and the processes of its connections, until goOn.
func (a *app) holdPostgres() (goOn func()) {
	a.t.Helper()
	server := a.postgres()
	held := []int{server}
	processes, err := filepath.Glob("/proc/[0-9]*/stat")
	require.NoError(a.t, err)
	for _, name := range processes {
		text, _ := os.ReadFile(name)
		_, after, _ := strings.Cut(string(text), ") ")
		if fields := strings.Fields(after); len(fields) > 1 && fields[1] == strconv.Itoa(server) { // the parent
			pid, err := strconv.Atoi(filepath.Base(filepath.Dir(name)))
			require.NoError(a.t, err)
			held = append(held, pid)
		}
	}
	for _, pid := range held {
		require.NoError(a.t, syscall.Kill(pid, syscall.SIGSTOP))
	}
	goOn = sync.OnceFunc(func() {
		for _, pid := range held {
			_ = syscall.Kill(pid, syscall.SIGCONT)
		}
	})
	a.t.Cleanup(goOn)
	return goOn
}

// A writer saves a data set over and over, each time with the version that it is
// based on in three blocks of cells.
type writer struct {
	t       *testing.T
	url     string        // of its data set
	version int64         // the last that was acknowledged
	saved   chan struct{} // told once of a save since it was last asked
}

func newWriter(t *testing.T, a *app) *writer {
	t.Helper()
	response, err := http.Post(a.url+"/api/data-sets", "application/json", nil)
	require.NoError(t, err)
	defer response.Body.Close()
	require.Equal(t, http.StatusCreated, response.StatusCode)
	var kept struct{ ID string }
	require.NoError(t, json.NewDecoder(response.Body).Decode(&kept))
	return &writer{t: t, url: a.url + "/api/data-sets/" + kept.ID, version: 1, saved: make(chan struct{}, 1)}
}

// save sends the next version and reports whether it was acknowledged.
func (w *writer) save() bool {
	value := fmt.Sprint(w.version)
	cells := make([]string, 4096)
	for i := range cells {
		cells[i] = value
	}
	block := func(column, block, n int) map[string]any {
		return map[string]any{"column": column, "block": block, "cells": cells[:n]}
	}
	body, err := json.Marshal(map[string]any{
		"version": w.version, "rows": 4097,
		"set": map[string]any{"name": value, "about": "", "form": "cases", "response": map[string]any{}, "group": map[string]any{},
			"columns": []any{
				map[string]any{"key": 1, "name": "case", "label": "", "unit": "", "kind": "", "cells": []string{}},
				map[string]any{"key": 2, "name": "minutes", "label": "", "unit": "", "kind": "", "cells": []string{}}}},
		"blocks": []any{block(1, 0, 4096), block(1, 1, 1), block(2, 0, 4096), block(2, 1, 1)},
	})
	require.NoError(w.t, err)
	request, err := http.NewRequest(http.MethodPatch, w.url, bytes.NewReader(body))
	require.NoError(w.t, err)
	request.Header.Set("Content-Type", "application/json")
	response, err := http.DefaultClient.Do(request)
	if err != nil {
		return false
	}
	defer response.Body.Close()
	var saved struct{ Version int64 }
	if response.StatusCode != http.StatusOK || json.NewDecoder(response.Body).Decode(&saved) != nil {
		return false
	}
	w.version = saved.Version
	return true
}

// write saves until the server is gone.
func (w *writer) write() {
	for w.save() {
		select {
		case w.saved <- struct{}{}:
		default:
		}
	}
}

// check fails where the data set is older than what was acknowledged, newer than
// the one save more that may have been under way, or of two saves at once.
func (w *writer) check(when string) {
	w.t.Helper()
	response, err := http.Get(w.url)
	require.NoError(w.t, err, when)
	defer response.Body.Close()
	var kept struct {
		Version int64
		Set     struct {
			Name    string
			Columns []struct{ Cells []string }
		}
	}
	require.NoError(w.t, json.NewDecoder(response.Body).Decode(&kept), when)
	require.GreaterOrEqual(w.t, kept.Version, w.version, when)
	require.LessOrEqual(w.t, kept.Version, w.version+1, when)
	w.version = kept.Version
	if kept.Version == 1 {
		return // not saved yet
	}
	want := fmt.Sprint(kept.Version - 1)
	require.Equal(w.t, want, kept.Set.Name, when)
	for _, column := range kept.Set.Columns {
		require.Len(w.t, column.Cells, 4097, when)
		require.False(w.t, slices.ContainsFunc(column.Cells, func(cell string) bool { return cell != want }), "%s: half a save", when)
	}
}

// While the database is away the last solution stays, with a line that says so; what was chosen
// meanwhile is sent when it is back. A page that is fetched meanwhile comes by itself.
func TestTheDatabaseGoesAndComesBack(t *testing.T) {
	a := newAppAlone(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("decision", "do not reject")

	goOn := a.holdPostgres()
	p.click("0.10")
	p.shows("[role=alert]", "The last change is not kept yet, and the solution below is the one before.")
	p.keyIs("decision", "do not reject")
	other := a.open("/")
	other.shows("[role=status]", "One moment: Grund does not answer just now.")
	goOn()
	p.keyIs("decision", "reject H₀")
	other.shows("main, #main, body", "Do the two berths load at the same speed?")

	require.NoError(t, syscall.Kill(a.postgres(), syscall.SIGKILL))
	p.key(input.KeyU)
	p.keyIs("decision", "do not reject")
	p.eventually("the line to go away", func() bool { return !strings.Contains(p.visible(), "not kept yet") })
}
