package main

import (
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/long"
	"chamfer/store"
)

// TestMain lets the tests' binary be chamfer itself, to be started and killed.
func TestMain(m *testing.M) {
	if os.Getenv("CHAMFER_BE") != "" {
		os.Exit(run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
	}
	os.Exit(m.Run())
}

func chamfer(args ...string) *exec.Cmd {
	cmd := exec.Command(os.Args[0], args...)
	cmd.Env = append(os.Environ(), "CHAMFER_BE=1")
	return cmd
}

// server is a chamfer that was started.
type server struct {
	*exec.Cmd
	at     string
	errors *bytes.Buffer
}

var isAt = regexp.MustCompile(`Chamfer is at (https?://\S+) `)

// start starts a server and waits for its address.
func start(t *testing.T, args ...string) *server {
	t.Helper()
	s := begin(t, args...)
	if s.at == "" {
		t.Fatalf("%v does not start: %s", args, s.errors)
	}
	return s
}

// begin starts a server and waits for its address, "" where it has ended instead.
func begin(t *testing.T, args ...string) *server {
	t.Helper()
	s := &server{Cmd: chamfer(args...), errors: &bytes.Buffer{}}
	s.Stderr = s.errors
	out, err := s.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Process.Kill(); _ = s.Wait() })
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if m := isAt.FindStringSubmatch(lines.Text()); m != nil {
			s.at = m[1]
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return s
		}
	}
	_ = s.Wait()
	return s
}

// client posts without following what it is led to.
var client = &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}

// rename posts a name; the revision is the one that is known.
func (s *server) rename(id, rev int64, name string) error {
	a, err := client.PostForm(
		fmt.Sprintf("%s/p/%d/rename", s.at, id),
		url.Values{"rev": {fmt.Sprint(rev)}, "name": {name}},
	)
	if err != nil {
		return err
	}
	defer a.Body.Close()
	if _, err := io.Copy(io.Discard, a.Body); err != nil {
		return err
	}
	if a.StatusCode != http.StatusSeeOther {
		return fmt.Errorf("status %d", a.StatusCode)
	}
	return nil
}

// names are what the projects of a file are called, by number, at their heads.
func names(t *testing.T, path string) (map[int64]string, map[int64]int64) {
	t.Helper()
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	list, err := s.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 100)
	if err != nil {
		t.Fatal(err)
	}
	named, heads := map[int64]string{}, map[int64]int64{}
	for _, l := range list {
		p, err := l.Read()
		if err != nil {
			t.Fatal(err)
		}
		named[p.ID], heads[p.ID] = p.Design.Name, p.Head
	}
	return named, heads
}

func number(name string) (n int64) {
	_, _ = fmt.Sscanf(name, "change %d", &n)
	return n
}

