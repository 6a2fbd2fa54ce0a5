package access

import (
	"context"
	"database/sql"
	"fmt"
	"time"
)

// Kind is what the security log tells of.
type Kind string

// The kinds.
const (
	SignedIn      Kind = "signed-in"
	WrongSecret   Kind = "wrong-secret"
	HadToWait     Kind = "had-to-wait"
	SignedOut     Kind = "signed-out"
	OutEverywhere Kind = "out-everywhere"
	InvitedOne    Kind = "invited"
	EnrolledOne   Kind = "enrolled"
	DeadCode      Kind = "dead-code"
	RemovedOne    Kind = "removed"
	NewSecret     Kind = "new-secret"
	Forgotten     Kind = "forgotten"
	NotAllowed    Kind = "not-allowed"
	TooMany       Kind = "too-many"
	NewLife       Kind = "new-life"
	People        Kind = "people"
)

// Words says what happened; what is behind it is in the detail.
func (k Kind) Words() string {
	return map[Kind]string{
		SignedIn: "signed in", WrongSecret: "refused: wrong PIN or passphrase", HadToWait: "refused: too many wrong tries",
		SignedOut: "signed out", OutEverywhere: "signed out everywhere", InvitedOne: "invitation made", EnrolledOne: "device enrolled",
		DeadCode: "refused: invitation used or over", RemovedOne: "device taken off", NewSecret: "new PIN or passphrase",
		Forgotten: "PIN and passphrase taken away", NotAllowed: "refused: not for this role", TooMany: "refused: too many requests",
		NewLife: "the shop came back from a copy, or its key was lost: everybody begins anew", People: "people changed",
	}[k]
}

// Refused reports whether somebody was turned away.
func (k Kind) Refused() bool {
	switch k {
	case WrongSecret, HadToWait, DeadCode, NotAllowed, TooMany:
		return true
	}
	return false
}

// Event is a line of the security log.
type Event struct {
	Kind    Kind
	Person  int64 // 0 when nobody is known
	Device  int64 // 0 for one that is not enrolled
	Address string
	Detail  string
	Times   int // that it happened within minutes
	At      time.Time
}

// Bounds of the log.
const (
	mostEvents = 10_000
	oneEvent   = 10 * time.Minute // within which the same thing is one line
	mostDetail = 200
)

// Log adds a line to the security log.
func (a *Accounts) Log(ctx context.Context, e Event) error {
	return a.write(ctx, func(tx *sql.Tx) error { return a.log(ctx, tx, e) })
}

// log adds a line, or counts the same one again, so that a flood does not wash the rest away.
func (a *Accounts) log(ctx context.Context, tx *sql.Tx, e Event) error {
	if len(e.Detail) > mostDetail {
		e.Detail = e.Detail[:mostDetail]
	}
	now := a.now()
	r, err := tx.ExecContext(ctx, `UPDATE event SET times = times + 1, at = ?1 WHERE id = (SELECT id FROM event WHERE kind = ?2
		AND person_id = ?3 AND device_id = ?4 AND address = ?5 AND detail = ?6 AND at > ?7 ORDER BY id DESC LIMIT 1)`,
		now.UnixMilli(), e.Kind, e.Person, e.Device, e.Address, e.Detail, now.Add(-oneEvent).UnixMilli())
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n > 0 {
		return err
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO event (kind, person_id, device_id, address, detail, times, at) VALUES (?,?,?,?,?,1,?)`,
		e.Kind, e.Person, e.Device, e.Address, e.Detail, now.UnixMilli()); err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `DELETE FROM event WHERE id <= (SELECT max(id) FROM event) - ?`, mostEvents)
	return err
}

// Events are the lines of the log, the newest first.
func (a *Accounts) Events(ctx context.Context, most int) (out []Event, err error) {
	rows, err := a.db.QueryContext(ctx, `SELECT kind, person_id, device_id, address, detail, times, at FROM event
		ORDER BY at DESC, id DESC LIMIT ?`, most)
	if err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var e Event
		var at int64
		if err := rows.Scan(&e.Kind, &e.Person, &e.Device, &e.Address, &e.Detail, &e.Times, &at); err != nil {
			return nil, fmt.Errorf("accounts: %w", err)
		}
		e.At = time.UnixMilli(at)
		out = append(out, e)
	}
	return out, rows.Err()
}
