package web

import (
	"context"
	"crypto/rand"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// bench is what is being worked on: a kept thing with its revisions, or a new
// one that only has a working copy yet.
type bench struct {
	Kind  store.Book
	OID   string // empty for a new one
	Path  string // address of the bench
	Typed shop.Draft
	Base  int // revision the page is based on
}

// benchOf reads the address of a bench.
func benchOf(r *http.Request, kind store.Book) bench {
	b := bench{Kind: kind, OID: chi.URLParam(r, "oid")}
	if b.OID == "" {
		return newBench(kind, chi.URLParam(r, "token"))
	}
	b.Typed, b.Path = shop.OfBook(kind, b.OID), roomOf(kind)+"/"+b.OID
	return b
}

// newBench is where a new thing is worked on.
func newBench(kind store.Book, token string) bench {
	return bench{Kind: kind, Typed: shop.OfNew(kind, token), Path: roomOf(kind) + "/new/" + token}
}

// newToken tells one new thing from another.
func newToken() string { return strings.ToLower(rand.Text()) }

// startNew leads to a bench for a new thing. Nothing is written before something is
// typed there.
func startNew(kind store.Book) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		to := newBench(kind, newToken()).Path
		if r.URL.RawQuery != "" {
			to += "?" + r.URL.RawQuery
		}
		seeOther(w, r, to)
	}
}

// roomOf is where the things of a book are listed.
func roomOf(kind store.Book) string {
	if kind == store.Tools {
		return "/equipment"
	}
	return "/" + string(kind) + "s"
}

// book is one of the two books with what its benches need to know of it.
type book[T any] struct {
	kind    store.Book
	history func(ctx context.Context, oid string) ([]T, error)
	number  func(T) int
	form    func(T, unit.System) *Form
	fresh   func(*http.Request) (*Form, error) // what a new one starts from
}

// opened is a bench as a page shows it.
type opened[T any] struct {
	bench
	form    *Form
	history []T // newest first; empty for a new thing
	notice  *caution.Caution
	dirty   bool // there is a working copy
	stale   bool // made from an older revision
}

// openBench reads the bench of a request: its working copy, or the newest
// revision. What is not there is answered, and ok is false.
func openBench[T any](s *Server, w http.ResponseWriter, r *http.Request, bk book[T]) (o opened[T], ok bool) {
	o.bench = benchOf(r, bk.kind)
	var err error
	if o.OID != "" {
		if o.history, err = bk.history(r.Context(), o.OID); err != nil {
			s.fail(w, r, err)
			return o, false
		}
		o.Base = bk.number(o.history[0])
	}
	c, err := s.shop.Draft(r.Context(), o.Typed)
	if err != nil {
		s.fail(w, r, err)
		return o, false
	}
	switch {
	case c == nil && o.OID == "" && !o.Typed.New():
		s.notFound(w, r)
		return o, false
	case c == nil && o.OID == "":
		if o.form, err = bk.fresh(r); err != nil {
			s.fail(w, r, err)
			return o, false
		}
		o.form.System = sessionOf(r).System
		return o, true
	case c == nil:
		o.form = bk.form(o.history[0], sessionOf(r).System)
		return o, true
	}
	o.form, o.dirty = &Form{Values: url.Values(c.Form), System: sessionOf(r).System}, true
	if o.stale = c.Base != o.Base; o.stale {
		o.notice = noticeStale
	} else if o.OID != "" {
		o.notice = noticeCopy
	}
	o.Base = c.Base
	return o, true
}

