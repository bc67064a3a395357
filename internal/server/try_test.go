package server

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const berths = `{"grund":1,"procedure":"t-two-sample","roles":{"response":"minutes","group":"berth"},"data":{"variables":[` +
	`{"name":"berth","kind":"category","values":["a","a","a","a","b","b","b","b"]},` +
	`{"name":"minutes","kind":"number","values":[12.1,11.4,12.9,12.6,13.8,12.2,14.9,13.1]}]}}`

// sheet is what the tests look at of a TrySheet.
type sheet struct {
	Items []struct {
		ID      string `json:"id"`
		Text    string `json:"text"`
		Verdict *struct {
			Verdict string `json:"verdict"`
			Slip    string `json:"slip"`
			Says    string `json:"says"`
		} `json:"verdict"`
		Tries int `json:"tries"`
		Helps int `json:"helps"`
		Help  []struct {
			Words string `json:"words"`
			TeX   string `json:"tex"`
		} `json:"help"`
		Choices []struct {
			Value string `json:"value"`
		} `json:"choices"`
		Shown bool `json:"shown"`
	} `json:"items"`
	Open     string `json:"open"`
	Answered int    `json:"answered"`
	Of       int    `json:"of"`
	Version  int64  `json:"version"`
	Events   int    `json:"events"`
	Renewed  bool   `json:"renewed"`
	CanUndo  bool   `json:"can_undo"`
	Summary  *struct {
		FirstGo int      `json:"first_go"`
		Right   int      `json:"right"`
		Shown   int      `json:"shown"`
		Helped  []string `json:"helped"`
		Slips   []struct {
			Slip  string   `json:"slip"`
			Asked []string `json:"asked"`
		} `json:"slips"`
	} `json:"summary"`
}

func (s *sheet) ids() string {
	var ids []string
	for _, item := range s.Items {
		ids = append(ids, item.ID)
	}
	return strings.Join(ids, " ")
}

// A tryer works a problem through the server, as one tab does.
type tryer struct {
	t    *testing.T
	h    http.Handler
	id   string
	now  sheet
	last string // what came last, as it came
	link string // to the problem: whoever works it there stands where the owner does
	done []SharedEvent
}

func (w *tryer) get() {
	w.now = sheet{}
	r := call(w.t, w.h, "GET", "/api/problems/"+w.id+"/try", "", &w.now)
	require.Equal(w.t, http.StatusOK, r.Code, r.Body)
	w.last = r.Body.String()
}

func (w *tryer) do(kind, ask, text string) {
	w.t.Helper()
	body, err := json.Marshal(TryRequest{Version: w.now.Version, After: w.now.Events, Kind: kind, Ask: ask, Text: text})
	require.NoError(w.t, err)
	w.now = sheet{}
	r := call(w.t, w.h, "POST", "/api/problems/"+w.id+"/try", string(body), &w.now)
	require.Equal(w.t, http.StatusOK, r.Code, r.Body)
	w.last = r.Body.String()
	w.doByLink(SharedEvent{Kind: kind, Ask: ask, Text: text})
}

// doByLink does the same at the shared problem, where the browser keeps what was done.
func (w *tryer) doByLink(event SharedEvent) {
	w.t.Helper()
	w.done = append(w.done, event)
	body, err := json.Marshal(SharedTryRequest{Version: w.now.Version, Events: w.done})
	require.NoError(w.t, err)
	var shared sheet
	r := call(w.t, w.h, "POST", "/api"+w.link+"/try", string(body), &shared)
	require.Equal(w.t, http.StatusOK, r.Code, r.Body)
	require.Equal(w.t, w.now, shared)
	for _, item := range shared.Items {
		if last := &w.done[len(w.done)-1]; item.ID == event.Ask && item.Verdict != nil && event.Kind == "answer" {
			last.Verdict, last.Slip = item.Verdict.Verdict, item.Verdict.Slip
		}
	}
}

func newTryer(t *testing.T, file string) *tryer {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", file, &p).Code)
	var link ShareLink
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/share", "", &link).Code)
	w := &tryer{t: t, h: h, id: p.ID, link: link.Path}
	w.get()
	return w
}

