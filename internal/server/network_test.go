package server

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"log/slog"
	"mime"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
)

// asked sends a request that differs from a usual one.
func asked(t *testing.T, h http.Handler, method, path string, change func(*http.Request)) *httptest.ResponseRecorder {
	t.Helper()
	request := httptest.NewRequest(method, path, strings.NewReader("{}"))
	change(request)
	recorder := httptest.NewRecorder()
	h.ServeHTTP(recorder, request)
	return recorder
}

// isFailure checks that an answer is an RFC 9457 document of its status.
func isFailure(t *testing.T, answer *httptest.ResponseRecorder, status int) {
	t.Helper()
	var f exchange.Failure
	require.NoError(t, json.Unmarshal(answer.Body.Bytes(), &f), answer.Body.String())
	assert.Equal(t, []any{status, status, http.StatusText(status), exchange.FailureType},
		[]any{answer.Code, f.Status, f.Title, answer.Header().Get("Content-Type")})
	assert.NotEmpty(t, f.Detail)
}

// A name that is not ours may be another site's that was given this machine's address.
func TestOnlyOurNamesAreServed(t *testing.T) {
	h, err := New(Config{Dist: dist, Log: slog.New(slog.DiscardHandler), Hosts: []string{"grund.example.org", "stats.example.org:8443"}})
	require.NoError(t, err)
	listening := &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1), Port: 8420}
	for host, ours := range map[string]bool{
		"localhost:8420": true, "LocalHost:8420": true, "127.0.0.1:8420": true, "127.0.0.9:8420": true, "[::1]:8420": true,
		"grund.example.org": true, "grund.example.org:9999": true, "Grund.Example.org:8420": true, "stats.example.org:8443": true,
		"stats.example.org": false, "stats.example.org:8420": false, "localhost": false, "localhost:80": false, "127.0.0.1:9": false,
		"evil.example.com": false, "evil.example.com:8420": false, "10.0.0.1:8420": false, "": false, "localhost.evil.com:8420": false,
	} {
		for _, path := range []string{"/", "/healthz", "/api/procedures"} {
			answer := asked(t, h, "GET", path, func(r *http.Request) {
				r.Host = host
				*r = *r.WithContext(context.WithValue(r.Context(), http.LocalAddrContextKey, listening))
			})
			if ours {
				assert.Equal(t, http.StatusOK, answer.Code, host)
			} else {
				isFailure(t, answer, http.StatusMisdirectedRequest)
			}
		}
	}
}

func TestEveryErrorIsADocument(t *testing.T) {
	h := newServer(t)
	same := func(*http.Request) {}
	for route, status := range map[string]int{
		"POST /api/work": 422, "GET /api/work": 405, "GET /api/nothing": 404, "PUT /api/procedures": 405, "GET /api/problems/x": 404,
		"GET /api/problems/" + uuid.NewString(): 404, "POST /": 405, "GET /assets/none.js": 404, "GET /api": 404, "GET /api/": 404,
		"GET /api/problems?from=-1": 422, "GET /api/problems?from=99999999999999999999": 422, "GET /api/data-sets?from=x": 422,
		"TRACE /api/work": 405,
	} {
		method, path, _ := strings.Cut(route, " ")
		t.Run(route, func(t *testing.T) { isFailure(t, asked(t, h, method, path, same), status) })
	}
	isFailure(t, asked(t, h, "POST", "/api/work", func(r *http.Request) { r.Header.Set("Sec-Fetch-Site", "cross-site") }), 403)
	isFailure(t, asked(t, h, "POST", "/api/work", func(r *http.Request) { r.Header.Set("Origin", "https://evil.example") }), 403)
}

func TestHeadIsGetWithoutTheBody(t *testing.T) {
	h := newServer(t)
	for _, path := range []string{"/", "/assets/index.js", "/healthz", "/api/procedures", "/api/problems", "/api/data-sets"} {
		get := call(t, h, "GET", path, nil, nil)
		head := call(t, h, "HEAD", path, nil, nil)
		assert.Equal(t, http.StatusOK, head.Code, path)
		assert.Empty(t, head.Body.String(), path)
		assert.Equal(t, get.Header(), head.Header(), path)
	}
}

