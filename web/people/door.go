package people

import (
	"errors"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/access"
	"ashshelf/soap/caution"
	"ashshelf/store"
	"ashshelf/web/door"
	"ashshelf/web/page"
)

// who asks who is working.
func (s *Room) who(w http.ResponseWriter, r *http.Request) error {
	next := page.LocalPath(r.URL.Query().Get("next"))
	return s.AskWho(w, r, http.StatusOK, next, &page.Form{Values: url.Values{}}, nil)
}

// come notes who is working: who says so, or who shows that it is she.
func (s *Room) come(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	next := page.LocalPath(f.Get("next"))
	if !s.Door.Shut {
		if p := named(page.SessionOf(r).Working(), f); p.ID != 0 {
			s.SetWho(w, r, strconv.FormatInt(p.ID, 10))
			return page.SeeOther(w, r, next)
		}
		return page.SeeOther(w, r, "/who")
	}
	return s.Record(w, r, f, func() (string, error) {
		if f.Get("person") == "" && f.Get("name") == "" {
			return "", caution.Problems{{Path: "name", Text: "say who comes in"}}
		}
		p := named(page.SessionOf(r).Working(), f)
		how, err := s.Door.Prove(r, page.SecretField, p.ID, r.PostFormValue(page.SecretField), false)
		if err != nil {
			return "", err
		}
		return next, s.Door.Begin(r, p.ID, door.VisitorOf(r).Device, how)
	}, func(status int, notice *caution.Caution) error {
		return s.AskWho(w, r, status, next, f, notice)
	})
}

// named is whom a form names, by number or by name; nobody when there is no such person.
func named(working []store.Person, f *page.Form) store.Person {
	i := slices.IndexFunc(working, func(p store.Person) bool {
		return strconv.FormatInt(p.ID, 10) == f.Get("person") || f.Get("person") == "" && strings.EqualFold(p.Name, f.Get("name"))
	})
	if i < 0 {
		return store.Person{}
	}
	return working[i]
}

// leave signs out whoever is at the door.
func (s *Room) leave(w http.ResponseWriter, r *http.Request) error {
	if err := s.Door.End(r); err != nil {
		return err
	}
	return page.SeeOther(w, r, "/who")
}

// enrolPage makes a device one of the shop's.
type enrolPage struct {
	Code  string
	Whose store.Person
	HasP  bool // she has a PIN already
	Least int  // figures of a PIN
	Form  *page.Form
}

// invited is whom the code of an address invites, and whether she has a PIN.
func (s *Room) invited(r *http.Request) (p enrolPage, err error) {
	p.Code, p.Least = chi.URLParam(r, "code"), access.ShortestPIN
	if !s.Door.Shut {
		return p, store.ErrNotFound
	}
	id, err := s.Door.Invited(r.Context(), p.Code)
	if err != nil {
		return p, err
	}
	for _, one := range page.SessionOf(r).Working() {
		if one.ID == id {
			p.Whose = one
		}
	}
	if p.Whose.ID == 0 {
		return p, access.ErrInvitation
	}
	has, err := s.Door.Has(r.Context(), id)
	p.HasP = has.PIN
	return p, err
}

// invitation shows what a code is good for. It is used up by a button alone, since programs
// look at addresses that they find.
func (s *Room) invitation(w http.ResponseWriter, r *http.Request) error {
	p, err := s.invited(r)
	if err != nil {
		return s.deadCode(w, r, err)
	}
	p.Form = &page.Form{Values: url.Values{"device": {""}}}
	return s.Show(w, r, http.StatusOK, "enrol", "Come in, "+p.Whose.Name, "", nil, p)
}

// deadCode says that an invitation is good no more.
func (s *Room) deadCode(w http.ResponseWriter, r *http.Request, err error) error {
	if !errors.Is(err, access.ErrInvitation) && !errors.Is(err, access.ErrDevices) {
		return err
	}
	s.Door.Note(r, access.DeadCode, 0, "")
	why := access.ErrInvitation
	if errors.Is(err, access.ErrDevices) {
		why = access.ErrDevices
	}
	return s.Show(w, r, http.StatusGone, "refused", "This invitation is over", "", &caution.Caution{
		Code: "web.invitation", Level: caution.Warn, Reason: page.Capital(why.Error()) + ".",
	}, caution.Problems(nil))
}

// enrol makes a device one of the shop's and signs in whom its code invites.
func (s *Room) enrol(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	p, err := s.invited(r)
	if errors.Is(err, access.ErrInvitation) && door.VisitorOf(r).Device.ID != 0 && page.SessionOf(r).Who.ID != 0 {
		return page.SeeOther(w, r, "/") // a second press: the first made this device the shop's and let her in
	}
	if err != nil {
		return s.deadCode(w, r, err)
	}
	p.Form = f
	err = s.Record(w, r, f, func() (string, error) {
		var wrong caution.Problems
		name, pin, how := f.Get("device"), "", access.PIN
		if name == "" {
			wrong.Add("device", "say what this device is called in the shop, such as tablet at the bench")
		}
		wrong.Name("device", name)
		if p.HasP {
			if err := wrong.Err(); err != nil {
				return "", err
			}
			if how, err = s.Door.Prove(r, page.SecretField, p.Whose.ID, r.PostFormValue(page.SecretField), true); err != nil {
				return "", err
			}
		} else if pin = newPIN(&wrong, r); len(wrong) > 0 {
			return "", wrong
		}
		token, device, err := s.Door.Enrol(r.Context(), p.Code, name, pin)
		if err != nil {
			return "", err
		}
		s.Shop.Touch()
		s.Door.Remember(w, token)
		s.Door.Note(r, access.EnrolledOne, p.Whose.ID, name)
		return "/", s.Door.Begin(r, p.Whose.ID, device, how)
	}, func(status int, notice *caution.Caution) error {
		return s.Show(w, r, status, "enrol", "Come in, "+p.Whose.Name, "", notice, p)
	})
	if err != nil {
		return s.deadCode(w, r, err)
	}
	return nil
}

// newPIN reads a new PIN, typed twice.
func newPIN(p *caution.Problems, r *http.Request) string {
	pin := r.PostFormValue("new_pin")
	access.CheckPIN(p, "new_pin", pin)
	if p.At("new_pin") == "" && pin != r.PostFormValue("new_pin_again") {
		p.Add("new_pin_again", "this is another one; type the same twice")
	}
	return pin
}
