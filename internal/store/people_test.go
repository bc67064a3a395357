package store

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/labreport"
	"grund/internal/problem"
)

// member adds somebody who signs in.
func member(t *testing.T, s *Store, userName string, role access.Role) access.Person {
	t.Helper()
	a, err := s.CreatePerson(t.Context(), access.Guest)
	require.NoError(t, err)
	require.NoError(t, s.KeepAccount(t.Context(), a.Person, userName, "Name of "+userName, "hash of "+userName))
	if role != access.Member {
		_, err = s.pool.Exec(t.Context(), "update person set role = $2 where id = $1", a.ID, role)
		require.NoError(t, err)
	}
	kept, _, err := s.ByUserName(t.Context(), userName)
	require.NoError(t, err)
	return kept.Person
}

// A guest's work is theirs, and stays theirs under the name that they take.
func TestAGuestIsKept(t *testing.T) {
	ctx, s := context.Background(), open(t)
	guest, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	d, err := s.CreateDataSet(ctx, guest.Person, set(3), "")
	require.NoError(t, err)
	p, err := s.CreateProblem(ctx, guest.Person, draft(), d.ID, "")
	require.NoError(t, err)
	_, err = s.Problem(ctx, access.Local, p.ID)
	assert.ErrorIs(t, err, ErrNotFound, "nobody else's")

	require.NoError(t, s.KeepAccount(ctx, guest.Person, "Maren", "Maren Holt", "hash"))
	a, hash, err := s.ByUserName(ctx, "mAREN")
	require.NoError(t, err)
	assert.Equal(t, guest.ID, a.ID)
	assert.Equal(t, access.Member, a.Role)
	assert.Equal(t, "Maren", a.UserName)
	assert.Equal(t, "hash", hash)
	_, err = s.Problem(ctx, a.Person, p.ID)
	assert.NoError(t, err)

	other, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	assert.ErrorIs(t, s.KeepAccount(ctx, other.Person, "maren", "", "hash"), ErrTaken)
	assert.ErrorIs(t, s.KeepAccount(ctx, a.Person, "again", "", "hash"), ErrNotFound, "whoever has a name keeps it")
	require.NoError(t, s.SetName(ctx, a.Person, "M. Holt"))
	a, err = s.Account(ctx, a.Person, a.ID)
	require.NoError(t, err)
	assert.Equal(t, "M. Holt", a.Name)
	_, err = s.Account(ctx, other.Person, a.ID)
	assert.ErrorIs(t, err, ErrNotFound)
}

// Who goes leaves nothing behind, and nobody else's things go.
func TestAnAccountIsDeleted(t *testing.T) {
	ctx, s := context.Background(), open(t)
	going, staying := member(t, s, "going", access.Member), member(t, s, "staying", access.Member)
	for _, who := range []access.Person{going, staying} {
		d, err := s.CreateDataSet(ctx, who, set(3), "")
		require.NoError(t, err)
		p, err := s.CreateProblem(ctx, who, draft(), d.ID, "")
		require.NoError(t, err)
		_, err = s.AddEvent(ctx, who, p.ID, Versions{1, 1}, 0, Event{Kind: "answer", Ask: "t"})
		require.NoError(t, err)
		_, err = s.ChangeReportOf(ctx, who, p.ID, uuid.Nil, "R", func(*labreport.Report) {})
		require.NoError(t, err)
		require.NoError(t, Sessions{s}.Commit("token of "+who.ID.String(), sessionOf(t, who), time.Now().Add(time.Hour)))
	}
	require.NoError(t, s.DeleteAccount(ctx, going))
	for _, table := range []string{"problem", "data_set", "attempt", "report", "session"} {
		var left int
		require.NoError(t, s.pool.QueryRow(ctx, "select count(*) from "+table).Scan(&left))
		assert.Equal(t, 1, left, table)
	}
	_, _, err := s.ByUserName(ctx, "going")
	assert.ErrorIs(t, err, ErrNotFound)
	_, _, err = s.ByUserName(ctx, "staying")
	assert.NoError(t, err)
}

func sessionOf(t *testing.T, who access.Person) []byte {
	t.Helper()
	data, err := SessionCodec{}.Encode(time.Now().Add(time.Hour), map[string]any{SessionPerson: who.ID.String(), SessionAgent: "a browser"})
	require.NoError(t, err)
	return data
}

