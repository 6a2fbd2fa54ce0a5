package people

import (
	"net/http"
	"net/url"

	"github.com/go-chi/chi/v5"

	"ashshelf/access"
	"ashshelf/soap/caution"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/web/door"
	"ashshelf/web/page"
)

// youPage is somebody's own PIN and passphrase.
type youPage struct {
	Has    access.Has
	Form   *page.Form
	Awaits bool // the shop opens itself to the network once she has a passphrase
	Least  struct{ PIN, Passphrase int }
}

func (s *Room) you(w http.ResponseWriter, r *http.Request) error {
	return s.showYou(w, r, http.StatusOK, &page.Form{Values: url.Values{}}, nil)
}

func (s *Room) showYou(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	v := page.SessionOf(r)
	has, err := s.Door.Has(r.Context(), v.Who.ID)
	if err != nil {
		return err
	}
	p := youPage{Has: has, Form: f, Awaits: s.Awaits && v.Who.Role == role.Owner}
	p.Least.PIN, p.Least.Passphrase = access.ShortestPIN, access.ShortestPassphrase
	return s.Show(w, r, status, "you", v.Who.Name, "Settings", notice, p)
}

// changeOwn gives somebody a new PIN or passphrase, or signs her out everywhere. Who has one
// shows it first.
func (s *Room) changeOwn(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	who := page.SessionOf(r).Who
	do, ok := map[string]func() error{
		"pin":        func() error { return s.ownPIN(r, who) },
		"passphrase": func() error { return s.ownPassphrase(r, who) },
		"out": func() error {
			s.Door.Note(r, access.OutEverywhere, who.ID, who.Name)
			return s.Door.EndSessions(r.Context(), who.ID)
		},
	}[chi.URLParam(r, "act")]
	if !ok {
		return store.ErrNotFound
	}
	again := func(status int, notice *caution.Caution) error { return s.showYou(w, r, status, f, notice) }
	if s.Awaits && who.Role == role.Owner && chi.URLParam(r, "act") == "passphrase" {
		signed, err := s.Sign(r, "/you/{act}")
		if err == nil {
			err = do()
		}
		if err == nil {
			defer s.Reopen()
			return s.Show(w, signed, http.StatusOK, "opening", "The shop opens itself to the network", "Settings", nil, nil)
		}
		return s.Record(w, r, f, func() (string, error) { return "", err }, again)
	}
	return s.Record(w, r, f, func() (string, error) {
		r, err := s.Sign(r, "/you/{act}")
		if err == nil {
			err = do()
		}
		s.Shop.Touch()
		if err != nil || chi.URLParam(r, "act") == "out" {
			return "/who", err
		}
		if !s.Door.Shut {
			return "/you", nil
		}
		// Her other sessions end with the change, this one goes on under a new name.
		return "/you", s.Door.Begin(r, who.ID, door.VisitorOf(r).Device, page.SignedBy(r))
	}, again)
}

func (s *Room) ownPIN(r *http.Request, who store.Person) error {
	var wrong caution.Problems
	pin := newPIN(&wrong, r)
	if err := wrong.Err(); err != nil {
		return err
	}
	s.Door.Note(r, access.NewSecret, who.ID, "PIN")
	return s.Door.SetPIN(r.Context(), who.ID, pin)
}

func (s *Room) ownPassphrase(r *http.Request, who store.Person) error {
	var wrong caution.Problems
	phrase := r.PostFormValue("new_phrase")
	access.CheckPassphrase(&wrong, "new_phrase", phrase, page.SessionOf(r).Name, who.Name)
	if len(wrong) == 0 && phrase != r.PostFormValue("new_phrase_again") {
		wrong.Add("new_phrase_again", "this is another one; type the same twice")
	}
	if err := wrong.Err(); err != nil {
		return err
	}
	s.Door.Note(r, access.NewSecret, who.ID, "passphrase")
	return s.Door.SetPassphrase(r.Context(), who.ID, phrase)
}
