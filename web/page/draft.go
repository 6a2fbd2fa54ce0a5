package page

import (
	"context"
	"crypto/rand"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Bench is what is being worked on: a kept thing with its revisions, or a new
// one that only has a working copy yet.
type Bench struct {
	Kind  store.Collection
	OID   string // empty for a new one
	Path  string // address of the bench
	Typed journal.Draft
	Base  int // revision the page is based on
}

// BenchOf reads the address of a bench.
func BenchOf(r *http.Request, kind store.Collection) Bench {
	b := Bench{Kind: kind, OID: chi.URLParam(r, "oid")}
	if b.OID == "" {
		return NewBench(kind, chi.URLParam(r, "token"))
	}
	b.Typed, b.Path = journal.OfBook(kind, b.OID), roomOf(kind)+"/"+b.OID
	return b
}

// NewBench is where a new thing is worked on.
func NewBench(kind store.Collection, token string) Bench {
	return Bench{Kind: kind, Typed: journal.OfNew(kind, token), Path: roomOf(kind) + "/new/" + token}
}

// NewToken tells one new thing from another.
func NewToken() string { return strings.ToLower(rand.Text()) }

// StartNew leads to a bench for a new thing. Nothing is written before something is
// typed there.
func StartNew(kind store.Collection) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		to := NewBench(kind, NewToken()).Path
		if r.URL.RawQuery != "" {
			to += "?" + r.URL.RawQuery
		}
		return SeeOther(w, r, to)
	}
}

// roomOf is where the things of a book are listed.
func roomOf(kind store.Collection) string {
	if kind == store.Tools {
		return "/equipment"
	}
	return "/" + string(kind) + "s"
}

// Book is one of the two books with what its benches need to know of it.
type Book[T any] struct {
	Kind    store.Collection
	History func(ctx context.Context, oid string) ([]T, error)
	Number  func(T) int
	Form    func(T, unit.System) *Form
	Fresh   func(*http.Request) (*Form, error) // what a new one starts from
}

// Opened is a bench as a page shows it.
type Opened[T any] struct {
	Bench
	Form    *Form
	History []T // newest first; empty for a new thing
	Notice  *caution.Caution
	Dirty   bool // there is a working copy
	Stale   bool // made from an older revision
}

// OpenBench reads the bench of a request: its working copy, or the newest
// revision; [store.ErrNotFound] when there is neither.
func OpenBench[T any](s *Kit, r *http.Request, bk Book[T]) (o Opened[T], err error) {
	o.Bench = BenchOf(r, bk.Kind)
	if o.OID != "" {
		if o.History, err = bk.History(r.Context(), o.OID); err != nil {
			return o, err
		}
		o.Base = bk.Number(o.History[0])
	}
	c, err := s.Shop.Draft(r.Context(), o.Typed)
	if err != nil {
		return o, err
	}
	switch {
	case c == nil && o.OID == "" && !o.Typed.New():
		return o, store.ErrNotFound
	case c == nil && o.OID == "":
		if o.Form, err = bk.Fresh(r); err != nil {
			return o, err
		}
		o.Form.System = SessionOf(r).System
		return o, nil
	case c == nil:
		o.Form = bk.Form(o.History[0], SessionOf(r).System)
		return o, nil
	}
	o.Form, o.Dirty = &Form{Values: url.Values(c.Form), System: SessionOf(r).System}, true
	if o.Stale = c.Base != o.Base; o.Stale {
		o.Notice = noticeStale
	} else if o.OID != "" {
		o.Notice = noticeCopy
	}
	o.Base = c.Base
	return o, nil
}

// KeepBench runs keep for a posted bench, or throws the working copy away when
// that is asked for, and leads on; the status is 0 then. Without either it shows the bench
// again. When keep refuses, what was typed is saved and the caller shows the page again,
// with the status.
func KeepBench[T any](
	s *Kit,
	w http.ResponseWriter,
	r *http.Request,
	bk Book[T],
	f *Form,
	keep func(Bench) (oid string, err error),
) (o Opened[T], status int, err error) {
	o = Opened[T]{Bench: BenchOf(r, bk.Kind), Form: f, Dirty: true}
	o.Base = PostedBase(r)
	if r.PostFormValue("do") == "discard" {
		if err := s.Shop.DropDraft(r.Context(), o.Typed); err != nil {
			return o, 0, err
		}
		if o.OID == "" {
			o.Path = roomOf(bk.Kind)
		}
		return o, 0, SeeOther(w, r, o.Path)
	}
	if r.PostFormValue("do") != "keep" { // Enter in a field: only look again
		if _, err := s.SaveCopy(r, o.Bench, f); err != nil {
			return o, 0, err
		}
		return o, 0, SeeOther(w, r, o.Path)
	}
	oid, err := keep(o.Bench)
	if err == nil {
		return o, 0, SeeOther(w, r, roomOf(bk.Kind)+"/"+oid)
	}
	if _, saved := s.SaveCopy(r, o.Bench, f); saved != nil {
		return o, 0, saved
	}
	f.Problems = nil // those of reading are part of the error
	if status, o.Notice, err = s.Refused(w, r, err, f); err != nil {
		return o, 0, err
	}
	if o.OID != "" {
		if o.History, err = bk.History(r.Context(), o.OID); err != nil {
			return o, 0, err
		}
	}
	return o, status, nil
}

// PostedBase is the revision that a posted page was based on.
func PostedBase(r *http.Request) int {
	base, err := strconv.Atoi(r.PostFormValue("base"))
	if err != nil {
		return 0
	}
	return base
}

// SaveCopy keeps what is being typed.
func (s *Kit) SaveCopy(r *http.Request, b Bench, f *Form) (other bool, err error) {
	return s.Shop.SaveDraft(r.Context(), Typing(r), b.Typed, r.PostFormValue("tab"), PostedBase(r), f.Values)
}

var (
	NoticeElsewhere = &caution.Caution{
		Code:   "web.elsewhere",
		Level:  caution.Warn,
		Reason: "Another window typed into this within the last two minutes.",
		Remedy: "The last one to type wins; close one of them.",
	}
	noticeCopy = &caution.Caution{
		Code:   "web.copy",
		Level:  caution.Advice,
		Reason: "These are changes that are not kept yet.",
		Remedy: "Keep them as a new revision, or throw them away.",
	}
	noticeStale = &caution.Caution{
		Code:   "web.stale",
		Level:  caution.Warn,
		Reason: "A newer revision was kept while this was being typed.",
		Remedy: "Throw these changes away to see it, or note them down first.",
	}
)

// Rows counts the rows of a list in a form, such as fats[0] to fats[3].
func Rows(v url.Values, list string) int {
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
	n := Rows(v, list)
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
	if i < 1 || i >= Rows(v, list) {
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

func (s *Kit) KeepTyped(r *http.Request, d journal.Draft, f *Form) (other bool, err error) {
	return s.Shop.SaveDraft(r.Context(), Typing(r), d, r.PostFormValue("tab"), 0, f.Values)
}

// LiveAnswer is what comes back while somebody types: the answers and, for
// every field, what is wrong with it.
type LiveAnswer struct {
	Form    *Form
	Names   []string
	Answers any
	Notice  *caution.Caution
}

func FieldNames(v url.Values) []string {
	var out []string
	for name := range v {
		out = append(out, name)
	}
	return append(out, "fats", "liquids", "scent", "scent.parts", "portions")
}