func TestSessions(t *testing.T) {
	ctx, s := context.Background(), open(t)
	who := member(t, s, "maren", access.Member)
	kept := Sessions{s}
	_, found, err := kept.Find("nothing")
	require.NoError(t, err)
	assert.False(t, found)
	for _, token := range []string{"a", "b", "c"} {
		require.NoError(t, kept.Commit(token, sessionOf(t, who), time.Now().Add(time.Hour)))
	}
	data, found, err := kept.Find("a")
	require.NoError(t, err)
	require.True(t, found)
	_, values, err := SessionCodec{}.Decode(data)
	require.NoError(t, err)
	assert.Equal(t, who.ID.String(), values[SessionPerson])
	_, err = SessionCodec{}.Encode(time.Now(), map[string]any{"number": 7})
	assert.Error(t, err, "it would not be read again as it was")

	list, err := s.SignedInAt(ctx, who)
	require.NoError(t, err)
	require.Len(t, list, 3)
	assert.Equal(t, "a browser", list[0].Agent)
	require.NoError(t, s.SetPassword(ctx, who, "another", "b"))
	list, err = s.SignedInAt(ctx, who)
	require.NoError(t, err)
	require.Len(t, list, 1, "another password ends the others")
	require.NoError(t, s.SignOutElsewhere(ctx, who, ""))
	_, found, err = kept.Find("b")
	require.NoError(t, err)
	assert.False(t, found)

	require.NoError(t, kept.Commit("old", sessionOf(t, who), time.Now().Add(-time.Second)))
	_, found, err = kept.Find("old")
	require.NoError(t, err)
	assert.False(t, found, "it has ended")
	require.NoError(t, kept.Delete("old"))
}

// A link is good once, for whom it is made; two who use it at once do not both get in.
func TestOneTimeLinks(t *testing.T) {
	ctx, s := context.Background(), open(t)
	token, err := s.FirstLink(ctx)
	require.NoError(t, err)
	a, err := s.LinkOf(ctx, token)
	require.NoError(t, err)
	assert.Nil(t, a, "it makes an administrator")
	var made atomic.Int32
	var wait sync.WaitGroup
	for range 6 {
		wait.Go(func() {
			if _, err := s.UseLink(ctx, token, "warden", "hash"); err == nil {
				made.Add(1)
			}
		})
	}
	wait.Wait()
	assert.Equal(t, int32(1), made.Load())
	warden, _, err := s.ByUserName(ctx, "warden")
	require.NoError(t, err)
	assert.Equal(t, access.Administrator, warden.Role)
	none, err := s.FirstLink(ctx)
	require.NoError(t, err)
	assert.Empty(t, none, "there is one already")

	who := member(t, s, "maren", access.Member)
	_, err = s.PasswordLink(ctx, who, who.ID)
	assert.ErrorIs(t, err, ErrNotFound, "only by an administrator's word")
	first, err := s.PasswordLink(ctx, warden.Person, who.ID)
	require.NoError(t, err)
	second, err := s.PasswordLink(ctx, warden.Person, who.ID)
	require.NoError(t, err)
	_, err = s.LinkOf(ctx, first)
	assert.ErrorIs(t, err, ErrNotFound, "a later one takes its place")
	require.NoError(t, Sessions{s}.Commit("open", sessionOf(t, who), time.Now().Add(time.Hour)))
	used, err := s.UseLink(ctx, second, "", "new hash")
	require.NoError(t, err)
	assert.Equal(t, who.ID, used.ID)
	_, hash, err := s.ByUserName(ctx, "maren")
	require.NoError(t, err)
	assert.Equal(t, "new hash", hash)
	_, found, err := Sessions{s}.Find("open")
	require.NoError(t, err)
	assert.False(t, found)
	third, err := s.PasswordLink(ctx, warden.Person, who.ID)
	require.NoError(t, err)
	_, err = s.pool.Exec(ctx, "update one_time_link set expires_at = now()")
	require.NoError(t, err)
	_, err = s.UseLink(ctx, third, "", "hash")
	assert.ErrorIs(t, err, ErrNotFound, "it is old")
}

func TestRoles(t *testing.T) {
	ctx, s := context.Background(), open(t)
	warden, who := member(t, s, "warden", access.Administrator), member(t, s, "maren", access.Member)
	assert.ErrorIs(t, s.SetRole(ctx, who, who.ID, access.Administrator), ErrNotFound, "nobody raises themselves")
	_, _, err := s.People(ctx, who, 0)
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.SetRole(ctx, warden, warden.ID, access.Member), ErrLast)
	require.NoError(t, s.SetRole(ctx, warden, who.ID, access.Instructor))
	list, more, err := s.People(ctx, warden, 0)
	require.NoError(t, err)
	assert.False(t, more)
	require.Len(t, list, 2)
	assert.Equal(t, access.Instructor, list[0].Role)
	require.NoError(t, s.SetRole(ctx, warden, who.ID, access.Administrator))
	who.Role = access.Administrator
	require.NoError(t, s.SetRole(ctx, who, warden.ID, access.Member))
	guest, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	assert.ErrorIs(t, s.SetRole(ctx, who, guest.ID, access.Administrator), ErrNotFound, "a guest has no name to be called by")
	var deeds int
	require.NoError(t, s.pool.QueryRow(ctx, "select count(*) from deed").Scan(&deeds))
	assert.Equal(t, 3, deeds)
}

