// Package authority is the house's own authority for certificates, so that a tablet at the
// bench and a phone at the stall talk to the shop over a line that nobody listens in on.
//
// A workshop has no name on the internet, so nobody else can vouch for its laptop. The
// program makes an authority of its own, once, and with it a certificate for each address
// that the laptop has in the house. A device trusts the authority once; its fingerprint is
// compared with the one that the laptop shows. The authority may speak for names and
// addresses of a house alone, not for any bank; its key lies in the data folder and is in no
// copy. A certificate is made anew when an address changes, and before it ends.
package authority

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"math/big"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/store"
)

// Spans of time.
const (
	caLife   = 10 * 365 * 24 * time.Hour
	leafLife = 396 * 24 * time.Hour // browsers take 397 days and one from 398
	renew    = 30 * 24 * time.Hour  // before its end a certificate is made anew
	backdate = 24 * time.Hour       // for devices whose clock is behind
)

// folder is where it lies in the data folder.
const folder = "authority"

// houseNames are the endings of names that are only ever those of a house.
var houseNames = []string{"localhost", "local", "lan", "internal", "home.arpa"}

// houseNets are the addresses that are only ever those of a house.
var houseNets = []string{
	"127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "::1/128", "fc00::/7", "fe80::/10",
}

// Authority is the house's own.
type Authority struct {
	dir  string
	now  func() time.Time
	cert *x509.Certificate
	key  *ecdsa.PrivateKey

	mu   sync.Mutex
	leaf *tls.Certificate
	of   string // the names and addresses it is for
}

// Open reads the authority of a data folder, and makes one where there is none. given are
// names that the shop is opened by beside those of a house, for a new one to speak for.
func Open(dir string, now func() time.Time, given []string) (*Authority, error) {
	a := &Authority{dir: filepath.Join(dir, folder), now: now}
	err := a.read()
	if errors.Is(err, os.ErrNotExist) {
		err = a.found(given)
	}
	if err == nil && now().After(a.cert.NotAfter.Add(-leafLife)) {
		err = a.found(given) // it would end before its certificates do
	}
	if err != nil {
		return nil, fmt.Errorf("authority for certificates in %s: %w", a.dir, err)
	}
	return a, nil
}

func (a *Authority) read() error {
	cert, err := readPEM(filepath.Join(a.dir, "ca.pem"), "CERTIFICATE")
	if err != nil {
		return err
	}
	key, err := readPEM(filepath.Join(a.dir, "ca.key"), "PRIVATE KEY")
	if err != nil {
		return err
	}
	if a.cert, err = x509.ParseCertificate(cert); err != nil {
		return err
	}
	parsed, err := x509.ParsePKCS8PrivateKey(key)
	if err != nil {
		return err
	}
	ours, ok := parsed.(*ecdsa.PrivateKey)
	if !ok || !ours.PublicKey.Equal(a.cert.PublicKey) {
		return errors.New("the key is not that of the certificate; take the folder away, and every device trusts the new one")
	}
	a.key = ours
	return nil
}

func readPEM(path, kind string) ([]byte, error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	block, _ := pem.Decode(text)
	if block == nil || block.Type != kind {
		return nil, fmt.Errorf("%s holds no %s", filepath.Base(path), strings.ToLower(kind))
	}
	return block.Bytes, nil
}

func writePEM(path, kind string, bytes []byte) error {
	return store.WriteWhole(path, pem.EncodeToMemory(&pem.Block{Type: kind, Bytes: bytes}))
}

// found makes a new authority.
func (a *Authority) found(given []string) error {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	number, err := serial()
	if err != nil {
		return err
	}
	var nets []*net.IPNet
	for _, text := range houseNets {
		_, one, err := net.ParseCIDR(text)
		if err != nil {
			return err
		}
		nets = append(nets, one)
	}
	now := a.now()
	template := &x509.Certificate{
		SerialNumber:                number,
		Subject:                     pkix.Name{CommonName: "Ash Shelf, house of " + now.Format("2006-01-02")},
		NotBefore:                   now.Add(-backdate),
		NotAfter:                    now.Add(caLife),
		KeyUsage:                    x509.KeyUsageCertSign,
		ExtKeyUsage:                 []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		IsCA:                        true,
		BasicConstraintsValid:       true,
		MaxPathLenZero:              true,
		PermittedDNSDomainsCritical: true,
		PermittedDNSDomains:         append(slices.Clone(houseNames), given...),
		PermittedIPRanges:           nets,
	}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	if err != nil {
		return err
	}
	bytes, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(a.dir, 0o700); err != nil {
		return err
	}
	if err := writePEM(filepath.Join(a.dir, "ca.key"), "PRIVATE KEY", bytes); err != nil {
		return err
	}
	if err := writePEM(filepath.Join(a.dir, "ca.pem"), "CERTIFICATE", der); err != nil {
		return err
	}
	return a.read()
}

