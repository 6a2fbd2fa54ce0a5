package copies

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"strings"
	"time"

	"ashshelf/backup"
	"ashshelf/shop/journal"
	"ashshelf/soap/lot"
	"ashshelf/store"
	"ashshelf/web/page"
)

// restorePage asks for a copy.
type restorePage struct{ Form *page.Form }

// restore asks for the copy that an empty shop is restored from.
func (s *Room) restore(w http.ResponseWriter, r *http.Request) error {
	return s.showRestore(w, r, http.StatusOK, &page.Form{Values: url.Values{}})
}

func (s *Room) showRestore(w http.ResponseWriter, r *http.Request, status int, f *page.Form) error {
	if _, err := s.Shop.Settings(r.Context()); !errors.Is(err, journal.ErrNotFounded) {
		if err != nil {
			return err
		}
		return page.SeeOther(w, r, "/") // there is a shop
	}
	return s.Show(w, r, status, "restore", "Bring a shop back", "", nil, restorePage{f})
}

// takeCopy takes a copy for an empty shop. It is looked through before anything is touched;
// then the program opens the shop anew.
func (s *Room) takeCopy(w http.ResponseWriter, r *http.Request) error {
	longer(w)
	s.bringing.Lock()
	defer s.bringing.Unlock()
	select {
	case <-s.Reopened: // another window brought one back, which is put in its place now
		return page.SeeOther(w, r, "/")
	default:
	}
	if _, err := s.Shop.Settings(r.Context()); !errors.Is(err, journal.ErrNotFounded) {
		return s.showRestore(w, r, http.StatusConflict, nil)
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	said := f.Values.Get("passphrase")
	f.Values.Del("passphrase")
	path, err := s.uploaded(r, f)
	if path != "" {
		defer func() {
			if gone := os.Remove(path); gone != nil {
				s.Log.Warn("uploaded copy", "err", gone)
			}
		}()
	}
	if err != nil {
		return err
	}
	if f.Get("last_lot") == "" && f.Get("no_later") != "on" {
		f.Problems.Add("last_lot", "type the code of the newest lot that you have on paper or on bars, or say that there is none after the copy")
	}
	var restored backup.Restored
	if len(f.Problems) == 0 {
		last := f.Get("last_lot")
		restored, err = backup.Stage(r.Context(), path, s.Shop.Dir(), backup.Restoring{
			Passphrase: func() (string, error) { return said, nil }, LastLot: last, Now: time.Now(),
		})
		refuse(f, err)
	}
	if len(f.Problems) > 0 {
		return s.showRestore(w, r, http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	s.Log.Info("restored", "shop", restored.Manifest.Shop, "made", restored.Manifest.Made, "lots", restored.Manifest.Lots)
	if err := s.Show(w, r, http.StatusOK, "restored", "The shop is back", "", nil, restoredPage{
		Shop: restored.Manifest.Shop, Made: restored.Manifest.Made, Lots: restored.Manifest.Lots, Next: lot.Code(restored.LastLot + 1),
	}); err != nil {
		return err
	}
	s.Reopen()
	return nil
}

// restoredPage says what is back.
type restoredPage struct {
	Shop, Next string
	Made       time.Time
	Lots       int
}

// uploaded is the file of a request, on the disk.
func (s *Room) uploaded(r *http.Request, f *page.Form) (path string, err error) {
	in, _, err := r.FormFile("copy")
	if errors.Is(err, http.ErrMissingFile) || errors.Is(err, http.ErrNotMultipart) {
		f.Problems.Add("copy", "choose the file of the copy")
		return "", nil
	}
	if err != nil {
		return "", fmt.Errorf("read the copy: %w", err)
	}
	defer in.Close()
	out, err := os.CreateTemp(s.Shop.Dir(), backup.WorkFolder+"*.zip")
	if err != nil {
		return "", fmt.Errorf("read the copy: %w", err)
	}
	_, err = io.Copy(out, in)
	return out.Name(), errors.Join(err, out.Close())
}

// refuse puts what was wrong with a copy beside its field; what is left is a fault.
func refuse(f *page.Form, err error) {
	words := func(err error) string { return strings.TrimSuffix(err.Error(), ".") }
	switch {
	case errors.Is(err, backup.ErrPassphrase):
		f.Problems.Add("passphrase", "%s", words(err))
	case errors.Is(err, backup.ErrLastLot):
		f.Problems.Add("last_lot", "%s", words(err))
	case errors.Is(err, backup.ErrNoCopy), errors.Is(err, backup.ErrBroken), errors.Is(err, store.ErrNewer):
		f.Problems.Add("copy", "%s; nothing was changed", words(err))
	}
}