// A server that is killed at any moment amid four writers has kept all that it
// acknowledged, and every copy made in between what had been acknowledged before it.
func TestKilled(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "odd?beds.db")
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	const writers = 4
	for range writers {
		if _, err := s.Create(store.Home, design.New(catalog.Regions()[0], "change 0"), "started", store.Kept{}); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(14, 200))
	var acked [writers + 1]atomic.Int64
	kills, copies, changes := long.Of(200), 0, int64(0)
	for kill := range kills {
		_, heads := names(t, path)
		server := start(t, "serve", "--addr", "127.0.0.1:0", "--data", path)
		var wait sync.WaitGroup
		for id := int64(1); id <= writers; id++ {
			wait.Go(func() {
				for rev := heads[id]; ; {
					n := acked[id].Load() + 1
					if server.rename(id, rev, fmt.Sprint("change ", n)) != nil {
						return // it has been killed; the change may be kept or not
					}
					acked[id].Store(n)
					rev = headOf(path, id, rev)
					if rev == 0 {
						return
					}
				}
			})
		}
		var before [writers + 1]int64
		copied := ""
		die := time.After(time.Duration(60+r.IntN(140)) * time.Millisecond)
		if kill%2 == 0 {
			for id := range before {
				before[id] = acked[id].Load()
			}
			copied = filepath.Join(dir, fmt.Sprintf("copy %d.db", kill))
			if out, err := chamfer("backup", copied, "--data", path).CombinedOutput(); err != nil {
				t.Fatalf("kill %d: no copy: %v\n%s", kill, err, out)
			}
			copies++
		}
		<-die
		if err := server.Process.Kill(); err != nil {
			t.Fatal(err)
		}
		_ = server.Wait()
		wait.Wait()
		now, _ := names(t, path)
		for id := int64(1); id <= writers; id++ {
			n, was := number(now[id]), acked[id].Load()
			if n < was || n > was+1 {
				t.Fatalf("kill %d: project %d is at change %d, and %d had been acknowledged", kill, id, n, was)
			}
			changes += n - was
			acked[id].Store(n)
		}
		if copied == "" {
			continue
		}
		back := filepath.Join(dir, "back.db")
		if out, err := chamfer("restore", copied, "--data", back, "--over").CombinedOutput(); err != nil {
			t.Fatalf("kill %d: the copy is not brought back: %v\n%s", kill, err, out)
		}
		kept, _ := names(t, back)
		for id := int64(1); id <= writers; id++ {
			if n := number(kept[id]); n < before[id] || n > acked[id].Load() {
				t.Fatalf(
					"kill %d: project %d is at change %d in the copy; %d had been acknowledged before it, %d after",
					kill,
					id,
					n,
					before[id],
					acked[id].Load(),
				)
			}
		}
	}
	total := int64(0)
	for id := range acked {
		total += acked[id].Load()
	}
	t.Logf("%d kills, %d copies, %d changes kept, %d of them not acknowledged yet", kills, copies, total, changes)
	if total < int64(kills) {
		t.Errorf("only %d changes were made", total)
	}
}

// headOf reads a project's head beside the server, 0 where it cannot be read.
func headOf(path string, id, was int64) int64 {
	s, err := readers.open(path)
	if err != nil {
		return 0
	}
	h, err := s.Standing(context.Background(), id)
	if err != nil || h.Head == was {
		return 0
	}
	return h.Head
}

// readers holds one open store for all writers of a test.
var readers reader

type reader struct {
	mu   sync.Mutex
	path string
	s    *store.Store
}

func (r *reader) open(path string) (*store.Store, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.s != nil && r.path == path {
		return r.s, nil
	}
	s, err := store.Open(path)
	r.path, r.s = path, s
	return s, err
}

// exit runs chamfer to its end and returns its exit code and what it said.
func exit(t *testing.T, args ...string) (int, string) {
	t.Helper()
	cmd := chamfer(args...)
	cmd.Stdin = strings.NewReader("")
	done := make(chan struct{})
	timer := time.AfterFunc(20*time.Second, func() { _ = cmd.Process.Kill() })
	defer timer.Stop()
	out, err := cmd.CombinedOutput()
	close(done)
	var x *exec.ExitError
	if err != nil && !errors.As(err, &x) {
		t.Fatal(err)
	}
	return cmd.ProcessState.ExitCode(), string(out)
}