func TestTagsAndCaching(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", demoFile(t), &p).Code)
	for path, caching := range map[string]string{
		"/": "no-cache", "/problems/x": "no-cache", "/assets/index.js": "public, max-age=31536000, immutable",
		"/api/problems": "private, no-cache", "/api/problems/" + p.ID: "private, no-cache", "/api/data-sets/" + p.DataSet: "private, no-cache",
		"/api/procedures": "private, no-cache", "/api/data-sets/" + p.DataSet + "/check": "private, no-cache",
		"/api/problems/" + p.ID + "/file": "private, no-cache", "/api/data-sets/" + p.DataSet + "/file?format=csv": "private, no-cache",
	} {
		answer := call(t, h, "GET", path, nil, nil)
		tag := answer.Header().Get("ETag")
		assert.NotEmpty(t, tag, path)
		assert.Equal(t, caching, answer.Header().Get("Cache-Control"), path)
		again := asked(t, h, "GET", path, func(r *http.Request) { r.Header.Set("If-None-Match", tag) })
		assert.Equal(t, http.StatusNotModified, again.Code, path)
		assert.Empty(t, again.Body.String(), path)
	}
	assert.Equal(t, "no-store", call(t, h, "POST", "/api/work", demoFile(t), nil).Header().Get("Cache-Control"))
}

// What was compressed when the interface was built is sent as it is to who takes it.
func TestFilesAreSentAsTheyWereCompressed(t *testing.T) {
	var packed bytes.Buffer
	out := gzip.NewWriter(&packed)
	_, err := io.WriteString(out, "let grund")
	require.NoError(t, err)
	require.NoError(t, out.Close())
	h, err := New(Config{Log: slog.New(slog.DiscardHandler), Hosts: []string{"example.com"}, Dist: fstest.MapFS{
		"index.html": {Data: []byte("<title>")}, "assets/a.js": {Data: []byte("let grund")},
		"assets/a.js.gz": {Data: packed.Bytes()}, "assets/a.js.br": {Data: []byte("brotli")},
	}})
	require.NoError(t, err)
	tags := map[string]bool{}
	for takes, want := range map[string]struct{ encoding, body string }{
		"":                     {"", "let grund"},
		"gzip":                 {"gzip", packed.String()},
		"gzip, deflate, br":    {"br", "brotli"},
		"br;q=0, gzip;q=0.5":   {"gzip", packed.String()},
		"gzip;q=0.000":         {"", "let grund"},
		"br ; q=1.0, identity": {"br", "brotli"},
	} {
		answer := asked(t, h, "GET", "/assets/a.js", func(r *http.Request) { r.Header.Set("Accept-Encoding", takes) })
		assert.Equal(t, want.encoding, answer.Header().Get("Content-Encoding"), takes)
		assert.Equal(t, want.body, answer.Body.String(), takes)
		assert.Contains(t, answer.Header().Get("Content-Type"), "javascript")
		assert.Equal(t, "Accept-Encoding", answer.Header().Get("Vary"))
		tags[answer.Header().Get("ETag")] = true
	}
	assert.Len(t, tags, 3, "each encoding has a tag of its own")
}

func TestListsComeInPages(t *testing.T) {
	st := openStore(t)
	h := newHandler(t, st)
	d, err := st.CreateDataSet(t.Context(), access.Local, problem.NewSet(), "")
	require.NoError(t, err)
	for i := range store.PageRows + 3 {
		draft := problem.NewDraft()
		draft.Title, draft.Question = fmt.Sprint(i), strings.Repeat("q", 10_000)
		_, err := st.CreateProblem(t.Context(), access.Local, draft, d.ID, "")
		require.NoError(t, err)
	}
	var first, second []Listing
	answer := call(t, h, "GET", "/api/problems", nil, &first)
	assert.Len(t, first, store.PageRows)
	assert.Len(t, first[0].Question, 500, "a long one is cut")
	assert.Equal(t, `</api/problems?from=200>; rel="next"`, answer.Header().Get("Link"))
	answer = call(t, h, "GET", "/api/problems?from=200", nil, &second)
	assert.Len(t, second, 3)
	assert.Empty(t, answer.Header().Get("Link"))
	assert.NotEqual(t, first[store.PageRows-1].ID, second[0].ID)
}

