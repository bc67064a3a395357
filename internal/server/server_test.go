package server

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/localpg/pgtest"
	"grund/internal/problem"
	"grund/internal/store"
)

func TestMain(m *testing.M) { pgtest.Main(m) }

var dist = fstest.MapFS{
	"index.html":      {Data: []byte("<title>Grund</title>")},
	"assets/index.js": {Data: []byte("let grund")},
}

// newHandler returns a server on a store, which may be nil, under the name that requests in tests have.
func newHandler(tb testing.TB, st *store.Store) http.Handler {
	tb.Helper()
	h, err := New(Config{Store: st, Dist: dist, Log: slog.New(slog.DiscardHandler), Hosts: []string{"example.com"}})
	require.NoError(tb, err)
	return h
}

func newServer(t *testing.T) http.Handler {
	t.Helper()
	return newHandler(t, openStore(t))
}

// call sends a request and decodes the answer into out, if that is not nil.
func call(t *testing.T, h http.Handler, method, path string, body any, out any) *httptest.ResponseRecorder {
	t.Helper()
	var reader io.Reader
	switch body := body.(type) {
	case nil:
	case string:
		reader = strings.NewReader(body)
	default:
		text, err := json.Marshal(body)
		require.NoError(t, err)
		reader = bytes.NewReader(text)
	}
	recorder := httptest.NewRecorder()
	h.ServeHTTP(recorder, httptest.NewRequest(method, path, reader))
	if out != nil {
		decode(t, recorder, out)
	}
	return recorder
}

// decode reads the answer.
func decode(t *testing.T, answer *httptest.ResponseRecorder, out any) {
	t.Helper()
	require.NoError(t, json.Unmarshal(answer.Body.Bytes(), out), answer.Body.String())
}

func demoFile(tb testing.TB) string {
	tb.Helper()
	file, err := os.ReadFile("../../demo/problems/two-berths.json")
	require.NoError(tb, err)
	return string(file)
}

// solution is the part of a worked solution that these tests look at.
type solution struct {
	Procedure  string
	Quantities []struct {
		ID    string   `json:"id"`
		Value *float64 `json:"value"`
	} `json:"quantities"`
}

func (s *solution) value(id string) float64 {
	for _, q := range s.Quantities {
		if q.ID == id {
			return *q.Value
		}
	}
	return 0
}

// worked is a solution with the versions that it was worked from.
type worked struct {
	Version     int64    `json:"version"`
	DataVersion int64    `json:"data_version"`
	Solution    solution `json:"solution"`
}

func TestWorkWithoutADatabase(t *testing.T) {
	h := newHandler(t, nil)
	var s solution
	response := call(t, h, "POST", "/api/work", demoFile(t), &s)
	assert.Equal(t, http.StatusOK, response.Code)
	assert.InEpsilon(t, -2.0640769088161713, s.value("t"), 1e-13)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", "/healthz", nil, nil).Code)
	assert.Equal(t, http.StatusNotFound, call(t, h, "GET", "/api/problems", nil, nil).Code)
}

func TestErrorsSayWhatToDo(t *testing.T) {
	h := newServer(t)
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"POST", "/api/work", `{"grund":1,"alhpa":1}`, 422, "did you mean “alpha”?"},
		{"POST", "/api/work", ``, 422, "the file is empty"},
		{"POST", "/api/work", strings.Replace(demoFile(t), "t-two-sample", "t-test", 1), 422, "no procedure"},
		{"POST", "/api/problems/import", `[]`, 422, "one JSON object"},
		{"GET", "/api/problems/nonsense", ``, 404, "nothing under this address"},
		{"GET", "/api/problems/00000000-0000-4000-8000-000000000009", ``, 404, "nothing under this address"},
		{"GET", "/api/nothing", ``, 404, "Not Found"},
		{"POST", "/api/read", "a,b\n\"1,2", 422, "quotation mark"},
	} {
		var f exchange.Failure
		response := call(t, h, c.method, c.path, c.body, &f)
		assert.Equal(t, c.status, response.Code, c.path)
		assert.Equal(t, "application/problem+json", response.Header().Get("Content-Type"))
		assert.Contains(t, f.Detail, c.says)
		assert.Equal(t, c.status == 422, len(f.Errors) > 0)
	}
}

func TestTooLargeABody(t *testing.T) {
	h := newHandler(t, nil)
	var f exchange.Failure
	response := call(t, h, "POST", "/api/work", strings.Repeat(" ", maxBody+1), &f)
	assert.Equal(t, http.StatusRequestEntityTooLarge, response.Code)
	assert.Contains(t, f.Detail, "64 MiB")
}

