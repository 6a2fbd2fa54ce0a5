package page

import (
	"context"
	"crypto/rand"
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/web/door"
)

type sessionKey struct{}

// Session is who is at which device.
type Session struct {
	catalog.Settings
	Who    store.Person // ID 0 when nobody is chosen, or signed in
	Device string
	Shut   bool   // everybody signs in
	Asks   string // what she shows where her word counts, such as "PIN"; empty when she has nothing
	label  string

	refused caution.Problems // of this request
}

func SessionOf(r *http.Request) *Session {
	s, _ := r.Context().Value(sessionKey{}).(*Session)
	return s
}

const (
	deviceCookie = "device"
	whoCookie    = "who"
	cookieAge    = 5 * 365 * 24 * 60 * 60 // seconds
)

// SetCookie keeps a value in a browser, which gives it back over a secure line alone when it
// was set over one.
func SetCookie(w http.ResponseWriter, r *http.Request, name, value string) {
	http.SetCookie(w, &http.Cookie{
		Name: name, Value: value, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, MaxAge: cookieAge, Secure: r.TLS != nil,
	})
}

// BesideKind is what a shop is that is opened beside a real one.
type BesideKind string

// The kinds.
const (
	MadeUp    BesideKind = "made-up"
	Rehearsal BesideKind = "rehearsal"
)

// Words says what it is.
func (k BesideKind) Words() string {
	if k == Rehearsal {
		return "a rehearsal"
	}
	return "the made-up shop"
}

// BesideCookie says in which shop beside the real one a browser is.
const BesideCookie = "beside"

// SetBeside leads a browser into a shop beside, or with no token out of it. It lasts as long as the
// browser is open.
func SetBeside(w http.ResponseWriter, r *http.Request, token string) {
	c := &http.Cookie{Name: BesideCookie, Value: token, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: r.TLS != nil}
	if token == "" {
		c.MaxAge = -1
	}
	http.SetCookie(w, c)
}

// whoIn is the cookie of who works: beside the real shop another one, so that coming back she is still
// who she was.
func (s *Kit) whoIn() string {
	if s.Beside != "" {
		return whoCookie + "-" + string(s.Beside)
	}
	return whoCookie
}

// SetWho notes who works at a browser, in this life of the shop.
func (s *Kit) SetWho(w http.ResponseWriter, r *http.Request, person string) {
	SetCookie(w, r, s.whoIn(), person+"."+s.Shop.Life().ID)
}

// whoOf is who works at a browser: who is signed in, or as long as the door stands open who was
// chosen in this life of the shop; empty for nobody.
func (s *Kit) whoOf(r *http.Request) string {
	if s.Rehearsed != nil {
		return strconv.FormatInt(s.Rehearsed.Who, 10)
	}
	if s.Door.Shut {
		if v := door.VisitorOf(r); v.Person != 0 {
			return strconv.FormatInt(v.Person, 10)
		}
		return ""
	}
	c, err := r.Cookie(s.whoIn())
	if err != nil {
		return ""
	}
	person, life, _ := strings.Cut(c.Value, ".")
	if life != s.Shop.Life().ID {
		return ""
	}
	return person
}

// DeviceOf knows a browser again by a cookie, giving it one when it is new.
func DeviceOf(w http.ResponseWriter, r *http.Request) (token, label string) {
	if c, err := r.Cookie(deviceCookie); err == nil && len(c.Value) == 26 {
		token = c.Value
	} else {
		token = rand.Text()
		SetCookie(w, r, deviceCookie, token)
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

// Session loads the settings and who is working. Without a shop it leads to
// the first-run page.
func (s *Kit) Session(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		settings, err := s.Shop.Settings(r.Context())
		if errors.Is(err, journal.ErrNotFounded) {
			http.Redirect(w, r, "/welcome", http.StatusSeeOther)
			return
		}
		if err != nil {
			s.Fail(w, r, err)
			return
		}
		v := &Session{Settings: settings, Shut: s.Door.Shut}
		v.Device, v.label = DeviceOf(w, r)
		if known := door.VisitorOf(r).Device; known.ID != 0 {
			v.label = known.Name
		}
		working := settings.Working()
		who := s.whoOf(r)
		for _, p := range working {
			if strconv.FormatInt(p.ID, 10) == who {
				v.Who = p
			}
		}
		if v.Who.ID == 0 && len(working) == 1 && !v.Shut {
			v.Who = working[0]
		}
		if v.Asks, err = s.asks(r, v.Who.ID); err != nil {
			s.Fail(w, r, err)
			return
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), sessionKey{}, v)))
	})
}