// What is not let in says how it would be; a wrong call is 2.
func TestCalls(t *testing.T) {
	dir := t.TempDir()
	data := filepath.Join(dir, "beds.db")
	text := filepath.Join(dir, "text")
	if err := os.WriteFile(text, []byte("Dear diary"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		args []string
		code int
		says string
	}{
		{[]string{"sevre"}, 2, "no command"},
		{[]string{"serve", "now"}, 2, "takes no"},
		{[]string{"examples", "a", "b"}, 2, "one example"},
		{[]string{"serve", "--data", data, "--addr", "nonsense"}, 2, "no address and port"},
		{[]string{"serve", "--data", data, "--addr", "127.0.0.1:99999"}, 2, "no address and port"},
		{[]string{"serve", "--data", data, "--addr", "0.0.0.0:0"}, 2, "--trust-network"},
		{[]string{"serve", "--data", data, "--addr", ":0"}, 2, "--trust-network"},
		{[]string{"serve", "--data", data, "--addr", "[::]:0"}, 2, "--trust-network"},
		{[]string{"serve", "--data", data, "--addr", "192.0.2.1:0"}, 2, "--trust-network"},
		{[]string{"serve", "--data", data, "--addr", "192.0.2.1:0", "--trust-network"}, 2, "no such address"},
		{[]string{"serve", "--data", data, "--addr", "0.0.0.0:0", "--accounts"}, 2, "--secure"},
		{[]string{"serve", "--data", data, "--addr", "0.0.0.0:0"}, 2, "--accounts"},
		{[]string{"serve", "--data", data, "--proxy", "x", "--trust-network"}, 2, "is no address"},
		{[]string{"serve", "--data", text}, 1, "no file of projects"},
		{[]string{"demo", "--reset", "--data", text}, 1, "no file of projects"},
		{[]string{"backup", filepath.Join(dir, "copy"), "--data", filepath.Join(dir, "nowhere")}, 2, "no such file"},
		{[]string{"restore", filepath.Join(dir, "nowhere"), "--data", data}, 2, "no such file"},
		{[]string{"doctor", "--data", text}, 2, "no file of projects"},
		{[]string{"backup"}, 2, "give one"},
		{[]string{"version"}, 0, "chamfer"},
	} {
		if code, out := exit(t, c.args...); code != c.code || !strings.Contains(out, c.says) {
			t.Errorf("%v: exit code %d, want %d: %s", c.args, code, c.code, out)
		}
	}
	if raw, _ := os.ReadFile(text); string(raw) != "Dear diary" {
		t.Error("a text was written to")
	}
	if _, err := os.Stat(data); err == nil {
		t.Error("a file was made for a call that was refused")
	}
}

// A running demo keeps its edits when another is asked to reset it; a port that is taken
// resets nothing.
func TestReset(t *testing.T) {
	data := filepath.Join(t.TempDir(), "demo.db")
	one := start(t, "demo", "--addr", "127.0.0.1:0", "--data", data)
	if err := one.rename(1, 1, "mine"); err != nil {
		t.Fatal(err)
	}
	if code, out := exit(t, "demo", "--reset", "--addr", strings.TrimPrefix(one.at, "http://"), "--data",
		data); code != 1 ||
		!strings.Contains(out, "in use") {
		t.Errorf("on the same port: %d, %s", code, out)
	}
	if code, out := exit(t, "demo", "--reset", "--addr", "127.0.0.1:0", "--data", data); code != 1 ||
		!strings.Contains(out, "stop that one first") {
		t.Errorf("beside it: %d, %s", code, out)
	}
	if err := one.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	if err := one.Wait(); err != nil {
		t.Errorf("stopped with %v: %s", err, one.errors)
	}
	if now, _ := names(t, data); now[1] != "mine" {
		t.Errorf("the first project is called %q", now[1])
	}
	two := start(t, "demo", "--reset", "--addr", "127.0.0.1:0", "--data", data)
	_ = two.Process.Signal(os.Interrupt)
	_ = two.Wait()
	if now, _ := names(t, data); now[1] == "mine" || len(now) == 0 {
		t.Errorf("after a reset the first is called %q, of %d", now[1], len(now))
	}
}

// A stop waits for nobody for long, and is no fault; a body that does not come is cut off.
func TestStopAmidSlowRequest(t *testing.T) {
	data := filepath.Join(t.TempDir(), "beds.db")
	s := start(t, "demo", "--addr", "127.0.0.1:0", "--data", data)
	conn, err := net.Dial("tcp", strings.TrimPrefix(s.at, "http://"))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	fmt.Fprintf(
		conn,
		"POST /p/1/undo HTTP/1.1\r\nHost: localhost\r\nContent-Type:"+
			" application/x-www-form-urlencoded\r\nContent-Length: 400\r\n\r\nrev=1",
	)
	if long.Whole() { // it takes the time there is for a body
		reply, err := io.ReadAll(conn)
		if err != nil || !bytes.Contains(reply, []byte(" 408 ")) {
			t.Errorf("%v: %.300s", err, reply)
		}
		fmt.Fprintf(conn, "POST /p/1/undo HTTP/1.1\r\nHost: localhost\r\n")
	}
	if err := s.Process.Signal(syscall.SIGTERM); err != nil {
		t.Fatal(err)
	}
	if err := s.Wait(); err != nil {
		t.Errorf("stopped with %v: %s", err, s.errors)
	}
	if _, err := os.Stat(data + "-wal"); err == nil {
		t.Error("a stop leaves a journal beside the file")
	}
}

// Where the network is trusted the real addresses are printed, answered, and told of.
func TestTrustNetwork(t *testing.T) {
	s := start(t, "demo", "--addr", "0.0.0.0:0", "--trust-network", "--data", filepath.Join(t.TempDir(), "beds.db"))
	if !strings.HasPrefix(s.at, "http://127.0.0.1:") {
		t.Errorf("it is at %s", s.at)
	}
	a, err := http.Get(s.at)
	if err != nil {
		t.Fatal(err)
	}
	defer a.Body.Close()
	page, err := io.ReadAll(a.Body)
	if err != nil || !bytes.Contains(page, []byte("Open to this network")) {
		t.Errorf("the page does not say so: %v", err)
	}
}

// Served by an authority of its own: whoever trusts its certificate gets in, whoever does not is kept from it, and
// plain http is not answered; the page for phones hands out that certificate with its fingerprint; started again it is
// the same; and a certificate without its key is refused before anything is opened.
func TestSecure(t *testing.T) {
	dir := t.TempDir()
	data := filepath.Join(dir, "p.db")
	s := start(t, "serve", "--addr", "127.0.0.1:0", "--data", data, "--secure")
	if !strings.HasPrefix(s.at, "https://") {
		t.Fatalf("it is at %s", s.at)
	}
	kept, err := os.ReadFile(filepath.Join(dir, "chamfer-authority", "authority.crt"))
	if err != nil {
		t.Fatal(err)
	}
	roots := x509.NewCertPool()
	roots.AppendCertsFromPEM(kept)
	trusting := &http.Client{Timeout: 10 * time.Second, Transport: &http.Transport{TLSClientConfig: &tls.Config{
		RootCAs: roots}}}
	get := func(c *http.Client, url string) (string, error) {
		answer, err := c.Get(url)
		if err != nil {
			return "", err
		}
		defer answer.Body.Close()
		raw, err := io.ReadAll(answer.Body)
		return string(raw), err
	}
	page, err := get(trusting, s.at+"/phone")
	block, _ := pem.Decode(kept)
	sum := fmt.Sprintf("%X", sha256.Sum256(block.Bytes))
	if err != nil || !strings.Contains(page, sum[:2]+":"+sum[2:4]+":"+sum[4:6]) {
		t.Errorf("%v: the page for phones does not show %s", err, sum[:6])
	}
	if crt, err := get(trusting, s.at+"/phone/authority.crt"); err != nil || crt != string(kept) {
		t.Errorf("what is handed out is another certificate: %v", err)
	}
	if _, err := get(&http.Client{Timeout: 10 * time.Second}, s.at); err == nil {
		t.Error("whoever trusts nobody here gets in")
	}
	if page, _ := get(http.DefaultClient, strings.Replace(s.at, "https", "http", 1)); strings.Contains(page, "Your beds") {
		t.Error("plain http is answered")
	}
	_ = s.Process.Signal(syscall.SIGTERM)
	_ = s.Wait()
	again := start(t, "serve", "--addr", "127.0.0.1:0", "--data", data, "--secure")
	if _, err := get(trusting, again.at); err != nil {
		t.Errorf("started again: %v", err)
	}
	out, err := chamfer("serve", "--addr", "127.0.0.1:0", "--data", filepath.Join(dir, "q.db"), "--cert",
		filepath.Join(dir, "x")).CombinedOutput()
	if err == nil || !strings.Contains(string(out), "--cert and --key go together") {
		t.Errorf("a certificate without its key: %v, %s", err, out)
	}
	if _, err := os.Stat(filepath.Join(dir, "q.db")); err == nil {
		t.Error("its file was made all the same")
	}
}