// A problem is worked from the data to the end: with a slip, help, a number given up, an answer taken back. What was not
// earned is nowhere in what the server says.
func TestTry(t *testing.T) {
	w := newTryer(t, berths)
	assert.Equal(t, "n_1 n_2 mean_1 mean_2 sd_1 sd_2", w.now.ids())
	for _, hidden := range []string{"12.25", "13.5", "0.656", "−1.25"} {
		assert.NotContains(t, w.last, hidden)
	}
	w.do("answer", "n_1", "4")
	w.do("answer", "n_2", "4")
	w.do("answer", "mean_1", "12.52") // digits exchanged
	require.Equal(t, "digits_swapped", w.now.Items[2].Verdict.Slip)
	w.do("answer", "mean_1", "12.25")
	require.Equal(t, "right", w.now.Items[2].Verdict.Verdict)
	w.do("undo", "", "")
	assert.Equal(t, "12.52", w.now.Items[2].Text)
	assert.Equal(t, 2, w.now.Items[2].Tries, "what was tried is counted")
	w.do("answer", "mean_1", "12.25")
	w.do("answer", "mean_2", "13.5")
	w.do("answer", "sd_1", "0.656")
	assert.NotContains(t, w.last, "1.140")
	for range 4 {
		w.do("help", "sd_2", "")
	}
	require.True(t, w.now.Items[5].Shown)
	assert.Contains(t, w.now.Items[5].Help[3].Words, "1.140")
	assert.Equal(t, "hypotheses", w.now.Open)
	assert.True(t, strings.HasSuffix(w.now.ids(), "sd_2 hypotheses"), w.now.ids())

	for step := 0; w.now.Summary == nil; step++ {
		require.Less(t, step, 40)
		open := w.now.Items[len(w.now.Items)-1]
		for _, item := range w.now.Items {
			if item.Verdict == nil && !item.Shown {
				open = item
				break
			}
		}
		if len(open.Choices) > 0 {
			w.do("answer", open.ID, open.Choices[0].Value)
			continue
		}
		for range open.Helps {
			w.do("help", open.ID, "")
		}
	}
	assert.Equal(t, w.now.Of, w.now.Answered)
	require.Len(t, w.now.Summary.Slips, 1)
	assert.Equal(t, "digits_swapped", w.now.Summary.Slips[0].Slip)
	assert.Len(t, w.now.Summary.Slips[0].Asked, 1)
	assert.GreaterOrEqual(t, w.now.Summary.FirstGo, 4)
	assert.NotZero(t, w.now.Summary.Shown)
	assert.Contains(t, w.last, `"id":"follow-up"`, "at the end all is shown")

	again := &tryer{t: t, h: w.h, id: w.id, link: w.link}
	again.get()
	assert.Equal(t, w.now.Events, again.now.Events, "it is taken up where it was")
	require.Equal(t, http.StatusNoContent, call(t, w.h, "DELETE", "/api/problems/"+w.id+"/try", "", nil).Code)
	again.get()
	assert.Zero(t, again.now.Events)
	assert.Equal(t, "n_1 n_2 mean_1 mean_2 sd_1 sd_2", again.now.ids())
}

func TestTryRefuses(t *testing.T) {
	w := newTryer(t, berths)
	post := func(body string) (int, string) {
		r := call(t, w.h, "POST", "/api/problems/"+w.id+"/try", body, nil)
		return r.Code, r.Body.String()
	}
	for body, says := range map[string]string{
		`{"kind":"answer","ask":"t","text":"1"}`:                                          "not asked yet",
		`{"kind":"answer","ask":"nothing","text":""}`:                                     "not asked yet",
		`{"kind":"guess","ask":"n_1","text":"1"}`:                                         "/kind",
		`{"kind":"undo"}`:                                                                 "no answer to take back",
		`{"kind":"answer","ask":"n_1","text":1}`:                                          "/text",
		fmt.Sprintf(`{"kind":"answer","ask":"n_1","text":%q}`, strings.Repeat("1", 4001)): "4000 at most",
	} {
		code, answer := post(body)
		assert.Equal(t, http.StatusUnprocessableEntity, code, body)
		assert.Contains(t, answer, says, body)
	}
	for body, says := range map[string]string{
		`{"events":[{"kind":"answer","ask":"t","text":"1"}]}`: "not asked yet",
		`{"events":[{"kind":"undo"}]}`:                        "no answer to take back",
		`{"events":[{"kind":"answer","ask":"n_1","verdict":"` + strings.Repeat("x", 4001) + `"},{"kind":"undo"}]}`:        "/events/0/verdict",
		`{"events":[` + strings.Repeat(`{"kind":"answer","ask":"n_1","text":"4"},`, 3000) + `{"kind":"help","ask":"t"}]}`: "begin anew",
		`{"events":[],"rows":{"set":[],"table":"printed"}}`:                                                               "no such table",
		`{"version":2,"events":[]}`: "is now version 1",
	} {
		r := call(t, w.h, "POST", "/api"+w.link+"/try", body, nil)
		assert.GreaterOrEqual(t, r.Code, 400, body[:20])
		assert.Contains(t, r.Body.String(), says, body[:20])
	}
	w.do("answer", "n_1", "4")
	code, _ := post(`{"after":0,"kind":"answer","ask":"n_2","text":"4"}`)
	assert.Equal(t, http.StatusConflict, code, "another tab answered")

	r := call(t, w.h, "PATCH", "/api/problems/"+w.id+"/settings", `{"version":1,"set":[{"pointer":"/alpha","value":0.01}]}`, nil)
	require.Equal(t, http.StatusOK, r.Code, r.Body)
	w.get()
	assert.True(t, w.now.Renewed)
	assert.Zero(t, w.now.Events)
	code, _ = post(`{"version":1,"after":0,"kind":"answer","ask":"n_1","text":"4"}`)
	assert.Equal(t, http.StatusConflict, code, "the problem was changed")
}

// Further rows come from what was earned.
func TestRowsOfTry(t *testing.T) {
	w := newTryer(t, berths)
	var rows struct {
		Columns []struct {
			ID string `json:"id"`
		} `json:"columns"`
		Total int `json:"total"`
	}
	r := call(t, w.h, "POST", "/api/problems/"+w.id+"/try/rows", `{"set":[],"table":"cases"}`, &rows)
	require.Equal(t, http.StatusOK, r.Code, r.Body)
	assert.Equal(t, 8, rows.Total)
	rows.Total = 0
	r = call(t, w.h, "POST", "/api"+w.link+"/try", `{"events":[],"rows":{"set":[],"table":"cases"}}`, &rows)
	require.Equal(t, http.StatusOK, r.Code, r.Body)
	assert.Equal(t, 8, rows.Total)
	assert.Equal(t, http.StatusNotFound, call(t, w.h, "POST", "/api/problems/"+w.id+"/try/rows", `{"set":[],"table":"printed"}`, nil).Code)
}
