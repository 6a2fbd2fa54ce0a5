package access

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// Epoch is the one that somebody's sessions have to be of.
func (a *Accounts) Epoch(ctx context.Context, person int64) (int64, error) {
	_, _, epoch, err := a.account(ctx, person)
	return epoch, err
}

// EndSessions signs somebody out everywhere.
func (a *Accounts) EndSessions(ctx context.Context, person int64) error {
	return a.write(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO account (person_id, epoch) VALUES (?, 1)
			ON CONFLICT (person_id) DO UPDATE SET epoch = epoch + 1`, person)
		return err
	})
}

// Sessions is where a session library keeps the sessions: by the digest of their tokens, which
// the library makes.
type Sessions struct{ *Accounts }

// Find returns what is kept of a session that has not ended.
func (s Sessions) Find(token string) (data []byte, found bool, err error) {
	err = s.db.QueryRow(`SELECT data FROM session WHERE digest = ? AND expires_at > ?`, token, s.now().UnixMilli()).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, fmt.Errorf("session: %w", err)
	}
	return data, true, nil
}

// Commit keeps a session, and sweeps those that have ended.
func (s Sessions) Commit(token string, data []byte, expires time.Time) error {
	return s.write(context.Background(), func(tx *sql.Tx) error {
		if _, err := tx.Exec(`DELETE FROM session WHERE expires_at <= ?`, s.now().UnixMilli()); err != nil {
			return err
		}
		_, err := tx.Exec(`INSERT OR REPLACE INTO session (digest, data, expires_at) VALUES (?,?,?)`, token, data, expires.UnixMilli())
		return err
	})
}

// Delete ends a session.
func (s Sessions) Delete(token string) error {
	return s.write(context.Background(), func(tx *sql.Tx) error {
		_, err := tx.Exec(`DELETE FROM session WHERE digest = ?`, token)
		return err
	})
}
