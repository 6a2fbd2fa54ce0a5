package access

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"ashshelf/soap/caution"
)

// How is what somebody showed that it is she.
type How string

// The ways. Shops keep these words in their records.
const (
	PIN        How = "pin"
	Passphrase How = "passphrase"
)

// Bounds of secrets, in characters. No PIN is as long as a passphrase, so that one field takes
// either.
const (
	ShortestPIN        = 6
	LongestPIN         = 10
	ShortestPassphrase = 12
	LongestPassphrase  = 200
	leastDifferent     = 5 // characters of a passphrase
)

// CheckPIN finds what is wrong with a new PIN.
func CheckPIN(p *caution.Problems, path, pin string) {
	switch {
	case strings.Trim(pin, "0123456789") != "":
		p.Add(path, "a PIN is figures alone, so that it is typed with wet gloves")
	case len(pin) < ShortestPIN || len(pin) > LongestPIN:
		p.Add(path, "give it %d to %d figures; this has %d", ShortestPIN, LongestPIN, len(pin))
	case inOrder(pin):
		p.Add(path, "the first who guesses tries this one; leave rows of figures and repeats out")
	}
}

// inOrder reports whether the characters go up or down by one each, or are few that repeat.
func inOrder(s string) bool {
	up, down, seen := true, true, map[byte]bool{s[0]: true}
	for i := 1; i < len(s); i++ {
		seen[s[i]] = true
		up = up && (s[i] == s[i-1]+1 || s[i-1] == '9' && s[i] == '0')
		down = down && s[i]+1 == s[i-1]
	}
	return up || down || len(seen) < 3
}

// CheckPassphrase finds what is wrong with a new passphrase. names are words that those who
// know the shop would try first.
func CheckPassphrase(p *caution.Problems, path, phrase string, names ...string) {
	n := utf8.RuneCountInString(phrase)
	different := map[rune]bool{}
	for _, r := range strings.ToLower(phrase) {
		different[r] = true
	}
	left := strings.ToLower(phrase)
	for _, name := range append(names, "ash shelf", "ashshelf", "passphrase", "password", "soap") {
		if name = strings.ToLower(strings.TrimSpace(name)); name != "" {
			left = strings.ReplaceAll(left, name, "")
		}
	}
	switch {
	case !utf8.ValidString(phrase):
		p.Add(path, "this cannot be read; type letters, figures and signs")
	case n < ShortestPassphrase:
		p.Add(path, "give it %d characters or more, such as four words that do not belong together; this has %d", ShortestPassphrase, n)
	case n > LongestPassphrase:
		p.Add(path, "%d characters do not fit; %d do", n, LongestPassphrase)
	case len(different) < leastDifferent || utf8.RuneCountInString(left) < ShortestPassphrase/2:
		p.Add(path, "the first who guesses tries this one; take words that do not belong together")
	}
}

