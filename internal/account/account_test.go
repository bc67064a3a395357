package account

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
)

func TestNamesAndPasswords(t *testing.T) {
	for _, name := range []string{"ma", "maren.holt", "Ægir-7", "holt@kelpwick", strings.Repeat("x", 40)} {
		assert.NoError(t, CheckUserName("/user_name", name), name)
	}
	for _, name := range []string{"", "m", strings.Repeat("x", 41), "two words", "a/b", "a\x00b", "\u202eabc", "<b>"} {
		var mistakes problem.Errors
		require.ErrorAs(t, CheckUserName("/user_name", name), &mistakes, name)
		assert.Equal(t, "/user_name", mistakes[0].Pointer)
	}
	assert.NoError(t, CheckName("/name", "Maren Holt, 2b"))
	assert.Error(t, CheckName("/name", strings.Repeat("x", MaxName+1)))
	assert.Error(t, CheckName("/name", "a\nb"))
	for _, password := range []string{"four piers in the fog", "Qm7#tz!29Lw", strings.Repeat("ñandú lento ", 16)} {
		assert.NoError(t, CheckPassword("/password", password, "maren"), password)
	}
	for _, password := range []string{
		"", "short", "123456789", "1234567890", "password123", "qwertyuiop", "aaaaaaaaaa", "marenmaren", "letmeinletmein",
		strings.Repeat("x", 201),
	} {
		assert.Error(t, CheckPassword("/password", password, "maren"), password)
	}
}

// A long password takes no longer to be judged than a short one would let it.
func TestJudgingIsBounded(t *testing.T) {
	began := time.Now()
	_ = CheckPassword("/password", strings.Repeat("qwertyasdf1234P@ssw0rd", 9), "maren")
	assert.Less(t, time.Since(began), 2*time.Second)
}

func TestPasswords(t *testing.T) {
	ctx := t.Context()
	p, err := NewPasswords(2)
	require.NoError(t, err)
	hash, err := p.Hash(ctx, "four piers in the fog")
	require.NoError(t, err)
	again, err := p.Hash(ctx, "four piers in the fog")
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(hash, "$argon2id$v=19$m=19456,t=2,p=1$"), hash)
	assert.NotEqual(t, hash, again, "each has a salt of its own")
	for password, want := range map[string]bool{
		"four piers in the fog": true, "Four piers in the fog": false, "": false, strings.Repeat("x", 1_000_000): false,
	} {
		matches, err := p.Matches(ctx, password, hash)
		require.NoError(t, err)
		assert.Equal(t, want, matches)
	}
	for _, password := range []string{"", "nobody’s password"} {
		matches, err := p.Matches(ctx, password, "")
		require.NoError(t, err)
		assert.False(t, matches, "no password belongs to nobody")
	}
	gone, cancel := context.WithCancel(ctx)
	cancel()
	p.room <- struct{}{}
	p.room <- struct{}{}
	_, err = p.Hash(gone, "x")
	assert.ErrorIs(t, err, context.Canceled, "who waits may go")
}

// Whether a name is known is not told by the time that a wrong password takes: the same work is done. (Other work on the
// machine may slow either; without the work it would take a thousandth.)
func TestUnknownNamesTakeAsLong(t *testing.T) {
	p, err := NewPasswords(1)
	require.NoError(t, err)
	hash, err := p.Hash(t.Context(), "four piers in the fog")
	require.NoError(t, err)
	settings := func(hash string) string { return hash[:strings.LastIndex(hash[:strings.LastIndex(hash, "$")], "$")] }
	assert.Equal(t, settings(hash), settings(p.dummy))
	best := map[string]time.Duration{hash: time.Hour, "": time.Hour}
	for range 15 {
		for of := range best {
			began := time.Now()
			_, err := p.Matches(t.Context(), "a wrong password", of)
			require.NoError(t, err)
			best[of] = min(best[of], time.Since(began))
		}
	}
	assert.Greater(t, best[""], best[hash]/4)
	assert.Greater(t, best[hash], best[""]/4)
}
