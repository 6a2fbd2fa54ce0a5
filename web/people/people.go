package people

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/access"
	"ashshelf/soap/caution"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// personLine is somebody with how she comes in.
type personLine struct {
	store.Person
	Shows string // "PIN", "PIN and passphrase", "no PIN yet"
}

// deviceLine is a device of the shop.
type deviceLine struct {
	access.Device
	Whose string // invitation it came by
}

type peoplePage struct {
	Working, Left []personLine
	Devices       []deviceLine
	Roles         []page.Option
	Explained     []page.Option
	Form          *page.Form
}

func (s *Room) lineOf(r *http.Request, p store.Person) (personLine, error) {
	has, err := s.Door.Has(r.Context(), p.ID)
	line := personLine{p, "no PIN yet"}
	switch {
	case has.PIN && has.Passphrase:
		line.Shows = "PIN and passphrase"
	case has.PIN:
		line.Shows = "PIN"
	case has.Passphrase:
		line.Shows = "passphrase"
	}
	return line, err
}

func nameOf(people []store.Person, id int64) string {
	for _, p := range people {
		if p.ID == id {
			return p.Name
		}
	}
	return ""
}

func roles() (out []page.Option) {
	for _, r := range role.All() {
		out = append(out, page.Option{Value: string(r), Label: r.Words()})
	}
	return out
}

func (s *Room) people(w http.ResponseWriter, r *http.Request) error {
	return s.showPeople(w, r, http.StatusOK, &page.Form{Values: url.Values{"role": {string(role.Helper)}}}, nil)
}

func (s *Room) showPeople(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	all := page.SessionOf(r).People
	p := peoplePage{Roles: roles(), Form: f}
	for _, one := range role.All() {
		p.Explained = append(p.Explained, page.Option{Value: one.Words(), Label: one.Explained()})
	}
	for _, one := range all {
		line, err := s.lineOf(r, one)
		if err != nil {
			return err
		}
		if one.Active {
			p.Working = append(p.Working, line)
		} else {
			p.Left = append(p.Left, line)
		}
	}
	devices, err := s.Door.Devices(r.Context())
	if err != nil {
		return err
	}
	for _, d := range devices {
		p.Devices = append(p.Devices, deviceLine{d, nameOf(all, d.Person)})
	}
	return s.Show(w, r, status, "people", "People and devices", "Settings", notice, p)
}

func (s *Room) addPerson(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		name := f.Get("person")
		if err := s.Shop.AddPerson(r.Context(), page.Act(r), name, role.Role(f.Get("role"))); err != nil {
			return "", err
		}
		s.Door.Note(r, access.People, page.SessionOf(r).Who.ID, name+" was taken on as "+f.Get("role"))
		return "/people", nil
	}, func(status int, notice *caution.Caution) error {
		return s.showPeople(w, r, status, f, notice)
	})
}

// personPage is one of the people, and what an owner does about her.
type personPage struct {
	personLine
	Roles  []page.Option
	Form   *page.Form
	Invite *invitePage
}

// invitePage is a new invitation.
type invitePage struct {
	QR      draw.Picture
	Address string
	Until   time.Time
	House   bool // the device has to trust the house first
}

// personAt is the person that an address names.
func personAt(r *http.Request) (store.Person, error) {
	id, err := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	people := page.SessionOf(r).People
	i := slices.IndexFunc(people, func(p store.Person) bool { return p.ID == id })
	if err != nil || i < 0 {
		return store.Person{}, fmt.Errorf("person: %w", store.ErrNotFound)
	}
	return people[i], nil
}

func (s *Room) person(w http.ResponseWriter, r *http.Request) error {
	p, err := personAt(r)
	if err != nil {
		return err
	}
	return s.showPerson(w, r, http.StatusOK, p, &page.Form{Values: url.Values{"role": {string(p.Role)}}}, nil, nil)
}

func (s *Room) showPerson(
	w http.ResponseWriter,
	r *http.Request,
	status int,
	p store.Person,
	f *page.Form,
	notice *caution.Caution,
	invite *invitePage,
) error {
	line, err := s.lineOf(r, p)
	if err != nil {
		return err
	}
	return s.Show(w, r, status, "person", p.Name, "Settings", notice, personPage{line, roles(), f, invite})
}