// asks is what somebody shows where her word counts.
func (s *Kit) asks(r *http.Request, person int64) (string, error) {
	has, err := s.Door.Has(r.Context(), person)
	switch {
	case has.PIN && has.Passphrase && door.VisitorOf(r).TakesPIN():
		return "PIN or passphrase", err
	case has.PIN && door.VisitorOf(r).TakesPIN():
		return "PIN", err
	case has.Any():
		return "passphrase", err
	}
	return "", err
}

// May reports whether the person at work may do what takes at least a role, so that pages leave
// out what she may not.
func (v *Session) May(least string) bool { return v.Who.Role.May(role.Role(least)) }

// whoPage asks who is at the bench, or has her sign in.
type whoPage struct {
	Next string
	Form *Form
	At   string // the device's name; empty for one that is not enrolled
	PIN  bool   // a PIN counts here
}

// AskWho asks who is at the bench, or once the door is shut has her sign in.
func (s *Kit) AskWho(w http.ResponseWriter, r *http.Request, status int, next string, f *Form, notice *caution.Caution) error {
	v := door.VisitorOf(r)
	p := whoPage{Next: next, Form: f, At: v.Device.Name, PIN: v.TakesPIN()}
	if v.Here && p.At == "" {
		p.At = "the computer with the records"
	}
	if !s.Door.Shut {
		return s.Show(w, r, status, "who", "Who is at the bench?", "", notice, p)
	}
	return s.Show(w, r, status, "sign-in", "Who comes in?", "", notice, p)
}

// RequirePerson leads to the choice of who is working until one is made.
func (s *Kit) RequirePerson(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if SessionOf(r).Who.ID == 0 {
			if r.Method != http.MethodGet && r.Method != http.MethodHead {
				// Not a redirect: whoever sends in the background would take the
				// page that it leads to for an answer.
				if err := s.AskWho(w, r, http.StatusUnauthorized, r.URL.Path, &Form{Values: url.Values{}}, nobody); err != nil {
					s.Fail(w, r, err)
				}
				return
			}
			http.Redirect(w, r, "/who?next="+url.QueryEscape(r.URL.RequestURI()), http.StatusSeeOther)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// Typing is the act of typing into a form. What a page sends by itself while somebody
// types has the key of its form, so that it is known to be late when the form was
// recorded before it came; a button is pressed on purpose and has none.
func Typing(r *http.Request) journal.Act {
	a := Act(r)
	if r.Header.Get("HX-Request") == "" {
		a.Key = ""
	}
	a.Unread = nil // a draft is kept as it is
	return a
}

type draftKey struct{}

// Ending returns the request with the draft that ends with what it records.
func Ending(r *http.Request, d journal.Draft) *http.Request {
	return r.WithContext(context.WithValue(r.Context(), draftKey{}, d))
}

// Act gathers who does something, from the session and the form.
func Act(r *http.Request) journal.Act {
	v := SessionOf(r)
	seen, err := strconv.ParseInt(r.PostFormValue("seen"), 10, 64)
	if err != nil {
		seen = 0
	}
	draft, _ := r.Context().Value(draftKey{}).(journal.Draft)
	return journal.Act{
		Draft: draft, Person: v.Who.ID, Device: v.Device, DeviceLabel: v.label, Key: r.PostFormValue("key"),
		Fingerprint: Fingerprint(r.URL.Path, r.PostForm), Seen: seen, Unread: Unread(r), Signed: string(SignedBy(r)),
	}
}

// Unread finds what was typed that nobody could read. A file that is pasted as text has
// limits of its own.
func Unread(r *http.Request) (p caution.Problems) {
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
