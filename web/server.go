// Package web shows the shop in a browser: routes, pages and forms.
//
// A handler parses, calls one use case and renders. Pages are plain HTML that
// works without script; with script, what is typed is kept and answered while
// it is typed. Nothing here knows a rule of soap.
package web

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"path"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

//go:embed pages
var pages embed.FS

//go:embed static
var static embed.FS

// Limits of what is taken from a browser and how long it may take.
const (
	mostForm     = 2 << 20 // a whole book of recipes fits
	readTimeout  = 15 * time.Second
	writeTimeout = 30 * time.Second
	idleTimeout  = 2 * time.Minute
	photoTimeout = 2 * time.Minute
)

// Server is the web interface of one shop.
type Server struct {
	shop     *shop.Shop
	log      *slog.Logger
	tmpl     *template.Template
	version  string        // of the static files
	bench    *device.Bench // scale and thermometer; nil for none
	stopping chan struct{} // closed when the program is told to stop
	before   madePages
	names    names
	sizes    sync.Map // of each page when it was last made, in bytes
}

// New makes the interface of a shop with the devices on its bench, nil for none.
func New(s *shop.Shop, bench *device.Bench, log *slog.Logger) (*Server, error) {
	srv := &Server{shop: s, bench: bench, log: log, stopping: make(chan struct{})}
	var err error
	if srv.version, err = hashOf(static); err != nil {
		return nil, err
	}
	srv.tmpl, err = template.New("").Funcs(srv.funcs()).ParseFS(pages, "pages/*.html")
	if err != nil {
		return nil, fmt.Errorf("pages: %w", err)
	}
	return srv, nil
}

// HTTP returns a server with the limits of this package, for the address and the names
// that it may be asked by beside those of this machine.
func (s *Server) HTTP(addr string, given []string) *http.Server {
	s.names = namesFor(addr, given)
	server := &http.Server{
		Addr: addr, Handler: s.Handler(), ReadHeaderTimeout: readTimeout, ReadTimeout: readTimeout,
		WriteTimeout: writeTimeout, IdleTimeout: idleTimeout, MaxHeaderBytes: 32 << 10,
		ErrorLog: slog.NewLogLogger(s.log.Handler(), slog.LevelWarn),
	}
	server.RegisterOnShutdown(sync.OnceFunc(func() { close(s.stopping) }))
	return server
}

// Handler returns all routes behind the guards.
func (s *Server) Handler() http.Handler {
	r := chi.NewRouter()
	r.Use(middleware.RequestID, s.recover, s.names.guard, middleware.GetHead, secure, http.NewCrossOriginProtection().Handler, limited)
	files, err := fs.Sub(static, "static")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	r.Handle("/static/*", cached(http.StripPrefix("/static/", http.FileServerFS(files))))
	r.NotFound(s.notFound)
	r.MethodNotAllowed(toItsPage)

	s.feedRoute(r)
	s.foundingRoutes(r)
	r.Group(func(r chi.Router) {
		r.Use(s.remembered, s.session)
		s.openRoutes(r)
		s.dueRoute(r)
		r.Group(func(r chi.Router) {
			r.Use(s.somebody)
			s.shelfRoutes(r)
			s.setupRoutes(r)
			s.recipesRoutes(r)
			s.storesRoutes(r)
			s.moldsRoutes(r)
			s.plansRoutes(r)
			s.stockRoutes(r)
			s.makingRoutes(r)
			s.lotsRoutes(r)
		})
	})
	return r
}

// limited bounds what a request may bring: photos more than forms, and longer.
func limited(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(mostForm)
		if r.Method == http.MethodPost && strings.HasSuffix(r.URL.Path, "/photo") {
			most = shop.MostPhoto + mostForm
			// Not every writer has a deadline to move, those of tests have none.
			_ = http.NewResponseController(w).SetReadDeadline(time.Now().Add(photoTimeout))
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		next.ServeHTTP(w, r)
	})
}

