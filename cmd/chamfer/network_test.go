package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"io"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

// A machine and a phone on a network of their own: two network namespaces and a cable between them.
const (
	machineAt = "10.77.0.1"
	phoneAt   = "10.77.0.2"
	barn      = "barn.local" // what the machine is called
)

// network lays it, or skips with the reason.
func network(t *testing.T) (machine, phone string) {
	t.Helper()
	for _, tool := range []string{"ip", "certutil", "chromium"} {
		if _, err := exec.LookPath(tool); err != nil {
			t.Skipf("%s is not installed: apt-get install iproute2 libnss3-tools chromium", tool)
		}
	}
	if os.Getuid() != 0 {
		t.Skip("a network of one's own is laid by root")
	}
	id := os.Getpid() % 100000
	machine, phone = fmt.Sprint("chm", id), fmt.Sprint("chp", id)
	ip := func(args ...string) error { return exec.Command("ip", args...).Run() }
	if err := ip("netns", "add", machine); err != nil {
		t.Skipf("no network namespace can be made here: %v", err)
	}
	names := filepath.Join("/etc/netns", phone)
	t.Cleanup(func() {
		_ = ip("netns", "del", machine)
		_ = ip("netns", "del", phone)
		_ = os.RemoveAll(names)
	})
	for _, args := range [][]string{
		{"netns", "add", phone},
		{"link", "add", machine, "netns", machine, "type", "veth", "peer", "name", phone, "netns", phone},
		{"-n", machine, "link", "set", machine, "addrgenmode", "none"}, // an address that comes late is a network that
		{"-n", phone, "link", "set", phone, "addrgenmode", "none"},     // has changed, and browsers begin anew
		{"-n", machine, "addr", "add", machineAt + "/24", "dev", machine},
		{"-n", phone, "addr", "add", phoneAt + "/24", "dev", phone},
		{"-n", machine, "link", "set", machine, "up"}, {"-n", phone, "link", "set", phone, "up"},
		{"-n", machine, "link", "set", "lo", "up"}, {"-n", phone, "link", "set", "lo", "up"},
	} {
		if err := ip(args...); err != nil {
			t.Skipf("ip %v: %v", args, err)
		}
	}
	if err := os.MkdirAll(names, 0o755); err != nil {
		t.Skip(err)
	}
	if err := os.WriteFile(filepath.Join(names, "hosts"), []byte("127.0.0.1 localhost\n"+machineAt+" "+barn+"\n"),
		0o644); err != nil {
		t.Fatal(err)
	}
	return machine, phone
}

// inside starts this binary again, in a network namespace.
func inside(ns string, env []string, args ...string) *exec.Cmd {
	cmd := exec.Command("ip", append([]string{"netns", "exec", ns, os.Args[0]}, args...)...)
	cmd.Env = append(os.Environ(), env...)
	return cmd
}

// firstAt is the path of the link to the first account, as it is printed.
var firstAt = regexp.MustCompile(`is made, within a day, at https?://[^/]+(/in/\S+)`)

// As a phone reaches it, over a network and not over loopback: with the authority not trusted the browser stops; once
// it is, the page is a secure one, with a screen that can be kept awake and workers; the first account, a passkey
// under the machine's name, and a project by the code on the screen, which is taken along, ticked with the cable out
// and caught up with. Over plain http the page says what the browser refuses, and the way round.
func TestOnTheNetwork(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts browsers")
	}
	machine, phone := network(t)
	dir := t.TempDir()
	for _, d := range []string{"safe", "open"} {
		if err := os.Mkdir(filepath.Join(dir, d), 0o700); err != nil {
			t.Fatal(err)
		}
	}
	serve := func(data string, more ...string) (first string) {
		t.Helper()
		cmd := inside(machine, []string{"CHAMFER_BE=1"}, append([]string{"demo", "--data", filepath.Join(dir, data)},
			more...)...)
		var errors bytes.Buffer
		cmd.Stderr = &errors
		out, err := cmd.StdoutPipe()
		if err == nil {
			err = cmd.Start()
		}
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
		lines := bufio.NewScanner(out)
		at := false
		for lines.Scan() {
			at = at || strings.Contains(lines.Text(), "//"+machineAt+":")
			if m := firstAt.FindStringSubmatch(lines.Text()); m != nil {
				first = m[1]
			}
			if at && (first != "" || strings.Contains(lines.Text(), "Everyone on this network")) {
				go func() { _, _ = io.Copy(io.Discard, out) }()
				return first
			}
		}
		t.Fatalf("%v does not start: %s", more, errors.String())
		return ""
	}
	first := serve("safe/beds.db", "--addr", "0.0.0.0:8420", "--accounts", "--secure", "--host", barn)
	serve("open/beds.db", "--addr", "0.0.0.0:8421", "--trust-network")
	cmd := inside(phone, []string{"CHAMFER_PHONE=" + first, "HOME=" + dir}, "-test.run", "^TestInsideThePhone$", "-test.v")
	said, err := cmd.CombinedOutput()
	if err != nil || !bytes.Contains(said, []byte("--- PASS: TestInsideThePhone")) {
		t.Fatalf("%v\n%s", err, said)
	}
	t.Logf("%s", said)
}

