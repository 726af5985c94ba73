package authority

import (
	"crypto/tls"
	"crypto/x509"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"testing"
	"time"
)

func addrs(list ...string) (ips []netip.Addr) {
	for _, a := range list {
		ips = append(ips, netip.MustParseAddr(a))
	}
	return ips
}

// What it makes is held to by crypto/x509, which browsers' rules are like: its own machine's names and addresses are
// vouched for, over a real connection as well; no page out in the world is, even by a certificate made with its key;
// and before it ends, or where an address changes, a page's certificate is made anew.
func TestVouches(t *testing.T) {
	now := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	a, err := Open(t.TempDir(), now, addrs("198.51.100.7")...)
	if err != nil {
		t.Fatal(err)
	}
	roots := x509.NewCertPool()
	if !roots.AppendCertsFromPEM(a.PEM) {
		t.Fatal("its certificate cannot be read")
	}
	verify := func(c *tls.Certificate, name string, at time.Time) error {
		leaf, err := x509.ParseCertificate(c.Certificate[0])
		if err != nil {
			return err
		}
		_, err = leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: name, CurrentTime: at,
			KeyUsages: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}})
		return err
	}
	made, err := a.For([]string{"localhost", "shed.local", "bank.example"}, addrs("127.0.0.1", "192.168.7.3",
		"203.0.113.9", "198.51.100.7", "fd00::5"), now)
	if err != nil {
		t.Fatal(err)
	}
	for name, fine := range map[string]bool{"localhost": true, "shed.local": true, "127.0.0.1": true, "192.168.7.3": true,
		"fd00::5": true, "198.51.100.7": true, "bank.example": false, "203.0.113.9": false, "192.168.7.4": false} {
		if err := verify(made, name, now); (err == nil) != fine {
			t.Errorf("%s: %v", name, err)
		}
	}
	if err := verify(made, "localhost", now.AddDate(0, 4, 0)); err == nil {
		t.Error("it holds for ever")
	}
	// Even with its key nobody passes for another page: the constraint is in its own certificate.
	a.cert.PermittedDNSDomains = append(a.cert.PermittedDNSDomains, "example")
	stolen, err := a.For([]string{"bank.example"}, nil, now)
	if err != nil {
		t.Fatal(err)
	}
	if err := verify(stolen, "bank.example", now); err == nil {
		t.Error("it vouches for a bank")
	}

	same, _ := a.For([]string{"localhost"}, nil, now)
	if again, _ := a.For([]string{"localhost"}, nil, now.Add(40*24*time.Hour)); again != same {
		t.Error("it is made anew every time")
	}
	if later, _ := a.For([]string{"localhost"}, nil, now.Add(61*24*time.Hour)); later == same {
		t.Error("it is not made anew before it ends")
	}
	if other, _ := a.For([]string{"localhost"}, addrs("10.0.0.8"), now); verify(other, "10.0.0.8", now) != nil {
		t.Error("another address is not vouched for")
	}
	if _, err := a.For([]string{"bank.test"}, addrs("203.0.113.9"), now); err == nil {
		t.Error("a certificate for nothing")
	}
	connects(t)
}

// connects serves by it and calls, trusting it and not.
func connects(t *testing.T) {
	t.Helper()
	a, err := Open(t.TempDir(), time.Now())
	if err != nil {
		t.Fatal(err)
	}
	ln, err := tls.Listen("tcp", "127.0.0.1:0", a.Pages(func() []string { return []string{"localhost"} },
		func() []netip.Addr { return addrs("127.0.0.1") }))
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	go func() {
		for {
			c, err := ln.Accept()
			if err != nil {
				return
			}
			_, _ = c.Write([]byte("ok"))
			c.Close()
		}
	}()
	roots := x509.NewCertPool()
	roots.AppendCertsFromPEM(a.PEM)
	dial := func(config *tls.Config) error {
		c, err := tls.DialWithDialer(&net.Dialer{Timeout: 5 * time.Second}, "tcp", ln.Addr().String(), config)
		if err == nil {
			c.Close()
		}
		return err
	}
	if err := dial(&tls.Config{RootCAs: roots}); err != nil {
		t.Errorf("trusted: %v", err)
	}
	if err := dial(&tls.Config{RootCAs: x509.NewCertPool()}); err == nil {
		t.Error("whoever does not trust it gets in")
	}
}

// It is the same when it is opened again; its key is its owner's alone; and one that is not whole, damaged or at its
// end is refused and left as it is.
func TestKept(t *testing.T) {
	now := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	dir := filepath.Join(t.TempDir(), "own")
	a, err := Open(dir, now)
	if err != nil {
		t.Fatal(err)
	}
	b, err := Open(dir, now.AddDate(5, 0, 0))
	if err != nil || a.Fingerprint() != b.Fingerprint() || len(a.Fingerprint()) != 95 {
		t.Errorf("opened again it is another: %v", err)
	}
	if info, err := os.Stat(filepath.Join(dir, keyPEM)); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("its key is %v, %v", info.Mode(), err)
	}
	if _, err := Open(dir, now.AddDate(9, 11, 0)); err == nil {
		t.Error("it is used to its last day, when no page's certificate fits in any more")
	}
	key := filepath.Join(dir, keyPEM)
	was, err := os.ReadFile(key)
	if err != nil {
		t.Fatal(err)
	}
	elsewhere := filepath.Join(t.TempDir(), "other")
	if _, err := Open(elsewhere, now); err != nil {
		t.Fatal(err)
	}
	others, err := os.ReadFile(filepath.Join(elsewhere, keyPEM))
	if err != nil {
		t.Fatal(err)
	}
	for name, is := range map[string][]byte{"cut short": was[:40], "another's": others, "gone": nil} {
		if err := os.WriteFile(key, is, 0o600); err != nil {
			t.Fatal(err)
		}
		if is == nil {
			_ = os.Remove(key)
		}
		before, _ := os.ReadFile(filepath.Join(dir, crtPEM))
		if _, err := Open(dir, now); err == nil {
			t.Errorf("%s: it opens", name)
		}
		if after, _ := os.ReadFile(filepath.Join(dir, crtPEM)); string(after) != string(before) {
			t.Errorf("%s: its certificate was changed", name)
		}
	}
	if err := os.WriteFile(key, was, 0o600); err != nil {
		t.Fatal(err)
	}
	if c, err := Open(dir, now); err != nil || c.Fingerprint() != a.Fingerprint() {
		t.Errorf("put back it is another: %v", err)
	}
}
