// Package authority is a certificate authority of this machine's own, for a phone in the garden: browsers want a
// secure page before they keep a screen awake or work without a network, and no public authority vouches for a
// machine at home.
//
// It is made once and kept in a folder. Its certificate says by itself that it vouches for nothing but names and
// addresses of a home or an allotment: whoever stole its key could pass for no page out in the world.
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
	"io/fs"
	"math/big"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// How long certificates hold: the authority's as long as phones keep one, a page's as short as it is made anew by
// itself, and before it ends.
const (
	years  = 10
	leaf   = 90 * 24 * time.Hour
	renew  = 30 * 24 * time.Hour
	askew  = 24 * time.Hour // that a phone's clock may be behind
	crtPEM = "authority.crt"
	keyPEM = "authority.key"
)

// Vouched are the names an authority may vouch for, with all that end in them.
var Vouched = []string{"localhost", "local", "home.arpa", "internal", "lan"}

// ranges are the addresses it may vouch for, besides those its machine had when it was made: private ones, RFC 1918,
// 4193, 6598 and 3927, and loopback.
var ranges = []string{"100.64.0.0/10", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8",
	"fc00::/7", "fe80::/10", "::1/128"}

// Authority vouches for the pages of this machine.
type Authority struct {
	PEM  []byte // of its certificate, for whoever is to trust it
	cert *x509.Certificate
	key  *ecdsa.PrivateKey

	mu    sync.Mutex
	made  *tls.Certificate
	until time.Time
	of    string
}

// Open reads the authority kept in a folder, or makes one where there is none, for a machine that is at some addresses
// here and now. One of which a part is missing, damaged, or past its time is an error: it is never made anew without
// being told to, since every phone would have to trust it again.
func Open(dir string, now time.Time, here ...netip.Addr) (*Authority, error) {
	crt, crtErr := os.ReadFile(filepath.Join(dir, crtPEM))
	key, keyErr := os.ReadFile(filepath.Join(dir, keyPEM))
	switch {
	case errors.Is(crtErr, fs.ErrNotExist) && errors.Is(keyErr, fs.ErrNotExist):
		return begin(dir, now, here)
	case crtErr != nil || keyErr != nil:
		return nil, fmt.Errorf("the authority in %s is not whole: %w; move what is there away, and one is made anew", dir,
			errors.Join(crtErr, keyErr))
	}
	a, err := read(crt, key, now)
	if err != nil {
		return nil, fmt.Errorf("the authority in %s: %w; move %s and %s away, and one is made anew", dir, err, crtPEM, keyPEM)
	}
	return a, nil
}

// read puts an authority together from its two files.
func read(crt, key []byte, now time.Time) (*Authority, error) {
	block, _ := pem.Decode(crt)
	of, _ := pem.Decode(key)
	if block == nil || of == nil {
		return nil, errors.New("its files cannot be read")
	}
	cert, err := x509.ParseCertificate(block.Bytes)
	if err != nil {
		return nil, err
	}
	k, err := x509.ParseECPrivateKey(of.Bytes)
	if err != nil {
		return nil, err
	}
	switch {
	case !cert.IsCA || !k.PublicKey.Equal(cert.PublicKey):
		return nil, errors.New("its key is not that of its certificate")
	case now.After(cert.NotAfter.Add(-leaf)):
		return nil, fmt.Errorf("it holds until %s only", cert.NotAfter.Format(time.DateOnly))
	}
	return &Authority{PEM: pem.EncodeToMemory(block), cert: cert, key: k}, nil
}

// begin makes an authority and keeps it: the key readable by its owner alone, the certificate last.
func begin(dir string, now time.Time, here []netip.Addr) (*Authority, error) {
	key, serial, err := fresh()
	if err != nil {
		return nil, err
	}
	host, err := os.Hostname()
	if err != nil {
		host = "this machine"
	}
	form := &x509.Certificate{SerialNumber: serial,
		Subject:   pkix.Name{CommonName: "Chamfer on " + host, Organization: []string{"Chamfer, this machine alone"}},
		NotBefore: now.Add(-askew), NotAfter: now.AddDate(years, 0, 0), IsCA: true, BasicConstraintsValid: true,
		MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign,
		PermittedDNSDomainsCritical: true, PermittedDNSDomains: append(slices.Clone(Vouched), called(host)...)}
	mine := slices.Clone(ranges)
	for _, ip := range here {
		if ip = ip.Unmap().WithZone(""); ip.IsValid() {
			mine = append(mine, netip.PrefixFrom(ip, ip.BitLen()).String())
		}
	}
	for _, r := range mine {
		_, block, err := net.ParseCIDR(r)
		if err != nil {
			return nil, err
		}
		form.PermittedIPRanges = append(form.PermittedIPRanges, block)
	}
	der, err := x509.CreateCertificate(rand.Reader, form, form, &key.PublicKey, key)
	if err != nil {
		return nil, err
	}
	secret, err := x509.MarshalECPrivateKey(key)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	crt := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
	for _, f := range []struct {
		name string
		data []byte
		mode fs.FileMode
	}{{keyPEM, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: secret}), 0o600}, {crtPEM, crt, 0o644}} {
		if err := keep(filepath.Join(dir, f.name), f.data, f.mode); err != nil {
			return nil, err
		}
	}
	return read(crt, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: secret}), now)
}

