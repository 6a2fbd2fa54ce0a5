package journal

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"ashshelf/store"
)

// Draft names what is being typed into a form, sound or not. It is not a record. It
// ends in the transaction of the record that it becomes, so that what was recorded is
// never offered again.
type Draft struct {
	Kind string // of the form
	Ref  string // what it is typed for
}

const (
	oneOf        = "bench"   // the Ref of a form that the shop has one of
	newRef       = "new-"    // begins the Ref of something that is not kept yet
	ofALot       = "lot-"    // begins the Kind of a form of a lot
	ofARound     = "weigh-"  // begins the Kind of a device's round of weighings
	mostDrafts   = 400       // drafts that are kept, the newest
	longestDraft = 256 << 10 // bytes of one
	oldestDraft  = 180 * 24 * time.Hour
)

// otherWindow is how long a draft counts as being typed in by another window.
const otherWindow = 2 * time.Minute

// ErrDraftTooLong says that more was typed than any form takes.
var ErrDraftTooLong = fmt.Errorf("this form is longer than fits: %d kB at most", longestDraft>>10)

// OfOne names the form of a kind that the shop has one of.
func OfOne(kind string) Draft { return Draft{kind, oneOf} }

// OfRound names a device's round of weighings.
func OfRound(device string) Draft { return Draft{ofARound + device, oneOf} }

// OfLot names a form of a lot by what it does.
func OfLot(act, oid string) Draft { return Draft{ofALot + act, oid} }

// OfBook names the form of something in a book, by its identity.
func OfBook(b store.Collection, oid string) Draft { return Draft{string(b), oid} }

// OfNew names the form of something that a book does not have yet, by 26 letters and
// digits of its own.
func OfNew(b store.Collection, token string) Draft { return Draft{string(b), newRef + token} }

// New reports whether it names something that a book does not have yet.
func (d Draft) New() bool {
	fresh, ok := strings.CutPrefix(d.Ref, newRef)
	return ok && token.MatchString(fresh)
}

// singles are the forms that the shop has one of.
var singles = []string{"plan", "filling", "heat", "blend"}

// formName is what a form of a lot may be called; what it does is the page's matter.
var formName = regexp.MustCompile(`^[a-z]{1,20}$`)

var token = regexp.MustCompile(`^[a-z2-7]{26}$`)

// checkDraft refuses a draft of what is not there, as [store.ErrNotFound].
func checkDraft(tx *store.Tx, d Draft) error {
	missing := fmt.Errorf("draft %s of %s: %w", d.Kind, d.Ref, store.ErrNotFound)
	if name, ok := strings.CutPrefix(d.Kind, ofALot); ok {
		heads, err := tx.LotHeads(store.LotsWhere{OID: d.Ref})
		if err != nil || len(heads) == 1 && formName.MatchString(name) {
			return err
		}
		return missing
	}
	if b := store.Collection(d.Kind); slices.Contains(store.Books(), b) {
		if d.New() {
			return nil
		}
		_, err := tx.History(b, d.Ref)
		return err
	}
	if d.Ref == oneOf && (slices.Contains(singles, d.Kind) || strings.HasPrefix(d.Kind, ofARound)) {
		return nil
	}
	return missing
}

type draftsRead struct{}

// NotingDrafts returns a context that notes whether a draft is read under it: what is made
// without one stays as it is while others type.
func NotingDrafts(ctx context.Context) (_ context.Context, read *atomic.Bool) {
	read = new(atomic.Bool)
	return context.WithValue(ctx, draftsRead{}, read), read
}

func noteDrafts(ctx context.Context) {
	if read, ok := ctx.Value(draftsRead{}).(*atomic.Bool); ok {
		read.Store(true)
	}
}

// DraftVersion changes whenever drafts may have changed and nothing else.
func (j *Journal) DraftVersion() int64 { return j.db.DraftVersion() }

// Draft returns a draft, or nil.
func (j *Journal) Draft(ctx context.Context, d Draft) (out *store.Draft, err error) {
	noteDrafts(ctx)
	err = j.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Draft(d.Kind, d.Ref)
		return err
	})
	return out, err
}

// LotDrafts returns the drafts of a lot by what their forms do.
func (j *Journal) LotDrafts(ctx context.Context, oid string) (map[string]*store.Draft, error) {
	noteDrafts(ctx)
	out := map[string]*store.Draft{}
	return out, j.Read(ctx, func(tx *store.Tx) error {
		all, err := tx.DraftsOf(oid)
		for kind, one := range all {
			if act, ok := strings.CutPrefix(kind, ofALot); ok {
				out[act] = one
			}
		}
		return err
	})
}

// SaveDraft keeps a form as it stands, sound or not. other is true when another
// window has typed in it within the last minutes; the draft is replaced all the same,
// and the page says so. A draft of what does not exist is [store.ErrNotFound]. What was
// typed on a page that has been recorded since, and comes late, is none any more.
func (j *Journal) SaveDraft(
	ctx context.Context,
	act Act,
	d Draft,
	tab string,
	base int,
	form map[string][]string,
) (other bool, err error) {
	if err := j.ofThisLife(act.Key); err != nil {
		return false, err
	}
	size := 0
	for name, values := range form {
		size += len(name) + len(strings.Join(values, ""))
	}
	if size > longestDraft {
		return false, ErrDraftTooLong
	}
	_, err = j.changeBy(ctx, j.db.WriteDrafts, Act{Device: act.Device, DeviceLabel: act.DeviceLabel}, func(c *Change) (string, error) {
		if _, _, recorded, err := c.Key(act.Key); err != nil || recorded {
			return "", err
		}
		have, err := c.Draft(d.Kind, d.Ref)
		if err != nil {
			return "", err
		}
		if have == nil {
			if err := checkDraft(c.Tx, d); err != nil {
				return "", err
			}
			if err := c.SweepDrafts(c.Now.Add(-oldestDraft), mostDrafts-1); err != nil {
				return "", err
			}
		}
		other = have != nil && have.Tab != tab && c.Now.Sub(have.Updated) < otherWindow
		return "", c.SaveDraft(d.Kind, d.Ref, store.Draft{Form: form, Base: base, Tab: tab, Updated: c.Now}, c.DeviceID)
	})
	return other, err
}

// DropDraft throws a draft away.
func (j *Journal) DropDraft(ctx context.Context, d Draft) error {
	return j.db.WriteDrafts(ctx, func(tx *store.Tx) error { return tx.DropDraft(d.Kind, d.Ref) })
}

// SweepDrafts takes away the drafts that nobody came back to.
func (j *Journal) SweepDrafts(ctx context.Context) error {
	return j.Write(ctx, func(tx *store.Tx) error { return tx.SweepDrafts(j.Clock().Add(-oldestDraft), mostDrafts) })
}
