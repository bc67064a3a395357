package store

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// classChannel is on which it is told that a set, a class or a question to it went on, by its id.
const classChannel = "grund_class"

// tell tells those who listen to something that it went on.
func tell(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, err := tx.Exec(ctx, "select pg_notify($1, $2)", classChannel, id.String())
	return err
}

// Listen calls told with each set whose attempts go on, until the context is done or the connection breaks, and begun once it
// listens. It holds a connection of its own.
func (s *Store) Listen(ctx context.Context, begun func(), told func(set uuid.UUID)) error {
	conn, err := pgx.ConnectConfig(ctx, s.pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "listen "+classChannel); err != nil {
		return err
	}
	begun()
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		if set, err := uuid.Parse(n.Payload); err == nil {
			told(set)
		}
	}
}
