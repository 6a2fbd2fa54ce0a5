package setup

import (
	"net/http"

	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// housePath is where the certificate of the house's own authority is.
const housePath = "/house.crt"

// trustPage tells a device how to trust the house.
type trustPage struct {
	*page.House
	QR   draw.Picture // of the plain address, which a device can read before it trusts anybody
	Home bool         // it is shown on the laptop, whose fingerprint counts
}

// trust shows how a device comes to trust the house.
func (s *Room) trust(w http.ResponseWriter, r *http.Request) error {
	return s.showTrust(w, r, true)
}

func (s *Room) showTrust(w http.ResponseWriter, r *http.Request, home bool) error {
	if s.House == nil {
		return store.ErrNotFound
	}
	p := trustPage{House: s.House, Home: home}
	var err error
	if p.QR, err = draw.OfQR(s.House.Plain); err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "trust", "Tablets and telephones", "Settings", nil, p)
}

// houseCertificate sends the certificate that a device is to trust.
func (s *Room) houseCertificate(w http.ResponseWriter, _ *http.Request) error {
	if s.House == nil {
		return store.ErrNotFound
	}
	w.Header().Set("Content-Type", "application/x-x509-ca-cert")
	w.Header().Set("Content-Disposition", `attachment; filename="ashshelf-house.crt"`)
	_, err := w.Write(s.House.DER)
	return err
}

// PlainRoutes are all that is to be had without a secure line: whom to trust, and where the
// shop is then.
func (s *Room) PlainRoutes(r page.Routes) {
	r.Get(housePath, s.houseCertificate)
	plain := func(w http.ResponseWriter, r *http.Request) error { return s.showTrust(w, r, false) }
	r.Get("/", plain)
	r.Get("/*", plain)
}
