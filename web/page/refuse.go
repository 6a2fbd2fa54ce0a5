package page

import (
	"bytes"
	"context"
	"errors"
	"html/template"
	"net/http"
	"strings"

	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/store/disk"
)

// Refused turns the error of a use case into what a page shows. What is left is a fault.
func (s *Kit) Refused(
	w http.ResponseWriter,
	r *http.Request,
	err error,
	f *Form,
) (status int, notice *caution.Caution, fault error) {
	var p caution.Problems
	var conflict *journal.Conflict
	var elsewhere *shop.NotWriter
	var not *lot.NotNow
	warn := func(text, remedy string) *caution.Caution {
		return &caution.Caution{Code: "web.refused", Level: caution.Warn, Reason: text, Remedy: remedy}
	}
	switch {
	case errors.As(err, &p):
		if f != nil {
			f.Problems = append(f.Problems, p...)
		}
		if v := SessionOf(r); v != nil {
			v.refused = p
		}
		return http.StatusUnprocessableEntity, nil, nil
	case errors.As(err, &elsewhere):
		return http.StatusConflict, warn(
			Capital(elsewhere.Error())+".",
			"What you typed is still here. Take the run over to go on here.",
		), nil
	case errors.As(err, &conflict):
		return http.StatusConflict, warn(
			Capital(conflict.Error())+".",
			"What you typed is still here. Look at what changed, then send it again.",
		), nil
	case errors.Is(err, journal.ErrOtherLife) && s.Beside != "":
		// Not the page's fault: an entry that waits goes on waiting until the real shop is back.
		return http.StatusServiceUnavailable, warn(
			"This page is of the real shop, and another window of this browser is in "+s.Beside.Words()+".",
			"Nothing was recorded. Leave it there, then send this again.",
		), nil
	case errors.Is(err, journal.ErrOtherLife):
		return http.StatusConflict, warn(
			"This page is from before the shop was restored from its copy, or of a rehearsal, and may speak of what is not on record.",
			"Nothing was recorded. What you typed is still here: look at how it stands now, then send it again.",
		), nil
	case errors.Is(err, journal.ErrKeyReused):
		return http.StatusConflict, warn(
			"This page was sent before with other values, and those were recorded.",
			"This is how it stands now; what you typed is still here.",
		), nil
	case errors.As(err, &not):
		return http.StatusConflict, warn(Capital(not.Why)+".", "Nothing was recorded."), nil
	case errors.Is(err, journal.ErrNobody):
		return http.StatusUnauthorized, nobody, nil
	}
	if t := disk.TroubleOf(err); t != "" && t != disk.Broken {
		s.Log.Warn("disk", "path", r.URL.Path, "trouble", t, "err", err)
		s.tellDisk(w, t)
		return diskStatus[t], warn("Nothing was recorded.", "What you typed is still here; send it again when the disk takes it."), nil
	}
	return 0, nil, err
}

// unsaid is what a page does not say of what was refused, since it has no field for it; nil
// when it says some of it.
func unsaid(p caution.Problems, body []byte) *caution.Caution {
	if len(p) == 0 {
		return nil
	}
	for _, one := range p {
		if bytes.Contains(body, []byte(strings.ReplaceAll(template.HTMLEscapeString(one.Text), "+", "&#43;"))) {
			return nil
		}
	}
	return &caution.Caution{
		Code:   "web.refused",
		Level:  caution.Warn,
		Reason: Capital(p[0].Text) + ".",
		Remedy: "Nothing was recorded.",
	}
}

// diskStatus is what a request is answered with that the disk did not take.
var diskStatus = map[disk.Trouble]int{
	disk.Full: http.StatusInsufficientStorage, disk.Busy: http.StatusServiceUnavailable,
	disk.ReadOnly: http.StatusInternalServerError, disk.Broken: http.StatusInternalServerError,
}

// troubleHeader says in words why the disk did not take what was sent in the background.
const troubleHeader = "Ashshelf-Trouble"

