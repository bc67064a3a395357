package access

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
)

// Who may do what: every role with every verb, to one's own thing and to another's.
func TestMay(t *testing.T) {
	own, other := uuid.New(), uuid.New()
	for _, role := range []Role{Guest, Member, Instructor, Administrator} {
		who := Person{own, role}
		for _, verb := range []Verb{Read, Copy, Change, List, Make} {
			for _, kind := range []Kind{Problem, DataSet, Attempt, Report} {
				assert.True(t, May(who, verb, Thing{kind, own}), "%s may %s an own %s", role, verb, kind)
				assert.False(t, May(who, verb, Thing{kind, other}), "%s may not %s another's %s", role, verb, kind)
				assert.False(t, May(Person{}, verb, Thing{kind, own}), "nobody may %s a %s", verb, kind)
				assert.False(t, May(Person{Role: role}, verb, Thing{Kind: kind}), "nobody's %s is nobody's to %s", kind, verb)
			}
			assert.True(t, May(who, verb, Thing{Account, own}), "%s may %s their account", role, verb)
			assert.Equal(t, role == Administrator, May(who, verb, Thing{Account, other}), "%s, another's account: %s", role, verb)
			assert.Equal(t, role == Administrator, May(who, verb, Thing{Kind: Machine}), "%s, the machine: %s", role, verb)
		}
		assert.Equal(t, role != Guest, MaySignIn(role), role)
	}
	assert.False(t, MaySignIn("king"))
}
