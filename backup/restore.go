package backup

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/lot"
	"ashshelf/store"
	"ashshelf/store/disk"
)

// restoring is where a copy lies that was looked through and takes the place of what is in
// the folder. As long as it is there the restoring is not finished.
const restoring = "restoring"

// Restored is what was restored.
type Restored struct {
	Manifest Manifest
	Aside    string // the folder that what stood there was put into; empty when nothing did
	LastLot  int    // the newest lot that counts as given out
	Assumed  bool   // nobody said so: it is the newest of the copy
}

// order is what is still to be done to finish a restoring.
type order struct {
	Aside string `json:"aside"`
}

// Restoring is how a copy is restored.
type Restoring struct {
	Passphrase func() (string, error) // is asked for when the copy is sealed
	LastLot    string                 // code of the newest lot on paper; empty when nobody says
	Now        time.Time
}

// ErrLastLot says that a code is none, or older than the copy itself.
var ErrLastLot = errors.New("the last lot code")

// Stage looks through all of a copy and lays it beside what is in a folder, which is not
// touched; [Finish] puts it in its place. A file that is not whole changes nothing.
func Stage(ctx context.Context, file, dir string, how Restoring) (r Restored, err error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return r, fmt.Errorf("data folder: %w", err)
	}
	work, err := os.MkdirTemp(dir, WorkFolder)
	if err != nil {
		return r, fmt.Errorf("data folder: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(work)) }()
	plain, err := unseal(file, work, how.Passphrase)
	if err != nil {
		return r, err
	}
	ready := filepath.Join(work, restoring)
	if r.Manifest, err = unpack(ctx, plain, ready); err != nil {
		return r, err
	}
	if err := r.begin(ready, how, givenOut(ctx, dir), blanked(dir)); err != nil {
		return r, err
	}
	if stands(dir) {
		if r.Aside, err = unused(filepath.Join(dir, "before-restore-"+how.Now.Format("2006-01-02-150405"))); err != nil {
			return r, err
		}
	}
	text, err := json.Marshal(order{filepath.Base(r.Aside)})
	if err != nil {
		return r, fmt.Errorf("restore: %w", err)
	}
	if err := store.WriteWhole(filepath.Join(ready, orderFile), text); err != nil {
		return r, fmt.Errorf("restore: %w", err)
	}
	if err := os.RemoveAll(filepath.Join(dir, restoring)); err != nil {
		return r, fmt.Errorf("restore: %w", err)
	}
	if err := os.Rename(ready, filepath.Join(dir, restoring)); err != nil {
		return r, fmt.Errorf("restore: %w", err)
	}
	return r, nil
}

// begin begins the life of a shop that came back. known is the newest lot that is known to
// have been given out beside those of the copy, and blanked are buyers whose names must not come back with it.
func (r *Restored) begin(dir string, how Restoring, known int, blanked []string) (err error) {
	if r.LastLot, r.Assumed, err = lastLot(how.LastLot, r.Manifest.LastLot); err != nil {
		return err
	}
	r.LastLot = max(r.LastLot, known)
	life := store.NewLife()
	life.Restored, life.Copied, life.LastLot = how.Now.UTC().Truncate(time.Second), r.Manifest.Made, r.LastLot
	life.Blanked = blanked
	return store.WriteLife(dir, life)
}

// givenOut is the newest lot that the shop of a folder gave out, as far as it can be read: it
// may be damaged, which is why it is put aside.
func givenOut(ctx context.Context, dir string) int {
	if !stands(dir) {
		return 0
	}
	last := 0
	if in, err := store.Inspect(ctx, filepath.Join(dir, store.File)); err == nil {
		last = in.Last
	}
	if _, err := os.Stat(filepath.Join(dir, store.LifeFile)); err != nil {
		return last
	}
	if life, err := store.ReadLife(dir); err == nil {
		last = max(last, life.LastLot)
	}
	return last
}

// blanked are the buyers whose names were blanked in the shop of a folder, as far as it can be read.
func blanked(dir string) []string {
	if _, err := os.Stat(filepath.Join(dir, store.LifeFile)); err != nil {
		return nil
	}
	life, err := store.ReadLife(dir)
	if err != nil {
		return nil // it is damaged, which is why it is put aside
	}
	return life.Blanked
}

// unused is a name that nothing has yet: this one, or with a number.
func unused(name string) (string, error) {
	out, ending := name, filepath.Ext(name)
	for n := 2; ; n++ {
		_, err := os.Lstat(out)
		if errors.Is(err, os.ErrNotExist) {
			return out, nil
		}
		if err != nil {
			return "", fmt.Errorf("folder: %w", err)
		}
		out = fmt.Sprintf("%s-%d%s", strings.TrimSuffix(name, ending), n, ending)
	}
}

const orderFile = "order.json"

// lastLot is the number of the newest lot that was given out: as somebody read it from
// paper, or the newest of the copy.
func lastLot(said string, copied int) (number int, assumed bool, err error) {
	if said == "" {
		return copied, true, nil
	}
	number, err = lot.ParseCode(said)
	if err != nil {
		return 0, false, fmt.Errorf("%w: %w", ErrLastLot, err)
	}
	if number < copied {
		return 0, false, fmt.Errorf("%w: the copy itself goes on to lot %s; look for the highest number on your papers and bars",
			ErrLastLot, lot.Code(copied))
	}
	return number, false, nil
}

// beside are the files in which the engine keeps changes to the records that are under way. Beside
// other records they would be taken for theirs.
var beside = []string{store.File + "-journal", store.File + "-wal", store.File + "-shm"}

// ofAShop are what of a shop lies in its folder: what belongs to the file of records first,
// that file last, since it is what makes a folder a shop's.
var ofAShop = slices.Concat(beside, []string{PhotoFolder, store.LifeFile, store.File})

// stands reports whether a folder holds a shop.
func stands(dir string) bool {
	_, err := os.Stat(filepath.Join(dir, store.File))
	return err == nil
}

// Unfinished reports whether a restoring of a folder was begun and not finished.
func Unfinished(dir string) bool {
	_, err := os.Stat(filepath.Join(dir, restoring, orderFile))
	return err == nil
}

// Finish puts what [Stage] laid ready in the place of what is in a folder, which is put
// aside. It is done in steps of which each is done or not: cut off, it is finished the next
// time. The folder must be locked, or be nobody's else.
func Finish(dir string) error {
	from := filepath.Join(dir, restoring)
	text, err := os.ReadFile(filepath.Join(from, orderFile))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	var o order
	if err == nil {
		err = json.Unmarshal(text, &o)
	}
	if err != nil {
		return fmt.Errorf("finish restoring: %w", err)
	}
	aside := filepath.Join(dir, filepath.Base(o.Aside))
	if _, err := os.Stat(filepath.Join(from, store.File)); err == nil {
		for _, name := range ofAShop {
			if err := exchangeOne(dir, from, aside, name); err != nil {
				return fmt.Errorf("finish restoring: %w", err)
			}
		}
	}
	if err := disk.SyncFolder(dir); err != nil {
		return fmt.Errorf("finish restoring: %w", err)
	}
	if err := os.RemoveAll(from); err != nil {
		return fmt.Errorf("finish restoring: %w", err)
	}
	return nil
}

// FinishLocked finishes a restoring of a folder that no other program has open, when one was
// cut off there.
func FinishLocked(dir string) error {
	if !Unfinished(dir) {
		return nil
	}
	lock, err := store.Lock(dir)
	if err != nil {
		return err
	}
	return errors.Join(Finish(dir), lock.Unlock())
}

// exchangeOne puts one file aside and its successor in its place. Whether that is still to
// be done shows by the successor; what has none is put aside before the records are.
func exchangeOne(dir, from, aside, name string) error {
	next := filepath.Join(from, name)
	_, err := os.Stat(next)
	has := err == nil
	if !has && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	now := filepath.Join(dir, name)
	if _, err := os.Stat(now); err == nil && (has || slices.Contains(beside, name)) {
		if err := os.MkdirAll(aside, 0o700); err != nil {
			return err
		}
		if err := os.Rename(now, filepath.Join(aside, name)); err != nil {
			return err
		}
	}
	if has {
		return os.Rename(next, now)
	}
	return nil
}

// Restore looks through a copy and puts it in the place of what is in a folder, which no
// other program may have open. What stood there is put aside.
func Restore(ctx context.Context, file, dir string, how Restoring) (r Restored, err error) {
	lock, err := store.Lock(dir)
	if err != nil {
		return r, err
	}
	defer func() { err = errors.Join(err, lock.Unlock()) }()
	if err := Finish(dir); err != nil { // one that was cut off
		return r, err
	}
	if r, err = Stage(ctx, file, dir, how); err != nil {
		return r, err
	}
	return r, Finish(dir)
}