// changePerson does what an owner decides about somebody.
func (s *Room) changePerson(w http.ResponseWriter, r *http.Request) error {
	p, err := personAt(r)
	if err != nil {
		return err
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	var invite *invitePage
	again := func(status int, notice *caution.Caution) error {
		return s.showPerson(w, r, status, p, f, notice, invite)
	}
	act := chi.URLParam(r, "act")
	r, err = s.Sign(r, "/people/{id}/{act}")
	do, ok := s.aboutPerson(r, p, f)[act]
	if !ok && act != "invite" {
		return store.ErrNotFound
	}
	if err == nil && act == "invite" {
		if invite, err = s.invite(r, p); err == nil {
			return again(http.StatusOK, nil)
		}
	}
	return s.Record(w, r, f, func() (string, error) {
		if err == nil {
			err = do()
		}
		s.Shop.Touch()
		return r.URL.Path[:strings.LastIndex(r.URL.Path, "/")], err
	}, again)
}

// aboutPerson is what an owner may decide about somebody, by its name.
func (s *Room) aboutPerson(r *http.Request, p store.Person, f *page.Form) map[string]func() error {
	ctx, by := r.Context(), page.SessionOf(r).Who.ID
	note := func(kind access.Kind, detail string, err error) error {
		if err == nil {
			s.Door.Note(r, kind, by, detail)
		}
		return err
	}
	active := func(on bool, detail string) func() error {
		return func() error {
			if err := s.Shop.SetActive(ctx, page.Act(r), p.ID, on); err != nil {
				return err
			}
			return note(access.People, p.Name+detail, s.Door.Forget(ctx, p.ID))
		}
	}
	return map[string]func() error{
		"role": func() error {
			return note(access.People, p.Name+" is "+f.Get("role"), s.Shop.SetRole(ctx, page.Act(r), p.ID, role.Role(f.Get("role"))))
		},
		"left":   active(false, " no longer works here"),
		"back":   active(true, " is back"),
		"forget": func() error { return note(access.Forgotten, p.Name, s.Door.Forget(ctx, p.ID)) },
		"out":    func() error { return note(access.OutEverywhere, p.Name, s.Door.EndSessions(ctx, p.ID)) },
	}
}

// invite makes an invitation by which somebody enrols a device.
func (s *Room) invite(r *http.Request, p store.Person) (*invitePage, error) {
	if !s.Door.Shut {
		return nil, caution.Problems{{
			Path: "invite", Text: "devices come in once the shop is open to the network: start it with -addr 0.0.0.0:8420",
		}}
	}
	if !p.Active {
		return nil, caution.Problems{{Path: "invite", Text: p.Name + " no longer works here; take them back first"}}
	}
	code, until, err := s.Door.Invite(r.Context(), p.ID)
	if err != nil {
		return nil, err
	}
	out := &invitePage{Address: page.AddressOf(r, "/enrol/"+code), Until: until}
	if s.House != nil {
		out.House, out.Address = true, strings.TrimSuffix(s.House.Addresses[0], "/")+"/enrol/"+code
	}
	if out.QR, err = draw.OfQR(out.Address); err != nil {
		return nil, err
	}
	s.Door.Note(r, access.InvitedOne, page.SessionOf(r).Who.ID, p.Name)
	return out, nil
}

// removeDevice takes a device off.
func (s *Room) removeDevice(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	devices, err := s.Door.Devices(r.Context())
	if err != nil {
		return err
	}
	i := slices.IndexFunc(devices, func(d access.Device) bool { return d.ID == id })
	return s.Record(w, r, f, func() (string, error) {
		if i < 0 { // by another window
			return "/people", nil
		}
		s.Door.Note(r, access.RemovedOne, page.SessionOf(r).Who.ID, devices[i].Name)
		return "/people", s.Door.Remove(r.Context(), id)
	}, func(status int, notice *caution.Caution) error {
		return s.showPeople(w, r, status, f, notice)
	})
}

// mostLines is how much of the log a page shows.
const mostLines = 300

type logLine struct {
	access.Event
	Who, Where string
}

// log shows who came in from where and what was refused.
func (s *Room) log(w http.ResponseWriter, r *http.Request) error {
	events, err := s.Door.Events(r.Context(), mostLines)
	if err != nil {
		return err
	}
	devices, err := s.Door.Devices(r.Context())
	if err != nil {
		return err
	}
	lines := make([]logLine, len(events))
	for i, e := range events {
		lines[i] = logLine{e, nameOf(page.SessionOf(r).People, e.Person), e.Address}
		for _, d := range devices {
			if d.ID == e.Device {
				lines[i].Where = d.Name + ", " + e.Address
			}
		}
	}
	return s.Show(w, r, http.StatusOK, "access-log", "Who came in", "Settings", nil, struct {
		Lines []logLine
		Most  int
	}{lines, mostLines})
}