// Failures of a name make it wait, not for good; many names from one address make that wait.
func TestFailuresWait(t *testing.T) {
	ctx, s := context.Background(), open(t)
	wait := func(name, address string) time.Duration {
		t.Helper()
		wait, err := s.MayTry(ctx, name, address)
		require.NoError(t, err)
		return wait
	}
	assert.Zero(t, wait("maren", "10.0.0.1"))
	for range failuresOfOneMinute {
		require.NoError(t, s.NoteFailure(ctx, "Maren", "10.0.0.1"))
	}
	assert.Equal(t, time.Minute, wait("MAREN", "10.0.0.1"))
	assert.Zero(t, wait("maren", "10.0.0.9"), "who guesses keeps nobody out who comes from elsewhere")
	assert.Zero(t, wait("other", "10.0.0.1"))
	_, err := s.pool.Exec(ctx, "update sign_in_failure set at = now() - interval '61 seconds'")
	require.NoError(t, err)
	assert.Zero(t, wait("maren", "10.0.0.1"), "not for good")
	for range mostFailures {
		require.NoError(t, s.NoteFailure(ctx, "maren", uuid.NewString()))
	}
	assert.Equal(t, time.Minute, wait("maren", "10.0.0.9"), "many guess from everywhere")
	require.NoError(t, s.ForgetFailures(ctx, "MAREN"))
	assert.Zero(t, wait("maren", "10.0.0.9"))
	for i := range mostFailuresFrom {
		require.NoError(t, s.NoteFailure(ctx, string(rune('a'+i%26)), "10.0.0.1"))
	}
	assert.Equal(t, failuresCount, wait("nobody", "10.0.0.1"))
	assert.Zero(t, wait("nobody", "10.0.0.2"))
}

// A person gets the demo as it is, with what it began with, and can change it without changing another's.
func TestTheDemoIsCopied(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d, err := s.CreateDataSet(ctx, access.Local, set(2*BlockRows+5), "demo set")
	require.NoError(t, err)
	p, err := s.CreateProblem(ctx, access.Local, draft(), d.ID, "demo problem")
	require.NoError(t, err)
	_, err = s.AddEvent(ctx, access.Local, p.ID, Versions{p.Version, d.Version}, 0, Event{Kind: "answer", Ask: "t", Text: "2"})
	require.NoError(t, err)
	_, _ = keep(t, s) // which is no demo
	guest, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	require.NoError(t, s.CopyDemo(ctx, access.Local, guest.Person))
	list, _, err := s.Problems(ctx, guest.Person, 0)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.NotEqual(t, p.ID, list[0].ID)
	twin, err := s.DataSet(ctx, guest.Person, list[0].DataSet)
	require.NoError(t, err)
	assert.Equal(t, set(2*BlockRows+5), twin.Set)
	attempt, err := s.Attempt(ctx, guest.Person, list[0].ID, Versions{p.Version, d.Version})
	require.NoError(t, err)
	require.NotNil(t, attempt)
	assert.False(t, attempt.Outdated)
	assert.Len(t, attempt.Events, 1)
	changed := problem.NewDraft()
	_, err = s.UpdateProblem(ctx, guest.Person, list[0].ID, p.Version, changed, nil)
	require.NoError(t, err)
	same, err := s.Problem(ctx, access.Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, draft(), same.Draft)
}

