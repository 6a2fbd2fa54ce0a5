package main

import (
	"crypto/tls"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"strings"
	"time"

	"rsc.io/qr"

	"ashshelf/authority"
	"ashshelf/web"
	"ashshelf/web/page"
)

// line is how the shop is reached.
type line struct {
	addr, names, cert, key string
	plain                  bool
}

func (n *line) flags(flags *flag.FlagSet) {
	flags.StringVar(&n.addr, "addr", defaultAddr, "`address` to listen on; only this machine by default, 0.0.0.0:8420 for the house's network")
	flags.StringVar(&n.names, "name", "", "`names` that it is opened by, beside those of this machine: shelf.home.example,shelf")
	flags.StringVar(&n.cert, "cert", "", "`file` with a certificate of your own, in place of one of the house's")
	flags.StringVar(&n.key, "key", "", "`file` with its key")
	flags.BoolVar(&n.plain, "plain-http", false, "open it to the network over a line that anybody in it can listen in on and change")
}

// given are the names that were given.
func (n line) given() []string {
	return strings.FieldsFunc(n.names, func(r rune) bool { return r == ',' || r == ' ' })
}

// alone reports whether only this machine reaches an address.
func alone(addr net.Addr) bool {
	ap, err := netip.ParseAddrPort(addr.String())
	return err == nil && ap.Addr().Unmap().IsLoopback()
}

// secured is a server with the listeners that it serves, and one that says where it is.
type secured struct {
	server, plain *http.Server
	on, open      net.Listener
	says          string // where it is open, for the owner
	code          string // to be read with a camera; empty when there is nobody to read it
}

// serveOn has pages served on a listener: plainly to this machine alone, and over TLS to a
// network, with a certificate of the house's own authority or of the owner.
func (n line) serveOn(pages *web.Server, l net.Listener, dir string) (*secured, error) {
	s := &secured{on: l}
	given := n.given()
	switch {
	case alone(l.Addr()) && n.cert == "":
		s.server, s.says = pages.HTTP(n.addr, given), "http://"+l.Addr().String()+"/"
		return s, nil
	case n.plain:
		pages.Door.Shuts(false)
		s.server, s.says = pages.HTTP(n.addr, given), "http://"+l.Addr().String()+"/"
		fmt.Fprintln(os.Stderr, "ashshelf: over plain http anybody in the network reads along, passphrases too, and can change "+
			"what is shown and sent; "+
			"tablets keep no pages and may go to sleep at the bench. Leave -plain-http out to close the line.")
		return s, nil
	case (n.cert == "") != (n.key == ""):
		return nil, errors.New("a certificate needs its key: -cert FILE -key FILE")
	}
	_, port, err := net.SplitHostPort(l.Addr().String())
	if err != nil {
		return nil, fmt.Errorf("address: %w", err)
	}
	if !alone(l.Addr()) {
		pages.Door.Shuts(true)
	}
	hosts := authority.Hosts(given)
	certificate := func(*tls.ClientHelloInfo) (*tls.Certificate, error) {
		own, err := tls.LoadX509KeyPair(n.cert, n.key) // anew each time: owners renew theirs
		return &own, err
	}
	house, may := &page.House{}, func(string) bool { return true }
	if n.cert == "" {
		a, err := authority.Open(dir, time.Now, given)
		if err != nil {
			return nil, err
		}
		for _, name := range given {
			if !a.May(name) {
				return nil, fmt.Errorf("the house's authority may not speak for the name %q: give it a name that ends in .local or .home.arpa, "+
					"or a certificate of your own with -cert and -key", name)
			}
		}
		certificate = func(*tls.ClientHelloInfo) (*tls.Certificate, error) { return a.Certificate(authority.Hosts(given)) }
		house.Fingerprint, house.DER, may = a.Fingerprint(), a.DER(), a.May
	}
	if _, err := certificate(nil); err != nil {
		return nil, fmt.Errorf("certificate: %w", err)
	}
	for _, h := range hosts {
		if ip := net.ParseIP(h); may(h) && h != "localhost" && (ip == nil || !ip.IsLoopback()) {
			house.Addresses = append(house.Addresses, "https://"+net.JoinHostPort(h, port)+"/")
		}
		if net.ParseIP(h) == nil {
			given = append(given, h) // the laptop's own name
		}
	}
	if bound := strings.TrimSuffix(l.Addr().String(), ":"+port); !unspecified(bound) {
		house.Addresses = []string{"https://" + l.Addr().String() + "/"}
	}
	if len(house.Addresses) == 0 {
		house.Addresses = []string{"https://localhost:" + port + "/"} // it has no network now
	}
	house.Plain = strings.Replace(house.Addresses[0], "https://", "http://", 1)
	if n.cert == "" {
		pages.House = house
	}
	s.server = pages.HTTP(n.addr, given)
	s.server.TLSConfig = &tls.Config{GetCertificate: certificate, MinVersion: tls.VersionTLS12}
	s.server.ErrorLog = slog.NewLogLogger(slog.DiscardHandler, slog.LevelInfo) // a device that does not trust it yet says so at every try
	s.plain = pages.HTTP(n.addr, given)
	s.plain.Handler = pages.Plain()
	s.on, s.open = authority.Split(l)
	s.says = strings.Join(house.Addresses, "  ")
	if s.code, err = terminalQR(house.Plain); err != nil {
		return nil, err
	}
	return s, nil
}

// unspecified reports whether a host stands for all addresses.
func unspecified(host string) bool {
	ip, err := netip.ParseAddr(strings.Trim(host, "[]"))
	return err != nil || ip.IsUnspecified()
}

// serve serves until the listeners are closed.
func (s *secured) serve() error {
	if s.open == nil {
		return s.server.Serve(s.on)
	}
	go func() {
		if err := s.plain.Serve(s.open); !errors.Is(err, http.ErrServerClosed) && !errors.Is(err, net.ErrClosed) {
			quiet().Warn("plain line", "err", err)
		}
	}()
	return s.server.ServeTLS(s.on, "", "")
}

// print says where the shop is open.
func (s *secured) print(to io.Writer, what string) {
	fmt.Fprintf(to, "Ash Shelf is open at %s (%s). Ctrl-C closes it.\n", s.says, what)
	if s.code != "" {
		fmt.Fprintf(to, "A tablet reads this to learn whom to trust, and then where to go:\n%s", s.code)
	}
}

// terminalQR draws a code with half blocks, dark on light.
func terminalQR(text string) (string, error) {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return "", fmt.Errorf("code: %w", err)
	}
	const quiet = 2
	var b strings.Builder
	for y := -quiet; y < code.Size+quiet; y += 2 {
		for x := -quiet; x < code.Size+quiet; x++ {
			b.WriteString(map[[2]bool]string{
				{false, false}: "█", {false, true}: "▀", {true, false}: "▄", {true, true}: " ",
			}[[2]bool{code.Black(x, y), code.Black(x, y+1)}])
		}
		b.WriteString("\n")
	}
	return b.String(), nil
}