func serial() (*big.Int, error) { return rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120)) }

// PEM is the certificate of the authority, for a device to trust.
func (a *Authority) PEM() []byte {
	return pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: a.cert.Raw})
}

// DER is the same as bytes, which telephones take.
func (a *Authority) DER() []byte { return a.cert.Raw }

// Fingerprint is the SHA-256 of the certificate as devices show it, in pairs.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.cert.Raw)
	pairs := make([]string, len(sum))
	for i, b := range sum {
		pairs[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(pairs, " ")
}

// May reports whether the authority may speak for a name or an address.
func (a *Authority) May(host string) bool {
	if ip, err := netip.ParseAddr(host); err == nil {
		return slices.ContainsFunc(a.cert.PermittedIPRanges, func(n *net.IPNet) bool { return n.Contains(ip.AsSlice()) })
	}
	host = strings.ToLower(strings.TrimSuffix(host, "."))
	return slices.ContainsFunc(a.cert.PermittedDNSDomains, func(d string) bool { return host == d || strings.HasSuffix(host, "."+d) })
}

// Certificate is one for names and addresses: the one that there is, or a new one when they
// are others, or when it ends within a month. What the authority may not speak for is left
// out.
func (a *Authority) Certificate(hosts []string) (*tls.Certificate, error) {
	hosts = slices.DeleteFunc(slices.Clone(hosts), func(h string) bool { return !a.May(h) })
	slices.Sort(hosts)
	of := strings.Join(slices.Compact(hosts), " ")
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.leaf != nil && a.of == of && a.now().Before(a.leaf.Leaf.NotAfter.Add(-renew)) && a.now().After(a.leaf.Leaf.NotBefore) {
		return a.leaf, nil
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, fmt.Errorf("certificate: %w", err)
	}
	number, err := serial()
	if err != nil {
		return nil, fmt.Errorf("certificate: %w", err)
	}
	now := a.now()
	template := &x509.Certificate{
		SerialNumber: number,
		Subject:      pkix.Name{CommonName: "Ash Shelf"},
		NotBefore:    now.Add(-backdate),
		NotAfter:     now.Add(-backdate + leafLife),
		KeyUsage:     x509.KeyUsageDigitalSignature,
		ExtKeyUsage:  []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	for _, h := range slices.Compact(hosts) {
		if ip := net.ParseIP(h); ip != nil {
			template.IPAddresses = append(template.IPAddresses, ip)
		} else {
			template.DNSNames = append(template.DNSNames, h)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, template, a.cert, &key.PublicKey, a.key)
	if err != nil {
		return nil, fmt.Errorf("certificate: %w", err)
	}
	leaf, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, fmt.Errorf("certificate: %w", err)
	}
	a.leaf, a.of = &tls.Certificate{Certificate: [][]byte{der, a.cert.Raw}, PrivateKey: key, Leaf: leaf}, of
	return a.leaf, nil
}

// Hosts are the names and addresses by which this computer can be reached in the house, the
// ones that are easiest to type first.
func Hosts(given []string) []string {
	var short, long []string
	addresses, err := net.InterfaceAddrs()
	if err == nil { // without them it is reached by its names
		for _, one := range addresses {
			in, ok := one.(*net.IPNet)
			switch {
			case !ok || in.IP.IsLoopback() || in.IP.IsLinkLocalUnicast():
			case in.IP.To4() != nil:
				short = append(short, in.IP.String())
			default:
				long = append(long, in.IP.String())
			}
		}
	}
	out := slices.Concat(given, short)
	if name, err := os.Hostname(); err == nil && name != "" && !strings.Contains(name, ".") {
		out = append(out, strings.ToLower(name)+".local")
	}
	return slices.Concat(out, long, []string{"localhost", "127.0.0.1", "::1"})
}
