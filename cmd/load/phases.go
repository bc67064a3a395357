package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// A load asks a server.
type load struct {
	server  *server
	client  *http.Client
	problem string // a problem with little data
	long    string // one with more, whose simulation takes a while
	set     string
	calm    time.Duration // the median of a click when nobody else asks
}

// ask sends a request and returns the status and the body of the answer.
func (l *load) ask(method, path string, body io.Reader) (int, []byte, error) {
	request, err := http.NewRequest(method, l.server.url+path, body)
	if err != nil {
		return 0, nil, err
	}
	response, err := l.client.Do(request)
	if err != nil {
		return 0, nil, err
	}
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	return response.StatusCode, text, err
}

// problemOf returns a problem file about two groups with n cases.
func problemOf(n int) string {
	rng := rand.New(rand.NewPCG(1, uint64(n)))
	var values, groups []string
	for i := range n {
		values = append(values, fmt.Sprintf("%.2f", 12+2*rng.NormFloat64()))
		groups = append(groups, []string{`"Mole"`, `"Quarry"`}[i%2])
	}
	return `{"grund":1,"procedure":"t-two-sample","roles":{"response":"minutes","group":"berth"},"data":{"variables":[` +
		`{"name":"minutes","kind":"number","values":[` + strings.Join(values, ",") + `]},` +
		`{"name":"berth","kind":"category","values":[` + strings.Join(groups, ",") + `]}]}}`
}

// prepare keeps what is asked about.
func (l *load) prepare() error {
	l.client = &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 1000}, Timeout: 3 * time.Minute}
	for n, to := range map[int]*string{40: &l.problem, 4000: &l.long} {
		status, text, err := l.ask("POST", "/api/problems/import", strings.NewReader(problemOf(n)))
		if err != nil || status != http.StatusCreated {
			return fmt.Errorf("keeping a problem: status %d: %w", status, err)
		}
		var kept struct {
			ID      string `json:"id"`
			DataSet string `json:"data_set"`
		}
		if err := json.Unmarshal(text, &kept); err != nil {
			return err
		}
		if *to = kept.ID; n == 40 {
			l.set = kept.DataSet
		}
	}
	return nil
}

// median returns the median time of so many clicks on a control, and whether all were answered.
func (l *load) median(n int) (time.Duration, bool) {
	var took []time.Duration
	for range n {
		began := time.Now()
		status, _, err := l.ask("POST", "/api/problems/"+l.problem+"/work", strings.NewReader(`{"set":[{"pointer":"/alpha","value":0.01}]}`))
		if err != nil || status != http.StatusOK {
			return 0, false
		}
		took = append(took, time.Since(began))
	}
	slices.Sort(took)
	return took[n/2], true
}

func (l *load) quiet() ([]result, error) {
	l.median(20) // the first ones are slower
	var ok bool
	if l.calm, ok = l.median(60); !ok {
		return nil, fmt.Errorf("a click is not answered")
	}
	return []result{{"a click, nobody else asks", l.calm.Round(10 * time.Microsecond).String(), false}}, nil
}

// beside clicks while something else goes on.
func (l *load) beside(what string, most float64) result {
	took, ok := l.median(40)
	times := float64(took) / float64(l.calm)
	return result{"a click beside " + what, fmt.Sprintf("%v, %.1f times the quiet one", took.Round(10*time.Microsecond), times), !ok ||
		times > most}
}

