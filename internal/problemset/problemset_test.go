package problemset

import (
	"archive/zip"
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/answer"
	"grund/internal/problem"
	"grund/internal/working"
)

func TestSettings(t *testing.T) {
	noon := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	later, negative, none := noon.Add(time.Hour), -1, 0
	for pointer, change := range map[string]func(s *Settings){
		"":            func(*Settings) {},
		"/title":      func(s *Settings) { s.Title = strings.Repeat("x", MaxTitle+1) },
		"/solution":   func(s *Settings) { s.Solution = "never" },
		"/due":        func(s *Settings) { s.Opens, s.Due = &later, &noon },
		"/keep":       func(s *Settings) { s.Keep = "all" },
		"/help":       func(s *Settings) { s.Help = &negative },
		"/tries":      func(s *Settings) { s.Tries = &none },
		"/try_costs":  func(s *Settings) { s.TryCosts = 1.5 },
		"/help_costs": func(s *Settings) { s.HelpCosts = -0.1 },
	} {
		s := New("Week 1")
		change(&s)
		err := s.Check()
		if pointer == "" {
			assert.NoError(t, err)
			continue
		}
		mistakes, is := err.(problem.Errors)
		require.True(t, is, pointer)
		assert.Equal(t, pointer, mistakes[0].Pointer)
		assert.NotEmpty(t, mistakes[0].Instead)
	}
	s := New("Week 1")
	s.Opens, s.Due = &noon, &later
	for _, c := range []struct {
		at                  time.Time
		solution            string
		released            bool
		open, late, readsIt bool
	}{
		{noon.Add(-time.Second), AtOnce, false, false, false, false},
		{noon, AtOnce, false, true, false, true},
		{noon, AfterDue, false, true, false, false},
		{noon, AfterDue, true, true, false, true},
		{later, AfterDue, false, true, false, false},
		{later.Add(time.Second), AfterDue, false, true, true, true},
		{later.Add(time.Second), WhenReleased, false, true, true, false},
		{noon, WhenReleased, true, true, false, true},
	} {
		s.Solution = c.solution
		assert.Equal(t, c.open, s.IsOpen(c.at), c)
		assert.Equal(t, c.late, s.IsLate(c.at), c)
		assert.Equal(t, c.readsIt, s.ShowsSolution(c.at, c.released), c)
	}
}

func TestSeeds(t *testing.T) {
	set, person := uuid.New(), uuid.New()
	seen := map[uint64]bool{}
	for _, p := range []uuid.UUID{person, uuid.New(), uuid.New()} {
		for draw := range 3 {
			seed := Seed(set, p, draw)
			assert.Equal(t, seed, Seed(set, p, draw))
			assert.Less(t, seed, uint64(1)<<53, "JSON keeps it exactly")
			seen[seed] = true
		}
	}
	assert.Len(t, seen, 9)
}

// What an ask brings: all for what counts as right, less what tries and help cost, nothing for what was given up.
func TestMarks(t *testing.T) {
	s := New("")
	s.TryCosts, s.HelpCosts = 0.25, 0.1
	var asks []answer.Ask
	standing := &Standing{}
	want := map[string]float64{}
	for _, c := range []struct {
		a    AskStanding
		want float64
	}{
		{AskStanding{Ask: "right", Verdict: answer.Right, Tries: 1}, 2},
		{AskStanding{Ask: "follows", Verdict: answer.Follows, Tries: 1}, 2},
		{AskStanding{Ask: "third try", Verdict: answer.Right, Tries: 3}, 1},
		{AskStanding{Ask: "helped", Verdict: answer.Accepted, Tries: 1, Help: 2}, 1.6},
		{AskStanding{Ask: "never less than nothing", Verdict: answer.Right, Tries: 9}, 0},
		{AskStanding{Ask: "slip", Verdict: answer.Slip, Slip: "one_tail", Tries: 1}, 0},
		{AskStanding{Ask: "shown", Verdict: answer.Right, Tries: 1, Help: 4, Shown: true}, 0},
		{AskStanding{Ask: "by hand", Verdict: answer.Wrong, Tries: 1}, 1.5},
	} {
		asks = append(asks, answer.Ask{ID: c.a.Ask})
		standing.Asks = append(standing.Asks, c.a)
		want[c.a.Ask] = c.want
	}
	asks = append(asks, answer.Ask{ID: "not begun"})
	points := Points{}
	for _, ask := range asks {
		points[ask.ID] = 2
	}
	marks := s.Marks(asks, points, standing, map[string]float64{"by hand": 1.5})
	for _, m := range marks {
		assert.InDelta(t, want[m.Ask], m.Points, 1e-12, m.Ask)
		assert.Equal(t, 2.0, m.Of)
		assert.Equal(t, m.Ask == "by hand", m.ByHand)
	}
	sum, of := Sum(marks)
	assert.InDelta(t, 8.1, sum, 1e-12)
	assert.Equal(t, 18.0, of)
	for _, m := range s.Marks(asks, nil, nil, nil) {
		assert.Zero(t, m.Points)
		assert.Equal(t, 1.0, m.Of)
	}
}

