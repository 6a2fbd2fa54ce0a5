package door

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A name that a stranger made lead here gets nothing; this machine's own do.
func TestOnlyItsOwnNamesAreAnswered(t *testing.T) {
	for _, c := range []struct {
		addr  string
		given []string
		host  string
		known bool
	}{
		{"127.0.0.1:8420", nil, "127.0.0.1:8420", true},
		{"127.0.0.1:8420", nil, "localhost:8420", true},
		{"127.0.0.1:8420", nil, "LOCALHOST.", true},
		{"127.0.0.1:8420", nil, "[::1]:8420", true},
		{"127.0.0.1:8420", nil, "evil.example:8420", false},
		{"127.0.0.1:8420", nil, "localhost.evil.example", false},
		{"127.0.0.1:8420", nil, "127.0.0.1.evil.example", false},
		{"127.0.0.1:8420", nil, "192.0.2.7:8420", false},
		{"127.0.0.1:8420", nil, "", false},
		{"192.0.2.7:8420", nil, "192.0.2.7:8420", true},
		{"192.0.2.7:8420", nil, "192.0.2.8:8420", false},
		{":8420", nil, "192.0.2.7:8420", true},
		{"0.0.0.0:8420", nil, "[2001:db8::7]:8420", true},
		{"0.0.0.0:8420", nil, "evil.example", false},
		{"0.0.0.0:8420", []string{"Shelf.Home.Example"}, "shelf.home.example:8420", true},
		{"shelf.example:8420", nil, "shelf.example:8420", true},
	} {
		answered := false
		w := httptest.NewRecorder()
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.Host = c.host
		NamesFor(c.addr, c.given).Guard(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { answered = true })).ServeHTTP(w, r)
		assert.Equal(t, c.known, answered, "%s asked as %q", c.addr, c.host)
		if !c.known {
			assert.Equal(t, http.StatusMisdirectedRequest, w.Code)
			assert.Contains(t, w.Body.String(), "-name")
		}
	}
	w := httptest.NewRecorder()
	r := httptest.NewRequest(http.MethodGet, "/", nil)
	r.Host = `<script>alert(1)</script>`
	NamesFor("", nil).Guard(nil).ServeHTTP(w, r)
	assert.NotContains(t, w.Body.String(), "<script>")
}
