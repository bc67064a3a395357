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
				assert.True(t, May(who, verb, Thing{Kind: kind, Owner: own}), "%s may %s an own %s", role, verb, kind)
				assert.False(t, May(who, verb, Thing{Kind: kind, Owner: other}), "%s may not %s another's %s", role, verb, kind)
				assert.False(t, May(Person{}, verb, Thing{Kind: kind, Owner: own}), "nobody may %s a %s", verb, kind)
				assert.False(t, May(Person{Role: role}, verb, Thing{Kind: kind}), "nobody's %s is nobody's to %s", kind, verb)
				// By a link some things are read and copied; nobody is somebody who copies.
				shared := kind == Problem || kind == DataSet
				linked := Thing{Kind: kind, Owner: other, Linked: true}
				assert.Equal(t, shared && (verb == Read || verb == Copy), May(who, verb, linked), "%s may %s a shared %s", role, verb, kind)
				assert.Equal(t, shared && verb == Read, May(Person{}, verb, linked), "nobody may %s a shared %s", verb, kind)
			}
			assert.True(t, May(who, verb, Thing{Kind: Account, Owner: own}), "%s may %s their account", role, verb)
			assert.Equal(t, role == Administrator, May(who, verb, Thing{Kind: Account, Owner: other}), "%s, another's account: %s", role, verb)
			for _, linked := range []bool{false, true} {
				assert.Equal(t, role == Administrator, May(who, verb, Thing{Kind: Machine, Linked: linked}), "%s, the machine: %s", role, verb)
			}
		}
		assert.Equal(t, role != Guest, MaySignIn(role), role)
	}
	assert.False(t, MaySignIn("king"))
}
