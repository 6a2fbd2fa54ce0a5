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

// Editor is where a document is worked on: one with its revisions, or a new one of which
// there is only a draft.
type Editor struct {
	Kind  store.Collection
	OID   string // empty for a new one
	Path  string // address of the page
	Typed journal.Draft
	Base  int // revision the page is based on
}

// EditorOf reads the address of a request.
func EditorOf(r *http.Request, kind store.Collection) Editor {
	b := Editor{Kind: kind, OID: chi.URLParam(r, "oid")}
	if b.OID == "" {
		return NewEditor(kind, chi.URLParam(r, "token"))
	}
	b.Typed, b.Path = journal.OfBook(kind, b.OID), roomOf(kind)+"/"+b.OID
	return b
}

// NewEditor is where a new document is worked on.
func NewEditor(kind store.Collection, token string) Editor {
	return Editor{Kind: kind, Typed: journal.OfNew(kind, token), Path: roomOf(kind) + "/new/" + token}
}

// NewToken tells one new document from another.
func NewToken() string { return strings.ToLower(rand.Text()) }

// StartNew leads to where a new document is worked on. Nothing is written before
// something is typed there.
func StartNew(kind store.Collection) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		to := NewEditor(kind, NewToken()).Path
		if r.URL.RawQuery != "" {
			to += "?" + r.URL.RawQuery
		}
		return SeeOther(w, r, to)
	}
}

// roomOf is where the documents of a collection are listed.
func roomOf(kind store.Collection) string {
	switch kind {
	case store.Tools:
		return "/equipment"
	case store.Orders:
		return "/orders"
	}
	return "/" + string(kind) + "s"
}

// Documents are a collection with what its editors need to know of it.
type Documents[T any] struct {
	Kind    store.Collection
	History func(ctx context.Context, oid string) ([]T, error)
	Number  func(T) int
	Form    func(T, unit.System) *Form
	Fresh   func(*http.Request) (*Form, error) // what a new one starts from
}

// Opened is an editor as a page shows it.
type Opened[T any] struct {
	Editor
	Form    *Form
	History []T // newest first; empty for a new one
	Notice  *caution.Caution
	Dirty   bool // there is a draft
	Stale   bool // made from an older revision
}

// OpenEditor reads what a request works on: its draft, or the newest
// revision; [store.ErrNotFound] when there is neither.
func OpenEditor[T any](s *Kit, r *http.Request, bk Documents[T]) (o Opened[T], err error) {
	o.Editor = EditorOf(r, bk.Kind)
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

// KeepEdited runs keep for a posted document, or throws the draft away when that is asked
// for, and leads on; the status is 0 then. Without either it shows the page again. When keep
// refuses, what was typed is saved and the caller shows the page again, with the status.
func KeepEdited[T any](
	s *Kit,
	w http.ResponseWriter,
	r *http.Request,
	bk Documents[T],
	f *Form,
	keep func(Editor) (oid string, err error),
) (o Opened[T], status int, err error) {
	o = Opened[T]{Editor: EditorOf(r, bk.Kind), Form: f, Dirty: true}
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
		if _, err := s.KeepTyped(r, o.Typed, f); err != nil {
			return o, 0, err
		}
		return o, 0, SeeOther(w, r, o.Path)
	}
	oid, err := keep(o.Editor)
	if err == nil {
		err = SayKept(w, r, Kept{Said: "Kept."})
	}
	if err == nil {
		return o, 0, SeeOther(w, r, roomOf(bk.Kind)+"/"+oid)
	}
	if _, saved := s.KeepTyped(r, o.Typed, f); saved != nil {
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

var (
	noticeElsewhere = &caution.Caution{
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

// KeepTyped keeps what is being typed.
func (s *Kit) KeepTyped(r *http.Request, d journal.Draft, f *Form) (other bool, err error) {
	return s.Shop.SaveDraft(r.Context(), Typing(r), d, r.PostFormValue("tab"), PostedBase(r), f.Values)
}

// OnlyTyped keeps a form that was sent without being recorded, or throws it away when that
// is asked for, and leads back to it; done is false when it is to be recorded.
func (s *Kit) OnlyTyped(w http.ResponseWriter, r *http.Request, d journal.Draft, path string, f *Form) (done bool, err error) {
	switch r.PostFormValue("do") {
	case "keep", "note", "groups":
		return false, nil
	case "discard":
		err = s.Shop.DropDraft(r.Context(), d)
	default:
		_, err = s.KeepTyped(r, d, f)
	}
	if err != nil {
		return true, err
	}
	return true, SeeOther(w, r, path)
}

// LiveAnswer is what comes back while somebody types: the answers and, for
// every field, what is wrong with it.
type LiveAnswer struct {
	Form    *Form
	Names   []string
	Answers any
	Notice  *caution.Caution
}

// Live keeps what is being typed and begins the answer to it.
func (s *Kit) Live(r *http.Request, d journal.Draft) (out LiveAnswer, err error) {
	if out.Form, err = s.Form(r); err != nil {
		return out, err
	}
	other, err := s.KeepTyped(r, d, out.Form)
	if other {
		out.Notice = noticeElsewhere
	}
	out.Names = FieldNames(out.Form.Values)
	return out, err
}

func FieldNames(v url.Values) []string {
	var out []string
	for name := range v {
		out = append(out, name)
	}
	return append(out, "fats", "liquids", "scent", "scent.parts", "portions")
}
