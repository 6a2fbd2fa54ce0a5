// Package web shows the shop in a browser. It puts the rooms together: each has its
// addresses, its handlers and its templates beside them, and knows no other; what all of
// them share is in the package page.
//
// A handler parses, calls one use case and renders. Pages are plain HTML that works
// without script; with script, what is typed is kept and answered while it is typed.
// Nothing here knows a rule of soap.
package web

import (
	"embed"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"sync"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"ashshelf/access"
	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/web/copies"
	"ashshelf/web/door"
	"ashshelf/web/guide"
	"ashshelf/web/lots"
	"ashshelf/web/making"
	"ashshelf/web/molds"
	"ashshelf/web/page"
	"ashshelf/web/people"
	"ashshelf/web/plans"
	"ashshelf/web/recipes"
	"ashshelf/web/selling"
	"ashshelf/web/setup"
	"ashshelf/web/shelf"
	"ashshelf/web/stock"
	"ashshelf/web/stores"
	"ashshelf/web/trading"
)

//go:embed static
var static embed.FS

// Server is the web interface of one shop.
type Server struct {
	*page.Kit
	beside beside
}

// New makes the interface of a shop with its accounts and the devices on its bench, nil for
// none. Its door stands open; [door.Door.Shuts] shuts it.
func New(of *shop.Shop, accounts *access.Accounts, devices *device.Set, log *slog.Logger) (*Server, error) {
	kit, err := page.New(
		of,
		door.New(accounts, log),
		devices,
		log,
		static,
		copies.Pages,
		guide.Pages,
		lots.Pages,
		making.Pages,
		molds.Pages,
		people.Pages,
		plans.Pages,
		recipes.Pages,
		selling.Pages,
		setup.Pages,
		shelf.Pages,
		stock.Pages,
		stores.Pages,
		trading.Pages,
	)
	if err != nil {
		return nil, err
	}
	kit.Rules = rules
	s := &Server{Kit: kit}
	kit.Rehearse = s.rehearse
	return s, nil
}

// ErrReopen says that the shop is to be opened anew: from a copy that lies ready, or to the
// network.
var ErrReopen = errors.New("the shop is opened anew")

// HTTP returns a server with the limits of [page], for the address and the names that it
// may be asked by beside those of this machine.
func (s *Server) HTTP(addr string, given []string) *http.Server {
	sweepBeside()
	s.Names = door.NamesFor(addr, given)
	server := &http.Server{
		Addr: addr, Handler: s.Handler(), ReadHeaderTimeout: page.ReadTimeout, ReadTimeout: page.ReadTimeout,
		WriteTimeout: page.WriteTimeout, IdleTimeout: page.IdleTimeout, MaxHeaderBytes: 32 << 10,
		ErrorLog: slog.NewLogLogger(s.Log.Handler(), slog.LevelWarn),
	}
	server.RegisterOnShutdown(sync.OnceFunc(func() {
		close(s.Stopping)
		if err := s.beside.closeAll(); err != nil {
			s.Log.Warn("shops beside", "err", err)
		}
	}))
	return server
}

// Plain is what is answered over an open line where the shop itself is behind a secure one:
// where it is, and whom to trust.
func (s *Server) Plain() http.Handler {
	r := chi.NewRouter()
	r.Use(s.Recover, s.Names.Guard, middleware.GetHead, page.Secure, page.Limited)
	r.Handle("/static/*", page.Cached(http.StripPrefix("/static/", http.FileServerFS(staticFiles()))))
	(&setup.Room{Kit: s.Kit}).PlainRoutes(s.OpenRoutes(r))
	return r
}

// staticFiles are the styles, scripts and fonts.
func staticFiles() fs.FS {
	files, err := fs.Sub(static, "static")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return files
}

// atRoot are the files that a browser wants at the top: what installs the program on a tablet, which needs
// no sign-in, and the worker that keeps its pages, which may not keep those above it.
var atRoot = map[string]string{"/manifest.webmanifest": "application/manifest+json", "/sw.js": "text/javascript; charset=utf-8"}

// Handler returns all routes behind the guards.
func (s *Server) Handler() http.Handler {
	r := chi.NewRouter()
	r.Use(
		s.route,
		middleware.RequestID,
		s.Recover,
		s.Names.Guard,
		middleware.GetHead,
		page.Secure,
		http.NewCrossOriginProtection().Handler,
		page.Limited, compressed,
	)
	r.Handle("/static/*", page.Cached(http.StripPrefix("/static/", http.FileServerFS(staticFiles()))))
	for path, kind := range atRoot {
		r.Get(path, func(w http.ResponseWriter, r *http.Request) {
			w.Header().Set("Content-Type", kind)
			w.Header().Set("Cache-Control", "no-cache")
			http.ServeFileFS(w, r, staticFiles(), strings.TrimPrefix(path, "/"))
		})
	}
	r.NotFound(s.NotFound)
	r.MethodNotAllowed(page.RedirectToForm)

	s.rooms(s.Routes(r))
	return r
}

// rooms are the addresses of all rooms: of those that need no shop, no person, or both.
func (s *Server) rooms(r page.Routes) {
	r = r.Behind(s.Door.Identify, s.Door.Quota(s.tooMany))
	log := &lots.Room{Kit: s.Kit}
	settings, shelves := &setup.Room{Kit: s.Kit}, &shelf.Room{Kit: s.Kit}
	shelves.FeedRoute(r)
	settings.FoundingRoutes(r)

	keeping, staff := &copies.Room{Kit: s.Kit}, &people.Room{Kit: s.Kit}
	if !s.Door.Shut { // an empty shop is restored at the computer that holds it
		keeping.RestoreRoutes(r)
	}

	founded := r.Behind(s.FromCache, s.Session)
	settings.OpenRoutes(founded)
	staff.DoorRoutes(founded)
	shelves.DueRoute(founded)

	atWork := founded.Behind(s.RequirePerson)
	shelves.ShelfRoutes(atWork)
	settings.SetupRoutes(atWork)
	staff.PeopleRoutes(atWork)
	(&recipes.Room{Kit: s.Kit}).RecipesRoutes(atWork)
	(&stores.Room{Kit: s.Kit}).StoresRoutes(atWork)
	(&selling.Room{Kit: s.Kit}).SellingRoutes(atWork)
	(&trading.Room{Kit: s.Kit}).TradingRoutes(atWork)
	(&molds.Room{Kit: s.Kit}).MoldsRoutes(atWork)
	(&plans.Room{Kit: s.Kit}).PlansRoutes(atWork)
	(&stock.Room{Kit: s.Kit}).StockRoutes(atWork)
	(&making.Room{Kit: s.Kit, Lots: log}).MakingRoutes(atWork)
	log.LotsRoutes(atWork)
	(&guide.Room{Kit: s.Kit}).GuideRoutes(atWork)
	keeping.CopiesRoutes(atWork)
}

// tooMany says that a device sends more than it may.
func (s *Server) tooMany(w http.ResponseWriter, r *http.Request) {
	http.Error(w, "This device asks for more than it may in a minute. Nothing was recorded; wait a minute, then send it again.",
		http.StatusTooManyRequests)
}

// compressed makes what is text smaller on its way to a tablet. Pictures are small already,
// and a stream of readings must not wait for more.
var compressed = middleware.Compress(compression, "text/html", "text/css", "text/javascript", "text/csv", "text/calendar",
	"application/json", "image/svg+xml")

// compression is quick rather than thorough: a page is a fifth of its size at the lowest
// level already.
const compression = 1