// keepBench runs keep for a posted bench, or throws the working copy away when
// that is asked for, and leads on. Without either it shows the bench again. When keep refuses, what was typed is saved
// and ok is true: the caller shows the page again, with the status.
func keepBench[T any](s *Server, w http.ResponseWriter, r *http.Request, bk book[T], f *Form, keep func(bench) (oid string, err error)) (o opened[T], status int, ok bool) {
	o = opened[T]{bench: benchOf(r, bk.kind), form: f, dirty: true}
	o.Base = postedBase(r)
	if r.PostFormValue("do") == "discard" {
		if err := s.shop.DropDraft(r.Context(), o.Typed); err != nil {
			s.fail(w, r, err)
			return o, 0, false
		}
		if o.OID == "" {
			o.Path = roomOf(bk.kind)
		}
		seeOther(w, r, o.Path)
		return o, 0, false
	}
	if r.PostFormValue("do") != "keep" { // Enter in a field: only look again
		if _, err := s.saveCopy(r, o.bench, f); err != nil {
			s.fail(w, r, err)
			return o, 0, false
		}
		seeOther(w, r, o.Path)
		return o, 0, false
	}
	oid, err := keep(o.bench)
	if err == nil {
		seeOther(w, r, roomOf(bk.kind)+"/"+oid)
		return o, 0, false
	}
	if _, saved := s.saveCopy(r, o.bench, f); saved != nil {
		s.fail(w, r, saved)
		return o, 0, false
	}
	f.Problems = nil // those of reading are part of the error
	if status, o.notice, ok = s.refused(w, r, err, f); !ok {
		return o, 0, false
	}
	if o.OID != "" {
		if o.history, err = bk.history(r.Context(), o.OID); err != nil {
			s.fail(w, r, err)
			return o, 0, false
		}
	}
	return o, status, true
}

// postedBase is the revision that a posted page was based on.
func postedBase(r *http.Request) int {
	base, err := strconv.Atoi(r.PostFormValue("base"))
	if err != nil {
		return 0
	}
	return base
}

// saveCopy keeps what is being typed.
func (s *Server) saveCopy(r *http.Request, b bench, f *Form) (other bool, err error) {
	return s.shop.SaveDraft(r.Context(), typing(r), b.Typed, r.PostFormValue("tab"), postedBase(r), f.Values)
}

var (
	noticeElsewhere = &caution.Caution{Code: "web.elsewhere", Level: caution.Warn, Reason: "Another window typed into this within the last two minutes.", Remedy: "The last one to type wins; close one of them."}
	noticeCopy      = &caution.Caution{Code: "web.copy", Level: caution.Advice, Reason: "These are changes that are not kept yet.", Remedy: "Keep them as a new revision, or throw them away."}
	noticeStale     = &caution.Caution{Code: "web.stale", Level: caution.Warn, Reason: "A newer revision was kept while this was being typed.", Remedy: "Throw these changes away to see it, or note them down first."}
)

// rows counts the rows of a list in a form, such as fats[0] to fats[3].
func rows(v url.Values, list string) int {
	n := 0
	for name := range v {
		rest, ok := strings.CutPrefix(name, list+"[")
		if !ok {
			continue
		}
		if digits, _, ok := strings.Cut(rest, "]"); ok {
			if i, err := strconv.Atoi(digits); err == nil && i >= n && i < mostRows {
				n = i + 1
			}
		}
	}
	return n
}

// mostRows is the longest list a form can have.
const mostRows = 60

// removeRow takes a row out of a list and closes the gap.
func removeRow(v url.Values, list string, i int) {
	n := rows(v, list)
	prefix := func(k int) string { return list + "[" + strconv.Itoa(k) + "]" }
	for k := i; k < n; k++ {
		for name := range v {
			if strings.HasPrefix(name, prefix(k)+".") {
				v.Del(name)
			}
		}
		for name, val := range v {
			if tail, ok := strings.CutPrefix(name, prefix(k+1)); ok {
				v[prefix(k)+tail] = val
			}
		}
	}
}

// raiseRow swaps a row with the one above it.
func raiseRow(v url.Values, list string, i int) {
	if i < 1 || i >= rows(v, list) {
		return
	}
	a, b := list+"["+strconv.Itoa(i-1)+"]", list+"["+strconv.Itoa(i)+"]"
	moved := url.Values{}
	for name, val := range v {
		if tail, ok := strings.CutPrefix(name, a); ok {
			moved[b+tail] = val
			v.Del(name)
		} else if tail, ok := strings.CutPrefix(name, b); ok {
			moved[a+tail] = val
			v.Del(name)
		}
	}
	for name, val := range moved {
		v[name] = val
	}
}
