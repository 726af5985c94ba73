package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"chamfer/long"
	"chamfer/store"
	"chamfer/stream"
)

// gardeners is a federation on one machine: a log that three processes keep, Chamfers that share it, and a plain proxy
// before them that asks each in turn.
type gardeners struct {
	t       *testing.T
	dir     string
	streams [3]*server
	addrs   [3]string
	routes  [3]string
	pages   []*server
	at      string // of the proxy
	next    atomic.Int64
	mu      sync.Mutex
}

func freeAddr(t *testing.T) string {
	t.Helper()
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	return ln.Addr().String()
}

func federation(t *testing.T, pages int) *gardeners {
	t.Helper()
	g := &gardeners{t: t, dir: t.TempDir()}
	if err := os.WriteFile(filepath.Join(g.dir, "secret"), []byte("beans and barley 7\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	for i := range g.streams {
		g.addrs[i], g.routes[i] = freeAddr(t), freeAddr(t)
	}
	for i := range g.streams {
		g.keep(i)
	}
	g.pages = make([]*server, pages)
	for i := range g.pages {
		g.serve(i)
	}
	proxy := httptest.NewServer(&httputil.ReverseProxy{
		Rewrite: func(r *httputil.ProxyRequest) {
			g.mu.Lock()
			to := g.pages[int(g.next.Add(1))%len(g.pages)].at
			g.mu.Unlock()
			u, err := url.Parse(to)
			if err != nil {
				panic(err)
			}
			r.SetURL(u)
			r.Out.Host = r.In.Host
			r.SetXForwarded()
		},
		ErrorLog: slog.NewLogLogger(slog.DiscardHandler, slog.LevelError),
	})
	t.Cleanup(proxy.Close)
	g.at = proxy.URL
	return g
}

// keep starts one of the machines of the log.
func (g *gardeners) keep(i int) {
	g.t.Helper()
	args := []string{"stream", "--name", fmt.Sprint("s", i), "--data", filepath.Join(g.dir, fmt.Sprint("s", i)),
		"--addr", g.addrs[i], "--route", g.routes[i], "--secret", filepath.Join(g.dir, "secret")}
	for j, r := range g.routes {
		if j != i {
			args = append(args, "--other", r)
		}
	}
	s := &server{Cmd: chamfer(args...)}
	out, err := s.StdoutPipe()
	if err != nil {
		g.t.Fatal(err)
	}
	if err := s.Start(); err != nil {
		g.t.Fatal(err)
	}
	g.t.Cleanup(func() { _ = s.Process.Kill(); _ = s.Wait() })
	if !bufio.NewScanner(out).Scan() {
		g.t.Fatalf("machine %d of the log does not start", i)
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	g.streams[i] = s
}

// serve starts one of the Chamfers.
func (g *gardeners) serve(i int) {
	g.t.Helper()
	args := []string{"serve", "--addr", "127.0.0.1:0", "--data", filepath.Join(g.dir, fmt.Sprintf("beds %d.db", i)),
		"--proxy", "127.0.0.1", "--cluster-secret", filepath.Join(g.dir, "secret")}
	for _, a := range g.addrs {
		args = append(args, "--cluster", a)
	}
	s := start(g.t, args...)
	g.mu.Lock()
	g.pages[i] = s
	g.mu.Unlock()
}

// without has the whole log killed: after ten seconds nobody is answered, since nobody could know who was signed out;
// when it is back, so are the pages.
func (g *gardeners) without(path string) {
	g.t.Helper()
	for _, s := range g.streams {
		_ = s.Process.Kill()
		_ = s.Wait()
	}
	p := newPerson(g.pages[0].at)
	until := func(path string, want int, says string) {
		g.t.Helper()
		for since := time.Now(); ; time.Sleep(100 * time.Millisecond) {
			status, page := p.get(path)
			if status == want && strings.Contains(page, says) {
				return
			}
			if time.Since(since) > time.Minute {
				g.t.Fatalf("%s: %d %.200s", path, status, page)
			}
		}
	}
	until("/readyz", http.StatusServiceUnavailable, "lost touch")
	until(path, http.StatusServiceUnavailable, "lost touch")
	until("/healthz", http.StatusOK, "ok")
	for i := range g.streams {
		g.keep(i)
	}
	until("/readyz", http.StatusOK, "ok")
}

// leader is the machine that leads the log.
func (g *gardeners) leader() int {
	g.t.Helper()
	secret, err := secretIn(filepath.Join(g.dir, "secret"))
	if err != nil {
		g.t.Fatal(err)
	}
	l, err := stream.Join(g.t.Context(), stream.Ask{Addresses: g.addrs[:], Secret: secret, Copies: 3,
		Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		g.t.Fatal(err)
	}
	defer l.Close()
	name, err := l.Leader(g.t.Context())
	if err != nil {
		g.t.Fatal(err)
	}
	i := 0
	if _, err := fmt.Sscanf(name, "s%d", &i); err != nil {
		g.t.Fatal(name, err)
	}
	return i
}

// person is somebody's browser.
type person struct {
	*http.Client
	at string
}

func newPerson(at string) *person {
	jar, _ := cookiejar.New(nil) // never fails
	return &person{&http.Client{Jar: jar, Timeout: 30 * time.Second,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}, at}
}

func (p *person) get(path string) (int, string) { return pageOf(p.Client.Get(p.at + path)) }

func (p *person) post(path string, form url.Values) (int, string) {
	return pageOf(p.PostForm(p.at+path, form))
}

var (
	inAt   = regexp.MustCompile(`/in/\S+`)
	revAt  = regexp.MustCompile(`name="rev" value="(\d+)"`)
	nameAt = regexp.MustCompile(`change (\d+)`)
)

// stands reads where a project stands: its revision, and how often it was changed.
func (p *person) stands(id int64) (rev string, n int64, err error) {
	status, page := p.get(fmt.Sprintf("/p/%d/bed", id))
	at, name := revAt.FindStringSubmatch(page), nameAt.FindStringSubmatch(page)
	if status != http.StatusOK || at == nil || name == nil {
		return "", 0, fmt.Errorf("status %d", status)
	}
	_, err = fmt.Sscan(name[1], &n)
	return at[1], n, err
}

// Three machines keep a log, two Chamfers share it behind a plain proxy. The one that leads the log is killed amid
// people who change their projects, and then a Chamfer: no change that was acknowledged is lost, none is doubled, no
// browser sees less than it has changed, and nothing that was out of date is saved over anything. Changes go on within
// the time that the engine takes to find another leader. What was killed comes back and has it all; so has one that
// comes anew. Whoever is signed out at one is so at the other.
func TestFederation(t *testing.T) {
	if testing.Short() {
		t.Skip("half a minute")
	}
	g := federation(t, 2)
	first := newPerson(g.at)
	out, err := chamfer("people", "first", "--data", filepath.Join(g.dir, "beds 0.db"), "--cluster", g.addrs[0],
		"--cluster-secret", filepath.Join(g.dir, "secret")).CombinedOutput()
	link := inAt.FindString(string(out))
	if err != nil || link == "" {
		t.Fatalf("no link: %s (%v)", out, err)
	}
	password := "seven slow snails"
	if status, page := first.post(link, url.Values{"name": {"Ada"}, "password": {password},
		"again": {password}}); status !=
		http.StatusSeeOther {
		t.Fatalf("no account, %d: %s", status, page)
	}
	const writers = 4
	ids := make([]int64, writers)
	people := make([]*person, writers)
	for i := range writers {
		people[i] = newPerson(g.at)
		if status, page := people[i].post("/sign-in", url.Values{"name": {"Ada"}, "password": {password}}); status !=
			http.StatusSeeOther {
			t.Fatalf("not signed in, %d: %s", status, page)
		}
		a, err := people[i].PostForm(g.at+"/projects", url.Values{"name": {"change 0"}, "region": {"us"}})
		if err != nil {
			t.Fatal(err)
		}
		_ = a.Body.Close()
		if _, err := fmt.Sscanf(a.Header.Get("Location"), "/p/%d/", &ids[i]); err != nil {
			t.Fatalf("no project: %d, %q", a.StatusCode, a.Header.Get("Location"))
		}
	}
	var acked [writers]atomic.Int64
	var gap, last atomic.Int64 // the longest time in which nothing was acknowledged, in nanoseconds
	last.Store(time.Now().UnixNano())
	ctx, cancel := context.WithCancel(t.Context())
	var wait sync.WaitGroup
	var refused, unknown atomic.Int64
	for i, p := range people {
		wait.Go(func() {
			for ctx.Err() == nil {
				rev, n, err := p.stands(ids[i])
				if err != nil {
					refused.Add(1)
					time.Sleep(20 * time.Millisecond)
					continue
				}
				if was := acked[i].Load(); n < was {
					t.Errorf("%d was acknowledged, and a page shows %d", was, n)
					return
				}
				acked[i].Store(n) // one that was not answered may have been kept
				status, _ := p.post(fmt.Sprintf("/p/%d/rename", ids[i]), url.Values{"rev": {rev},
					"name": {fmt.Sprint("change ", n+1)}})
				if status != http.StatusSeeOther {
					unknown.Add(1)
					continue
				}
				acked[i].Store(n + 1)
				now := time.Now().UnixNano()
				gap.Store(max(gap.Load(), now-last.Swap(now)))
			}
		})
	}
	rest := time.Duration(long.Of(20)) * time.Second
	time.Sleep(rest)
	quietly := time.Duration(gap.Swap(0))
	lead := g.leader()
	if err := g.streams[lead].Process.Kill(); err != nil {
		t.Fatal(err)
	}
	_ = g.streams[lead].Wait()
	again := func(what string) { // by the engine's own clock that takes nine seconds at most
		t.Helper()
		time.Sleep(2 * time.Second)
		since := time.Now()
		for last.Load() < since.UnixNano() {
			if time.Sleep(50 * time.Millisecond); time.Since(since) > time.Minute {
				t.Fatalf("a minute after %s was killed nothing is acknowledged", what)
			}
		}
	}
	again("the leader")
	led := time.Duration(max(gap.Swap(0), time.Now().UnixNano()-last.Load()))
	if err := g.pages[1].Process.Kill(); err != nil {
		t.Fatal(err)
	}
	_ = g.pages[1].Wait()
	again("a Chamfer")
	served := time.Duration(max(gap.Swap(0), time.Now().UnixNano()-last.Load()))
	g.keep(lead)
	g.serve(1)
	time.Sleep(rest)
	cancel()
	wait.Wait()
	t.Logf("nothing was acknowledged for %v at most before, %v when the leader was killed, %v when a Chamfer was;"+
		" %d pages refused, %d changes not answered", quietly, led, served, refused.Load(), unknown.Load())

	if long.Whole() {
		g.without(fmt.Sprintf("/p/%d/bed", ids[0]))
	}
	g.pages = append(g.pages, nil)
	g.serve(2) // comes anew
	time.Sleep(time.Second)
	total := int64(0)
	for i, p := range people {
		_, n, err := p.stands(ids[i])
		if was := acked[i].Load(); err != nil || n < was || n > was+1 {
			t.Errorf("project %d is at change %d, and %d were acknowledged (%v)", ids[i], n, was, err)
		}
		total += n
	}
	t.Logf("%d changes", total)
	here := newPerson(g.pages[0].at)
	there := newPerson(g.pages[2].at)
	u, _ := url.Parse(g.at)
	cookies := people[0].Jar.Cookies(u)
	for _, p := range []*person{here, there} { // one browser at two of them
		jar, _ := cookiejar.New(nil)
		at, _ := url.Parse(p.at)
		jar.SetCookies(at, cookies)
		p.Jar = jar
	}
	if status, _ := there.get(fmt.Sprintf("/p/%d/bed", ids[0])); status != http.StatusOK {
		t.Errorf("who is signed in at one is not at another: %d", status)
	}
	if status, page := here.post("/sign-out", nil); status != http.StatusSeeOther {
		t.Fatalf("not signed out: %d %s", status, page)
	}
	deadline := time.Now().Add(2 * time.Second)
	for {
		status, _ := there.get(fmt.Sprintf("/p/%d/bed", ids[0]))
		if status != http.StatusOK {
			break
		}
		if time.Now().After(deadline) {
			t.Error("who was signed out at one is signed in at another")
			break
		}
	}
	for _, s := range g.pages {
		if err := s.Process.Signal(os.Interrupt); err != nil {
			t.Fatal(err)
		}
		_ = s.Wait()
	}
	var rows []string
	for i := range g.pages {
		s, err := store.Open(filepath.Join(g.dir, fmt.Sprintf("beds %d.db", i)))
		if err != nil {
			t.Fatal(err)
		}
		rows = append(rows, s.Rows(t.Context()))
		for j, id := range ids {
			chain, err := s.Chain(t.Context(), id, 1_000_000)
			names := map[string]bool{}
			for _, r := range chain {
				d, bad := s.Revision(t.Context(), id, r.ID)
				err = errors.Join(err, bad)
				names[d.Name] = true
			}
			if err != nil || len(names) != len(chain) {
				t.Errorf("of project %d there are %d revisions of %d names (%v)", id, len(chain), len(names), err)
			}
			for n := range acked[j].Load() + 1 {
				if !names[fmt.Sprint("change ", n)] {
					t.Errorf("change %d of project %d is lost", n, id)
				}
			}
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
	}
	if rows[0] != rows[1] || rows[0] != rows[2] {
		t.Error("the files of three Chamfers differ")
	}
}
