package web

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"crypto/rand"

	"ashshelf/soap/caution"
	"ashshelf/store"
)

// bench is what is being worked on: a kept thing with its revisions, or a new
// one that only has a working copy yet.
type bench struct {
	Kind store.Book
	OID  string // empty for a new one
	Ref  string // of the working copy
	Path string // address of the bench
	Base int    // revision the page is based on
}

// benchOf reads the address of a bench.
func benchOf(r *http.Request, kind store.Book) bench {
	b := bench{Kind: kind, OID: chi.URLParam(r, "oid")}
	b.Ref = b.OID
	root := "/" + string(kind) + "s/"
	if b.Path = root + b.OID; b.OID == "" {
		ref := chi.URLParam(r, "ref")
		b.Ref, b.Path = "new-"+ref, root+"new/"+ref
	}
	return b
}

// newBench is where a new thing is worked on.
func newBench(kind store.Book) bench {
	ref := strings.ToLower(rand.Text())
	return bench{Kind: kind, Ref: "new-" + ref, Path: "/" + string(kind) + "s/new/" + ref}
}

// copyOf returns the working copy of a bench as a form; ok is false when
// nothing was typed yet. stale is true when a newer revision was kept since.
func (s *Server) copyOf(r *http.Request, b *bench, latest int) (f *Form, stale, ok bool, err error) {
	c, err := s.shop.Copy(r.Context(), string(b.Kind), b.Ref)
	if err != nil || c == nil {
		return nil, false, false, err
	}
	b.Base = c.Base
	return &Form{Values: url.Values(c.Form), System: sessionOf(r).System}, c.Base != latest, true, nil
}

// saveCopy keeps what is being typed.
func (s *Server) saveCopy(r *http.Request, b bench, f *Form) (other bool, err error) {
	base, err := strconv.Atoi(r.PostFormValue("base"))
	if err != nil {
		base = 0
	}
	return s.shop.SaveCopy(r.Context(), act(r), string(b.Kind), b.Ref, r.PostFormValue("tab"), base, f.Values)
}

var (
	noticeElsewhere = &caution.Caution{Code: "web.elsewhere", Level: caution.Warn, Reason: "This is being typed in from another window too.", Remedy: "The last one to type wins; close one of them."}
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