// slowBody gives its bytes one by one, and then waits.
type slowBody struct {
	left    int
	release chan struct{}
}

func (b *slowBody) Read(p []byte) (int, error) {
	if b.left > 0 {
		b.left--
		p[0] = 'x'
		return 1, nil
	}
	<-b.release
	return 0, io.EOF
}

// Whoever sends slowly holds no connection and no memory: the others do not notice.
func TestSlowBodiesHoldNothing(t *testing.T) {
	st := openStore(t)
	h := newHandler(t, st)
	release := make(chan struct{})
	const slow = 3 * store.DefaultConnections
	ended := make(chan int, slow)
	for range slow {
		go func() {
			request := httptest.NewRequest("POST", "/api/data-sets/import?name=slow", &slowBody{100, release})
			recorder := httptest.NewRecorder()
			h.ServeHTTP(recorder, request)
			ended <- recorder.Code
		}()
	}
	time.Sleep(100 * time.Millisecond)
	began := time.Now()
	for range 20 {
		require.Equal(t, http.StatusOK, call(t, h, "GET", "/api/problems", nil, nil).Code)
	}
	assert.Less(t, time.Since(began), 3*time.Second)
	close(release)
	for range slow {
		assert.Less(t, <-ended, 500)
	}
}

// Long bodies go by way of the disk, and are the same afterwards.
func TestLongBodiesArrive(t *testing.T) {
	s := &server{room: newRoom(DefaultMemory)}
	for _, n := range []int{0, 1, smallBody, smallBody + 1, 3*smallBody + 7} {
		text := strings.Repeat("0123456789", n/10+1)[:n]
		b, err := s.receive(strings.NewReader(text))
		require.NoError(t, err)
		got, err := io.ReadAll(b)
		require.NoError(t, err)
		assert.Equal(t, text, string(got))
		assert.Equal(t, int64(n), b.size)
		assert.Equal(t, n > smallBody, b.file != nil)
		require.NoError(t, b.Close())
		assert.Zero(t, s.room.spooled.Load())
	}
	_, err := s.receive(io.MultiReader(strings.NewReader(strings.Repeat("x", 2*smallBody)), errorReader{}))
	var cut *bodyError
	assert.ErrorAs(t, err, &cut, "a body that breaks off is none")
	assert.Zero(t, s.room.spooled.Load())
}

type errorReader struct{}

func (errorReader) Read([]byte) (int, error) { return 0, io.ErrUnexpectedEOF }

func TestRoomIsSharedAndGivenBack(t *testing.T) {
	r := newRoom(100)
	first, leave := r.admit(t.Context())
	require.NoError(t, r.take(first, 60))
	waiting, cancel := context.WithTimeout(t.Context(), 20*time.Millisecond)
	defer cancel()
	second, leaveSecond := r.admit(waiting)
	assert.ErrorIs(t, r.take(second, 60), context.DeadlineExceeded)
	leaveSecond()
	leave()
	third, leaveThird := r.admit(t.Context())
	require.NoError(t, r.take(third, 70))
	require.NoError(t, r.raise(third, 60), "it has as much already")
	require.True(t, r.memory.TryAcquire(30))
	r.memory.Release(30)
	require.NoError(t, r.take(third, 1000), "what costs more than there is gets all of it")
	require.NoError(t, r.take(third, 1), "who has all waits for nothing")
	leaveThird()
	assert.True(t, r.memory.TryAcquire(100), "all is given back")
}