// keep writes a file that is not there yet, so that it is there whole or not at all.
func keep(name string, data []byte, mode fs.FileMode) error {
	f, err := os.CreateTemp(filepath.Dir(name), ".new-*")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name())
	_, err = f.Write(data)
	if err = errors.Join(err, f.Chmod(mode), f.Sync(), f.Close()); err != nil {
		return err
	}
	return os.Link(f.Name(), name) // fails where another was quicker
}

// fresh is a new key, and a number for its certificate.
func fresh() (*ecdsa.PrivateKey, *big.Int, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	serial, bad := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	return key, serial, errors.Join(err, bad)
}

// called is a machine's name where it is one word: of longer ones only what they end in is vouched for.
func called(host string) []string {
	if host == "" || strings.ContainsAny(host, ". /") {
		return nil
	}
	return []string{strings.ToLower(host)}
}

// Fingerprint is its certificate's SHA-256, as phones show it.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.cert.Raw)
	var parts []string
	for _, b := range sum {
		parts = append(parts, fmt.Sprintf("%02X", b))
	}
	return strings.Join(parts, ":")
}

// Until is when it ends.
func (a *Authority) Until() time.Time { return a.cert.NotAfter }

// For is a certificate for names and addresses of this machine, made anew where it is about to end or they have
// changed. What it may not vouch for is left out.
func (a *Authority) For(names []string, ips []netip.Addr, now time.Time) (*tls.Certificate, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	of := fmt.Sprint(names, ips)
	if a.made != nil && a.of == of && now.Before(a.until.Add(-renew)) {
		return a.made, nil
	}
	key, serial, err := fresh()
	if err != nil {
		return nil, err
	}
	form := &x509.Certificate{SerialNumber: serial, Subject: pkix.Name{CommonName: "Chamfer"},
		NotBefore: now.Add(-askew), NotAfter: now.Add(leaf), KeyUsage: x509.KeyUsageDigitalSignature,
		ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}, BasicConstraintsValid: true}
	for _, n := range names {
		if n = strings.ToLower(n); a.vouches(n) && !slices.Contains(form.DNSNames, n) {
			form.DNSNames = append(form.DNSNames, n)
		}
	}
	for _, ip := range ips {
		at := net.IP(ip.Unmap().WithZone("").AsSlice())
		if slices.ContainsFunc(a.cert.PermittedIPRanges, func(r *net.IPNet) bool { return r.Contains(at) }) {
			form.IPAddresses = append(form.IPAddresses, at)
		}
	}
	if len(form.DNSNames)+len(form.IPAddresses) == 0 {
		return nil, errors.New("none of this machine's names and addresses is one of a home network")
	}
	der, err := x509.CreateCertificate(rand.Reader, form, a.cert, &key.PublicKey, a.key)
	if err != nil {
		return nil, err
	}
	a.made, a.of, a.until = &tls.Certificate{Certificate: [][]byte{der, a.cert.Raw}, PrivateKey: key}, of, form.NotAfter
	return a.made, nil
}

// vouches reports whether it may vouch for a name.
func (a *Authority) vouches(name string) bool {
	return slices.ContainsFunc(a.cert.PermittedDNSDomains, func(d string) bool {
		return name == d || strings.HasSuffix(name, "."+d)
	})
}

// Pages is how a server with it answers: by names and addresses as they are when it is asked.
func (a *Authority) Pages(names func() []string, ips func() []netip.Addr) *tls.Config {
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: func(*tls.ClientHelloInfo) (*tls.Certificate, error) {
		return a.For(names(), ips(), time.Now())
	}}
}