// TestInsideThePhone is what the one above does in the phone's network; by itself it does nothing.
func TestInsideThePhone(t *testing.T) {
	first := os.Getenv("CHAMFER_PHONE")
	if first == "" {
		t.Skip("it is part of TestOnTheNetwork")
	}
	home := os.Getenv("HOME")
	safe, named := "https://"+machineAt+":8420", "https://"+barn+":8420"

	b := chromium(t, home)
	p := b.MustPage()
	if err := p.Timeout(20 * time.Second).Navigate(safe + "/phone"); err == nil ||
		!strings.Contains(err.Error(), "ERR_CERT_AUTHORITY_INVALID") {
		t.Fatalf("with the authority not trusted: %v", err)
	}
	// Going on past the warning, as the page says, to fetch the certificate.
	if err := (proto.SecuritySetIgnoreCertificateErrors{Ignore: true}).Call(p); err != nil {
		t.Fatal(err)
	}
	p.MustNavigate(safe + "/phone").MustWaitLoad()
	pem := p.MustEval(`() => fetch('/phone/authority.crt').then(r => r.text())`).String()
	if text := p.MustElement("main").MustText(); !strings.Contains(text, "Fingerprint") || !strings.HasPrefix(pem,
		"-----BEGIN") {
		t.Fatalf("%s\n%s", text, pem)
	}
	b.MustClose()

	db := filepath.Join(home, ".pki", "nssdb")
	crt := filepath.Join(home, "authority.crt")
	if err := os.MkdirAll(db, 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(crt, []byte(pem), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{"-N", "--empty-password", "-d", "sql:" + db},
		{"-A", "-d", "sql:" + db, "-n", "chamfer", "-t", "C,,", "-i", crt}} {
		if out, err := exec.Command("certutil", args...).CombinedOutput(); err != nil {
			t.Fatalf("certutil %v: %v %s", args, err, out)
		}
	}
	b = chromium(t, home)
	p = b.MustPage()
	p.MustNavigate(named + first).MustWaitLoad() // no warning any more
	secure := `() => [isSecureContext, 'serviceWorker' in navigator, 'wakeLock' in navigator,
		!!window.PublicKeyCredential].join()`
	if got := p.MustEval(secure).String(); got != "true,true,true,true" {
		t.Errorf("trusted, the page may do %s", got)
	}
	const words = "pear kettle hinge walnut"
	p.MustElement("#in-name").MustInput("Ottoline")
	p.MustElement("#in-password").MustInput(words)
	p.MustElement("#in-again").MustInput(words)
	press(p, "main form button.main")
	if err := (proto.WebAuthnEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	if _, err := (proto.WebAuthnAddVirtualAuthenticator{Options: &proto.WebAuthnVirtualAuthenticatorOptions{
		Protocol: proto.WebAuthnAuthenticatorProtocolCtap2, Transport: proto.WebAuthnAuthenticatorTransportInternal,
		HasResidentKey: true, HasUserVerification: true, IsUserVerified: true,
		AutomaticPresenceSimulation: true}}).Call(p); err != nil {
		t.Fatal(err)
	}
	p.MustNavigate(named + "/you").MustWaitLoad()
	p.MustElement("form[data-passkey] button").MustClick()
	p.Timeout(20*time.Second).MustWait(`(name) => !!document.querySelector('main')?.textContent.includes('at ' + name)`,
		barn)
	press(p, "form[action='/sign-out'] button")
	p.MustElement("form[data-passkey] button").MustClick()
	p.Timeout(20 * time.Second).MustWait(`() => document.querySelector('h1')?.textContent === 'Your beds'`)
	other := b.MustIncognito().MustPage()
	other.MustSetViewport(390, 844, 1, true)
	other.MustNavigate(safe + "/sign-in").MustWaitLoad()
	if text := other.MustElement("main").MustText(); !strings.Contains(text, "opened by a number") {
		t.Errorf("under an address it does not say why there is no passkey: %s", text)
	}

	// One project on a phone, by the code on the screen.
	p.MustNavigate(named + "/p/2/build").MustWaitLoad()
	press(p, "form[action='/p/2/phone'] button")
	link := p.MustElement("input.link").MustProperty("value").String()
	other.MustNavigate(link).MustWaitLoad()
	press(other, "main form button.main")
	if at := other.MustInfo().URL; !strings.HasSuffix(at, "/p/2/build") {
		t.Fatalf("the code leads to %s", at)
	}
	other.MustElement("[data-awake] button").MustClick()
	other.Timeout(20 * time.Second).MustWait(`() => document.querySelector('[data-awake] button').ariaPressed === 'true'`)
	other.MustElement(".step form button.main").MustClick()
	other.Timeout(20 * time.Second).MustWait(`() => !!document.querySelector('.steps .tick.done')`)

	// It takes the job along, over TLS from the machine's address; with the cable out a step is ticked, and the page is
	// there when it is opened again; plugged in, the tick arrives.
	soon := func() *rod.Page { return other.Timeout(30 * time.Second) }
	soon().MustWait(`() => !document.querySelector('[data-take]').hidden`)
	other.MustElement("[data-take]").MustClick()
	soon().MustWait(`() => document.querySelector('.along-kept').textContent.startsWith('All ')`)
	cable(t, "down")
	ticked := other.MustEval(`() => {
		const form = document.querySelector('.step form[data-next], .step form')
		form.querySelector('button.main').click()
		return new FormData(form).get('tick')
	}`).String()
	soon().MustWait(`() => document.querySelector('.along-waits').textContent.startsWith('One tick waits')`)
	other.MustReload().MustWaitLoad()
	soon().MustWait(`() => document.querySelectorAll('.steps .tick.done').length === 2`)
	cable(t, "up")
	soon().MustWait(`() => document.querySelector('.along-waits').textContent === ''`)
	p.MustNavigate(named + "/p/2/build?step=" + ticked).MustWaitLoad()
	if !p.MustEval(`() => document.querySelectorAll('.steps .tick.done').length === 2`).Bool() {
		t.Errorf("%s has not arrived", ticked)
	}
	third := b.MustIncognito().MustPage()
	third.MustNavigate(link).MustWaitLoad()
	if text := third.MustElement("main").MustText(); !strings.Contains(text, "opens nothing") {
		t.Errorf("the code works twice: %s", text)
	}
	other.MustNavigate(safe + "/").MustWaitLoad()
	if text := other.MustElement("main").MustText(); strings.Contains(text, "Wren") {
		t.Error("the phone sees more than its project")
	}

	// Plain http: what the browser refuses is said, with the way round.
	plain := b.MustIncognito().MustPage()
	plain.MustSetViewport(390, 844, 1, true)
	plain.MustNavigate("http://" + machineAt + ":8421/phone").MustWaitLoad()
	if got := plain.MustEval(secure).String(); !strings.HasPrefix(got, "false,false,false") {
		t.Errorf("over plain http the page may do %s", got)
	}
	if text := plain.MustElement("main").MustText(); !strings.Contains(text, "plain http") ||
		!strings.Contains(text, "build sheet") {
		t.Errorf("it does not say what plain http costs, and the way round: %s", text)
	}
	plain.MustNavigate("http://" + machineAt + ":8421/p/2/build").MustWaitLoad()
	if text := plain.MustElement("[data-awake]").MustText(); !strings.Contains(text, "Over plain http no browser") {
		t.Errorf("it does not say why the screen goes dark: %q", text)
	}
	sheet := plain.MustEval(`() => fetch(document.querySelector('a[href$="build-sheet.html"]').href)
		.then(r => r.text())`).String()
	plain.MustNavigate("data:text/html;base64," + base64.StdEncoding.EncodeToString([]byte(sheet))).MustWaitLoad()
	plain.MustElement(".step input").MustClick()
	code := plain.MustElement("#code").MustText()
	plain.MustNavigate("http://" + machineAt + ":8421/p/2/build").MustWaitLoad()
	plain.MustElement("#ticks-code").MustInput(code)
	press(plain, "form[action='/p/2/ticks'] button")
	plain.Timeout(20 * time.Second).MustWait(`() => document.querySelectorAll('.steps .tick.done').length === 1`)
	if _, err := os.Stat(crt); err != nil {
		t.Fatal(err)
	}
}

// cable pulls the phone's cable out, or plugs it in.
func cable(t *testing.T, how string) {
	t.Helper()
	all, err := net.Interfaces()
	if err != nil {
		t.Fatal(err)
	}
	for _, i := range all {
		if i.Flags&net.FlagLoopback == 0 {
			if out, err := exec.Command("ip", "link", "set", i.Name, how).CombinedOutput(); err != nil {
				t.Fatalf("%v: %s", err, out)
			}
		}
	}
}

// press presses what leads to another page.
func press(p *rod.Page, selector string) {
	wait := p.MustWaitNavigation()
	p.MustElement(selector).MustClick()
	wait()
	p.MustWaitLoad()
}

func chromium(t *testing.T, home string) *rod.Browser {
	t.Helper()
	l := launcher.New().Bin("chromium").Leakless(false).NoSandbox(true).Headless(true).Set("disable-gpu").
		Set("disable-quic").Set("no-first-run").Set("disable-background-networking").Set("disable-component-update").
		Set("disable-sync").UserDataDir(filepath.Join(home, fmt.Sprint("profile", time.Now().UnixNano()))).
		Env(append(os.Environ(), "HOME="+home)...)
	at, err := l.Launch()
	if err != nil {
		t.Fatal(err)
	}
	ctx, done := context.WithTimeout(context.Background(), 3*time.Minute)
	b := rod.New().ControlURL(at).Context(ctx)
	if err := b.Connect(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		_ = b.Close()
		done()
		l.Kill()
	})
	return b
}
