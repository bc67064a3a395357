// Package account holds the rules for names and passwords.
package account

import (
	"context"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
	"github.com/trustelem/zxcvbn"

	"grund/internal/problem"
)

// The bounds of names and passwords, in characters (NIST SP 800-63B, 5.1.1.2, asks for at least 8 and for 64 to be taken).
const (
	MinPassword = 10
	MaxPassword = 200
	MaxName     = 100
	minUserName = 2
	maxUserName = 40
)

// CheckUserName refuses a name that nobody can sign in under.
func CheckUserName(at, name string) error {
	n := utf8.RuneCountInString(name)
	odd := strings.ContainsFunc(name, func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune(".-_@", r)
	})
	switch {
	case n < minUserName || n > maxUserName:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("the user name has %d characters", n),
			Instead: fmt.Sprintf("take %d to %d", minUserName, maxUserName)}}
	case odd:
		return problem.Errors{{Pointer: at, Says: "the user name holds something else than letters, digits and . - _ @",
			Instead: "leave that out"}}
	}
	return nil
}

// CheckName refuses a name that is too long to be shown to others.
func CheckName(at, name string) error {
	var errs problem.Errors
	errs.CheckText(at, name, MaxName)
	if strings.ContainsFunc(name, unicode.IsControl) {
		errs.Add(at, "the name holds a sign that is not seen", "leave it out")
	}
	if len(errs) > 0 {
		return errs
	}
	return nil
}

// judged is how many characters of a password are judged: the time that takes grows with their square.
const judged = 60

// weak is the score below which a password is among the first that are guessed: fewer than 10^6 guesses find it (Wheeler,
// zxcvbn, USENIX Security 2016).
const weak = 2

// CheckPassword refuses a password that is short, or one of the common ones, by itself or put together from the person's
// own names.
func CheckPassword(at, password string, names ...string) error {
	switch n := utf8.RuneCountInString(password); {
	case n < MinPassword:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("the password has %d characters", n),
			Instead: fmt.Sprintf("take %d at least: some words that come to your mind are easy to keep", MinPassword)}}
	case n > MaxPassword:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("the password has %d characters", n),
			Instead: fmt.Sprintf("keep to %d", MaxPassword)}}
	}
	begins := password
	if runes := []rune(password); len(runes) > judged {
		begins = string(runes[:judged])
	}
	if zxcvbn.PasswordStrength(begins, append(names, "grund", "kelpwick")).Score < weak {
		return problem.Errors{{Pointer: at, Says: "the password is among the first that are guessed",
			Instead: "put some words together that nobody would expect beside each other"}}
	}
	return nil
}

// params are how a password is hashed: Argon2id with 19 MiB and two passes (OWASP Password Storage Cheat Sheet).
var params = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// Passwords hashes and compares them, few at a time, as each takes memory.
type Passwords struct {
	room  chan struct{}
	dummy string // of nobody, compared where there is none, so that it takes as long
}

// NewPasswords returns what hashes so many passwords at a time.
func NewPasswords(atOnce int) (*Passwords, error) {
	dummy, err := argon2id.CreateHash("nobody’s password", params)
	if err != nil {
		return nil, fmt.Errorf("hashing a password: %w", err)
	}
	return &Passwords{make(chan struct{}, atOnce), dummy}, nil
}

// enter waits for room; leave must be called where there is no error.
func (p *Passwords) enter(ctx context.Context) error {
	select {
	case p.room <- struct{}{}:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

func (p *Passwords) leave() { <-p.room }

// Hash returns a hash of a password in the form of PHC.
func (p *Passwords) Hash(ctx context.Context, password string) (string, error) {
	if err := p.enter(ctx); err != nil {
		return "", err
	}
	defer p.leave()
	hash, err := argon2id.CreateHash(password, params)
	if err != nil {
		return "", fmt.Errorf("hashing a password: %w", err)
	}
	return hash, nil
}

// Matches reports whether a password is the one of a hash. Where the hash is "", which no password matches, it takes as long.
func (p *Passwords) Matches(ctx context.Context, password, hash string) (bool, error) {
	if err := p.enter(ctx); err != nil {
		return false, err
	}
	defer p.leave()
	if utf8.RuneCountInString(password) > MaxPassword {
		password = "" // matches none, and is not worked with
	}
	against := hash
	if hash == "" {
		against = p.dummy
	}
	matches, err := argon2id.ComparePasswordAndHash(password, against)
	if err != nil {
		return false, fmt.Errorf("comparing a password: %w", err)
	}
	return matches && hash != "", nil
}