func (s *Kit) tellDisk(w http.ResponseWriter, t disk.Trouble) {
	what, remedy := t.Words()
	w.Header().Set(troubleHeader, what+". "+remedy)
	if t == disk.Busy {
		w.Header().Set("Retry-After", "3")
	}
}

// diskNotice is what every page says as long as the disk takes nothing.
func diskNotice(t disk.Trouble) *caution.Caution {
	if t == "" {
		return nil
	}
	what, remedy := t.Words()
	return &caution.Caution{Code: "web.disk", Level: caution.Block, Reason: what + ": nothing can be recorded.", Remedy: remedy}
}

// Fail answers an error that no page has a place for: what is not there, a refusal, a
// fault.
func (s *Kit) Fail(w http.ResponseWriter, r *http.Request, err error) {
	if answer := s.answer(w, r, err); answer != nil {
		s.Log.Error("page", "path", r.URL.Path, "err", answer)
		http.Error(w, "This page could not be made. Nothing was lost; the fault is in the log.", http.StatusInternalServerError)
	}
}

// errUnreadable is a form that is none.
var errUnreadable = errors.New("this form could not be read")

// NotAllowed is something that takes more than somebody's role.
type NotAllowed struct{ Least role.Role }

func (n *NotAllowed) Error() string { return "this is for the " + n.Least.Words() + " of the shop" }

// answer shows the page of an error; what it returns is a fault of that page.
func (s *Kit) answer(w http.ResponseWriter, r *http.Request, err error) error {
	var p caution.Problems
	var not *lot.NotNow
	var conflict *journal.Conflict
	var higher *NotAllowed
	switch {
	case errors.Is(err, context.Canceled):
		return nil
	case errors.Is(err, errTemplate):
		return err
	case errors.Is(err, store.ErrNotFound):
		return s.Show(w, r, http.StatusNotFound, "notfound", "Not on the shelf", "", nil, nil)
	case errors.As(err, &higher):
		return s.Show(w, r, http.StatusForbidden, "refused", "Not for you to do", "", &caution.Caution{
			Code: "web.role", Level: caution.Warn, Reason: Capital(higher.Error()) + ".",
			Remedy: "Nothing was recorded. Ask somebody who may, or have an owner change what you do under People.",
		}, caution.Problems(nil))
	case errors.Is(err, errUnreadable):
		s.Log.Info("form", "path", r.URL.Path, "err", err)
		http.Error(w, "This form could not be read.", http.StatusBadRequest)
		return nil
	case errors.Is(err, journal.ErrDraftTooLong):
		http.Error(w, Capital(err.Error())+". Nothing was kept of it.", http.StatusRequestEntityTooLarge)
		return nil
	case errors.As(err, &p),
		errors.As(err, &not),
		errors.As(err, &conflict),
		errors.Is(err, journal.ErrNobody),
		errors.Is(err, journal.ErrOtherLife),
		errors.Is(err, journal.ErrKeyReused):
		// A page without a place for it says it by itself.
		status, notice, _ := s.Refused(w, r, err, nil)
		return s.Show(w, r, status, "refused", "Nothing was recorded", "", notice, p)
	}
	s.Log.Error("request", "method", r.Method, "path", r.URL.Path, "err", err)
	if t := disk.TroubleOf(err); t != "" {
		s.tellDisk(w, t)
		return s.Show(w, r, diskStatus[t], "disk", "The disk", "", nil, diskNotice(t))
	}
	return s.Show(w, r, http.StatusInternalServerError, "fault", "Something went wrong", "", nil, r.Method != http.MethodGet)
}

// NotFound answers an address that nothing stands at.
func (s *Kit) NotFound(w http.ResponseWriter, r *http.Request) { s.Fail(w, r, store.ErrNotFound) }

// nobody says that nothing was recorded because nobody is named.
var nobody = &caution.Caution{
	Code:   "web.nobody",
	Level:  caution.Warn,
	Reason: "Nothing was recorded: choose who is at the bench first.",
	Remedy: "What waits on the bench is sent then.",
}
