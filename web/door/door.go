// Package door is how a request comes in: by which name the shop was asked for, from which
// device, who is signed in there, and what her role lets her do.
//
// On one machine the door stands open: whoever sits there chooses a name. Once the shop is
// open to a network the door is shut, and whoever comes through it shows a passphrase, or a
// PIN at a device that was enrolled. A session ends when it rests too long, when its device
// is taken off, or when the person is signed out everywhere; it has a new name each time that
// somebody signs in. Nothing is written when a page is only looked at: when a session was
// last used is remembered, not kept.
package door

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/httprate"

	"ashshelf/access"
	"ashshelf/soap/caution"
)

// How long a session lasts.
const (
	enrolledLife = 14 * 24 * time.Hour // at a device of the shop
	strangerLife = 12 * time.Hour      // elsewhere
	mostIdle     = 12 * time.Hour
	mostIdleElse = time.Hour
)

// mostRequests is how many requests a minute a device may send: a scale that is read and
// somebody who types quickly come to a fifth of it.
const mostRequests = 600

// Door is the way in.
type Door struct {
	*access.Accounts
	Shut bool // everybody signs in, since it is open to a network

	sessions *scs.SessionManager
	log      *slog.Logger
	now      func() time.Time
	device   string // name of the cookie by which a device is known

	mu   sync.Mutex
	used map[string]time.Time // when each session was last used
}

// New makes a door that stands open.
func New(a *access.Accounts, log *slog.Logger) *Door {
	return &Door{Accounts: a, log: log, now: time.Now, used: map[string]time.Time{}}
}

// Shuts shuts the door: from then on everybody signs in. Over a line that is not secure
// cookies cannot be kept from those who listen in.
func (d *Door) Shuts(secure bool) {
	s := scs.New()
	s.Lifetime = enrolledLife
	s.Store, s.HashTokenInStore = access.Sessions{Accounts: d.Accounts}, true
	s.Cookie.Name, s.Cookie.Secure, d.device = "session", secure, "enrolled"
	if secure { // no other page of this machine can set a cookie of such a name
		s.Cookie.Name, d.device = "__Host-session", "__Host-enrolled"
	}
	s.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		d.log.Error("session", "path", r.URL.Path, "err", err)
		http.Error(w, "Who is signed in could not be looked up; nothing was recorded. Try again.", http.StatusInternalServerError)
	}
	d.sessions, d.Shut = s, true
}

// Visitor is who is at the door.
type Visitor struct {
	Person  int64 // that is signed in; 0 for nobody, and as long as the door stands open
	Device  access.Device
	Address string
	Here    bool // at the machine with the records

	session string
}

type visitorKey struct{}

// VisitorOf is who sends a request.
func VisitorOf(r *http.Request) Visitor {
	v, _ := r.Context().Value(visitorKey{}).(Visitor)
	return v
}

// Identify finds out who is there. It is behind no other guard that keeps anything.
func (d *Door) Identify(next http.Handler) http.Handler {
	identified := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		v, err := d.identify(r)
		if err != nil {
			d.log.Error("door", "path", r.URL.Path, "err", err)
			http.Error(w, "Who is there could not be looked up; nothing was recorded. Try again.", http.StatusInternalServerError)
			return
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), visitorKey{}, v)))
	})
	if !d.Shut {
		return direct(identified)
	}
	return d.sessions.LoadAndSave(identified)
}

// direct turns away what comes by way of another program: at an open door everybody at its
// other end would be taken for somebody at this machine.
func direct(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		for _, name := range []string{"Forwarded", "X-Forwarded-For", "X-Real-Ip"} {
			if r.Header.Get(name) != "" {
				http.Error(w, "This comes by way of another program, a proxy, behind which nobody signs in. "+
					"Open the shop to the network itself, with -addr; then everybody signs in.", http.StatusForbidden)
				return
			}
		}
		next.ServeHTTP(w, r)
	})
}

func (d *Door) identify(r *http.Request) (v Visitor, err error) {
	v.Address, v.Here = whence(r)
	if !d.Shut {
		return v, nil
	}
	if c, err := r.Cookie(d.device); err == nil {
		if v.Device, err = d.Device(r.Context(), c.Value); err != nil {
			return v, err
		}
	}
	ctx := r.Context()
	person := d.sessions.GetInt64(ctx, "person")
	if person == 0 {
		return v, nil
	}
	epoch, err := d.Epoch(ctx, person)
	if err != nil {
		return v, err
	}
	v.session = d.sessions.GetString(ctx, "name")
	if epoch != d.sessions.GetInt64(ctx, "epoch") || d.sessions.GetInt64(ctx, "device") != v.Device.ID || !d.use(v) {
		return v, d.sessions.Destroy(ctx)
	}
	v.Person = person
	return v, nil
}

