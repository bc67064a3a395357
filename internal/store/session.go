package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// The values that a session may hold.
const (
	SessionPerson = "person" // the id of who is signed in
	SessionAgent  = "agent"  // what the browser calls itself
	SessionGuest  = "guest"  // the id of the guest who was there before, and is again after signing out
)

// sessionData is what is kept of a session.
type sessionData struct {
	Deadline time.Time         `json:"deadline"`
	Values   map[string]string `json:"values"`
}

// SessionCodec writes sessions so that the database can tell whose they are. It is an scs.Codec.
type SessionCodec struct{}

// Encode writes a session; its values are texts.
func (SessionCodec) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	data := sessionData{Deadline: deadline, Values: map[string]string{}}
	for key, value := range values {
		text, is := value.(string)
		if !is {
			return nil, fmt.Errorf("a session holds %T under %q", value, key)
		}
		data.Values[key] = text
	}
	return json.Marshal(data)
}

// Decode reads a session.
func (SessionCodec) Decode(text []byte) (time.Time, map[string]any, error) {
	var data sessionData
	if err := json.Unmarshal(text, &data); err != nil {
		return time.Time{}, nil, fmt.Errorf("decoding a session: %w", err)
	}
	values := make(map[string]any, len(data.Values))
	for key, value := range data.Values {
		values[key] = value
	}
	return data.Deadline, values, nil
}

// Sessions keeps sessions by the hashes of their tokens. It is an scs.CtxStore.
type Sessions struct{ Store *Store }

// FindCtx returns what is kept of a session that has not ended.
func (s Sessions) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	err = s.Store.with(ctx, func(conn *pgxpool.Conn) error {
		var seen time.Time
		err := conn.QueryRow(ctx, "select data, seen_at from session where token = $1 and expires_at > now()", token).Scan(&data, &seen)
		if err == nil && time.Since(seen) > seenEvery {
			_, err = conn.Exec(ctx, "update session set seen_at = now() where token = $1", token)
		}
		return err
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx keeps a session until it expires.
func (s Sessions) CommitCtx(ctx context.Context, token string, data []byte, expires time.Time) error {
	var held sessionData
	if err := json.Unmarshal(data, &held); err != nil {
		return fmt.Errorf("decoding a session: %w", err)
	}
	var person any
	if id, err := uuid.Parse(held.Values[SessionPerson]); err == nil {
		person = id
	}
	err := s.Store.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, `insert into session (token, person, data, agent, expires_at) values ($1, $2, $3, $4, $5)
			on conflict (token) do update set person = $2, data = $3, agent = $4, expires_at = $5`,
			token, person, data, held.Values[SessionAgent], expires)
		return err
	})
	return changeError("session", err)
}

// DeleteCtx ends a session.
func (s Sessions) DeleteCtx(ctx context.Context, token string) error {
	err := s.Store.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, "delete from session where token = $1", token)
		return err
	})
	return changeError("session", err)
}

// Find is FindCtx without a context.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is CommitCtx without a context.
func (s Sessions) Commit(token string, data []byte, expires time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expires)
}

// Delete is DeleteCtx without a context.
func (s Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }

// A SignedIn is a session as its person sees it.
type SignedIn struct {
	Token     string // the hash of it
	Agent     string
	CreatedAt time.Time
	SeenAt    time.Time
}

// SignedInAt lists where a person is signed in, seen last first.
func (s *Store) SignedInAt(ctx context.Context, who access.Person) (list []SignedIn, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, `select token, agent, created_at, seen_at from session where person = $1 and expires_at > now()
			order by seen_at desc limit 100`, who.ID)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[SignedIn])
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("listing sessions: %w", err)
	}
	return list, nil
}

// SignOutElsewhere ends a person's sessions but the one of that token.
func (s *Store) SignOutElsewhere(ctx context.Context, who access.Person, but string) error {
	err := s.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, "delete from session where person = $1 and token <> $2", who.ID, but)
		return err
	})
	return changeError("session", err)
}
