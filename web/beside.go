package web

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"ashshelf/access"
	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/web/page"
)

// A shop beside is one that is opened for a while next to the real one, in a folder of its own that goes
// when it is left: the made-up shop to look round in, or a rehearsal. A browser is in it by a cookie,
// and sees nothing else until it leaves; every page says so.

// mostBeside is how many may be open at once, and restBeside after how long without a request one goes.
const (
	mostBeside = 4
	restBeside = 3 * time.Hour
)

// leavePath is where one leaves a shop beside.
const leavePath = "/beside/leave"

// beside holds the shops beside one shop.
type beside struct {
	mu   sync.Mutex
	open map[string]*besideShop
}

type besideShop struct {
	pages http.Handler
	used  time.Time
	end   func() error
}

// Opened is a shop that was made for a while, with the devices on its bench.
type Opened struct {
	Shop      *shop.Shop
	Devices   *device.Set
	Rehearsed *page.Rehearsed // nil for the made-up shop
}

// besideFolders is how their folders are named among the temporary ones.
const besideFolders = "ashshelf-beside-"

// sweepBeside takes away what a program left that was killed: a copy of records is not left lying about.
// Another program's shop is younger than that, or at rest.
func sweepBeside() {
	left, err := filepath.Glob(filepath.Join(os.TempDir(), besideFolders+"*"))
	if err != nil {
		return // the pattern is ours
	}
	for _, dir := range left {
		if at, err := os.Stat(dir); err == nil && time.Since(at.ModTime()) > 24*time.Hour {
			_ = os.RemoveAll(dir) // the next one tries again
		}
	}
}

// OpenBeside opens a shop beside this one; make makes it in an empty folder. It returns the value of the
// cookie that leads a browser into it.
func (s *Server) OpenBeside(
	ctx context.Context,
	kind page.BesideKind,
	make func(ctx context.Context, dir string) (Opened, error),
) (string, error) {
	sweepBeside()
	dir, err := os.MkdirTemp("", besideFolders)
	if err != nil {
		return "", fmt.Errorf("a folder for a shop beside: %w", err)
	}
	// What it stands on, its devices too, ends with it and not with the press that opened it.
	alive, stop := context.WithCancel(context.WithoutCancel(ctx))
	made, err := make(alive, dir)
	if err != nil {
		stop()
		if made.Shop != nil {
			err = errors.Join(err, made.Shop.Close())
		}
		return "", errors.Join(err, os.RemoveAll(dir))
	}
	end := func() error {
		stop()
		return errors.Join(made.Shop.Close(), os.RemoveAll(dir))
	}
	accounts, err := access.Open(alive, dir, made.Shop.Life().ID, time.Now)
	if err != nil {
		return "", errors.Join(err, end())
	}
	pages, err := New(made.Shop, accounts, made.Devices, s.Log)
	if err != nil {
		return "", errors.Join(err, accounts.Close(), end())
	}
	pages.Names, pages.Beside, pages.Rehearsed = s.Names, kind, made.Rehearsed
	token := strings.ToLower(rand.Text())
	return token, s.beside.add(token, &besideShop{
		pages: pages.Handler(),
		used:  time.Now(),
		end:   sync.OnceValue(func() error { return errors.Join(accounts.Close(), end()) }),
	})
}

// add keeps a shop, and lets go of those that nobody uses any more.
func (b *beside) add(token string, one *besideShop) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.open == nil {
		b.open = map[string]*besideShop{}
	}
	var gone []error
	oldest := ""
	for t, other := range b.open {
		if time.Since(other.used) > restBeside {
			gone = append(gone, other.end())
			delete(b.open, t)
		} else if oldest == "" || other.used.Before(b.open[oldest].used) {
			oldest = t
		}
	}
	if len(b.open) >= mostBeside {
		gone = append(gone, b.open[oldest].end())
		delete(b.open, oldest)
	}
	b.open[token] = one
	return errors.Join(gone...)
}

// of is the shop that a browser is in; nil for none.
func (b *beside) of(r *http.Request) (*besideShop, string) {
	c, err := r.Cookie(page.BesideCookie)
	if err != nil {
		return nil, ""
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	one := b.open[c.Value]
	if one != nil {
		one.used = time.Now()
	}
	return one, c.Value
}

// leave ends a shop.
func (b *beside) leave(token string) error {
	b.mu.Lock()
	one := b.open[token]
	delete(b.open, token)
	b.mu.Unlock()
	if one == nil {
		return nil
	}
	return one.end()
}

// closeAll ends all of them, as the program does.
func (b *beside) closeAll() (err error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for token, one := range b.open {
		err = errors.Join(err, one.end())
		delete(b.open, token)
	}
	return err
}

// route leads a browser that is in a shop beside into it.
func (s *Server) route(real http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		one, token := s.beside.of(r)
		switch {
		case r.Method == http.MethodPost && r.URL.Path == leavePath:
			if err := s.beside.leave(token); err != nil {
				s.Log.Warn("leave a shop beside", "err", err)
			}
			page.SetBeside(w, r, "")
			http.Redirect(w, r, "/", http.StatusSeeOther)
		case one != nil:
			w.Header().Set("Ashshelf-Beside", "1") // no device keeps a page of it
			one.pages.ServeHTTP(w, r)
		default:
			real.ServeHTTP(w, r)
		}
	})
}
