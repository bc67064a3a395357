package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/localpg/pgtest"
)

// A caller asks the server as a browser does, with a session.
type caller struct {
	client *http.Client
	url    string
}

func newCaller(t *testing.T, a *app) *caller {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &caller{&http.Client{Jar: jar, Timeout: patience}, a.url}
}

// ask sends a request and decodes the answer into out, if that is not nil; the status is 0 where nobody answers.
func (c *caller) ask(method, path, body string, out any) int {
	r, err := http.NewRequest(method, c.url+path, strings.NewReader(body))
	if err != nil {
		return 0
	}
	answer, err := c.client.Do(r)
	if err != nil {
		return 0
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	if err != nil {
		return 0
	}
	if out != nil && answer.StatusCode < 300 && json.Unmarshal(text, out) != nil {
		return 0
	}
	return answer.StatusCode
}

// A student answers the same ask over and over, and notes how many answers were acknowledged.
type student struct {
	*caller
	problem      string
	acknowledged atomic.Int64
}

// answer gives one answer after the last that the server has.
func (s *student) answer() bool {
	var now struct {
		Version int64 `json:"version"`
		Events  int64 `json:"events"`
	}
	path := "/api/set-problems/" + s.problem + "/try"
	if s.ask("GET", path, "", &now) != http.StatusOK {
		return false
	}
	body := fmt.Sprintf(`{"version":%d,"data_version":1,"after":%d,"kind":"answer","ask":"claim","text":"h1"}`, now.Version, now.Events)
	if s.ask("POST", path, body, nil) != http.StatusOK {
		return false
	}
	s.acknowledged.Store(now.Events + 1)
	return true
}

// Whatever dies while fifty students answer, every answer that was acknowledged is there.
func TestAnswersOutliveAKill(t *testing.T) {
	t.Parallel()
	dir, err := pgtest.Dir()
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	a := &app{t: t, people: true, args: []string{"--dir", dir}}
	a.start()
	t.Cleanup(a.stop)
	teacher := newCaller(t, a)
	require.Equal(t, http.StatusOK, teacher.ask("POST", "/api/demo-people/ines.maro", "", nil))
	var classes struct {
		Classes []struct {
			ID   string `json:"id"`
			Code string `json:"code"`
		} `json:"classes"`
	}
	require.Equal(t, http.StatusOK, teacher.ask("GET", "/api/classes", "", &classes))
	class := classes.Classes[0]
	var sets []struct {
		ID    string `json:"id"`
		Title string `json:"title"`
	}
	require.Equal(t, http.StatusOK, teacher.ask("GET", "/api/classes/"+class.ID+"/sets", "", &sets))
	var set struct {
		Problems []struct {
			ID string `json:"id"`
		} `json:"problems"`
	}
	require.Equal(t, http.StatusOK, teacher.ask("GET", "/api/sets/"+sets[0].ID, "", &set))
	students := make([]*student, 50)
	for i := range students {
		students[i] = &student{caller: newCaller(t, a), problem: set.Problems[0].ID}
		require.Less(t, students[i].ask("POST", "/api/guests", "", nil), 300)
		body := fmt.Sprintf(`{"code":%q,"name":"Student %d"}`, class.Code, i)
		require.Equal(t, http.StatusOK, students[i].ask("POST", "/api/classes/join", body, nil))
	}
	for round, kill := range []func(){
		func() {
			require.NoError(t, a.command.Process.Kill())
			_ = a.command.Wait()
			a.start()
		},
		func() { require.NoError(t, syscall.Kill(a.postgres(), syscall.SIGKILL)) },
	} {
		stop := make(chan struct{})
		var answering sync.WaitGroup
		for _, s := range students {
			answering.Go(func() {
				for {
					select {
					case <-stop:
						return
					default:
						s.answer()
					}
				}
			})
		}
		time.Sleep(700 * time.Millisecond)
		kill()
		time.Sleep(500 * time.Millisecond)
		close(stop)
		answering.Wait()
		a.answers()
		total := int64(0)
		for i, s := range students {
			var now struct {
				Events int64 `json:"events"`
			}
			require.Equal(t, http.StatusOK, s.ask("GET", "/api/set-problems/"+s.problem+"/try", "", &now))
			acknowledged := s.acknowledged.Load()
			assert.GreaterOrEqual(t, now.Events, acknowledged, "round %d, student %d", round, i)
			assert.LessOrEqual(t, now.Events, acknowledged+1, "round %d, student %d: at most one was on its way", round, i)
			total += acknowledged
		}
		assert.Greater(t, total, int64(50), "answers went on")
	}
}
