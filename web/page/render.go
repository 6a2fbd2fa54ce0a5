package page

import (
	"bytes"
	"context"
	"errors"
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
	{"/", "Shelf", "shelf"}, {"/recipes", "Recipes", "recipe"}, {"/molds", "Molds", "mold"}, {"/plan", "Plan", "plan"}, {"/lye", "Lye", "lye"},
	{"/make", "Make", "make"}, {"/lots", "Lots", "lots"}, {"/stores", "Stores", "stores"}, {"/settings", "Settings", "settings"},
}

// Show renders a page. Templates run into a buffer first, so a fault never
// leaves half a page.
func (s *Kit) Show(w http.ResponseWriter, r *http.Request, status int, name, title, room string, notice *caution.Caution, data any) {
	p := Page{Session: SessionOf(r), Title: title, Room: room, Path: r.URL.Path, Notice: notice, Key: keyMark, Tab: tabMark, Version: s.Version, Moved: s.Shop.Moved(), Disk: diskNotice(s.Shop.DiskTrouble()), Data: data}
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
