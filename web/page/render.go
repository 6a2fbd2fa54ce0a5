package page

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"ashshelf/soap/caution"
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
	Moved   bool             // the clock of the shop is moved, or was
	Disk    *caution.Caution // it took nothing the last time
	Data    any
}

var rooms = []struct{ Path, Name, Icon string }{
	{
		"/",
		"Shelf",
		"shelf",
	}, {"/recipes", "Recipes", "recipe"}, {"/molds", "Molds", "mold"}, {"/plan", "Plan", "plan"}, {"/lye", "Lye", "lye"},
	{"/make", "Make", "make"}, {"/lots", "Lots", "lots"}, {"/stores", "Stores", "stores"}, {"/settings", "Settings", "settings"},
}

// Show renders a page. Templates run into a buffer first, so a fault never
// leaves half a page.
func (s *Kit) Show(w http.ResponseWriter, r *http.Request, status int, name, title, room string, notice *caution.Caution, data any) {
	p := Page{
		Session: SessionOf(r),
		Title:   title,
		Room:    room,
		Path:    r.URL.Path,
		Notice:  notice,
		Key:     keyMark,
		Tab:     tabMark,
		Version: s.Version,
		Moved:   s.Shop.Moved(),
		Disk:    diskNotice(s.Shop.DiskTrouble()),
		Data:    data,
	}
	if p.Session != nil {
		p.Now = s.Shop.Now(p.Location)
		var err error
		if p.Due, err = s.Reminds(r); err != nil && !errors.Is(err, context.Canceled) {
			s.Log.Warn("reminder", "err", err) // the page matters more
		}
	}
	body, ok := s.made(w, r, name, p)
	if !ok {
		return
	}
	made := cut(body)
	if one, ok := r.Context().Value(keepKey{}).(keep); ok && status == http.StatusOK && notice == nil {
		if made.drafts = noDrafts; one.read.Load() {
			made.drafts = one.made.drafts
		}
		s.before.put(one.name, one.made, made, len(body))
	}
	if err := made.send(w, status); err != nil {
		s.Log.Debug("write page", "path", r.URL.Path, "err", err)
	}
}

// Render answers with a part of a page.
func (s *Kit) Render(w http.ResponseWriter, r *http.Request, status int, name string, data any) {
	body, ok := s.made(w, r, name, data)
	if !ok {
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if _, err := w.Write(body); err != nil {
		s.Log.Debug("write page", "path", r.URL.Path, "err", err)
	}
}

// made makes a page or a part of one. A fault of it is answered.
func (s *Kit) made(w http.ResponseWriter, r *http.Request, name string, data any) (body []byte, ok bool) {
	s.drawn.Add(1)
	var b bytes.Buffer
	if last, ok := s.sizes.Load(name); ok {
		b.Grow(last.(int) + 4<<10)
	}
	if err := s.Tmpl.ExecuteTemplate(&b, name, data); err != nil {
		s.Log.Error("page", "path", r.URL.Path, "err", err)
		http.Error(w, "This page could not be made. Nothing was lost; the fault is in the log.", http.StatusInternalServerError)
		return nil, false
	}
	s.sizes.Store(name, b.Len())
	return b.Bytes(), true
}

// SeeOther leads on within the shop. What is no address of it leads to the shelf.
func SeeOther(w http.ResponseWriter, r *http.Request, to string) {
	u, err := url.Parse(to)
	if err != nil || LocalPath(to) != to {
		u = &url.URL{Path: "/"}
	}
	http.Redirect(w, r, u.String(), http.StatusSeeOther)
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
func (s *Kit) Download(w http.ResponseWriter, r *http.Request, name, kind string, write func(io.Writer) error) {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		s.Fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="%s"`, name))
	if _, err := b.WriteTo(w); err != nil {
		s.Log.Debug("download", "path", r.URL.Path, "err", err)
	}
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
