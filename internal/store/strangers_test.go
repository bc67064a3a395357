package store

import (
	"context"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/labreport"
	"grund/internal/problemset"
)

// Every method that names a thing is asked with a thing of another's, there and deleted: it is as if it were not there, and
// nothing of it changes. A method that is added is asked too.
func TestNobodyReachesAnothersThings(t *testing.T) {
	ctx, s := context.Background(), open(t)
	owner, stranger := member(t, s, "owner", access.Member), member(t, s, "stranger", access.Instructor)
	d, err := s.CreateDataSet(ctx, owner, set(3), "")
	require.NoError(t, err)
	p, err := s.CreateProblem(ctx, owner, draft(), d.ID, "")
	require.NoError(t, err)
	r, err := s.CreateReport(ctx, owner, labreport.Report{Title: "R"})
	require.NoError(t, err)
	_, err = s.AddEvent(ctx, owner, p.ID, Versions{1, 1}, 0, Event{Kind: "answer", Ask: "t"})
	require.NoError(t, err)

	class, err := s.CreateClass(ctx, access.Person{ID: owner.ID, Role: access.Instructor}, "Class", "Owner")
	require.NoError(t, err)
	handed, err := s.CreateSet(ctx, owner, class.ID, problemset.New("Set"), []SetFile{{Title: "P", File: []byte("{}")}})
	require.NoError(t, err)
	student := member(t, s, "student", access.Member)
	_, err = s.JoinClass(ctx, student, class.Code, "Student")
	require.NoError(t, err)
	made, err := s.AddToSet(ctx, student, handed.Problems[0].ID, 1, 7, 0, Event{Kind: "answer", Ask: "t"}, problemset.Standing{})
	require.NoError(t, err)

	poll, err := s.OpenPoll(ctx, owner, class.ID, "P", []byte("{}"), []byte("{}"))
	require.NoError(t, err)

	all := func() (rows []string) {
		t.Helper()
		for _, table := range []string{"problem", "data_set", "data_block", "report", "attempt", "attempt_event", "person", "share", "class",
			"class_member", "problem_set",
			"set_problem", "set_draw", "poll", "poll_answer", "hand_in", "remark", "deed"} {
			var row string
			sql := "select coalesce(string_agg(x::text, '|' order by x::text), '') from (select * from " + table + ") x"
			require.NoError(t, s.pool.QueryRow(ctx, sql).Scan(&row))
			rows = append(rows, row)
		}
		return rows
	}
	// What a method is called with: the id of what its name or the kind says, and whatever else fits.
	kind := access.Problem
	idFor := func(method string) uuid.UUID {
		switch {
		case strings.Contains(method, "Share") && kind == access.DataSet:
			return d.ID
		case method == "CreateProblem" || strings.Contains(method, "DataSet"):
			return d.ID
		case strings.HasSuffix(method, "Report"):
			return r.ID
		case strings.Contains(method, "Class") && method != "ClassAttempts" || strings.Contains(method, "Roster") || method == "Deeds" ||
			method == "FirstNames" || method == "CreateSet" || method == "OpenPoll" || method == "LastPoll" || method == "Polls":
			return class.ID
		case method == "Desk" || method == "HandedOut" || method == "AddToSet":
			return handed.Problems[0].ID
		case strings.Contains(method, "Poll"):
			return poll.ID
		case method == "SetRemark" || method == "JudgeAgain":
			return made.ID
		case strings.Contains(method, "Set") && method != "SetRole" || method == "ClassAttempts" || method == "HandIn" || method == "TakeBack" ||
			method == "MyProgress" || method == "HandedIn" || method == "Remarks" || method == "Redraw" || method == "Draws":
			return handed.ID
		case method == "Account" || method == "SetRole" || method == "PasswordLink":
			return owner.ID
		}
		return p.ID
	}
	values := map[reflect.Type]reflect.Value{}
	for _, value := range []any{
		ctx, stranger, int64(1), 0, "", draft(), set(3), DataChange{Set: set(3)}, labreport.Report{}, Versions{1, 1},
		Event{Kind: "answer", Ask: "t"}, access.Member, func(*labreport.Report) {}, (*uuid.UUID)(nil), []Newcomer{{"A", "a.name", false}},
		ClassChange{Name: "mine"}, problemset.New("mine"), []SetFile(nil), SetChange{Settings: problemset.New("mine")}, time.Time{},
		problemset.Standing{}, uint64(1), (*float64)(nil), true, []byte("{}"), []Event{{Kind: "answer", Ask: "t", Verdict: "wrong"}},
	} {
		values[reflect.TypeOf(value)] = reflect.ValueOf(value)
	}
	values[reflect.TypeFor[context.Context]()] = reflect.ValueOf(ctx)
	asked := 0
	ask := func() {
		for method := range reflect.TypeFor[*Store]().Methods() {
			takesThing := false
			in := []reflect.Value{reflect.ValueOf(s)}
			for i := 1; i < method.Type.NumIn(); i++ {
				each := method.Type.In(i)
				if each == reflect.TypeFor[uuid.UUID]() {
					takesThing = true
					in = append(in, reflect.ValueOf(idFor(method.Name)))
					continue
				}
				if each == reflect.TypeFor[access.Kind]() {
					in = append(in, reflect.ValueOf(kind))
					continue
				}
				in = append(in, values[each])
			}
			takesPerson := method.Type.NumIn() > 2 && method.Type.In(2) == reflect.TypeFor[access.Person]()
			if !takesPerson || !takesThing {
				continue
			}
			asked++
			for i, value := range in {
				require.True(t, value.IsValid(), "%s: say what stands for %s", method.Name, method.Type.In(i))
			}
			out := method.Func.Call(in)
			err, _ := out[len(out)-1].Interface().(error)
			if method.Name == "Attempt" { // of which there may be none
				assert.NoError(t, err)
				assert.True(t, out[0].IsNil(), method.Name)
				continue
			}
			if method.Name == "Sets" { // which lists what the stranger is in
				assert.NoError(t, err)
				assert.Zero(t, out[0].Len())
				continue
			}
			assert.ErrorIs(t, err, ErrNotFound, method.Name)
		}
	}
	_, err = s.Share(ctx, owner, access.Problem, p.ID)
	require.NoError(t, err)
	before := all()
	ask()
	kind = access.DataSet
	ask()
	assert.Greater(t, asked, 20)
	assert.Equal(t, before, all())
	require.NoError(t, s.DeleteReport(ctx, owner, r.ID, 0))
	require.NoError(t, s.DeleteProblem(ctx, owner, p.ID, 0))
	require.NoError(t, s.DeleteDataSet(ctx, owner, d.ID, 0))
	before = all()
	ask()
	assert.Equal(t, before, all())
	err = s.View(ctx, stranger, func(v *View) error {
		_, err := v.Problem(ctx, p.ID)
		assert.ErrorIs(t, err, ErrNotFound)
		_, err = v.Described(ctx, d.ID)
		assert.ErrorIs(t, err, ErrNotFound)
		return nil
	})
	require.NoError(t, err)
	lists, _, err := s.Problems(ctx, stranger, 0)
	require.NoError(t, err)
	assert.Empty(t, lists)
	sets, _, err := s.DataSets(ctx, stranger, 0)
	require.NoError(t, err)
	assert.Empty(t, sets)
	reports, _, err := s.Reports(ctx, stranger, 0)
	require.NoError(t, err)
	assert.Empty(t, reports)
}
