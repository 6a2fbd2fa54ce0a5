package page

import (
	"bytes"
	"cmp"
	"fmt"
	"io"
	"net/http"
	"strings"
)

// AddressOf is the address of a page as this visitor reaches the shop, for a QR
// code.
func AddressOf(r *http.Request, path string) string {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	return scheme + "://" + r.Host + path
}

// Download sends a file that write makes.
func (s *Kit) Download(w http.ResponseWriter, r *http.Request, name, kind string, write func(io.Writer) error) {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		s.Fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="%s"`, name))
	if _, err := b.WriteTo(w); err != nil {
		s.Log.Debug("download", "path", r.URL.Path, "err", err)
	}
}

// FileName makes a name that every system takes.
func FileName(name, ending string) string {
	var b strings.Builder
	for _, c := range strings.ToLower(name) {
		if c >= 'a' && c <= 'z' || c >= '0' && c <= '9' {
			b.WriteRune(c)
		} else if n := b.Len(); n > 0 && b.String()[n-1] != '-' {
			b.WriteByte('-')
		}
	}
	return cmp.Or(strings.Trim(b.String(), "-"), "recipe") + ending
}
