package door

import (
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/access"
)

// A session ends when it rests too long, and in any case after its time: sooner where the device
// is not the shop's. Whoever uses it all the time is not thrown out before that.
func TestASessionThatRestsTooLongIsOver(t *testing.T) {
	now := time.Now()
	accounts, err := access.Open(t.Context(), t.TempDir(), "life", func() time.Time { return now })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, accounts.Close()) })
	d := New(accounts, slog.New(slog.DiscardHandler))
	d.now = func() time.Time { return now }
	d.Shuts(false)
	server := httptest.NewServer(d.Identify(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/in" {
			assert.NoError(t, d.Begin(r, 7, VisitorOf(r).Device, access.Passphrase))
			return
		}
		if r.URL.Path == "/out" {
			assert.NoError(t, d.End(r))
			return
		}
		if VisitorOf(r).Person != 7 {
			w.WriteHeader(http.StatusUnauthorized)
		}
	})))
	t.Cleanup(server.Close)
	browser := func() func(path string) bool {
		jar, err := cookiejar.New(nil)
		require.NoError(t, err)
		c := &http.Client{Jar: jar}
		return func(path string) bool {
			r, err := c.Get(server.URL + path)
			require.NoError(t, err)
			require.NoError(t, r.Body.Close())
			return r.StatusCode == http.StatusOK
		}
	}
	stranger := browser()
	assert.False(t, stranger("/"))
	stranger("/in")
	for range 5 {
		now = now.Add(mostIdleElse - time.Minute)
		assert.True(t, stranger("/"), "it is used")
	}
	now = now.Add(mostIdleElse + time.Minute)
	assert.False(t, stranger("/"), "it rested too long")
	stranger("/in")
	for range 12 {
		now = now.Add(mostIdleElse - time.Minute)
		stranger("/")
	}
	now = now.Add(20 * time.Minute)
	assert.False(t, stranger("/"), "its half day is over")
	stranger("/in")
	require.True(t, stranger("/"))
	stranger("/out")
	assert.False(t, stranger("/"))
}

func TestWhoIsAtTheMachineItself(t *testing.T) {
	for from, here := range map[string]bool{
		"127.0.0.1:5000": true, "[::1]:5000": true, "[::ffff:127.0.0.1]:5000": true,
		"192.168.1.7:5000": false, "[fd00::7]:5000": false, "": false, "nonsense": false,
	} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.RemoteAddr = from
		_, got := whence(r)
		assert.Equal(t, here, got, from)
	}
}

func TestARuleOfAnActGoesBeforeThatOfItsAddress(t *testing.T) {
	rules := Rules{"POST /lots/{oid}/{act}": {Least: "maker"}, "POST /lots/{oid}/note": {Least: "helper"}, "GET /look": {Least: Anyone}}
	assert.True(t, rules.Of("POST", "/lots/{oid}/{act}", "note").May("helper"))
	assert.False(t, rules.Of("POST", "/lots/{oid}/{act}", "release").May("helper"))
	assert.True(t, rules.Of("GET", "/look", "").May(""))
	assert.False(t, rules.Of("GET", "/forgotten", "").May("maker"))
	assert.True(t, rules.Of("GET", "/forgotten", "").May("owner"))
}
