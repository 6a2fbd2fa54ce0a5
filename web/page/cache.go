package page

import (
	"bytes"
	"context"
	"crypto/rand"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/web/door"
)

// pageCache are pages as they were last made, all of one version of the records and of
// one minute of the shop's clock, since pages count down to minutes. What is
// recorded, or the next minute, makes all of them old. What somebody types and nobody
// recorded makes only those old that show drafts.
type pageCache struct {
	mu      sync.Mutex
	version int64
	minute  int64
	pages   map[string]cachedPage
	size    int
}

// cachedPage is a page in pieces: between them come the key of its forms and the
// name of its tab, which are new each time it is looked at.
type cachedPage struct {
	pieces [][]byte
	marks  []string // keyMark or tabMark, one less than the pieces
	drafts int64    // their version, where the page shows any; else noDrafts
}

// mostCached bounds what is kept, in bytes; when it is full it starts anew.
const mostCached = 8 << 20

// The words that stand in a page for its key and its tab until it is sent. No other
// text has them: they are new each time the program starts.
var keyMark, tabMark = "key" + rand.Text(), "tab" + rand.Text()

// snapshot is the version and the minute that a page is made of.
type snapshot struct{ version, minute, drafts int64 }

// noDrafts stands for the version of the drafts of a page that shows none.
const noDrafts = -1

func (s *Kit) snapshot() snapshot {
	return snapshot{s.Shop.Version(), s.Shop.Now(time.UTC).Unix() / 60, s.Shop.DraftVersion()}
}

func (k *pageCache) get(name string, now snapshot) (cachedPage, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.version != now.version || k.minute != now.minute {
		return cachedPage{}, false
	}
	p, ok := k.pages[name]
	return p, ok && (p.drafts == noDrafts || p.drafts == now.drafts)
}

func (k *pageCache) put(name string, made snapshot, p cachedPage, size int) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if size > mostCached {
		return
	}
	if k.pages == nil || k.version != made.version || k.minute != made.minute || k.size+size > mostCached {
		k.version, k.minute, k.size, k.pages = made.version, made.minute, 0, map[string]cachedPage{}
	}
	if _, ok := k.pages[name]; !ok {
		k.size += size
	}
	k.pages[name] = p
}

// PagesMade is how many pages were made since the program started; the others came from
// the cache.
func (s *Kit) PagesMade() int64 { return s.drawn.Load() }

// cut divides a page where its key and its tab stand.
func cut(page []byte) cachedPage {
	var p cachedPage
	for {
		i, mark := bytes.Index(page, []byte(keyMark)), keyMark
		if j := bytes.Index(page, []byte(tabMark)); j >= 0 && (i < 0 || j < i) {
			i, mark = j, tabMark
		}
		if i < 0 {
			p.pieces = append(p.pieces, page)
			return p
		}
		p.pieces, p.marks = append(p.pieces, page[:i]), append(p.marks, mark)
		page = page[i+len(mark):]
	}
}

// send answers with the page, its key and tab being new.
func (s *Kit) send(w http.ResponseWriter, p cachedPage, status int) error {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	names := map[string]string{keyMark: s.Shop.NewKey(), tabMark: rand.Text()}
	for i, piece := range p.pieces {
		if _, err := w.Write(piece); err != nil {
			return err
		}
		if i < len(p.marks) {
			if _, err := w.Write([]byte(names[p.marks[i]])); err != nil {
				return err
			}
		}
	}
	return nil
}

type keepKey struct{}

// keep is under which name, and as of when, a page that is being made is kept.
type keep struct {
	name string
	made snapshot
	read *atomic.Bool // a draft, while it was made
}

// FromCache answers with a page as it was made before, as long as nothing was
// recorded since. What stands on the bench changes without a record, so the bench
// is left out; so are parts of pages, and a browser that is not known yet.
func (s *Kit) FromCache(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		device, err := r.Cookie(deviceCookie)
		who, at := s.whoOf(r), door.VisitorOf(r)
		stranger := err != nil || s.Door.Shut && who == ""
		if stranger || r.Method != http.MethodGet || r.Header.Get("HX-Request") != "" || strings.HasPrefix(r.URL.Path, "/make") {
			next.ServeHTTP(w, r)
			return
		}
		one := keep{strings.Join([]string{
			r.Host, r.URL.RequestURI(), device.Value, who, strconv.FormatBool(at.TakesPIN()), r.UserAgent(),
		}, "\x00"), s.snapshot(), nil}
		if p, ok := s.before.get(one.name, one.made); ok {
			if err := s.send(w, p, http.StatusOK); err != nil {
				s.Log.Debug("write page", "path", r.URL.Path, "err", err)
			}
			return
		}
		ctx, read := journal.NotingDrafts(r.Context())
		one.read = read
		next.ServeHTTP(w, r.WithContext(context.WithValue(ctx, keepKey{}, one)))
	})
}