// How a step is going, in every case that there is.
func TestStepMarks(t *testing.T) {
	const step = working.Statistic
	ask := func(verdict string, help int, shown bool) AskStanding {
		return AskStanding{Ask: "x", Step: step, Verdict: verdict, Help: help, Shown: shown}
	}
	for _, c := range []struct {
		want Mark
		open working.StepID
		of   int
		asks []AskStanding
	}{
		{NotBegun, working.Data, 2, nil},
		{AtWork, step, 2, nil},
		{AtWork, step, 2, []AskStanding{ask(answer.Right, 0, false)}},
		{AtWork, step, 1, []AskStanding{ask(answer.Unreadable, 0, false)}},
		{AtWork, step, 1, []AskStanding{ask("", 1, false)}},
		{Right, "", 2, []AskStanding{ask(answer.Right, 0, false), ask(answer.Right, 0, false)}},
		{OtherRule, "", 2, []AskStanding{ask(answer.Right, 0, false), ask(answer.Accepted, 0, false)}},
		{OtherRule, "", 1, []AskStanding{ask(answer.Follows, 0, false)}},
		{Helped, "", 2, []AskStanding{ask(answer.Right, 2, false), ask(answer.Accepted, 0, false)}},
		{ShownMark, "", 2, []AskStanding{ask(answer.Right, 2, false), ask("", 4, true)}},
		{Wrong, step, 3, []AskStanding{ask(answer.Slip, 0, false), ask("", 4, true)}},
		{Wrong, "", 1, []AskStanding{ask(answer.Near, 0, false)}},
	} {
		s := &Standing{Asks: c.asks, Open: c.open}
		assert.Equal(t, c.want, s.StepMark(step, c.of), c)
		assert.Equal(t, NotBegun, s.StepMark(working.Report, 1), "another step")
	}
}

func TestWhoNeedsSomebody(t *testing.T) {
	now := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	slips := []SlipMade{{"t", "sign", 1}, {"p", "one_tail", 3}}
	for _, c := range []struct {
		want string
		ago  time.Duration
		s    Standing
	}{
		{"", time.Minute, Standing{Of: 9, Open: "look"}},
		{"no_step", 10 * time.Minute, Standing{Of: 9, Open: "look"}},
		{"", 3 * time.Hour, Standing{Of: 9, Open: "look"}}, // has gone home
		{"", 10 * time.Minute, Standing{Of: 9}},            // has come to the end
		{"same_slip", time.Minute, Standing{Of: 9, Open: "p-value", Slips: slips}},
		{"", time.Minute, Standing{Of: 9, Open: "decision", Slips: slips, Asks: []AskStanding{{Ask: "p", Verdict: answer.Right}}}}, // mended
		{"", time.Minute, Standing{Of: 9, Open: "decision", Slips: slips[:1]}},
	} {
		why, slip := c.s.NeedsSomebody(now, now.Add(-c.ago))
		assert.Equal(t, c.want, why, c)
		assert.Equal(t, c.want == "same_slip", slip != nil)
	}
}

// A set that is taken along comes in again as it was; what is no set says what would be right.
func TestBundles(t *testing.T) {
	five := 5
	b := Bundle{Settings: New("Week 1"), Problems: []Bundled{{[]byte(`{"grund":1}`), Points{"t": 2}}, {[]byte(`{}`), nil}}}
	b.Tries = &five
	file, err := b.Encode()
	require.NoError(t, err)
	again, err := ReadBundle(file)
	require.NoError(t, err)
	assert.Equal(t, &b, again)
	pack := func(files map[string]string) []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for name, text := range files {
			w, err := z.Create(name)
			require.NoError(t, err)
			_, err = w.Write([]byte(text))
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	const set = `{"grund":1,"title":"T","solution":"at_once","problems":[{"file":"a.json"}]}`
	for says, file := range map[string][]byte{
		"no ZIP":             []byte("PK nothing"),
		"no set.json":        pack(map[string]string{"a.json": "{}"}),
		"is not in the ZIP":  pack(map[string]string{"set.json": set}),
		"/grund":             pack(map[string]string{"set.json": strings.Replace(set, `"grund":1`, `"grund":2`, 1), "a.json": "{}"}),
		"time for the":       pack(map[string]string{"set.json": strings.Replace(set, "at_once", "never", 1), "a.json": "{}"}),
		"no field “owner”":   pack(map[string]string{"set.json": strings.Replace(set, `"title"`, `"owner":"x","title"`, 1), "a.json": "{}"}),
		"larger than 16 MiB": pack(map[string]string{"set.json": set, "a.json": strings.Repeat(" ", maxEntry+1)}),
		"there are 51 problem": pack(map[string]string{"set.json": strings.Replace(set, `{"file":"a.json"}`,
			strings.Repeat(`{"file":"a.json"},`, 50)+`{"file":"a.json"}`, 1)}),
		"/problems/0/points": pack(map[string]string{"set.json": strings.Replace(set, `"a.json"}`, `"a.json","points":{"t":-1}}`, 1),
			"a.json": "{}"}),
	} {
		_, err := ReadBundle(file)
		mistakes, is := err.(problem.Errors)
		require.True(t, is, "%s: %v", says, err)
		assert.Contains(t, mistakes.Error(), says)
	}
}