// use notes that a session is used, unless it rested too long. After a restart of the program
// it begins to rest anew.
func (d *Door) use(v Visitor) bool {
	most := mostIdle
	if v.Device.ID == 0 {
		most = mostIdleElse
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	now := d.now()
	if last, ok := d.used[v.session]; ok && now.Sub(last) > most {
		delete(d.used, v.session)
		return false
	}
	d.used[v.session] = now
	return true
}

// whence is the address a request comes from, and whether that is this machine.
func whence(r *http.Request) (address string, here bool) {
	from, err := netip.ParseAddrPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr, false
	}
	ip := from.Addr().Unmap()
	if ip.IsLoopback() {
		return ip.String(), true
	}
	if own, ok := r.Context().Value(http.LocalAddrContextKey).(net.Addr); ok {
		if at, err := netip.ParseAddrPort(own.String()); err == nil {
			here = at.Addr().Unmap() == ip
		}
	}
	return ip.String(), here
}

// try is a secret that a visitor shows for somebody.
func (v Visitor) try(person int64, secret string) access.Try {
	return access.Try{Person: person, Secret: secret, Device: v.Device.ID, Address: httprate.CanonicalizeIP(v.Address), Here: v.Here}
}

// TakesPIN reports whether a PIN counts where a visitor is.
func (v Visitor) TakesPIN() bool { return v.Here || v.Device.ID != 0 }

// Prove has somebody show that it is she. What is wrong is told at the field. invited says
// that a code of the owner led here.
func (d *Door) Prove(r *http.Request, path string, person int64, secret string, invited bool) (access.How, error) {
	v := VisitorOf(r)
	if secret == "" {
		return "", caution.Problems{{Path: path, Text: "type it: your PIN or passphrase"}}
	}
	try := v.try(person, secret)
	try.Invited = invited
	how, err := d.Verify(r.Context(), try)
	var wait *access.Wait
	switch {
	case errors.As(err, &wait):
		d.Note(r, access.HadToWait, person, "")
		return "", caution.Problems{{Path: path, Text: wait.Error() + ", then try again"}}
	case errors.Is(err, access.ErrWrong):
		d.Note(r, access.WrongSecret, person, "")
		text := "that is not right; look at the name, and type it again"
		if len(secret) <= access.LongestPIN && !v.TakesPIN() && !invited {
			text = "a PIN counts at devices that are enrolled; here, type your passphrase"
		}
		return "", caution.Problems{{Path: path, Text: text}}
	}
	return how, err
}

// Begin signs somebody in who has proved that it is she, and ends the session before.
func (d *Door) Begin(r *http.Request, person int64, at access.Device, how access.How) error {
	ctx := r.Context()
	if err := errors.Join(d.sessions.Clear(ctx), d.sessions.RenewToken(ctx)); err != nil {
		return err
	}
	epoch, err := d.Epoch(ctx, person)
	if err != nil {
		return err
	}
	name := NewToken()
	for key, value := range map[string]any{"person": person, "epoch": epoch, "device": at.ID, "name": name} {
		d.sessions.Put(ctx, key, value)
	}
	d.mu.Lock()
	d.used[name] = d.now()
	for other, last := range d.used {
		if d.now().Sub(last) > enrolledLife {
			delete(d.used, other)
		}
	}
	d.mu.Unlock()
	if at.ID == 0 {
		d.sessions.SetDeadline(ctx, d.now().Add(strangerLife))
	} else if err := d.Seen(ctx, at.ID); err != nil {
		return err
	}
	d.Note(r, access.SignedIn, person, "with "+string(how))
	return nil
}

// End signs out whoever is at the door.
func (d *Door) End(r *http.Request) error {
	v := VisitorOf(r)
	if !d.Shut || v.Person == 0 {
		return nil
	}
	d.mu.Lock()
	delete(d.used, v.session)
	d.mu.Unlock()
	d.Note(r, access.SignedOut, v.Person, "")
	return d.sessions.Destroy(r.Context())
}

// Remember has a device known again by the token that it was given when it was enrolled.
func (d *Door) Remember(w http.ResponseWriter, token string) {
	http.SetCookie(w, &http.Cookie{
		Name: d.device, Value: token, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode,
		MaxAge: int((400 * 24 * time.Hour).Seconds()), Secure: d.sessions.Cookie.Secure,
	})
}

// Note writes a line into the security log.
func (d *Door) Note(r *http.Request, kind access.Kind, person int64, detail string) {
	v := VisitorOf(r)
	e := access.Event{Kind: kind, Person: person, Device: v.Device.ID, Address: v.Address, Detail: detail}
	if err := d.Log(context.WithoutCancel(r.Context()), e); err != nil {
		d.log.Error("security log", "kind", kind, "err", err)
	}
}

// Quota lets each device send so many requests a minute, once the door is shut; refuse answers
// what is beyond.
func (d *Door) Quota(refuse http.HandlerFunc) func(http.Handler) http.Handler {
	if !d.Shut {
		return func(next http.Handler) http.Handler { return next }
	}
	whose := func(r *http.Request) (string, error) {
		v := VisitorOf(r)
		if v.Device.ID != 0 {
			return fmt.Sprint("device ", v.Device.ID), nil
		}
		return httprate.CanonicalizeIP(v.Address), nil
	}
	return httprate.LimitBy(mostRequests, time.Minute, whose, httprate.WithLimitHandler(
		func(w http.ResponseWriter, r *http.Request) {
			d.Note(r, access.TooMany, VisitorOf(r).Person, "")
			refuse(w, r)
		}))
}
