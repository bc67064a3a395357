// Package access says who may do what. It knows no database and no network: what it is asked about is named.
package access

import "github.com/google/uuid"

// Role says what somebody is.
type Role string

const (
	// Guest works in one browser, under no name.
	Guest Role = "guest"
	// Member signs in under a name.
	Member Role = "member"
	// Instructor may make classes.
	Instructor Role = "instructor"
	// Administrator looks after people and the machine, and sees nobody's work.
	Administrator Role = "administrator"
)

// MaySignIn reports whether it is a role of somebody who signs in under a name.
func MaySignIn(role Role) bool { return role == Member || role == Instructor || role == Administrator }

// A Person acts and owns.
type Person struct {
	ID   uuid.UUID
	Role Role
}

// Local is the person of the machine: the only one there is where nobody signs in.
var Local = Person{uuid.MustParse("00000000-0000-4000-8000-000000000001"), Member}

// Verb is what is done.
type Verb string

const (
	Read   Verb = "read"
	Copy   Verb = "copy"   // makes one's own of it
	Change Verb = "change" // deletes and restores, too
	List   Verb = "list"
	Make   Verb = "make"
)

// Kind is what something is.
type Kind string

const (
	Problem Kind = "problem"
	DataSet Kind = "data set"
	Attempt Kind = "attempt"
	Report  Kind = "report"
	// Class is a class with its roster, ProblemSet what is handed out to it, and SetAttempt what a student made of that.
	Class      Kind = "class"
	ProblemSet Kind = "problem set"
	SetAttempt Kind = "attempt for a set"
	// Account is a person as others see them: name, role, sessions.
	Account Kind = "account"
	// Machine is what an administrator looks after.
	Machine Kind = "machine"
)

// A Thing is what something is done to.
type Thing struct {
	Kind   Kind
	Owner  uuid.UUID
	Linked bool // whether the person has a link to it
	// In is what the person is in the class that it belongs to.
	In Standing
}

// Standing is what a person is in a class.
type Standing string

const (
	Outside Standing = ""
	Student Standing = "student"
	Teacher Standing = "instructor"
)

// May reports whether a person may do that; nobody is a person without an ID. What one owns, one may do all with; what somebody
// else owns is as if it were not there, unless one has a link to it: whoever has may read it, and a person may copy it. In a
// class its instructors may do all with its sets and with the attempts that were made for them; students read the class and its
// sets, and have their own attempts. Of the machine and its people an administrator may read and change what is no work: the
// accounts.
func May(who Person, verb Verb, what Thing) bool {
	linked := what.Linked && (what.Kind == Problem || what.Kind == DataSet)
	if linked && verb == Read {
		return true
	}
	if who.ID == uuid.Nil {
		return false
	}
	if linked && verb == Copy {
		return true
	}
	switch what.Kind {
	case Class:
		return verb == Make && who.Role == Instructor || what.In == Teacher || what.In == Student && verb == Read
	case ProblemSet:
		return what.In == Teacher || what.In == Student && verb == Read
	case SetAttempt:
		return what.In == Teacher && verb != Make || what.In == Student && what.Owner == who.ID
	case Machine:
		return who.Role == Administrator
	case Account:
		return what.Owner == who.ID || who.Role == Administrator
	}
	return what.Owner == who.ID
}