func TestAProblemFromBeginningToEnd(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems", nil, &p).Code)
	assert.Equal(t, "/columns", p.Mistakes[0].Pointer)

	d := p.Draft
	d.Title, d.Roles = "Six loadings", problem.Roles{"response": {"minutes"}, "group": {"berth"}}
	patch := DataPatch{Version: 1, Rows: 4, Set: &data.Set{Form: data.FormCases,
		Columns: []*data.Column{{Key: 1, Name: "berth"}, {Key: 2, Name: "minutes"}}}, Blocks: []store.Block{
		{Column: 1, Cells: []string{"Mole", "Quarry", "Mole", "Quarry"}},
		{Column: 2, Cells: []string{"12.1", "13.4", "11.8", "12.9o"}},
	}}
	var dataSaved DataSaved
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/data-sets/"+p.DataSet, patch, &dataSaved).Code)
	var saved Saved
	require.Equal(t, http.StatusOK, call(t, h, "PUT", "/api/problems/"+p.ID, PutRequest{p.Version, d, nil}, &saved).Code)
	assert.Equal(t, "/columns/1/cells/3", saved.Mistakes[0].Pointer)
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, h, "POST", "/api/problems/"+p.ID+"/work", WorkRequest{}, nil).Code)

	patch.Blocks = []store.Block{{Column: 2, Cells: []string{"12.1", "13.4", "11.8", "12.9"}}}
	require.Equal(t, http.StatusConflict, call(t, h, "PATCH", "/api/data-sets/"+p.DataSet, patch, nil).Code)
	patch.Version = dataSaved.Version
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/data-sets/"+p.DataSet, patch, &dataSaved).Code)
	require.Equal(t, http.StatusConflict, call(t, h, "PUT", "/api/problems/"+p.ID, PutRequest{p.Version, d, nil}, nil).Code)
	require.Equal(t, http.StatusOK, call(t, h, "GET", "/api/problems/"+p.ID+"/check", nil, &saved).Code)
	assert.Empty(t, saved.Mistakes)

	var w worked
	call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[{"pointer":"/options/variances","value":"equal"}]}`, &w)
	assert.Equal(t, 2.0, w.Solution.value("df"))
	assert.Equal(t, []int64{saved.Version, saved.DataVersion}, []int64{w.Version, w.DataVersion})
	var settled struct {
		Problem  Problem           `json:"problem"`
		Solution solution          `json:"solution"`
		Failure  *exchange.Failure `json:"failure"`
	}
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings",
		fmt.Sprintf(`{"version":%d,"set":[{"pointer":"/alpha","value":0.1}]}`, saved.Version), &settled).Code)
	assert.Equal(t, "0.1", settled.Problem.Draft.Alpha)
	assert.Equal(t, 0.1, settled.Solution.value("alpha"))
	assert.Nil(t, settled.Failure)
	var again Problem
	call(t, h, "GET", "/api/problems/"+p.ID, nil, &again)
	assert.Equal(t, settled.Problem, again)

	file := call(t, h, "GET", "/api/problems/"+p.ID+"/file", nil, nil)
	assert.Contains(t, file.Header().Get("Content-Disposition"), `filename="Six loadings.json"`)
	var imported Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", file.Body.String(), &imported).Code)
	assert.Equal(t, again.Draft.Alpha, imported.Draft.Alpha)

	require.Equal(t, http.StatusNoContent, call(t, h, "DELETE", "/api/problems/"+p.ID, nil, nil).Code)
	require.Equal(t, http.StatusNoContent, call(t, h, "POST", "/api/problems/"+p.ID+"/restore", nil, nil).Code)
	var list []Listing
	call(t, h, "GET", "/api/problems", nil, &list)
	assert.Len(t, list, 2)
}

func TestResetADemoProblem(t *testing.T) {
	st := openStore(t)
	first, err := incoming([]byte(demoFile(t)))
	require.NoError(t, err)
	draft, set := first.Draft, first.Set
	draft.Alpha = "0.2"
	set.Columns[1].Cells[0] = "99"
	d, err := st.CreateDataSet(context.Background(), access.Local, set, "two-berths")
	require.NoError(t, err)
	kept, err := st.CreateProblem(context.Background(), access.Local, draft, d.ID, "two-berths")
	require.NoError(t, err)
	h := newHandler(t, st)
	var p Problem
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+kept.ID.String()+"/reset?version=1", nil, &p).Code)
	assert.Equal(t, "0.05", p.Draft.Alpha)
	var w worked
	call(t, h, "POST", "/api/problems/"+p.ID+"/work", WorkRequest{}, &w)
	assert.InEpsilon(t, -2.0640769088161713, w.Solution.value("t"), 1e-13, "the data are as they were too")
}

// Every demo problem can be set back, those too that share a data set with others.
func TestResetEveryDemoProblem(t *testing.T) {
	st := openStore(t)
	h := newHandler(t, st)
	problems, _ := demoProblems(t, st, func(d *problem.Draft) { d.Alpha = "0.2" })
	for name, id := range problems {
		var p Problem
		require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+id.String()+"/reset?version=1", nil, &p).Code, name)
		assert.Equal(t, "0.05", p.Draft.Alpha, name)
		assert.Empty(t, p.Mistakes, name)
	}
}

// demoProblems keeps all demo problems, each data set once, with their drafts changed. It returns the
// ids of the problems and of their data sets by the name of the problem.
func demoProblems(t *testing.T, st *store.Store, change func(*problem.Draft)) (problems, sets map[string]uuid.UUID) {
	t.Helper()
	ctx := t.Context()
	files, err := demo.Problems()
	require.NoError(t, err)
	problems, sets = map[string]uuid.UUID{}, map[string]uuid.UUID{}
	kept := map[string]uuid.UUID{}
	for _, d := range files {
		first, err := incoming(d.File)
		require.NoError(t, err)
		draft := first.Draft
		name := demo.SetOf(d.Name)
		if _, there := kept[name]; !there {
			set, err := demo.DataSet(name)
			require.NoError(t, err)
			created, err := st.CreateDataSet(ctx, access.Local, set, name)
			require.NoError(t, err)
			kept[name] = created.ID
		}
		change(draft)
		created, err := st.CreateProblem(ctx, access.Local, draft, kept[name], d.Name)
		require.NoError(t, err)
		problems[d.Name], sets[d.Name] = created.ID, kept[name]
	}
	return problems, sets
}

// A part of the interface that is not there is not found; a page of it is.
func TestMissingAssets(t *testing.T) {
	h := newServer(t)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", "/assets/index.js", nil, nil).Code)
	assert.Equal(t, http.StatusNotFound, call(t, h, "GET", "/assets/gone.js", nil, nil).Code)
	assert.Equal(t, http.StatusNotFound, call(t, h, "GET", "/assets/", nil, nil).Code)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", "/problems/1", nil, nil).Code)
}

// The error of a body that is too large names the limit that it met.
func TestTheLimitOfABodyIsNamed(t *testing.T) {
	h := newServer(t)
	for path, want := range map[string]string{"/api/work": "larger than 64 MiB", "/api/data-sets/import": "larger than 1 GiB"} {
		request := httptest.NewRequest("POST", path, http.NoBody)
		request.ContentLength = 2 << 30
		recorder := httptest.NewRecorder()
		h.ServeHTTP(recorder, request)
		assert.Equal(t, http.StatusRequestEntityTooLarge, recorder.Code)
		assert.Contains(t, recorder.Body.String(), want)
	}
}

// An answer in lines that fails after it has begun ends with a line that says why, and what was
// not expected is logged.
func TestErrorsAfterTheFirstLine(t *testing.T) {
	for _, c := range []struct {
		err    error
		status int
		logged bool
	}{
		{problem.Errors{{Pointer: "/alpha", Says: "too small"}}, http.StatusUnprocessableEntity, false},
		{fmt.Errorf("drawing: %w", context.DeadlineExceeded), http.StatusServiceUnavailable, false},
		{io.ErrUnexpectedEOF, http.StatusInternalServerError, true},
	} {
		var log bytes.Buffer
		e := echo.New()
		e.Logger = slog.New(slog.NewTextHandler(&log, nil))
		e.HTTPErrorHandler = handleError
		e.GET("/lines", func(ctx *echo.Context) error {
			ctx.Response().Header().Set(echo.HeaderContentType, jsonLines)
			_, err := io.WriteString(ctx.Response(), "{\"drawn\":1}\n")
			require.NoError(t, err)
			return c.err
		})
		recorder := httptest.NewRecorder()
		e.ServeHTTP(recorder, httptest.NewRequest("GET", "/lines", nil))
		lines := strings.Split(strings.TrimSpace(recorder.Body.String()), "\n")
		require.Len(t, lines, 2)
		var f exchange.Failure
		require.NoError(t, json.Unmarshal([]byte(lines[1]), &f))
		assert.Equal(t, c.status, f.Status)
		assert.NotEmpty(t, f.Detail)
		assert.Equal(t, c.logged, strings.Contains(log.String(), "request failed"), log.String())
	}
}

func openStore(t *testing.T) *store.Store {
	t.Helper()
	st, err := store.Open(context.Background(), pgtest.Database(t), store.Options{})
	require.NoError(t, err)
	t.Cleanup(st.Close)
	return st
}

func TestTheApplicationIsServedEverywhereElse(t *testing.T) {
	h := newHandler(t, nil)
	for path, want := range map[string]string{"/": "<title>Grund", "/problems/x/edit": "<title>Grund", "/assets/index.js": "let grund"} {
		response := call(t, h, "GET", path, nil, nil)
		assert.Contains(t, response.Body.String(), want)
		assert.Contains(t, response.Header().Get("Content-Security-Policy"), "default-src 'self'")
	}
	assert.Contains(t, call(t, h, "GET", "/assets/index.js", nil, nil).Header().Get("Cache-Control"), "immutable")
}

func TestAnotherSiteMayNotAct(t *testing.T) {
	h := newHandler(t, nil)
	request := httptest.NewRequest("POST", "/api/work", strings.NewReader(demoFile(t)))
	request.Header.Set("Sec-Fetch-Site", "cross-site")
	recorder := httptest.NewRecorder()
	h.ServeHTTP(recorder, request)
	assert.Equal(t, http.StatusForbidden, recorder.Code)
}

func TestAnswersAreCompressed(t *testing.T) {
	h := newHandler(t, nil)
	request := httptest.NewRequest("POST", "/api/work", strings.NewReader(demoFile(t)))
	request.Header.Set("Accept-Encoding", "gzip")
	recorder := httptest.NewRecorder()
	h.ServeHTTP(recorder, request)
	require.Equal(t, "gzip", recorder.Header().Get("Content-Encoding"))
	reader, err := gzip.NewReader(recorder.Body)
	require.NoError(t, err)
	body, err := io.ReadAll(reader)
	require.NoError(t, err)
	assert.Contains(t, string(body), `"procedure":"t-two-sample"`)
}

// problemOf returns a two-sample problem file of n cases.
func problemOf(tb testing.TB, n int) string {
	tb.Helper()
	var groups, values []string
	for i := range n {
		groups = append(groups, fmt.Sprintf("%q", []string{"Mole", "Quarry"}[i%2]))
		values = append(values, fmt.Sprintf("%.2f", 12+float64(i*7919%1000)/250))
	}
	return fmt.Sprintf(`{"grund":1,"procedure":"t-two-sample","roles":{"response":"minutes","group":"berth"},"data":{"variables":[
		{"name":"berth","kind":"category","values":[%s]},{"name":"minutes","kind":"number","unit":"min","values":[%s]}]}}`,
		strings.Join(groups, ","), strings.Join(values, ","))
}

// BenchmarkWork prints how much longer /api/work takes on 1,000 cases than a
// handler that decodes the same body into the same types and encodes it again,
// for one request after the other and for eight at once.
func BenchmarkWork(b *testing.B) {
	body := problemOf(b, 1000)
	plain := echo.New()
	plain.POST("/api/work", func(c *echo.Context) error {
		text, err := io.ReadAll(c.Request().Body)
		if err != nil {
			return err
		}
		p, err := problem.Parse(text)
		if err != nil {
			return err
		}
		return exchange.Write(c, http.StatusOK, p)
	})
	grund := newHandler(b, nil)
	for _, connections := range []int{1, 8} {
		b.Run(fmt.Sprint(connections), func(b *testing.B) {
			all := func(h http.Handler) time.Duration {
				var group sync.WaitGroup
				start := time.Now()
				for range connections {
					group.Go(func() {
						recorder := httptest.NewRecorder()
						h.ServeHTTP(recorder, httptest.NewRequest("POST", "/api/work", strings.NewReader(body)))
						assert.Equal(b, http.StatusOK, recorder.Code)
					})
				}
				group.Wait()
				return time.Since(start) / time.Duration(connections)
			}
			var work, codec time.Duration
			for b.Loop() {
				work += all(grund)
				codec += all(plain)
			}
			b.ReportMetric(float64(work)/float64(b.N)/1e3, "µs/work")
			b.ReportMetric(float64(codec)/float64(b.N)/1e3, "µs/decode+encode")
			b.ReportMetric(float64(work)/float64(codec), "ratio")
		})
	}
}
