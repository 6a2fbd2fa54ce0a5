package main

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/access"
	"ashshelf/authority"
	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/web"
)

// inTheHouse serves a shop on an address of the network as a line says, and returns the port.
func inTheHouse(t *testing.T, dir string, n line) (port string, s *secured, err error) {
	t.Helper()
	books, err := shop.Open(context.Background(), dir, time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, books.Close()) })
	accounts, err := access.Open(context.Background(), dir, books.Life().ID, time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, accounts.Close()) })
	require.NoError(t, accounts.SetPassphrase(context.Background(), 1, ownersPhrase))
	pages, err := web.New(books, accounts, device.NewSet(t.Context(), quiet()), quiet())
	require.NoError(t, err)
	n.addr = "0.0.0.0:0"
	l, err := net.Listen("tcp", n.addr)
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	if s, err = n.serveOn(pages, l, dir); err != nil {
		return "", nil, err
	}
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		_ = s.serve()
	}()
	t.Cleanup(func() {
		assert.NoError(t, s.server.Close())
		<-ended
	})
	_, port, err = net.SplitHostPort(l.Addr().String())
	return port, s, err
}

// ownersPhrase is what the owner of the shop shows.
const ownersPhrase = "quarry lamp, two herons"

func visitor(t *testing.T, roots *x509.CertPool) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots}}}
}

func get(t *testing.T, c *http.Client, address string) (*http.Response, string) {
	t.Helper()
	r, err := c.Get(address)
	require.NoError(t, err)
	body, err := io.ReadAll(r.Body)
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	return r, string(body)
}

// A tablet reads the plain address, learns whom to trust, and is then in the shop over a line
// that nobody listens in on. Over the plain one it sees nothing of the shop.
func TestATabletLearnsWhomToTrustAndIsThenInTheShop(t *testing.T) {
	dir := aShop(t)
	port, s, err := inTheHouse(t, dir, line{})
	require.NoError(t, err)
	var says strings.Builder
	s.print(&says, "a test")
	assert.Contains(t, says.String(), "https://")
	assert.Contains(t, says.String(), "█", "a code to be read with a camera")

	plain := "http://127.0.0.1:" + port
	_, page := get(t, visitor(t, nil), plain+"/recipes")
	assert.Contains(t, page, "Trust the house")
	for _, secret := range []string{"Quern base", "Odile", "Quernhollow"} {
		assert.NotContains(t, page, secret, "nothing of the shop goes over an open line")
	}
	r, err := visitor(t, nil).PostForm(plain+"/who", url.Values{"person": {"1"}})
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	assert.Equal(t, http.StatusMethodNotAllowed, r.StatusCode)

	r, der := get(t, visitor(t, nil), plain+"/house.crt")
	assert.Equal(t, "application/x-x509-ca-cert", r.Header.Get("Content-Type"))
	house, err := x509.ParseCertificate([]byte(der))
	require.NoError(t, err)
	a, err := authority.Open(dir, time.Now, nil)
	require.NoError(t, err)
	assert.Contains(t, page, a.Fingerprint(), "which is compared at the laptop")
	trusted := x509.NewCertPool()
	trusted.AddCert(house)
	tablet, secure := visitor(t, trusted), "https://127.0.0.1:"+port
	r, page = get(t, tablet, secure+"/")
	assert.Contains(t, page, "Who comes in?")
	assert.Empty(t, r.Header.Get("Strict-Transport-Security"), "the house's certificate may be taken off again")
	r, err = tablet.PostForm(secure+"/who", url.Values{"name": {"Odile Marrow"}, "secret": {ownersPhrase}})
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	assert.Equal(t, "/", r.Request.URL.Path, "she is in")
	first, err := http.NewRequest(http.MethodGet, secure+"/", nil)
	require.NoError(t, err)
	r, err = tablet.Transport.RoundTrip(first)
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	require.NotEmpty(t, r.Cookies())
	assert.True(t, r.Cookies()[0].Secure, "no cookie goes over the open line")
	_, page = get(t, tablet, secure+"/trust")
	assert.Contains(t, page, a.Fingerprint())
	_, err = visitor(t, x509.NewCertPool()).Get(secure)
	assert.Error(t, err)
}

func TestOwnCertificatesAndPlainLinesAreSaidAloud(t *testing.T) {
	dir := aShop(t)
	_, _, err := inTheHouse(t, dir, line{cert: "cert.pem"})
	require.ErrorContains(t, err, "needs its key")
	_, _, err = inTheHouse(t, aShop(t), line{cert: "no.pem", key: "such.key"})
	require.Error(t, err)
	_, _, err = inTheHouse(t, aShop(t), line{names: "shop.bank"})
	require.NoError(t, err, "a name that is given when the authority is made is one that it speaks for")
	other := aShop(t)
	_, err = authority.Open(other, time.Now, nil)
	require.NoError(t, err)
	_, _, err = inTheHouse(t, other, line{names: "shop.bank"})
	require.ErrorContains(t, err, "may not speak for")
	port, s, err := inTheHouse(t, aShop(t), line{plain: true})
	require.NoError(t, err)
	_, page := get(t, visitor(t, nil), "http://127.0.0.1:"+port+"/")
	assert.Contains(t, page, "Who comes in?")
	assert.Contains(t, s.says, "http://")
}

func TestNoKeyAndNoSecretIsInACopy(t *testing.T) {
	dir := aShop(t)
	_, err := authority.Open(dir, time.Now, nil)
	require.NoError(t, err)
	phrase := filepath.Join(t.TempDir(), "phrase")
	require.NoError(t, os.WriteFile(phrase, []byte(ownersPhrase+"\n"), 0o600))
	code, out := said(t, runPassphrase, "-data", dir, "-passphrase-file", phrase)
	require.Zero(t, code)
	assert.Contains(t, out, "Odile Marrow has a new passphrase")
	file := filepath.Join(t.TempDir(), "copy.zip")
	code, _ = said(t, runBackup, "-data", dir, "-out", file)
	require.Zero(t, code)
	home := filepath.Join(t.TempDir(), "home")
	code, _ = said(t, runRestore, "-in", file, "-data", home)
	require.Zero(t, code)
	for _, folder := range []string{"authority", access.Folder} {
		_, err = os.Stat(filepath.Join(home, folder))
		assert.ErrorIs(t, err, os.ErrNotExist)
	}
	for args, says := range map[string]string{"Odile Marrow": "", "nobody": "say whom you mean"} {
		require.NoError(t, os.WriteFile(phrase, []byte("too short\n"), 0o600))
		code, _ := said(t, runPassphrase, "-data", dir, "-person", args, "-passphrase-file", phrase)
		assert.Equal(t, 1, code, says)
	}
}
