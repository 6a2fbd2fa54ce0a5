package door

import (
	"fmt"
	"html"
	"net"
	"net/http"
	"net/netip"
	"strings"
)

// Names are those that the program answers to. A page of a stranger can make its own
// name lead to this machine and would then be read as if it came from here; by its own
// name it gets nothing.
type Names struct {
	address netip.Addr // that it listens on
	given   []string   // in lower case
}

// NamesFor are the names of this machine itself, of the address that is listened on,
// and those that were given. Where any address is listened on, all addresses are
// answered: nobody else can make them lead here.
func NamesFor(addr string, given []string) Names {
	n := Names{}
	if host, _, err := net.SplitHostPort(addr); err == nil {
		if host == "" {
			host = "0.0.0.0"
		}
		n.address, _ = netip.ParseAddr(host) // a name is none
		if !n.address.IsValid() {
			given = append(given, host)
		}
	}
	for _, name := range given {
		n.given = append(n.given, strings.ToLower(strings.TrimSuffix(name, ".")))
	}
	return n
}

// known reports whether a request's host is one of the names.
func (n Names) known(host string) bool {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	host = strings.ToLower(strings.TrimSuffix(host, "."))
	if ip, err := netip.ParseAddr(strings.Trim(host, "[]")); err == nil {
		return ip.IsLoopback() || n.address.IsUnspecified() || ip == n.address
	}
	if host == "localhost" {
		return true
	}
	for _, name := range n.given {
		if host == name {
			return true
		}
	}
	return false
}

// Guard answers only by the names.
func (n Names) Guard(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if n.known(r.Host) {
			next.ServeHTTP(w, r)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.WriteHeader(http.StatusMisdirectedRequest)
		host := html.EscapeString(r.Host)
		fmt.Fprintf(
			w,
			"<!doctype html><title>Ash Shelf</title><p>Ash Shelf does not answer to the name <b>%s</b>. On this machine it is at "+
				"localhost; to open it by another name, start it with -name followed by that name.</p>",
			host,
		)
	})
}