// secure sets the headers of every answer.
func secure(next http.Handler) http.Handler {
	const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
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

// cached lets a browser keep files whose address carries their version.
func cached(next http.Handler) http.Handler {
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

// recover turns a fault of the program into a page that says so, and logs where it
// was. A handler that breaks off its answer on purpose still does.
func (s *Server) recover(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			v := recover()
			if v == nil {
				return
			}
			if v == http.ErrAbortHandler {
				panic(v)
			}
			s.log.Error("panic", "request", middleware.GetReqID(r.Context()), "what", v, "stack", string(debug.Stack()))
			s.fail(w, r, fmt.Errorf("panic: %v", v))
		}()
		next.ServeHTTP(w, r)
	})
}

func hashOf(files fs.FS) (string, error) {
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

type sessionKey struct{}

// Session is who is at which device.
type Session struct {
	shop.Settings
	Who    store.Person // ID 0 when nobody is chosen
	device string
	label  string
}

func sessionOf(r *http.Request) *Session {
	s, _ := r.Context().Value(sessionKey{}).(*Session)
	return s
}

const (
	deviceCookie = "device"
	whoCookie    = "who"
	cookieAge    = 5 * 365 * 24 * 60 * 60 // seconds
)

func setCookie(w http.ResponseWriter, name, value string) {
	http.SetCookie(w, &http.Cookie{Name: name, Value: value, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, MaxAge: cookieAge})
}

// deviceOf knows a browser again by a cookie, giving it one when it is new.
func deviceOf(w http.ResponseWriter, r *http.Request) (token, label string) {
	if c, err := r.Cookie(deviceCookie); err == nil && len(c.Value) == 26 {
		token = c.Value
	} else {
		token = rand.Text()
		setCookie(w, deviceCookie, token)
	}
	label = "computer"
	for _, word := range []string{"iPad", "iPhone", "Android", "Macintosh", "Windows", "Linux"} {
		if strings.Contains(r.UserAgent(), word) {
			label = word
			break
		}
	}
	return token, label + " " + strings.ToLower(token[:4])
}

// session loads the settings and who is working. Without a shop it leads to
// the first-run page.
func (s *Server) session(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		settings, err := s.shop.Settings(r.Context())
		if errors.Is(err, shop.ErrNotFounded) {
			http.Redirect(w, r, "/welcome", http.StatusSeeOther)
			return
		}
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v := &Session{Settings: settings}
		v.device, v.label = deviceOf(w, r)
		working := settings.Working()
		if c, err := r.Cookie(whoCookie); err == nil {
			for _, p := range working {
				if strconv.FormatInt(p.ID, 10) == c.Value {
					v.Who = p
				}
			}
		}
		if v.Who.ID == 0 && len(working) == 1 {
			v.Who = working[0]
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), sessionKey{}, v)))
	})
}

// toItsPage leads from the address of a form, typed or reloaded, to the page that
// the form is on.
func toItsPage(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet {
		http.Error(w, "this address does not take that", http.StatusMethodNotAllowed)
		return
	}
	seeOther(w, r, path.Dir(r.URL.Path))
}