// cost is how hard a hash is to work out: 32 MiB and three passes, above what is asked for
// today (OWASP, password storage: 19 MiB and two).
var cost = &argon2id.Params{Memory: 32 << 10, Iterations: 3, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// hash works out what is kept of a secret, two at once at most.
func (a *Accounts) hash(ctx context.Context, secret string) (out string, err error) {
	select {
	case a.hashing <- struct{}{}:
		defer func() { <-a.hashing }()
	case <-ctx.Done():
		return "", ctx.Err()
	}
	return argon2id.CreateHash(a.mixed(secret), cost)
}

// matches reports whether a secret is the one of a hash. Without one it takes as long.
func (a *Accounts) matches(ctx context.Context, secret, hash string) (bool, error) {
	if hash == "" {
		_, err := a.hash(ctx, secret)
		return false, err
	}
	select {
	case a.hashing <- struct{}{}:
		defer func() { <-a.hashing }()
	case <-ctx.Done():
		return false, ctx.Err()
	}
	return argon2id.ComparePasswordAndHash(a.mixed(secret), hash)
}

// Has is what somebody can show that it is she.
type Has struct{ PIN, Passphrase bool }

// Any reports whether it is anything at all.
func (h Has) Any() bool { return h.PIN || h.Passphrase }

// account reads what is kept of somebody; nobody has nothing.
func (a *Accounts) account(ctx context.Context, person int64) (pin, phrase string, epoch int64, err error) {
	err = a.db.QueryRowContext(ctx, `SELECT pin, passphrase, epoch FROM account WHERE person_id = ?`, person).Scan(&pin, &phrase, &epoch)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	if err != nil {
		err = fmt.Errorf("accounts: %w", err)
	}
	return pin, phrase, epoch, err
}

// Has tells what somebody can show.
func (a *Accounts) Has(ctx context.Context, person int64) (Has, error) {
	pin, phrase, _, err := a.account(ctx, person)
	return Has{pin != "", phrase != ""}, err
}

// Try is somebody who says who she is, and shows a secret.
type Try struct {
	Person  int64 // 0 for a name that nobody has
	Secret  string
	Device  int64  // that is enrolled; 0 for another
	Address string // of a device that is not
	Here    bool   // at the machine with the records
	Invited bool   // by a code of the owner
}

// places are where wrong tries are counted: at the device, and at the person there. Somebody
// who guesses from elsewhere does not keep her from an enrolled device.
func (t Try) places() []string {
	at, whose := "address:"+t.Address, "open"
	switch {
	case t.Device != 0:
		at = fmt.Sprint("device:", t.Device)
		whose = at
	case t.Here:
		at, whose = "here", "here"
	}
	if t.Person == 0 {
		return []string{at}
	}
	return []string{at, fmt.Sprintf("person:%d@%s", t.Person, whose)}
}

// ErrWrong is a secret that is not hers, or a person who has none.
var ErrWrong = errors.New("that is not right")

// Wait says that so many tries were wrong that the next has to wait.
type Wait struct{ For time.Duration }

func (w *Wait) Error() string {
	return fmt.Sprintf("too many wrong tries: wait %s", inWords(w.For))
}

func inWords(d time.Duration) string {
	if s := int((d + time.Second - 1) / time.Second); s < 100 {
		return fmt.Sprintf("%d seconds", max(s, 1))
	}
	return fmt.Sprintf("%d minutes", int((d+time.Minute-1)/time.Minute))
}

// The growing delay.
const (
	freeTries   = 3
	longestWait = 15 * time.Minute
	forgiven    = 24 * time.Hour // after the last wrong try they count no more
)

// Delay is how long the next try waits after so many wrong ones: nothing after three, then
// two seconds, and twice as long after each, up to a quarter of an hour.
func Delay(failures int) time.Duration {
	if failures <= freeTries {
		return 0
	}
	if failures > freeTries+10 {
		return longestWait
	}
	return min(time.Second<<(failures-freeTries), longestWait)
}

// Verify tells whether a secret is hers, and which it was. A PIN counts at a device that is
// enrolled, and at the machine with the records. Each try counts as wrong before it is looked
// at, so that many at once are no way around the delay.
func (a *Accounts) Verify(ctx context.Context, t Try) (How, error) {
	if err := a.count(ctx, t); err != nil {
		return "", err
	}
	how := Passphrase
	if n := len(t.Secret); n <= LongestPIN {
		how = PIN
	}
	pin, hash, _, err := a.account(ctx, t.Person)
	if err != nil {
		return "", err
	}
	if how == PIN {
		if hash = pin; t.Device == 0 && !t.Here && !t.Invited {
			hash = ""
		}
	}
	if len(t.Secret) > 4*LongestPassphrase {
		return "", ErrWrong
	}
	ok, err := a.matches(ctx, t.Secret, hash)
	if err != nil {
		return "", fmt.Errorf("accounts: %w", err)
	}
	if !ok {
		return "", ErrWrong
	}
	return how, a.write(ctx, func(tx *sql.Tx) error {
		for _, place := range t.places() {
			if _, err := tx.ExecContext(ctx, `DELETE FROM attempt WHERE what = ?`, place); err != nil {
				return err
			}
		}
		return nil
	})
}

// count counts a try as a wrong one, or says how long it has to wait.
func (a *Accounts) count(ctx context.Context, t Try) error {
	var wait *Wait
	err := a.write(ctx, func(tx *sql.Tx) error {
		now := a.now()
		failures := map[string]int{}
		for _, place := range t.places() {
			var n int
			var until int64
			err := tx.QueryRowContext(ctx, `SELECT failures, until FROM attempt WHERE what = ?`, place).Scan(&n, &until)
			if err != nil && !errors.Is(err, sql.ErrNoRows) {
				return err
			}
			opens := time.UnixMilli(until)
			if left := opens.Sub(now); n > 0 && left > 0 && (wait == nil || left > wait.For) {
				wait = &Wait{min(left, longestWait)} // a clock that was put back is no longer wait
			}
			if now.Sub(opens) > forgiven {
				n = 0
			}
			failures[place] = n + 1
		}
		if wait != nil {
			return nil
		}
		for place, n := range failures {
			_, err := tx.ExecContext(ctx, `INSERT INTO attempt (what, failures, until) VALUES (?,?,?)
				ON CONFLICT (what) DO UPDATE SET failures = excluded.failures, until = excluded.until`,
				place, n, now.Add(Delay(n)).UnixMilli())
			if err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `DELETE FROM attempt WHERE until < ?`, now.Add(-forgiven).UnixMilli())
		return err
	})
	if err == nil && wait != nil {
		return wait
	}
	return err
}

// SetPIN gives somebody a new PIN, which ends her sessions; it is checked already.
func (a *Accounts) SetPIN(ctx context.Context, person int64, pin string) error {
	return a.set(ctx, person, PIN, pin)
}

// SetPassphrase gives somebody a new passphrase, which ends her sessions; it is checked already.
func (a *Accounts) SetPassphrase(ctx context.Context, person int64, phrase string) error {
	return a.set(ctx, person, Passphrase, phrase)
}

func (a *Accounts) set(ctx context.Context, person int64, how How, secret string) error {
	hash, err := a.hash(ctx, secret)
	if err != nil {
		return fmt.Errorf("accounts: %w", err)
	}
	return a.write(ctx, func(tx *sql.Tx) error { return setHash(ctx, tx, person, how, hash) })
}

func setHash(ctx context.Context, tx *sql.Tx, person int64, how How, hash string) error {
	column := map[How]string{PIN: "pin", Passphrase: "passphrase"}[how]
	_, err := tx.ExecContext(ctx, `INSERT INTO account (person_id, `+column+`) VALUES (?,?)
		ON CONFLICT (person_id) DO UPDATE SET epoch = epoch + 1, `+column+` = excluded.`+column, person, hash)
	return err
}

// Forget takes somebody's secrets and her sessions away: she needs a new invitation.
func (a *Accounts) Forget(ctx context.Context, person int64) error {
	return a.write(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM invitation WHERE person_id = ?`, person); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO account (person_id, epoch) VALUES (?, 1)
			ON CONFLICT (person_id) DO UPDATE SET epoch = epoch + 1, pin = '', passphrase = ''`, person)
		return err
	})
}
