package authority

import (
	"crypto/tls"
	"crypto/x509"
	"errors"
	"io"
	"log"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 3, 14, 12, 0, 0, 0, time.UTC)

// asking is a line with whatever certificate the house has.
func asking(a *Authority) *tls.Config {
	return &tls.Config{GetCertificate: func(*tls.ClientHelloInfo) (*tls.Certificate, error) { return a.Certificate(Hosts(nil)) }}
}

func at(t *time.Time) func() time.Time { return func() time.Time { return *t } }

func TestADeviceThatTrustsTheHouseReachesTheShop(t *testing.T) {
	now := time.Now()
	a, err := Open(t.TempDir(), at(&now), nil)
	require.NoError(t, err)
	server := httptest.NewUnstartedServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		_, _ = io.WriteString(w, "the shelf")
	}))
	server.Config.ErrorLog = log.New(io.Discard, "", 0)
	server.Listener = tls.NewListener(server.Listener, asking(a))
	server.Start()
	defer server.Close()
	address := "https://" + server.Listener.Addr().String()
	trusting := func(roots *x509.CertPool) *http.Client {
		return &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots}}}
	}
	house := x509.NewCertPool()
	require.True(t, house.AppendCertsFromPEM(a.PEM()))
	r, err := trusting(house).Get(address)
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	_, err = trusting(x509.NewCertPool()).Get(address)
	assert.Error(t, err, "nobody else trusts it")
}

func TestTheAuthorityIsTheSameTomorrowAndItsKeyIsTheOwnersAlone(t *testing.T) {
	dir, now := t.TempDir(), noon
	a, err := Open(dir, at(&now), nil)
	require.NoError(t, err)
	now = now.Add(24 * time.Hour)
	b, err := Open(dir, at(&now), nil)
	require.NoError(t, err)
	assert.Equal(t, a.Fingerprint(), b.Fingerprint())
	assert.Len(t, a.Fingerprint(), 32*3-1)
	info, err := os.Stat(filepath.Join(dir, "authority", "ca.key"))
	require.NoError(t, err)
	assert.Zero(t, info.Mode().Perm()&0o077)
	// A key of another is told, not used.
	other, err := Open(t.TempDir(), at(&now), nil)
	require.NoError(t, err)
	strange, err := os.ReadFile(filepath.Join(other.dir, "ca.key"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(a.dir, "ca.key"), strange, 0o600))
	_, err = Open(dir, at(&now), nil)
	assert.ErrorContains(t, err, "not that of the certificate")
}

// It speaks for a house and for nobody else, whoever gets hold of its key.
func TestTheAuthoritySpeaksForTheHouseAlone(t *testing.T) {
	now := noon
	a, err := Open(t.TempDir(), at(&now), []string{"soap.example"})
	require.NoError(t, err)
	for host, may := range map[string]bool{
		"192.168.1.20": true, "10.0.0.4": true, "fd12::1": true, "127.0.0.1": true, "laptop.local": true, "shelf.home.arpa": true,
		"soap.example": true, "shelf.soap.example": true,
		"8.8.8.8": false, "2001:db8::1": false, "bank.example": false, "notlocal": false, "soap.example.org": false,
	} {
		assert.Equal(t, may, a.May(host), host)
	}
	cert, err := a.Certificate([]string{"192.168.1.20", "laptop.local", "bank.example", "8.8.8.8"})
	require.NoError(t, err)
	assert.Equal(t, []string{"laptop.local"}, cert.Leaf.DNSNames)
	require.Len(t, cert.Leaf.IPAddresses, 1)
	assert.True(t, cert.Leaf.IPAddresses[0].Equal(net.ParseIP("192.168.1.20")))
	roots := x509.NewCertPool()
	roots.AddCert(a.cert)
	_, err = cert.Leaf.Verify(x509.VerifyOptions{Roots: roots, CurrentTime: now, DNSName: "laptop.local"})
	require.NoError(t, err)
	// Signed all the same, it would not be believed.
	loose, err := x509.ParseCertificate(a.DER())
	require.NoError(t, err)
	loose.PermittedDNSDomains = append(loose.PermittedDNSDomains, "bank.example")
	bad, err := (&Authority{now: at(&now), cert: loose, key: a.key}).Certificate([]string{"bank.example"})
	require.NoError(t, err)
	_, err = bad.Leaf.Verify(x509.VerifyOptions{Roots: roots, CurrentTime: now, DNSName: "bank.example"})
	assert.ErrorContains(t, err, "not permitted")
}

func TestACertificateIsMadeAnewWhenAnAddressChangesAndBeforeItEnds(t *testing.T) {
	now := noon
	a, err := Open(t.TempDir(), at(&now), nil)
	require.NoError(t, err)
	one, err := a.Certificate([]string{"192.168.1.20", "localhost"})
	require.NoError(t, err)
	assert.LessOrEqual(t, one.Leaf.NotAfter.Sub(one.Leaf.NotBefore), 397*24*time.Hour)
	same, err := a.Certificate([]string{"localhost", "192.168.1.20"})
	require.NoError(t, err)
	assert.Same(t, one, same)
	moved, err := a.Certificate([]string{"192.168.1.21", "localhost"})
	require.NoError(t, err)
	assert.NotSame(t, one, moved)
	now = moved.Leaf.NotAfter.Add(-29 * 24 * time.Hour)
	later, err := a.Certificate([]string{"192.168.1.21", "localhost"})
	require.NoError(t, err)
	assert.NotSame(t, moved, later)
	assert.True(t, later.Leaf.NotAfter.After(now.Add(300*24*time.Hour)))
}

func TestWhoSpeaksPlainlyIsToldWhereToGo(t *testing.T) {
	now := time.Now()
	a, err := Open(t.TempDir(), at(&now), nil)
	require.NoError(t, err)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	secure, plain := Split(l)
	says := func(text string) *http.Server {
		return &http.Server{
			Handler:  http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, text) }),
			ErrorLog: log.New(io.Discard, "", 0), ReadHeaderTimeout: time.Second,
			TLSConfig: asking(a),
		}
	}
	ended := make(chan error, 2)
	one, two := says("the shelf"), says("over there")
	go func() { ended <- one.ServeTLS(secure, "", "") }()
	go func() { ended <- two.Serve(plain) }()
	house := x509.NewCertPool()
	house.AppendCertsFromPEM(a.PEM())
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: house}}}
	for address, text := range map[string]string{"https://": "the shelf", "http://": "over there"} {
		r, err := client.Get(address + l.Addr().String())
		require.NoError(t, err, address)
		body, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		assert.Equal(t, text, string(body), address)
	}
	silent, err := net.Dial("tcp", l.Addr().String()) // holds nobody up
	require.NoError(t, err)
	defer silent.Close()
	require.NoError(t, one.Close())
	require.NoError(t, two.Close())
	for range 2 {
		err := <-ended
		assert.True(t, errors.Is(err, http.ErrServerClosed) || errors.Is(err, net.ErrClosed), "%v", err)
	}
}