// somebody leads to the choice of who is working until one is made.
func (s *Server) somebody(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if sessionOf(r).Who.ID == 0 {
			if r.Method != http.MethodGet && r.Method != http.MethodHead {
				// Not a redirect: whoever sends in the background would take the
				// page that it leads to for an answer.
				s.show(w, r, http.StatusUnauthorized, "who", "Who is at the bench?", "", nobody, r.URL.Path)
				return
			}
			http.Redirect(w, r, "/who?next="+url.QueryEscape(r.URL.RequestURI()), http.StatusSeeOther)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// typing is the act of typing into a form. What a page sends by itself while somebody
// types has the key of its form, so that it is known to be late when the form was
// recorded before it came; a button is pressed on purpose and has none.
func typing(r *http.Request) shop.Act {
	a := act(r)
	if r.Header.Get("HX-Request") == "" {
		a.Key = ""
	}
	a.Unread = nil // a draft is kept as it is
	return a
}

type draftKey struct{}

// ending returns the request with the draft that ends with what it records.
func ending(r *http.Request, d shop.Draft) *http.Request {
	return r.WithContext(context.WithValue(r.Context(), draftKey{}, d))
}

// act gathers who does something, from the session and the form.
func act(r *http.Request) shop.Act {
	v := sessionOf(r)
	seen, err := strconv.ParseInt(r.PostFormValue("seen"), 10, 64)
	if err != nil {
		seen = 0
	}
	draft, _ := r.Context().Value(draftKey{}).(shop.Draft)
	return shop.Act{
		Draft: draft, Person: v.Who.ID, Device: v.device, DeviceLabel: v.label, Key: r.PostFormValue("key"),
		Fingerprint: fingerprint(r.URL.Path, r.PostForm), Seen: seen, Unread: unread(r),
	}
}

// unread finds what was typed that nobody could read. A file that is pasted as text has
// limits of its own.
func unread(r *http.Request) (p caution.Problems) {
	for name, values := range r.PostForm {
		for _, v := range values {
			if pasted := strings.HasPrefix(r.URL.Path, "/recipes/"); pasted && len(v) > caution.MostText {
				continue
			}
			p.Text(name, strings.ReplaceAll(v, "\r\n", "\n"))
		}
	}
	return p
}

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

// show renders a page. Templates run into a buffer first, so a fault never
// leaves half a page.
func (s *Server) show(w http.ResponseWriter, r *http.Request, status int, name, title, room string, notice *caution.Caution, data any) {
	p := Page{Session: sessionOf(r), Title: title, Room: room, Path: r.URL.Path, Notice: notice, Key: keyMark, Tab: tabMark, Version: s.version, Moved: s.shop.Moved(), Disk: diskNotice(s.shop.DiskTrouble()), Data: data}
	if p.Session != nil {
		p.Now = s.shop.Now(p.Location)
		var err error
		if p.Due, err = s.reminds(r); err != nil && !errors.Is(err, context.Canceled) {
			s.log.Warn("reminder", "err", err) // the page matters more
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
		s.log.Debug("write page", "path", r.URL.Path, "err", err)
	}
}

// render answers with a part of a page.
func (s *Server) render(w http.ResponseWriter, r *http.Request, status int, name string, data any) {
	body, ok := s.made(w, r, name, data)
	if !ok {
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if _, err := w.Write(body); err != nil {
		s.log.Debug("write page", "path", r.URL.Path, "err", err)
	}
}

// made makes a page or a part of one. A fault of it is answered.
func (s *Server) made(w http.ResponseWriter, r *http.Request, name string, data any) (body []byte, ok bool) {
	var b bytes.Buffer
	if last, ok := s.sizes.Load(name); ok {
		b.Grow(last.(int) + 4<<10)
	}
	if err := s.tmpl.ExecuteTemplate(&b, name, data); err != nil {
		s.log.Error("page", "path", r.URL.Path, "err", err)
		http.Error(w, "This page could not be made. Nothing was lost; the fault is in the log.", http.StatusInternalServerError)
		return nil, false
	}
	s.sizes.Store(name, b.Len())
	return b.Bytes(), true
}

// refused turns the error of a use case into what a page shows. ok is false
// when the error is a fault, which has then been answered.
func (s *Server) refused(w http.ResponseWriter, r *http.Request, err error, f *Form) (status int, notice *caution.Caution, ok bool) {
	var p caution.Problems
	var conflict *shop.Conflict
	var elsewhere *shop.Elsewhere
	var not *lot.NotNow
	warn := func(text, remedy string) *caution.Caution {
		return &caution.Caution{Code: "web.refused", Level: caution.Warn, Reason: text, Remedy: remedy}
	}
	switch {
	case errors.As(err, &p):
		if f != nil {
			f.Problems = append(f.Problems, p...)
		}
		return http.StatusUnprocessableEntity, nil, true
	case errors.As(err, &elsewhere):
		return http.StatusConflict, warn(capital(elsewhere.Error())+".", "What you typed is still here. Take the run over to go on here."), true
	case errors.As(err, &conflict):
		return http.StatusConflict, warn(capital(conflict.Error())+".", "What you typed is still here. Look at what changed, then send it again."), true
	case errors.Is(err, shop.ErrKeyReused):
		return http.StatusConflict, warn("This page was sent before with other values, and those were recorded.", "This is how it stands now; what you typed is still here."), true
	case errors.As(err, &not):
		return http.StatusConflict, warn(capital(not.Why)+".", "Nothing was recorded."), true
	case errors.Is(err, shop.ErrNobody):
		return http.StatusUnauthorized, nobody, true
	}
	if t := store.TroubleOf(err); t != "" && t != store.DiskBroken {
		s.log.Warn("disk", "path", r.URL.Path, "trouble", t, "err", err)
		s.tellDisk(w, t)
		return diskStatus[t], warn("Nothing was recorded.", "What you typed is still here; send it again when the disk takes it."), true
	}
	s.fail(w, r, err)
	return 0, nil, false
}

// diskStatus is what a request is answered with that the disk did not take.
var diskStatus = map[store.DiskTrouble]int{
	store.DiskFull: http.StatusInsufficientStorage, store.DiskBusy: http.StatusServiceUnavailable,
	store.DiskReadOnly: http.StatusInternalServerError, store.DiskBroken: http.StatusInternalServerError,
}

// troubleHeader says in words why the disk did not take what was sent in the background.
const troubleHeader = "Ashshelf-Trouble"

func (s *Server) tellDisk(w http.ResponseWriter, t store.DiskTrouble) {
	what, remedy := t.Words()
	w.Header().Set(troubleHeader, what+". "+remedy)
	if t == store.DiskBusy {
		w.Header().Set("Retry-After", "3")
	}
}

// diskNotice is what every page says as long as the disk takes nothing.
func diskNotice(t store.DiskTrouble) *caution.Caution {
	if t == "" {
		return nil
	}
	what, remedy := t.Words()
	return &caution.Caution{Code: "web.disk", Level: caution.Block, Reason: what + ": nothing can be recorded.", Remedy: remedy}
}

// fail answers a fault, or what is not there.
func (s *Server) fail(w http.ResponseWriter, r *http.Request, err error) {
	if errors.Is(err, store.ErrNotFound) {
		s.notFound(w, r)
		return
	}
	if errors.Is(err, context.Canceled) {
		return
	}
	if errors.Is(err, shop.ErrDraftTooLong) {
		http.Error(w, capital(err.Error())+". Nothing was kept of it.", http.StatusRequestEntityTooLarge)
		return
	}
	var p caution.Problems
	var not *lot.NotNow
	var conflict *shop.Conflict
	switch {
	case errors.As(err, &p), errors.As(err, &not), errors.As(err, &conflict), errors.Is(err, shop.ErrNobody), errors.Is(err, shop.ErrKeyReused):
		// A page without a place for it says it by itself.
		status, notice, _ := s.refused(w, r, err, nil)
		s.show(w, r, status, "refused", "Nothing was recorded", "", notice, p)
		return
	}
	s.log.Error("request", "method", r.Method, "path", r.URL.Path, "err", err)
	if t := store.TroubleOf(err); t != "" {
		s.tellDisk(w, t)
		s.show(w, r, diskStatus[t], "disk", "The disk", "", nil, diskNotice(t))
		return
	}
	s.show(w, r, http.StatusInternalServerError, "fault", "Something went wrong", "", nil, r.Method != http.MethodGet)
}

func (s *Server) notFound(w http.ResponseWriter, r *http.Request) {
	s.show(w, r, http.StatusNotFound, "notfound", "Not on the shelf", "", nil, nil)
}

// form reads a posted form.
func (s *Server) form(w http.ResponseWriter, r *http.Request) (*Form, bool) {
	parse := r.ParseForm
	if strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/form-data") {
		parse = func() error { return r.ParseMultipartForm(mostForm) }
	}
	if err := parse(); err != nil {
		s.log.Info("form", "path", r.URL.Path, "err", err)
		http.Error(w, "This form could not be read.", http.StatusBadRequest)
		return nil, false
	}
	f := &Form{Values: typed(r.PostForm)}
	if v := sessionOf(r); v != nil {
		f.System = v.System
	}
	return f, true
}

// seeOther leads on within the shop. What is no address of it leads to the shelf.
func seeOther(w http.ResponseWriter, r *http.Request, to string) {
	u, err := url.Parse(to)
	if err != nil || localPath(to) != to {
		u = &url.URL{Path: "/"}
	}
	http.Redirect(w, r, u.String(), http.StatusSeeOther)
}

// nobody says that nothing was recorded because nobody is named.
var nobody = &caution.Caution{Code: "web.nobody", Level: caution.Warn, Reason: "Nothing was recorded: choose who is at the bench first.", Remedy: "What waits on the bench is sent then."}
