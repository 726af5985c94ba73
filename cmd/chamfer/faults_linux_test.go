package main

import (
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
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

// fileWith is a file of projects with some in it, as its bytes.
func fileWith(t *testing.T, names ...string) []byte {
	t.Helper()
	path := filepath.Join(t.TempDir(), "beds.db")
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range names {
		if _, err := s.Create(store.Home, design.New(catalog.Regions()[0], name), "started", store.Kept{}); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

// post sends a form and returns the status and the page, 0 and why where there is no answer.
func (s *server) post(path string, form url.Values) (int, string) {
	return pageOf(client.PostForm(s.at+path, form))
}

func (s *server) get(path string) (int, string) { return pageOf(client.Get(s.at + path)) }

func pageOf(a *http.Response, err error) (int, string) {
	if err != nil {
		return 0, err.Error()
	}
	defer a.Body.Close()
	raw, err := io.ReadAll(a.Body)
	if err != nil {
		return 0, err.Error()
	}
	return a.StatusCode, string(raw)
}

// rev is the revision a project is at, by the list of projects.
func (s *server) rev(id int) string {
	for range 3 { // a read may be what fails
		_, page := s.get("/")
		m := regexp.MustCompile(fmt.Sprintf(`action="/p/%d/rename"[^>]*>\s*<input type="hidden" name="rev" value="(\d+)"`,
			id)).
			FindStringSubmatch(page)
		if m != nil {
			return m[1]
		}
	}
	return "0"
}

// acts are a day's, each with what it needs to be seen in the file afterwards.
type act struct {
	name string
	do   func(s *server) (int, string)
	kept func(t *testing.T, s *store.Store) error // nil where nothing is to be kept
}

func dayOf() []act {
	named := func(want string) func(*testing.T, *store.Store) error {
		return func(t *testing.T, s *store.Store) error {
			p, err := s.Project(t.Context(), 1)
			if err == nil && p.Design.Name != want {
				err = fmt.Errorf("project 1 is called %q, not %q", p.Design.Name, want)
			}
			return err
		}
	}
	rename := func(to string) func(*server) (int, string) {
		return func(s *server) (int, string) {
			return s.post("/p/1/rename", url.Values{"rev": {s.rev(1)}, "name": {to}})
		}
	}
	count := func(n int) func(*testing.T, *store.Store) error {
		return func(t *testing.T, s *store.Store) error {
			list, err := s.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 100)
			if err == nil && len(list) < n {
				err = fmt.Errorf("%d projects, not %d", len(list), n)
			}
			return err
		}
	}
	return []act{
		{"rename", rename("one"), nil},
		{"rename again", rename("two"), named("two")},
		{"tick", func(s *server) (int, string) {
			return s.post("/p/1/tick", url.Values{"tick": {"buy"}, "done": {"yes"}})
		}, func(t *testing.T, s *store.Store) error {
			ticks, err := s.Ticks(t.Context(), 1)
			if err == nil && !ticks["step:buy"].Done {
				err = fmt.Errorf("the tick is not there: %v", ticks)
			}
			return err
		}},
		{"a bed", func(s *server) (int, string) {
			return s.post("/projects", url.Values{"region": {"us"}, "name": {"a new one"}, "system": {"boarded"}})
		}, count(3)},
		{"delete", func(s *server) (int, string) { return s.post("/p/2/delete", url.Values{}) }, nil},
		{"have it back", func(s *server) (int, string) { return s.post("/p/2/restore", url.Values{}) }, count(3)},
		{"a copy", func(s *server) (int, string) {
			status, page := s.post("/copies", url.Values{})
			if status == 200 && strings.Contains(page, "no copy could be made") {
				status = 507
			}
			return status, page
		}, nil},
		{"everything", func(s *server) (int, string) { return s.get("/copies/everything.zip") }, nil},
	}
}

// sentence is what a refused act says: that something is wrong with the disk or the file, and what to do.
var sentence = regexp.MustCompile(`The disk|The file of projects|no copy could be made|ask again in a minute`)

// Each write, sync, opening, creation, renaming and taking away of a file fails once, on its own day: whatever was
// acknowledged that day is there in the end, whatever was refused says so in a sentence, and the next try is taken.
func TestEveryOperationFailsOnce(t *testing.T) {
	raw := fileWith(t, "one bed", "another")
	quiet := 0
	day := func(failAt int, errno syscall.Errno) (failed string) {
		d := plugIn(t, map[string][]byte{"beds.db": raw})
		d.mu.Lock()
		d.failAt, d.errno = failAt, errno
		d.mu.Unlock()
		path := filepath.Join(d.mount, "beds.db")
		s := begin(t, "serve", "--addr", "127.0.0.1:0", "--data", path)
		if s.at == "" { // it says why, and the next start is one
			if said := s.errors.String(); !strings.Contains(said, "chamfer: ") || strings.Contains(said, "panic") {
				t.Errorf("%s: it did not start, and said %q", d, said)
			}
			s = start(t, "serve", "--addr", "127.0.0.1:0", "--data", path)
		}
		var kept []act
		for _, a := range dayOf() {
			status, page := a.do(s)
			if status >= 500 || status == 0 {
				if !sentence.MatchString(page) {
					t.Errorf("%s: %s was refused with %d and no sentence: %.300s", d, a.name, status, page)
				}
				if status, page = a.do(s); status >= 500 || status == 0 {
					t.Errorf("%s: %s was refused again: %d %.300s", d, a.name, status, page)
				}
			}
			if status != 200 && status != 303 && status != 429 {
				t.Errorf("%s: %s: %d %.200s", d, a.name, status, page)
			} else if a.kept != nil {
				kept = append(kept, a)
			}
		}
		if failAt%2 == 0 {
			_ = s.Process.Signal(syscall.SIGTERM)
		} else {
			_ = s.Process.Kill()
		}
		_ = s.Wait()
		failed = d.failed
		if failAt == 0 {
			quiet = d.ops
		}
		after, err := store.Open(filepath.Join(laid(t, d.whole()), "beds.db"))
		if err != nil {
			t.Errorf("%s: %v", d, err)
			return failed
		}
		defer after.Close()
		for _, a := range kept {
			if err := a.kept(t, after); err != nil {
				t.Errorf("%s: after %s: %v", d, a.name, err)
			}
		}
		return failed
	}
	day(0, 0)
	step, kinds := 1, map[string]int{}
	if !long.Whole() {
		step = 23
	}
	n := 0
	for k := 1; k <= quiet; k += step {
		errno := syscall.EIO
		if n%2 == 1 {
			errno = syscall.ENOSPC
		}
		failed := day(k, errno)
		if failed == "" {
			continue // this day had fewer
		}
		kinds[strings.Fields(failed)[0]]++
		n++
	}
	t.Logf("%d of some %d operations of a day failed, each on its own: %v", n, quiet, kinds)
	if n < quiet/step/2 {
		t.Errorf("only %d failed", n)
	}
}

// The power goes at any moment amid four writers: whatever had been acknowledged by then is on the disk, though of
// what was
// not synced some sectors are there and some are not.
func TestPowerCut(t *testing.T) {
	const writers = 4
	d := plugIn(t, map[string][]byte{"beds.db": fileWith(t, "change 0", "change 0", "change 0", "change 0")})
	s := start(t, "serve", "--addr", "127.0.0.1:0", "--data", filepath.Join(d.mount, "beds.db"))
	var acked [writers + 1]atomic.Int64
	var stop atomic.Bool
	var wait sync.WaitGroup
	for id := 1; id <= writers; id++ {
		wait.Go(func() {
			for n := int64(1); !stop.Load(); n++ {
				form := url.Values{"rev": {s.rev(id)}, "name": {fmt.Sprint("change ", n)}}
				if status, page := s.post(fmt.Sprintf("/p/%d/rename", id), form); status != 303 {
					t.Errorf("change %d: %d %.200s", n, status, page)
					return
				}
				acked[id].Store(n)
			}
		})
	}
	cuts, r := long.Of(400), rand.New(rand.NewPCG(25, 12))
	most := int64(0)
	for cut := range cuts {
		time.Sleep(time.Duration(r.IntN(30)) * time.Millisecond)
		var before [writers + 1]int64
		for id := range before {
			before[id] = acked[id].Load()
		}
		left := d.cut(r)
		now, _ := names(t, filepath.Join(laid(t, left), "beds.db"))
		for id := int64(1); id <= writers; id++ {
			if n := number(now[id]); n < before[id] {
				t.Fatalf("cut %d: project %d is at change %d, and %d had been acknowledged", cut, id, n, before[id])
			}
			most = max(most, before[id])
		}
	}
	stop.Store(true)
	wait.Wait()
	if t.Failed() {
		_ = s.Process.Signal(syscall.SIGTERM)
		_ = s.Wait()
		t.Logf("the program's log: %s", s.errors)
	}
	t.Logf("%d cuts amid %d changes of one of %d projects", cuts, most, writers)
	if most < 5 {
		t.Errorf("only %d changes were made", most)
	}
}

// Two programs serve one file: what either acknowledged is there, and neither writes over what the other did.
func TestTwoPrograms(t *testing.T) {
	const writers = 4
	path := filepath.Join(t.TempDir(), "beds.db")
	if err := os.WriteFile(path, fileWith(t, "change 0", "change 0", "change 0", "change 0"), 0o600); err != nil {
		t.Fatal(err)
	}
	programs := []*server{start(t, "serve", "--addr", "127.0.0.1:0", "--data", path),
		start(t, "serve", "--addr", "127.0.0.1:0", "--data", path)}
	var wait sync.WaitGroup
	var refused atomic.Int64
	for id := 1; id <= writers; id++ {
		for k, s := range programs { // both at one project
			wait.Go(func() {
				for n := range 15 {
					form := url.Values{"rev": {s.rev(id)}, "name": {fmt.Sprintf("change %d of %d", n, k)}}
					switch status, page := s.post(fmt.Sprintf("/p/%d/rename", id), form); status {
					case 303:
					case 409:
						refused.Add(1) // the other was first
					default:
						t.Errorf("%d %.200s", status, page)
					}
				}
			})
		}
	}
	wait.Wait()
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	kept := 0
	for id := int64(1); id <= writers; id++ {
		list, err := s.History(t.Context(), id, 1000)
		if err != nil {
			t.Fatal(err)
		}
		kept += len(list) - 1
		for i, r := range list[:len(list)-1] {
			if r.Parent == nil || *r.Parent != list[i+1].ID {
				t.Errorf("project %d: revision %d was not made of the one before it", id, r.ID)
			}
		}
	}
	if all := writers * len(programs) * 15; kept+int(refused.Load()) != all || kept < all/4 {
		t.Errorf("%d changes are kept and %d were refused, of %d", kept, refused.Load(), all)
	}
}