// Files are called by their titles, whatever letters those have (RFC 6266).
func TestFilesKeepTheirNames(t *testing.T) {
	for title, want := range map[string]string{
		"Six loadings":      `attachment; filename="Six loadings.json"`,
		"ü":                 `attachment; filename="_.json"; filename*=UTF-8''%C3%BC.json`,
		"Größe 5/6":         `attachment; filename="Gr__e 5-6.json"; filename*=UTF-8''Gr%C3%B6%C3%9Fe%205-6.json`,
		"":                  `attachment; filename="untitled.json"`,
		" .. ":              `attachment; filename="untitled.json"`,
		"a\"b\r\nX-Evil: 1": `attachment; filename="a'b--X-Evil 1.json"`,
		"../../etc/passwd":  `attachment; filename="-..-etc-passwd.json"`,
	} {
		assert.Equal(t, want, exchange.Attachment(title, "json"))
		_, parameters, err := mime.ParseMediaType(exchange.Attachment(title, "json"))
		require.NoError(t, err)
		assert.True(t, strings.HasSuffix(parameters["filename"], ".json"))
	}
	assert.Less(t, len(exchange.Attachment(strings.Repeat("x", 10_000), "csv")), 200)
}

// Files that must be in memory as a whole are bounded, and say what else can be done.
func TestFilesThatAreReadWhole(t *testing.T) {
	r := newRoom(DefaultMemory)
	ctx, leave := r.admit(t.Context())
	defer leave()
	for start, taken := range map[string]bool{"PK\x03\x04": true, " [[1]": true, "\ufeff{\"grund\"": true, "a,b\n1,2": false, "": false} {
		before := r.memory.TryAcquire(DefaultMemory)
		require.True(t, before)
		r.memory.Release(DefaultMemory)
		own, leave := r.admit(ctx)
		require.NoError(t, r.takeForFile(own, []byte(start), 10<<20))
		free := r.memory.TryAcquire(DefaultMemory)
		assert.Equal(t, taken, !free, start)
		if free {
			r.memory.Release(DefaultMemory)
		}
		leave()
		err := r.takeForFile(ctx, []byte(start), maxBody+1)
		if taken {
			assert.ErrorContains(t, err, "save it as CSV")
		} else {
			assert.NoError(t, err)
		}
	}
}

// The name of a file that is imported may be anything.
func TestNamesOfFiles(t *testing.T) {
	h := newServer(t)
	for query, want := range map[string]string{"a%00b": "ab", "%ff%fe": "", "caf%C3%A9": "café",
		strings.Repeat("x", 3000): strings.Repeat("x", 500)} {
		var listing DataListing
		answer := call(t, h, "POST", "/api/data-sets/import?name="+query, "berth,minutes\nMole,12\n", &listing)
		require.Equal(t, http.StatusCreated, answer.Code, answer.Body.String())
		var d KeptSet
		call(t, h, "GET", "/api/data-sets/"+listing.ID, nil, &d)
		assert.Equal(t, want, d.Set.Name)
	}
}

// deadlines notes the limits of time that are set for writing.
type deadlines struct {
	*httptest.ResponseRecorder
	set []time.Time
}

func (d *deadlines) SetWriteDeadline(at time.Time) error {
	d.set = append(d.set, at)
	return nil
}

// Each piece of a long answer has a limit of its own, and no answer that of the one before.
func TestAnswersGoOnAsLongAsTheyAreTaken(t *testing.T) {
	w := &deadlines{ResponseRecorder: httptest.NewRecorder()}
	progressing(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		n, err := w.Write(make([]byte, 1_000_000))
		assert.NoError(t, err)
		assert.Equal(t, 1_000_000, n)
	})).ServeHTTP(w, httptest.NewRequest("GET", "/", nil))
	assert.Len(t, w.set, 1+16, "a piece of 64 KiB each")
	assert.True(t, w.set[0].IsZero())
	assert.WithinDuration(t, time.Now().Add(stalled), w.set[16], 10*time.Second)
	assert.Equal(t, 1_000_000, w.Body.Len())

	w = &deadlines{ResponseRecorder: httptest.NewRecorder()}
	progressing(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.WriteHeader(http.StatusNoContent)
	})).ServeHTTP(w, httptest.NewRequest("DELETE", "/", nil))
	assert.Len(t, w.set, 2)
}
