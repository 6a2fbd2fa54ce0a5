package page

import (
	"net/http"

	"github.com/go-chi/chi/v5"

	"ashshelf/soap/caution"
)

// Handler answers a request, or says what hindered it: [Kit.Fail] shows that then.
type Handler func(w http.ResponseWriter, r *http.Request) error

// Routes are the addresses of the pages.
type Routes struct {
	chi.Router
	kit *Kit
}

// Routes returns the addresses of a router.
func (s *Kit) Routes(r chi.Router) Routes { return Routes{r, s} }

// Get shows what is at an address.
func (r Routes) Get(at string, h Handler) { r.Router.Get(at, r.kit.handle(h)) }

// Post records what is sent to an address.
func (r Routes) Post(at string, h Handler) { r.Router.Post(at, r.kit.handle(h)) }

// Behind are the addresses that are reached past some guards only.
func (r Routes) Behind(guards ...func(http.Handler) http.Handler) Routes {
	return Routes{r.With(guards...), r.kit}
}

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