// many asks on many connections at once, all kinds of routes.
func (l *load) many(connections int, long time.Duration) ([]result, error) {
	routes := []struct{ method, path, body string }{
		{"GET", "/", ""}, {"GET", "/api/problems", ""}, {"GET", "/api/problems/" + l.problem, ""},
		{"POST", "/api/problems/" + l.problem + "/work", `{"set":[]}`}, {"GET", "/api/data-sets/" + l.set, ""},
		{"GET", "/api/data-sets/" + l.set + "/file?format=xlsx", ""}, {"POST", "/api/work", problemOf(40)}, {"GET", "/api/procedures", ""},
		{"POST", "/api/data-sets", ""},
	}
	var answers, busy, failed atomic.Int64
	var wait sync.WaitGroup
	until := time.Now().Add(long)
	for i := range connections {
		wait.Go(func() {
			for n := i; time.Now().Before(until); n++ {
				r := routes[n%len(routes)]
				switch status, _, err := l.ask(r.method, r.path, strings.NewReader(r.body)); {
				case err != nil || status >= 500 && status != http.StatusServiceUnavailable:
					failed.Add(1)
				case status == http.StatusServiceUnavailable:
					busy.Add(1)
				default:
					answers.Add(1)
				}
			}
		})
	}
	wait.Wait()
	came := fmt.Sprintf("%.0f answers a second, %d times “one moment”, %d errors", float64(answers.Load())/long.Seconds(), busy.Load(),
		failed.Load())
	return []result{{fmt.Sprintf("%d connections, all kinds of routes", connections), came, failed.Load() > 0}}, nil
}

// simulations draws many simulations at once.
func (l *load) simulations(n int) ([]result, error) {
	var wait sync.WaitGroup
	var ended atomic.Int64
	began := time.Now()
	for range n {
		wait.Go(func() {
			status, text, err := l.ask("POST", "/api/problems/"+l.long+"/simulation", strings.NewReader(`{"set":[]}`))
			if err == nil && status == http.StatusOK && bytes.Contains(text, []byte(`"drawn":5000`)) {
				ended.Add(1)
			}
		})
	}
	time.Sleep(500 * time.Millisecond)
	click := l.beside(fmt.Sprintf("%d simulations", n), 5)
	wait.Wait()
	came := fmt.Sprintf("%d to their end, in %v", ended.Load(), time.Since(began).Round(100*time.Millisecond))
	return []result{click, {fmt.Sprintf("%d simulations at once", n), came, ended.Load() < int64(n)}}, nil
}

// A slow body gives a byte now and then, until it is told to end.
type slow struct {
	end  chan struct{}
	sent int
}

func (s *slow) Read(p []byte) (int, error) {
	if s.sent > 0 {
		select {
		case <-s.end:
			return 0, io.EOF
		case <-time.After(100 * time.Millisecond):
		}
	}
	s.sent++
	return copy(p, "1\n"), nil
}

// slowBodies sends many imports so slowly that none ends.
func (l *load) slowBodies(n int) ([]result, error) {
	end := make(chan struct{})
	var wait sync.WaitGroup
	for range n {
		wait.Go(func() { _, _, _ = l.ask("POST", "/api/data-sets/import?name=slow", &slow{end: end}) })
	}
	time.Sleep(time.Second)
	click := l.beside(fmt.Sprintf("%d imports that dribble in", n), 5)
	close(end)
	wait.Wait()
	return []result{click}, nil
}

// largeBodies sends problems as large as a body may be, all at once.
func (l *load) largeBodies(n int) ([]result, error) {
	body := problemOf(3_000_000)
	var wait sync.WaitGroup
	var worked, busy, failed atomic.Int64
	for range n {
		wait.Go(func() {
			switch status, _, err := l.ask("POST", "/api/work", strings.NewReader(body)); {
			case err == nil && status == http.StatusOK:
				worked.Add(1)
			case err == nil && status == http.StatusServiceUnavailable:
				busy.Add(1)
			default:
				failed.Add(1)
			}
		})
	}
	wait.Wait()
	came := fmt.Sprintf("%d worked, %d times “one moment”, %d errors; %d MiB at most", worked.Load(), busy.Load(), failed.Load(),
		l.server.memory())
	what := fmt.Sprintf("%d bodies of %d MiB at once", n, len(body)>>20)
	return []result{{what, came, failed.Load() > 0 || l.server.memory() > 4096}}, nil
}
