package copies

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"time"

	"ashshelf/backup"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/web/page"
)

// copyTime is how long a copy may take on its way in or out.
const copyTime = 30 * time.Minute

// copiesPage is how copies are made, and which there are.
type copiesPage struct {
	Form    *page.Form
	Trouble *caution.Caution
	Folder  string // where they go by themselves; empty for nowhere
	Sealed  bool
	Made    []copyLine
	Least   int // letters of a passphrase
}

// copyLine is a copy that was made.
type copyLine struct {
	backup.Kept
	Name, Size string
	Gone       bool // it does not lie there any more
}

// mostShown is how many copies are listed, the newest.
const mostShown = 12

func (s *Room) copies(w http.ResponseWriter, r *http.Request) error {
	p, err := backup.ReadPlan(s.Shop.Dir())
	if err != nil {
		return err
	}
	return s.showCopies(w, r, http.StatusOK, planForm(p), nil)
}

// planForm writes a plan into a form.
func planForm(p backup.Plan) *page.Form {
	f := &page.Form{Values: url.Values{"folder": {p.Folder}}}
	for name, v := range map[string]int{"days": p.Days, "weeks": p.Weeks, "months": p.Months, "remind": p.Remind} {
		f.Set(name, strconv.Itoa(v))
	}
	page.Tick(f, "sealed", p.Seal != nil)
	return f
}

func (s *Room) showCopies(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p, err := backup.ReadPlan(s.Shop.Dir())
	if err != nil {
		return err
	}
	f.Values.Del("passphrase") // it is typed again, and stands on no page
	f.Values.Del("again")
	shown := copiesPage{Form: f, Folder: p.Folder, Sealed: p.Seal != nil, Least: backup.LeastPassphrase}
	if shown.Trouble, err = s.Copies(r.Context()); err != nil {
		return err
	}
	for _, one := range slices.Backward(p.Made) {
		if len(shown.Made) == mostShown {
			break
		}
		info, err := os.Stat(one.File)
		shown.Made = append(shown.Made, copyLine{
			Kept: one,
			Name: filepath.Base(one.File),
			Size: sizeWords(one.Bytes),
			Gone: err != nil || info.Size() != one.Bytes,
		})
	}
	return s.Show(w, r, status, "copies", "Copies", "Settings", notice, shown)
}

func sizeWords(bytes int64) string {
	if bytes < 1e6 {
		return fmt.Sprintf("%d kB", (bytes+999)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(bytes)/1e6)
}

// keepPlan keeps how copies are made.
func (s *Room) keepPlan(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	dir := s.Shop.Dir()
	p, err := backup.ReadPlan(dir)
	if err != nil {
		return err
	}
	p.Folder = f.Get("folder")
	p.Days, p.Weeks, p.Months, p.Remind = f.Count("days"), f.Count("weeks"), f.Count("months"), f.Count("remind")
	said := f.Values.Get("passphrase")
	switch {
	case f.Get("sealed") != "on":
		p.Seal = nil
	case said == "" && p.Seal == nil:
		f.Problems.Add("passphrase", "type the passphrase that opens the copies")
	case said != "":
		if wrong := backup.CheckPassphrase(said); wrong != "" {
			f.Problems.Add("passphrase", "%s", wrong)
		} else if said != f.Values.Get("again") {
			f.Problems.Add("again", "that is not the same")
		}
	}
	if len(f.Problems) == 0 {
		f.Problems = p.Check(dir)
	}
	return s.Record(w, r, f, func() (string, error) {
		if said != "" && f.Get("sealed") == "on" {
			var err error
			if p.Seal, err = backup.NewSeal(said); err != nil {
				return "", err
			}
		}
		defer s.Shop.Touch()
		return "/copies", backup.SetPlan(dir, p)
	}, func(status int, notice *caution.Caution) error {
		return s.showCopies(w, r, status, f, notice)
	})
}

// longer gives an answer the time that a whole shop needs.
func longer(w http.ResponseWriter) {
	until := time.Now().Add(copyTime)
	// Not every writer has a deadline to move, those of tests have none.
	_ = http.NewResponseController(w).SetReadDeadline(until)
	_ = http.NewResponseController(w).SetWriteDeadline(until)
}

// makeNow makes a copy where they go by themselves.
func (s *Room) makeNow(w http.ResponseWriter, r *http.Request) error {
	if _, err := s.Form(r); err != nil {
		return err
	}
	longer(w)
	defer s.Shop.Touch()
	if _, err := backup.Keep(r.Context(), s.Shop.Dir(), journal.Version, time.Now()); err != nil {
		if errors.Is(err, context.Canceled) {
			return err
		}
		s.Log.Warn("copy", "err", err)
		p, fault := backup.ReadPlan(s.Shop.Dir())
		if fault != nil {
			return fault
		}
		return s.showCopies(w, r, http.StatusConflict, planForm(p), &caution.Caution{
			Code: "copies.failed", Level: caution.Warn, Reason: "The copy could not be made: " + err.Error() + ".", Remedy: "Nothing was lost.",
		})
	}
	return page.SeeOther(w, r, "/copies")
}

// download makes a copy and sends it, sealed when copies are.
func (s *Room) download(w http.ResponseWriter, r *http.Request) error {
	longer(w)
	p, err := backup.ReadPlan(s.Shop.Dir())
	if err != nil {
		return err
	}
	name := backup.NameOf(time.Now(), p.Seal != nil)
	return s.sendFile(w, r, name, "application/zip", func(path string) error {
		_, err := backup.Make(r.Context(), s.Shop.Dir(), journal.Version, time.Now(), path, p.Seal)
		return err
	})
}

// export sends the whole shop as an open file.
func (s *Room) export(w http.ResponseWriter, r *http.Request) error {
	longer(w)
	now := time.Now()
	return s.sendFile(w, r, "ashshelf-"+now.Format(time.DateOnly)+".json", "application/json", func(path string) error {
		f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		return errors.Join(backup.Export(r.Context(), s.Shop.Dir(), journal.Version, now, f), f.Close())
	})
}

// sendFile sends a file that is whole before the first byte of it leaves.
func (s *Room) sendFile(w http.ResponseWriter, r *http.Request, name, kind string, write func(path string) error) (err error) {
	work, err := os.MkdirTemp("", "ashshelf-")
	if err != nil {
		return fmt.Errorf("temporary folder: %w", err)
	}
	defer func() {
		if gone := os.RemoveAll(work); gone != nil {
			s.Log.Warn("temporary folder", "err", gone)
		}
	}()
	path := filepath.Join(work, name)
	if err := write(path); err != nil {
		return err
	}
	f, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("copy: %w", err)
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return fmt.Errorf("copy: %w", err)
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
	w.Header().Set("Content-Length", strconv.FormatInt(info.Size(), 10))
	if _, err := io.Copy(w, f); err != nil {
		s.Log.Debug("download", "path", r.URL.Path, "err", err)
	}
	return nil
}
