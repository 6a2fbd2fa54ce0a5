package page

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"net/http"

	"github.com/go-chi/chi/v5"

	"ashshelf/access"
	"ashshelf/soap/caution"
	"ashshelf/store"
)

// Handler answers a request, or says what hindered it: [Kit.Fail] shows that then.
type Handler func(w http.ResponseWriter, r *http.Request) error

// Routes are the addresses of the pages.
type Routes struct {
	chi.Router
	kit  *Kit
	open bool // to anyone, whatever the rules say
}

// Routes returns the addresses of a router.
func (s *Kit) Routes(r chi.Router) Routes { return Routes{r, s, false} }

// OpenRoutes returns the addresses of a router that is open to anyone: nothing of the shop is
// shown there.
func (s *Kit) OpenRoutes(r chi.Router) Routes { return Routes{r, s, true} }

// Get shows what is at an address.
func (r Routes) Get(at string, h Handler) { r.Router.Get(at, r.guarded(http.MethodGet, at, h)) }

// Post records what is sent to an address.
func (r Routes) Post(at string, h Handler) { r.Router.Post(at, r.guarded(http.MethodPost, at, h)) }

// guarded is a handler behind the rule of its address.
func (r Routes) guarded(method, at string, h Handler) http.HandlerFunc {
	if r.open {
		return r.kit.handle(h)
	}
	return r.kit.handle(r.kit.allowed(method, at, h))
}

// Behind are the addresses that are reached past some guards only.
func (r Routes) Behind(guards ...func(http.Handler) http.Handler) Routes {
	return Routes{r.With(guards...), r.kit, r.open}
}

// allowed lets those use an address whose role may.
func (s *Kit) allowed(method, at string, h Handler) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		rule := s.Rules.Of(method, at, chi.URLParam(r, "act"))
		var who store.Person
		if v := SessionOf(r); v != nil {
			who = v.Who
		}
		if rule.May(who.Role) {
			return h(w, r)
		}
		if who.ID != 0 {
			s.Door.Note(r, access.NotAllowed, who.ID, method+" "+r.URL.Path)
		}
		return &NotAllowed{rule.Least}
	}
}

type signedKey struct{}

// Sign has the person at work show that it is she, where what she sends takes that and she has
// a PIN or a passphrase; the request that is returned is of the one who showed it. What is
// wrong is told at the [SecretField].
func (s *Kit) Sign(r *http.Request, at string) (*http.Request, error) {
	rule, who := s.Rules.Of(r.Method, at, chi.URLParam(r, "act")), SessionOf(r).Who.ID
	if rule.Signs == nil || !rule.Signs(r.PostForm) {
		return r, nil
	}
	has, err := s.Door.Has(r.Context(), who)
	if err != nil || !has.Any() {
		return r, err
	}
	how, err := s.Door.Prove(r, SecretField, who, r.PostFormValue(SecretField), false)
	if err != nil {
		return r, err
	}
	return r.WithContext(context.WithValue(r.Context(), signedKey{}, how)), nil
}

// SignedBy is how the person at work showed that it is she, empty when she was not asked.
func SignedBy(r *http.Request) access.How {
	how, _ := r.Context().Value(signedKey{}).(access.How)
	return how
}

// SecretField is the name of the field for a PIN or a passphrase. What is typed there is never
// shown again, kept or compared.
const SecretField = "secret"

// handle answers what a handler could not.
func (s *Kit) handle(h Handler) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if err := h(w, r); err != nil {
			s.Fail(w, r, err)
		}
	}
}

// Record does what a posted form asks for and leads to where that goes on. What was wrong
// with the form, or is refused, is shown by again: the page as it was typed, with each
// problem at its field, a status, and what is said on top.
func (s *Kit) Record(
	w http.ResponseWriter,
	r *http.Request,
	f *Form,
	do func() (to string, err error),
	again func(status int, notice *caution.Caution) error,
) error {
	err := f.Problems.Err()
	if err == nil {
		var to string
		if to, err = do(); err == nil {
			if w.Header().Get("Set-Cookie") == "" { // nothing better was said
				err = SayKept(w, r, Kept{Said: "Kept."})
			}
			if err != nil {
				return err
			}
			return SeeOther(w, r, to)
		}
	}
	f.Problems = nil // those of reading are the error itself
	status, notice, err := s.Refused(w, r, err, f)
	if err != nil {
		return err
	}
	return again(status, notice)
}

// Kept is what the next page says of an act that was just recorded, and how it is undone where that
// is honest: by another entry that says so.
type Kept struct {
	Said string `json:"said"`
	Undo *Undo  `json:"undo,omitempty"`
}

// Undo is the form that takes an act back.
type Undo struct {
	Path   string            `json:"path"`
	Fields map[string]string `json:"fields"`
}

// keptCookie carries it over the redirect. A page is kept whole for everybody who looks, so that what
// one person has just done travels beside it; script reads it once and throws it away.
const keptCookie, keptSeconds = "kept", 30

// SayKept has the next page say it.
func SayKept(w http.ResponseWriter, r *http.Request, k Kept) error {
	text, err := json.Marshal(k)
	if err != nil {
		return err
	}
	http.SetCookie(w, &http.Cookie{
		Name: keptCookie, Value: base64.RawURLEncoding.EncodeToString(text), Path: "/", SameSite: http.SameSiteStrictMode,
		MaxAge: keptSeconds, Secure: r.TLS != nil,
	})
	return nil
}

// Headers between an outbox in the browser and the server: an entry that is sent in
// the background is asked for by its key and answered by it, so that nothing else,
// such as the page of a redirect, is ever taken for a record. Held is how many
// milliseconds an entry waited between its press and its sending.
const (
	OutboxHeader   = "Ashshelf-Outbox"
	HeldHeader     = "Ashshelf-Held"
	recordedHeader = "Ashshelf-Recorded"
	nextHeader     = "Ashshelf-Next"
)

// Recorded answers an act that is on record: where the work goes on.
func Recorded(w http.ResponseWriter, r *http.Request, to string) error {
	if r.Header.Get(OutboxHeader) == "" {
		return SeeOther(w, r, to)
	}
	w.Header().Set(recordedHeader, r.PostFormValue("key"))
	w.Header().Set(nextHeader, to)
	w.WriteHeader(http.StatusNoContent)
	return nil
}
