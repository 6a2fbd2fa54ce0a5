package access

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"
)

// Device is one that was enrolled.
type Device struct {
	ID       int64 // 0 for one that is not
	Name     string
	Person   int64 // whose invitation it came by
	Enrolled time.Time
	Seen     time.Time // when somebody last signed in at it
}

// InvitationLife is how long a code is good.
const InvitationLife = 15 * time.Minute

// mostDevices is more than any workshop has.
const mostDevices = 40

// Errors of invitations.
var (
	ErrInvitation = errors.New("this invitation was used, or its quarter of an hour is over; ask the owner for a new one")
	ErrDevices    = fmt.Errorf("%d devices are enrolled, as many as a shop keeps; take one off that is gone", mostDevices)
)

// Invite makes a code by which somebody enrols a device, once. An earlier one of hers is void.
func (a *Accounts) Invite(ctx context.Context, person int64) (code string, until time.Time, err error) {
	code, until = strings.ToLower(rand.Text()), a.now().Add(InvitationLife)
	return code, until, a.write(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT OR REPLACE INTO invitation (digest, person_id, expires_at) VALUES (?,?,?)`,
			digest(code), person, until.UnixMilli())
		return err
	})
}

// Invited is whom a code invites; [ErrInvitation] when it is good no more.
func (a *Accounts) Invited(ctx context.Context, code string) (person int64, err error) {
	err = a.db.QueryRowContext(ctx, `SELECT person_id FROM invitation WHERE digest = ? AND expires_at > ?`,
		digest(code), a.now().UnixMilli()).Scan(&person)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, ErrInvitation
	}
	if err != nil {
		return 0, fmt.Errorf("accounts: %w", err)
	}
	return person, nil
}

// Enrol uses a code up: the device is one of the shop's from then on, known by the token. With
// a PIN, whom the code invites has that one now.
func (a *Accounts) Enrol(ctx context.Context, code, name, pin string) (token string, d Device, err error) {
	hash := ""
	if pin != "" {
		if hash, err = a.hash(ctx, pin); err != nil {
			return "", d, fmt.Errorf("accounts: %w", err)
		}
	}
	token = rand.Text() + rand.Text()
	err = a.write(ctx, func(tx *sql.Tx) error {
		now := a.now()
		err := tx.QueryRowContext(ctx, `DELETE FROM invitation WHERE digest = ? AND expires_at > ? RETURNING person_id`,
			digest(code), now.UnixMilli()).Scan(&d.Person)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrInvitation
		}
		if err != nil {
			return err
		}
		var have int
		if err := tx.QueryRowContext(ctx, `SELECT count(*) FROM enrolled`).Scan(&have); err != nil {
			return err
		}
		if have >= mostDevices {
			return ErrDevices
		}
		if hash != "" {
			if err := setHash(ctx, tx, d.Person, PIN, hash); err != nil {
				return err
			}
		}
		d.Name, d.Enrolled, d.Seen = name, now, now
		r, err := tx.ExecContext(ctx, `INSERT INTO enrolled (digest, name, person_id, enrolled_at, seen_at) VALUES (?,?,?,?,?)`,
			digest(token), name, d.Person, now.UnixMilli(), now.UnixMilli())
		if err != nil {
			return err
		}
		d.ID, err = r.LastInsertId()
		return err
	})
	return token, d, err
}

const deviceColumns = `id, name, person_id, enrolled_at, seen_at`

func scanDevice(scan func(...any) error) (d Device, err error) {
	var enrolled, seen int64
	err = scan(&d.ID, &d.Name, &d.Person, &enrolled, &seen)
	d.Enrolled, d.Seen = time.UnixMilli(enrolled), time.UnixMilli(seen)
	return d, err
}

// Device is the enrolled device that a token is of; a zero one when it is of none.
func (a *Accounts) Device(ctx context.Context, token string) (Device, error) {
	if token == "" {
		return Device{}, nil
	}
	d, err := scanDevice(a.db.QueryRowContext(ctx, `SELECT `+deviceColumns+` FROM enrolled WHERE digest = ?`, digest(token)).Scan)
	if errors.Is(err, sql.ErrNoRows) {
		return Device{}, nil
	}
	if err != nil {
		return Device{}, fmt.Errorf("accounts: %w", err)
	}
	return d, nil
}

// Devices are all that are enrolled, the newest first.
func (a *Accounts) Devices(ctx context.Context) (out []Device, err error) {
	rows, err := a.db.QueryContext(ctx, `SELECT `+deviceColumns+` FROM enrolled ORDER BY id DESC`)
	if err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		d, err := scanDevice(rows.Scan)
		if err != nil {
			return nil, fmt.Errorf("accounts: %w", err)
		}
		out = append(out, d)
	}
	return out, rows.Err()
}

// Seen notes that somebody signed in at a device.
func (a *Accounts) Seen(ctx context.Context, device int64) error {
	return a.write(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE enrolled SET seen_at = ? WHERE id = ?`, a.now().UnixMilli(), device)
		return err
	})
}

// Remove takes a device off, and with it whoever is signed in at it.
func (a *Accounts) Remove(ctx context.Context, device int64) error {
	return a.write(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `DELETE FROM enrolled WHERE id = ?`, device)
		return err
	})
}
