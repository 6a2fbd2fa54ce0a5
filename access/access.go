// Package access keeps who may come into the shop, from which device, and who tried.
//
// On one machine a name is chosen, as at a bench where everybody knows everybody. Once the
// shop is open to a network, everybody signs in: with a passphrase from anywhere, or with a
// short PIN from a device that was enrolled, by a code that is good once and for a quarter of
// an hour. Whoever guesses waits longer after each wrong try.
//
// None of it is a record of the shop: it lies in a folder of its own beside the records, and
// is in no copy and no export. A shop that comes back from a copy begins with nobody signed
// in, no device enrolled and no secret known. What is kept of a secret is an argon2id hash,
// into which a key is mixed that lies in a file of its own, so that the database alone is no
// use to a thief.
package access

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite"

	"ashshelf/store"
	"ashshelf/store/disk"
)

// Folder is where it lies in the data folder.
const Folder = "access"

const (
	file    = "access.db"
	keyFile = "secret.key"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Accounts is who may come in.
type Accounts struct {
	db      *sql.DB
	key     []byte // mixed into every secret
	now     func() time.Time
	hashing chan struct{}
}

// atOnce is how many secrets are hashed at once: each takes memory on purpose.
const atOnce = 2

// Open opens the accounts of a data folder, for one life of its shop. What belongs to another
// life, or to a key that is gone, is forgotten. now is the machine's clock.
func Open(ctx context.Context, dir, life string, now func() time.Time) (_ *Accounts, err error) {
	dir = filepath.Join(dir, Folder)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	a := &Accounts{now: now, hashing: make(chan struct{}, atOnce)}
	if a.key, err = readKey(filepath.Join(dir, keyFile)); err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	query := url.Values{"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)"}, "_txlock": {"immediate"}}
	path := filepath.Join(dir, file)
	if err := disk.OwnersAlone(path); err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	if a.db, err = sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?"+query.Encode()); err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, a.db.Close())
		}
	}()
	a.db.SetMaxOpenConns(4)
	scripts, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, a.db, scripts)
	if err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return nil, fmt.Errorf("accounts: %w", err)
	}
	return a, a.bind(ctx, life)
}

// Close closes them.
func (a *Accounts) Close() error { return a.db.Close() }

// readKey reads the key of a file, and makes one where there is none.
func readKey(path string) ([]byte, error) {
	text, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		key := make([]byte, sha256.Size)
		if _, err := rand.Read(key); err != nil {
			return nil, err
		}
		return key, store.WriteWhole(path, []byte(hex.EncodeToString(key)+"\n"))
	}
	if err != nil {
		return nil, err
	}
	key, err := hex.DecodeString(strings.TrimSpace(string(text)))
	if err == nil && len(key) < sha256.Size {
		err = errors.New("it is too short")
	}
	if err != nil {
		return nil, fmt.Errorf("%s is damaged: take it away, and give every secret anew (%w)", path, err)
	}
	return key, nil
}

// mixed is a secret with the key mixed in.
func (a *Accounts) mixed(secret string) string {
	sum := hmac.New(sha256.New, a.key)
	sum.Write([]byte(secret))
	return hex.EncodeToString(sum.Sum(nil))
}

// bind forgets everybody when the accounts are of another life of the shop or another key.
func (a *Accounts) bind(ctx context.Context, life string) error {
	is := a.mixed("life " + life)
	return a.write(ctx, func(tx *sql.Tx) error {
		var was string
		err := tx.QueryRowContext(ctx, `SELECT value FROM binding WHERE name = 'life'`).Scan(&was)
		if err != nil && !errors.Is(err, sql.ErrNoRows) || was == is {
			return err
		}
		for _, table := range []string{"account", "enrolled", "invitation", "attempt", "session"} {
			if _, err := tx.ExecContext(ctx, `DELETE FROM `+table); err != nil {
				return err
			}
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO binding (name, value) VALUES ('life', ?)
			ON CONFLICT (name) DO UPDATE SET value = excluded.value`, is)
		if err != nil || was == "" {
			return err
		}
		return a.log(ctx, tx, Event{Kind: NewLife})
	})
}

// write runs one transaction: all of it or nothing.
func (a *Accounts) write(ctx context.Context, do func(*sql.Tx) error) (err error) {
	tx, err := a.db.BeginTx(ctx, nil)
	if err != nil {
		return fmt.Errorf("accounts: %w", err)
	}
	if err := do(tx); err != nil {
		return fmt.Errorf("accounts: %w", errors.Join(err, tx.Rollback()))
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("accounts: %w", err)
	}
	return nil
}

// digest is what is kept of a token that cannot be guessed.
func digest(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}
