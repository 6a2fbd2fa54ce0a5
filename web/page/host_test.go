package page

import (
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
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

// Whoever is in the network does not take the whole shop away.
func TestCopiesAreForTheComputerWithTheRecords(t *testing.T) {
	books, err := shop.Open(t.Context(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, books.Close()) })
	kit, err := New(books, nil, slog.New(slog.DiscardHandler), fstest.MapFS{})
	require.NoError(t, err)
	for from, may := range map[string]bool{
		"127.0.0.1:5000": true, "[::1]:5000": true, "[::ffff:127.0.0.1]:5000": true,
		"192.168.1.7:5000": false, "[fd00::7]:5000": false, "": false, "nonsense": false,
	} {
		r := httptest.NewRequest(http.MethodGet, "/copies", nil)
		r.RemoteAddr = from
		w := httptest.NewRecorder()
		kit.AtHome(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) })).ServeHTTP(w, r)
		if may {
			assert.Equal(t, http.StatusNoContent, w.Code, from)
			continue
		}
		assert.Equal(t, http.StatusForbidden, w.Code, from)
		assert.Contains(t, w.Body.String(), "at the computer that holds the records", from)
	}
}
