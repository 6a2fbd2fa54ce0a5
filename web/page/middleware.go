package page

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"net/http"
	"path"
	"runtime/debug"
	"strings"
	"time"

	"github.com/go-chi/chi/v5/middleware"

	"ashshelf/shop/lots"
)

// Limited bounds what a request may bring: photos more than forms, and longer.
func Limited(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(mostForm)
		if r.Method == http.MethodPost && strings.HasSuffix(r.URL.Path, "/photo") {
			most = lots.MostPhoto + mostForm
			// Not every writer has a deadline to move, those of tests have none.
			_ = http.NewResponseController(w).SetReadDeadline(time.Now().Add(photoTimeout))
		}
		if r.Method == http.MethodPost && r.URL.Path == RestorePath {
			most = mostCopy
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		next.ServeHTTP(w, r)
	})
}

// Secure sets the headers of every answer.
func Secure(next http.Handler) http.Handler {
	const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src " +
		"'self'; manifest-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if !strings.HasPrefix(r.URL.Path, "/static/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// Cached lets a browser keep files whose address carries their version.
func Cached(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasSuffix(r.URL.Path, "/") {
			http.NotFound(w, r)
			return
		}
		age := "public, max-age=3600"
		if r.URL.Query().Has("v") {
			age = "public, max-age=31536000, immutable"
		}
		w.Header().Set("Cache-Control", age)
		next.ServeHTTP(w, r)
	})
}

// Recover turns a fault of the program into a page that says so, and logs where it
// was. A handler that breaks off its answer on purpose still does.
func (s *Kit) Recover(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			v := recover()
			if v == nil {
				return
			}
			if v == http.ErrAbortHandler {
				panic(v)
			}
			s.Log.Error("panic", "request", middleware.GetReqID(r.Context()), "what", v, "stack", string(debug.Stack()))
			s.Fail(w, r, fmt.Errorf("panic: %v", v))
		}()
		next.ServeHTTP(w, r)
	})
}

func HashOf(files fs.FS) (string, error) {
	sum := sha256.New()
	err := fs.WalkDir(files, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := fs.ReadFile(files, path)
		sum.Write(b)
		return err
	})
	return hex.EncodeToString(sum.Sum(nil)[:6]), err
}

// RedirectToForm leads from the address of a form, typed or reloaded, to the page that
// the form is on.
func RedirectToForm(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet {
		http.Error(w, "this address does not take that", http.StatusMethodNotAllowed)
		return
	}
	SeeOther(w, r, path.Dir(r.URL.Path))
}