// What a guest made goes along to the name that they sign in under; what they had of the demo does not.
func TestAGuestsWorkMovesAlong(t *testing.T) {
	ctx, s := context.Background(), open(t)
	guest, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	who := member(t, s, "maren", access.Member)
	kept := map[string]uuid.UUID{}
	add := func(name, demoSet, demoProblem string) {
		d, err := s.CreateDataSet(ctx, guest.Person, set(3), demoSet)
		require.NoError(t, err)
		p, err := s.CreateProblem(ctx, guest.Person, draft(), d.ID, demoProblem)
		require.NoError(t, err)
		_, err = s.AddEvent(ctx, guest.Person, p.ID, Versions{p.Version, d.Version}, 0, Event{Kind: "answer", Ask: "t"})
		require.NoError(t, err)
		kept[name] = p.ID
	}
	add("own", "", "")
	add("demo", "a", "a")
	add("own about the demo's data", "b", "")
	_, err = s.ChangeReportOf(ctx, guest.Person, kept["own"], uuid.Nil, "R", func(*labreport.Report) {})
	require.NoError(t, err)
	assert.ErrorIs(t, s.MoveAlong(ctx, who, guest.Person), ErrNotFound, "only from a guest")
	require.NoError(t, s.MoveAlong(ctx, guest.Person, who))
	for _, name := range []string{"own", "own about the demo's data"} {
		p, err := s.Problem(ctx, who, kept[name])
		require.NoError(t, err, name)
		_, err = s.DataSet(ctx, who, p.DataSet)
		require.NoError(t, err, name)
		attempt, err := s.Attempt(ctx, who, p.ID, Versions{1, 1})
		require.NoError(t, err)
		assert.NotNil(t, attempt, name)
	}
	_, err = s.Problem(ctx, who, kept["demo"])
	assert.ErrorIs(t, err, ErrNotFound)
	report, err := s.ReportFor(ctx, who, kept["own"], uuid.Nil)
	require.NoError(t, err)
	assert.NotNil(t, report)
	_, err = s.Seen(ctx, guest.ID)
	assert.ErrorIs(t, err, ErrNotFound)
}

// Work from before people signed in goes on with whoever comes first on the machine, and with nobody after that.
func TestTheMachinesWorkIsClaimedOnce(t *testing.T) {
	ctx, s := context.Background(), open(t)
	unclaimed := func() bool {
		t.Helper()
		is, err := s.Unclaimed(ctx)
		require.NoError(t, err)
		return is
	}
	assert.False(t, unclaimed(), "there is none")
	d, err := s.CreateDataSet(ctx, access.Local, set(3), "demo set")
	require.NoError(t, err)
	_, err = s.CreateProblem(ctx, access.Local, draft(), d.ID, "demo problem")
	require.NoError(t, err)
	assert.False(t, unclaimed(), "the demo as it was is nobody's work")
	keep(t, s)
	assert.True(t, unclaimed())
	require.NoError(t, Sessions{s}.Commit("first", sessionOf(t, access.Local), time.Now().Add(time.Hour)))
	assert.False(t, unclaimed())
}

// Guests are bounded: in how many begin at an address, in what each may keep, and in how long those stay who do not come back.
func TestGuestsAreBounded(t *testing.T) {
	ctx, s := context.Background(), open(t)
	for range mostGuestsFrom {
		wait, err := s.MayBegin(ctx, "10.0.0.1")
		require.NoError(t, err)
		require.Zero(t, wait)
	}
	wait, err := s.MayBegin(ctx, "10.0.0.1")
	require.NoError(t, err)
	assert.Equal(t, failuresCount, wait)
	wait, err = s.MayBegin(ctx, "10.0.0.2")
	require.NoError(t, err)
	assert.Zero(t, wait)
	wait, err = s.MayTry(ctx, "maren", "10.0.0.1")
	require.NoError(t, err)
	assert.Zero(t, wait, "who has a name signs in all the same")

	guest, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	space, err := s.Space(ctx, guest.Person)
	require.NoError(t, err)
	assert.Equal(t, int64(guestSpace), space.Limit)
	space, err = s.Space(ctx, member(t, s, "maren", access.Member))
	require.NoError(t, err)
	assert.Equal(t, int64(DefaultSpace), space.Limit)

	back, err := s.CreatePerson(ctx, access.Guest)
	require.NoError(t, err)
	for _, who := range []access.Person{guest.Person, back.Person, access.Local} {
		_, err := s.CreateDataSet(ctx, who, set(3), "")
		require.NoError(t, err)
	}
	require.NoError(t, Sessions{s}.Commit("back", sessionOf(t, back.Person), time.Now().Add(time.Hour)))
	require.NoError(t, Sessions{s}.Commit("ended", sessionOf(t, guest.Person), time.Now().Add(-time.Hour)))
	_, err = s.pool.Exec(ctx, "update person set seen_at = now() - interval '401 days'")
	require.NoError(t, err)
	_, _, err = s.Purge(ctx)
	require.NoError(t, err)
	_, err = s.Seen(ctx, guest.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	for _, id := range []uuid.UUID{back.ID, access.Local.ID} {
		_, err = s.Seen(ctx, id)
		assert.NoError(t, err)
	}
	_, _, err = s.ByUserName(ctx, "maren")
	assert.NoError(t, err, "who has a name stays")
}
