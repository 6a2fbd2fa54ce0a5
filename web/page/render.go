package page

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Page is what every page has.
type Page struct {
	*Session
	Title   string
	Room    string // of the bench strip
	Path    string
	Notice  *caution.Caution // shown on top: a conflict, or what was just done
	Key     string           // for the forms of this page
	Tab     string
	Version string
	Now     time.Time
	Due     reminder
	Beside  BesideKind
	Moved   bool             // the clock of the shop is moved, or was
	Disk    *caution.Caution // it took nothing the last time
	Copied  time.Time        // when the copy was made that the shop was brought back from, until somebody looked for what is missing
	Data    any
}

var rooms = []struct{ Path, Name, Icon string }{
	{
		"/",
		"Shelf",
		"shelf",
	}, {"/recipes", "Recipes", "recipe"}, {"/molds", "Molds", "mold"}, {"/plan", "Plan", "plan"}, {"/lye", "Lye", "lye"},
	{"/make", "Make", "make"}, {"/lots", "Lots", "lots"}, {"/stores", "Stores", "stores"}, {"/products", "Sell", "sell"},
	{"/settings", "Settings", "settings"},
	{"/find", "Find", "find"},
}

// In reports whether whoever looks may see of the shop: at an open door everybody, else who is
// signed in.
func (p Page) In() bool { return p.Session != nil && (!p.Shut || p.Who.ID != 0) }

// Show renders a page. Templates run into a buffer first, so a fault never
// leaves half a page.
func (s *Kit) Show(w http.ResponseWriter, r *http.Request, status int, name, title, room string, notice *caution.Caution, data any) error {
	p := Page{
		Session: SessionOf(r),
		Title:   title,
		Room:    room,
		Path:    r.URL.Path,
		Notice:  notice,
		Key:     keyMark,
		Tab:     tabMark,
		Version: s.Version,
		Beside:  s.Beside,
		Moved:   s.Shop.Moved(),
		Disk:    diskNotice(s.Shop.DiskTrouble()),
		Copied:  gapSince(s.Shop.Life()),
		Data:    data,
	}
	if p.Session != nil {
		p.Now = s.Shop.Now(p.Location)
		var err error
		if p.Due, err = s.Reminds(r); err != nil && !errors.Is(err, context.Canceled) {
			s.Log.Warn("reminder", "err", err) // the page matters more
		}
	}
	body, err := s.made(r, name, p)
	if err != nil {
		return err
	}
	if p.Session != nil && notice == nil {
		if p.Notice = unsaid(p.refused, body); p.Notice != nil {
			if body, err = s.made(r, name, p); err != nil {
				return err
			}
		}
	}
	made := cut(body)
	if one, ok := r.Context().Value(keepKey{}).(keep); ok && status == http.StatusOK && notice == nil {
		if made.drafts = noDrafts; one.read.Load() {
			made.drafts = one.made.drafts
		}
		s.before.put(one.name, one.made, made, len(body))
	}
	if err := s.send(w, made, status); err != nil {
		s.Log.Debug("write page", "path", r.URL.Path, "err", err)
	}
	return nil
}

// gapSince is since when records may be missing, zero when none are.
func gapSince(l store.Life) time.Time {
	if l.Gap() {
		return l.Copied
	}
	return time.Time{}
}

// Render answers with a part of a page.
func (s *Kit) Render(w http.ResponseWriter, r *http.Request, status int, name string, data any) error {
	body, err := s.made(r, name, data)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if _, err := w.Write(body); err != nil {
		s.Log.Debug("write page", "path", r.URL.Path, "err", err)
	}
	return nil
}

// errTemplate is a fault of a template: the page of a fault could have it too.
var errTemplate = errors.New("this page could not be made")

// In are the pages in the units of whoever asks.
func (s *Kit) In(r *http.Request) *template.Template {
	if session := SessionOf(r); session != nil && session.System == unit.US {
		return s.tmpl[unit.US]
	}
	return s.tmpl[unit.Metric]
}

// made makes a page or a part of one.
func (s *Kit) made(r *http.Request, name string, data any) ([]byte, error) {
	s.drawn.Add(1)
	var b bytes.Buffer
	if last, ok := s.sizes.Load(name); ok {
		b.Grow(last.(int) + 4<<10)
	}
	if err := s.In(r).ExecuteTemplate(&b, name, data); err != nil {
		return nil, fmt.Errorf("%w: %w", errTemplate, err)
	}
	s.sizes.Store(name, b.Len())
	return b.Bytes(), nil
}

// SeeOther leads on within the shop. What is no address of it leads to the shelf.
func SeeOther(w http.ResponseWriter, r *http.Request, to string) error {
	u, err := url.Parse(to)
	if err != nil || LocalPath(to) != to {
		u = &url.URL{Path: "/"}
	}
	http.Redirect(w, r, u.String(), http.StatusSeeOther)
	return nil
}

// LocalPath lets a page lead back only within the shop.
func LocalPath(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.ContainsAny(next, "\\\r\n") {
		return "/"
	}
	return next
}

// AddressOf is the address of a page as this visitor reaches the shop, for a QR
// code.
func AddressOf(r *http.Request, path string) string {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	return scheme + "://" + r.Host + path
}

// Download sends a file that write makes.
func (s *Kit) Download(w http.ResponseWriter, r *http.Request, name, kind string, write func(io.Writer) error) error {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		return err
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="%s"`, name))
	if _, err := b.WriteTo(w); err != nil {
		s.Log.Debug("download", "path", r.URL.Path, "err", err)
	}
	return nil
}

// FileName makes a name that every system takes.
func FileName(name, ending string) string {
	var b strings.Builder
	for _, c := range strings.ToLower(name) {
		if c >= 'a' && c <= 'z' || c >= '0' && c <= '9' {
			b.WriteRune(c)
		} else if n := b.Len(); n > 0 && b.String()[n-1] != '-' {
			b.WriteByte('-')
		}
	}
	return cmp.Or(strings.Trim(b.String(), "-"), "recipe") + ending
}

// reminder is what every page says of the windows that are open now.
type reminder struct {
	Count int
	Words string // "Unmold and cut 11-S; Texture the top 12-W"
}

func (s *Kit) Reminds(r *http.Request) (out reminder, err error) {
	if v := SessionOf(r); v.Shut && v.Who.ID == 0 {
		return out, nil
	}
	tasks, err := s.Shop.Pressing(r.Context(), SessionOf(r).Location)
	var words []string
	for _, t := range tasks {
		words = append(words, t.Words()+" "+t.Lot.Code)
	}
	return reminder{len(tasks), strings.Join(words, "; ")}, err
}
